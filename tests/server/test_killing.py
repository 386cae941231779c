"""Processes are killed at random while a pile of files is taken in: nothing hangs, nothing is lost."""

import json
import os
import random
import signal
import socket
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests import hostile
from tests.breadth import WHOLE, breadth, some
from tests.core.test_sandbox import alive
from tests.running import Shop, wait_until
from tests.shapes import Drawing, circle, line_in, write

SEED = random.SystemRandom().randrange(1_000_000)


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    made = Shop(tmp_path_factory.mktemp("shop") / "var")
    yield made
    made.close()


def file(i: int) -> bytes:
    """A file like no other, with something to mend."""
    content = f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40 - i / 10))
    return write(Drawing(content, inks={"K": "Kis Cut"}))


MOMENTS = some(range(12), 0.17, "moments")
"""Six files come in, three of them are mended, and three more moments pass."""


@breadth(0.17, "several machines")
def test_workers_and_server_are_killed_at_random_moments_and_nothing_hangs_or_is_lost(shop: Shop) -> None:
    print("seed", SEED)
    chance = random.Random(SEED)
    sent = [moment for moment in MOMENTS if moment < 6] or [0]
    jobs: list[int] = []
    for moment in (*sent, *(moment for moment in MOMENTS if moment >= 6)):
        if moment < 6:
            jobs.append(shop.send(f"seal-{moment}.pdf", file(moment)))
        elif moment < 9:
            job = shop.surely("GET", f"/api/jobs/{jobs[(moment - 6) % len(jobs)]}")
            if job["current"] and job["revision"] == 1:
                step = {"kind": "rename", "settings": {"ink": "Kis Cut", "to": "Kiss Cut"}}
                body = {**step, "version": job["version"], "revision": 1}
                try:
                    shop.surely("POST", f"/api/jobs/{job['id']}/mends", json.dumps(body).encode())
                except urllib.error.HTTPError as error:
                    assert error.code == 409, "it had been asked for when the server was killed"
        time.sleep(chance.uniform(0.0, 0.5))
        victims = shop.children("work" if chance.random() < 0.7 else "web")
        for victim in victims[:1] if chance.random() < 0.7 else victims:
            os.kill(victim, signal.SIGKILL)
    assert wait_until(lambda: shop.surely("GET", "/api/works") == [], 400, 0.5), shop.surely("GET", "/api/works")
    assert len(set(jobs)) == len(sent) and set(jobs) <= {job["id"] for job in shop.surely("GET", "/api/jobs")}
    for number in jobs:
        job = shop.surely("GET", f"/api/jobs/{number}")
        if job["work"]["state"] == "failed":  # killed three times: it is said, and asked for again it is done
            assert "The worker ended three times" in job["work"]["error"]
            shop.surely("POST", f"/api/jobs/{number}/answers", json.dumps({"version": job["version"]}).encode())
            assert wait_until(lambda: shop.surely("GET", "/api/works") == [], 400, 0.5)
            job = shop.surely("GET", f"/api/jobs/{number}")
        assert job["verdict"] and job["current"] and job["revision"] >= 1, number
    whole = shop.manage("verify")
    assert whole.returncode == 0, whole.stderr


@breadth(0.12, "long ones")
def test_a_program_without_end_goes_with_its_worker(shop: Shop) -> None:
    number = shop.send("loop.eps", hostile.LOOP)

    def loops() -> list[int]:
        return [int(p.name) for p in Path("/proc").glob("[0-9]*") if _is_loop(p, shop.var)]

    assert wait_until(lambda: bool(loops()), 240)
    (worker,) = [w for w in shop.children("work") if _below(loops()[0], w)]
    seen = loops()
    os.kill(worker, signal.SIGKILL)
    assert wait_until(lambda: not any(map(alive, seen))), "it goes by itself"
    assert wait_until(lambda: bool(loops()), 240), "another worker takes the file up again"
    work = shop.surely("GET", f"/api/jobs/{number}")["work"]
    shop.surely("POST", f"/api/works/{work['id']}/cancel", b"")
    assert wait_until(lambda: not loops()), "and Stop ends it"
    assert wait_until(lambda: shop.surely("GET", f"/api/works/{work['id']}")["state"] == "cancelled")


def _is_loop(path: Path, var: Path) -> bool:
    try:
        command = (path / "cmdline").read_bytes()
        return b"in.ps" in command and b"pdfwrite" in command and alive(int(path.name))
    except OSError:
        return False


def _below(number: int, above: int) -> bool:
    """Whether a process descends from another, or from what that one has started."""
    while number > 1:
        if number == above:
            return True
        try:
            number = int(Path(f"/proc/{number}/stat").read_text().rsplit(")", 1)[1].split()[1])
        except (OSError, IndexError):
            return False
    return False


@breadth(0.12, "long ones")
def test_whoever_sends_slowly_keeps_nobody_else_waiting(shop: Shop) -> None:
    slow = []
    head = b"POST /api/jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=z\r\n"
    for i in range(40):
        link = socket.create_connection(("127.0.0.1", shop.port), 5)
        link.sendall(head + (b"Content-Length: 100000\r\n\r\n--z" if i % 2 else b"X-Slow: "))
        slow.append(link)
    began = time.monotonic()
    for _ in range(5):
        assert shop.ask("GET", "/api/me")["name"] == "ada"
    assert time.monotonic() - began < 20, "not behind the slow ones, who are waited for a minute"
    for link in slow:
        link.close()


@breadth(0.17, "several machines")
def test_a_watch_of_folders_that_is_killed_loses_nothing_and_takes_nothing_twice(shop: Shop) -> None:
    print("seed", SEED)
    chance = random.Random(SEED)
    data = {"folder": "morning", "customer": "Dune Press"}
    body = {"kind": "watched", "title": "Morning", "data": data}
    assert shop.surely("POST", "/api/shelf/things", json.dumps(body).encode())["thing"]["id"]
    folder = shop.var / "watched" / "morning"
    assert wait_until(folder.is_dir, 60)
    count = 60 if WHOLE else 8
    for i in range(count):
        (folder / f"seal {i}.pdf").write_bytes(file(100 + i))
    left, killed = [count], 0
    for _ in range(8 if WHOLE else 2):
        # it starts, and a file counts when it has stood still for two seconds: then it is in the middle of them
        wait_until(lambda: len(list(folder.glob("*.pdf"))) < left[-1], 9, 0.01)
        time.sleep(chance.uniform(0.0, 0.2))
        left.append(len(list(folder.glob("*.pdf"))))
        for victim in shop.children("watch"):
            os.kill(victim, signal.SIGKILL)
            killed += 1
    assert wait_until(lambda: not any(folder.glob("*.pdf")), 120), "it goes on where it was"
    found = shop.surely("GET", "/api/jobs?customer=Dune+Press&limit=200")
    assert sorted(job["name"] for job in found) == sorted(f"seal {i}" for i in range(count))
    assert len(list((folder / "taken").iterdir())) == count and not (folder / "not taken").exists()
    assert killed
