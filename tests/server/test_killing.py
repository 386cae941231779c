"""Processes are killed at random while a pile of files is taken in: nothing hangs, nothing is lost."""

import http.cookiejar
import json
import os
import random
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests import hostile
from tests.core.test_confined import alive, wait_until
from tests.shapes import Drawing, circle, line_in, write

ROOT = Path(__file__).resolve().parents[2]
PASSWORD = "a spell of dry weather"
SEED = random.SystemRandom().randrange(1_000_000)


class Shop:
    """A shop that runs, and somebody logged in to it. It is asked again where it was killed in the middle."""

    def __init__(self, var: Path) -> None:
        self.var = var
        self.environment = {**os.environ, "HORISMOS_VAR": str(var), "HORISMOS_LOG": "ERROR"}
        manage = [sys.executable, str(ROOT / "server" / "manage.py")]
        self.manage = lambda *arguments, **more: subprocess.run(
            [*manage, *arguments], env=self.environment, capture_output=True, text=True, check=False, **more
        )
        assert self.manage("migrate", "-v", "0").returncode == 0
        made = self.manage("user", "add", "ada", "--all-rights", input=PASSWORD + "\n")
        assert made.returncode == 0, made.stderr
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.process = subprocess.Popen(
            [*manage, "serve", "--port", str(self.port), "--workers", "2"], env=self.environment,
            stdout=subprocess.DEVNULL,
        )
        self._jar = http.cookiejar.CookieJar()
        self._open = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self._jar)).open
        assert wait_until(self._logged_in, 30)

    def _logged_in(self) -> bool:
        try:
            self._open(f"http://127.0.0.1:{self.port}/", timeout=5).close()
            self.ask("POST", "/api/login", json.dumps({"name": "ada", "password": PASSWORD}).encode())
        except OSError:
            return False
        return True

    def ask(self, method: str, path: str, data: bytes | None = None, kind: str = "application/json") -> Any:
        """What the server answers to one question. Raises OSError where it does not."""
        token = next((c.value for c in self._jar if c.name == "csrftoken"), "")
        address, headers = f"http://127.0.0.1:{self.port}{path}", {"Content-Type": kind, "X-CSRFToken": token or ""}
        request = urllib.request.Request(address, data, headers, method=method)
        with self._open(request, timeout=20) as answer:
            return json.loads(answer.read())

    def surely(self, *question: Any, seconds: float = 60) -> Any:
        """The same, asked until it is answered."""
        ends = time.monotonic() + seconds
        while True:
            try:
                return self.ask(*question)
            except urllib.error.HTTPError:
                raise
            except (OSError, ValueError, http.client.HTTPException):
                if time.monotonic() > ends:
                    raise
                time.sleep(0.1)

    def send(self, name: str, data: bytes) -> int:
        """Drop a file; gives the number of its job."""
        body = (
            f'--zz\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n'
            "Content-Type: application/octet-stream\r\n\r\n"
        ).encode() + data + b"\r\n--zz--\r\n"
        return int(self.surely("POST", "/api/jobs", body, "multipart/form-data; boundary=zz")["job"]["id"])

    def children(self, words: str) -> list[int]:
        """The numbers of the processes below the shop whose command holds words."""
        found = []
        for path in Path("/proc").glob("[0-9]*"):
            try:
                parent = int((path / "stat").read_text().rsplit(")", 1)[1].split()[1])
                command = (path / "cmdline").read_bytes().replace(b"\0", b" ").decode()
            except (OSError, IndexError):
                continue
            if parent == self.process.pid and words in command:
                found.append(int(path.name))
        return found


@pytest.fixture()
def shop(tmp_path: Path) -> Iterator[Shop]:
    made = Shop(tmp_path / "var")
    yield made
    made.process.terminate()
    made.process.wait(30)


def file(i: int) -> bytes:
    """A file like no other, with something to mend."""
    content = f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40 - i / 10))
    return write(Drawing(content, inks={"K": "Kis Cut"}))


def test_workers_and_server_are_killed_at_twenty_moments_and_nothing_hangs_or_is_lost(shop: Shop) -> None:
    print("seed", SEED)
    chance = random.Random(SEED)
    jobs: list[int] = []
    for moment in range(20):
        if moment < 12:
            jobs.append(shop.send(f"seal-{moment}.pdf", file(moment)))
        elif moment < 16:
            job = shop.surely("GET", f"/api/jobs/{jobs[moment - 12]}")
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
    assert wait_until(lambda: shop.surely("GET", "/api/works") == [], 150), shop.surely("GET", "/api/works")
    assert len(set(jobs)) == 12 and len(shop.surely("GET", "/api/jobs")) == 12
    for number in jobs:
        job = shop.surely("GET", f"/api/jobs/{number}")
        if job["work"]["state"] == "failed":  # killed three times: it is said, and asked for again it is done
            assert "The worker ended three times" in job["work"]["error"]
            shop.surely("POST", f"/api/jobs/{number}/answers", json.dumps({"version": job["version"]}).encode())
            assert wait_until(lambda: shop.surely("GET", "/api/works") == [], 60)
            job = shop.surely("GET", f"/api/jobs/{number}")
        assert job["verdict"] and job["current"] and job["revision"] >= 1, number
    whole = shop.manage("verify")
    assert whole.returncode == 0, whole.stderr


def test_a_program_without_end_goes_with_its_worker(shop: Shop) -> None:
    number = shop.send("loop.eps", hostile.LOOP)

    def loops() -> list[int]:
        return [int(p.name) for p in Path("/proc").glob("[0-9]*") if _is_loop(p, shop.var)]

    assert wait_until(lambda: bool(loops()), 30)
    (worker,) = [w for w in shop.children("work") if _below(loops()[0], w)]
    seen = loops()
    os.kill(worker, signal.SIGKILL)
    assert wait_until(lambda: not any(map(alive, seen)), 5), "it goes within a moment"
    assert wait_until(lambda: bool(loops()), 30), "another worker takes the file up again"
    work = shop.surely("GET", f"/api/jobs/{number}")["work"]
    shop.surely("POST", f"/api/works/{work['id']}/cancel", b"")
    assert wait_until(lambda: not loops(), 5), "and Stop ends it"
    assert wait_until(lambda: shop.surely("GET", f"/api/works/{work['id']}")["state"] == "cancelled", 5)


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
    assert time.monotonic() - began < 3
    for link in slow:
        link.close()
