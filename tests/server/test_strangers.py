"""What strangers and bad days did to a shop that ran, tried again: log-ins, bodies, lines of the log, a full disk."""

import io
import json
import logging
import threading
from collections.abc import Callable
from errno import ENOSPC
from pathlib import Path
from typing import Any

import pytest
from content import whole
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError
from django.db import OperationalError
from django.test import Client
from jobs import models
from people.door import AT_ONCE, Door
from shop.bodies import Head
from shop.requests import SMALL_BYTES, OneLine
from waitress.adjustments import Adjustments

from tests.breadth import breadth
from tests.server.conftest import PASSWORD, Person, person, take_in
from tests.server.test_keeping import art
from tests.server.test_people import JSON, NEW, log_in, typed

pytestmark = pytest.mark.django_db(transaction=True)


# -- log-ins ---------------------------------------------------------------------------------------------


@pytest.fixture(autouse=True)
def door(monkeypatch: pytest.MonkeyPatch) -> Door:
    """A door of its own for each test."""
    mine = Door()
    monkeypatch.setattr("people.api.DOOR", mine)
    return mine


def test_wrong_names_from_one_address_come_to_an_end(shop: Person, settings: Any) -> None:
    """Forty wrong names from one address were never throttled."""
    codes = [log_in(Client(REMOTE_ADDR="10.0.0.9"), f"nobody {i}", "guess") for i in range(40)]
    assert codes == [401] * settings.MOST_WRONG_BY_ADDRESS + [429] * (40 - settings.MOST_WRONG_BY_ADDRESS)
    assert log_in(Client(REMOTE_ADDR="10.0.0.9")) == 429, "nor does the right one help from there"
    assert log_in(Client(REMOTE_ADDR="10.0.0.10")) == 200
    assert shop.get("/api/jobs").status_code == 200, "who is in stays in"


def test_wrong_names_from_many_addresses_come_to_an_end_too(shop: Person, settings: Any) -> None:
    settings.MOST_WRONG_IN_ALL = 12
    codes = [log_in(Client(REMOTE_ADDR=f"10.0.1.{i}"), f"nobody {i}", "guess") for i in range(14)]
    assert codes == [401] * 12 + [429] * 2


def test_a_pause_ends(settings: Any) -> None:
    now = [0.0]
    door = Door(lambda: now[0])
    for _ in range(settings.MOST_WRONG_BY_ADDRESS):
        door.wrong("10.0.0.9")
    with door.trying("10.0.0.9") as may:
        assert not may
    now[0] = 301.0
    with door.trying("10.0.0.9") as may:
        assert may


def test_two_passwords_are_tried_at_once_and_the_rest_hear_so_without_waiting(door: Door) -> None:
    """Thirty connections that logged in with ever new names kept everybody else waiting for forty seconds."""
    held, entered, let_go = [], threading.Barrier(AT_ONCE + 1), threading.Event()

    def tries(i: int) -> None:
        with door.trying(f"10.0.0.{i}") as may:
            held.append(may)
            entered.wait(30)
            let_go.wait(30)

    threads = [threading.Thread(target=tries, args=[i]) for i in range(AT_ONCE)]
    for thread in threads:
        thread.start()
    entered.wait(30)
    for i in range(30):
        with door.trying(f"10.0.2.{i}") as may:
            assert not may
    let_go.set()
    for thread in threads:
        thread.join(30)
    assert held == [True] * AT_ONCE
    with door.trying("10.0.0.1") as may:
        assert may, "there is room again"


def test_the_addresses_that_are_remembered_are_not_without_number(settings: Any) -> None:
    settings.MOST_WRONG_IN_ALL = 10
    door = Door()
    for i in range(12_000):
        door.wrong(f"10.{i // 65536}.{i // 256 % 256}.{i % 256}")
    assert len(door._wrong) == 10_000 and len(door._all) == 10


@pytest.mark.parametrize(("name", "password", "good"), [
    ("bob", "bobbobbobbob", False), ("bob", "BobbobboB!bob", False), ("ada", "abcabcabcabcabc", False),
    ("ada", "aaaaaaaaaaaaaaab", False), ("ada", "121212121212x12", False), ("ada", PASSWORD, True), ("bob", NEW, True),
    ("bob", "bob keeps 9 terns", True),
])
def test_a_name_or_a_piece_that_is_repeated_is_no_password(
    shop: Person, monkeypatch: pytest.MonkeyPatch, name: str, password: str, good: bool
) -> None:
    get_user_model().objects.filter(username=name).delete()
    if good:
        typed(monkeypatch, "add", name, password=password)
        assert get_user_model().objects.get(username=name).check_password(password)
    else:
        with pytest.raises(CommandError):
            typed(monkeypatch, "add", name, password=password)
        assert not get_user_model().objects.filter(username=name).exists()


def test_own_log_ins_are_listed_and_ended_one_by_one(shop: Person) -> None:
    get_user_model().objects.create_user("cleo", password=PASSWORD)
    here, there = Client(HTTP_USER_AGENT="the office\x1b[2J"), Client(REMOTE_ADDR="10.0.0.7")
    assert log_in(here, "cleo") == log_in(there, "cleo") == 200
    mine = here.get("/api/me/log-ins").json()
    assert [one["this"] for one in mine] == [True, False] and mine[0]["browser"] == "the office[2J"
    assert {one["address"] for one in mine} == {"127.0.0.1", "10.0.0.7"}
    other = person("ben")
    assert other.delete(f"/api/me/log-ins/{mine[1]['id']}").status_code == 404, "not another's"
    assert there.get("/api/me").status_code == 200
    assert [one["this"] for one in here.delete(f"/api/me/log-ins/{mine[1]['id']}").json()] == [True]
    assert there.get("/api/me").status_code == 401 and here.get("/api/me").status_code == 200
    here.post("/api/logout")
    log_in(there, "cleo")
    assert len(there.get("/api/me/log-ins").json()) == 1, "one that was left is not listed"


@breadth(0.12, "long ones")
def test_the_first_person_of_an_empty_folder_is_made_in_one_call(tmp_path: Path) -> None:
    """The README's first line for a real shop was a traceback."""
    import os
    import subprocess
    import sys

    (tmp_path / "var").mkdir(mode=0o755)
    made = subprocess.run(
        [sys.executable, "server/manage.py", "user", "add", "ada", "--all-rights"], input=NEW + "\n", text=True,
        capture_output=True, check=False, env={**os.environ, "HORISMOS_VAR": str(tmp_path / "var")},
        cwd=Path(__file__).resolve().parents[2],
    )
    assert made.returncode == 0 and made.stdout == "ada: Owner\n", made.stderr
    assert (tmp_path / "var").stat().st_mode & 0o077 == 0, "the folder was there before, open to all"


# -- bodies ------------------------------------------------------------------------------------------------


def sent(cookie: str, length: int, chunked: bool = False) -> Head:
    """A request as the server reads it off the wire, its body in parts; gives how it stands then."""
    head = Head(Adjustments(max_request_body_size=600_000_000))
    how = b"Transfer-Encoding: chunked" if chunked else b"Content-Length: %d" % length
    data = b"POST /api/jobs HTTP/1.1\r\nHost: x\r\nCookie: %s\r\n%s\r\n\r\n" % (cookie.encode(), how)
    body = bytes(length)
    parts = [data, *(body[i : i + 65_536] for i in range(0, length, 65_536))]
    if chunked:
        parts = [data, *(b"%x\r\n%s\r\n" % (len(part), part) for part in parts[1:]), b"0\r\n\r\n"]
    for part in parts:
        while part and not head.completed:
            part = part[head.received(part) :]
    return head


@pytest.mark.parametrize("chunked", [False, True])
def test_of_strangers_nothing_large_is_kept_while_it_comes_in(shop: Person, chunked: bool) -> None:
    length = SMALL_BYTES + 200_000
    for cookie in ("", "sessionid=no-such-one", "sessionid", 'sessionid="'):
        head = sent(cookie, length, chunked)
        assert head.completed and head.error is not None and head.get_body_stream().read() == b""
        status, headers, body = head.error.to_response()
        assert status == "401 Unauthorized" and json.loads(body)["message"] == "Log in first."
        assert ("Content-Type", "application/json") in headers
    key = shop.cookies["sessionid"].value
    head = sent(f"sessionid={key}", length, chunked)
    assert head.completed and head.error is None and len(head.get_body_stream().read()) == length
    assert sent("", 1000).error is None, "a log-in is small"


def test_a_disk_that_is_full_while_a_body_comes_in_is_said(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: object) -> None:
        raise OSError(ENOSPC, "No space left on device")

    monkeypatch.setattr("waitress.buffers.TempfileBasedBuffer.append", full)
    head = sent(f"sessionid={shop.cookies['sessionid'].value}", 2_000_000)
    assert head.error is not None and head.error.code == 507
    assert "No space left" in json.loads(head.error.to_response()[2])["message"]


def stored(folder: Path) -> list[Path]:
    return [path for path in folder.rglob("*") if path.is_file() and path.stat().st_size > 1000]


def test_an_upload_is_stored_once(shop: Person, tmp_path: Path) -> None:
    shop.works = False
    name = "/api/jobs"
    data = art()
    assert shop.post(name, {"file": SimpleUploadedFile("seal.pdf", data)}).status_code == 200
    (one,) = stored(tmp_path)
    assert one.read_bytes() == data and one.parent.parent.name == "files"
    assert shop.post(name, {"file": SimpleUploadedFile("again.pdf", data), "again": "true"}).status_code == 200
    assert stored(tmp_path) == [one]
    assert not list((tmp_path / "files").glob(".part-*"))


@pytest.mark.parametrize("where", ["mkstemp", "write", "fsync"])
def test_a_full_disk_has_its_own_words_wherever_it_is_met(
    shop: Person, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, where: str
) -> None:
    def full(*_: object, **__: object) -> int:
        raise OSError(ENOSPC, "No space left on device")

    job = take_in(shop, art())
    there = stored(tmp_path)
    with monkeypatch.context() as patched:
        patched.setattr(whole.tempfile if where == "mkstemp" else whole.os, where, full)
        answer = shop.post("/api/jobs", {"file": SimpleUploadedFile("b.pdf", art("b"))})
    assert answer.status_code == 507 and answer.json()["code"] == "no-room"
    assert "disk of the server is full" in answer.json()["message"]
    assert models.Job.objects.count() == 1 and stored(tmp_path) == there
    assert shop.get(f"/api/jobs/{job['id']}").json()["current"]


def test_a_database_that_cannot_grow_is_a_full_disk_too(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: object, **__: object) -> None:
        raise OperationalError("database or disk is full")

    monkeypatch.setattr("jobs.api.jobs.job_rows", full)
    answer = shop.get("/api/jobs")
    assert answer.status_code == 507 and "Make room" in answer.json()["message"]


@pytest.mark.parametrize("number", [2**70, -(2**70), 2**63])
def test_a_number_that_no_row_can_hold_is_no_fault(shop: Person, number: int) -> None:
    job = take_in(shop, art())
    for answer in (
        shop.get(f"/api/jobs/{number}"),
        shop.patch(f"/api/jobs/{job['id']}", {"version": number, "name": "x"}, content_type=JSON),
        shop.patch(f"/api/jobs/{job['id']}", {"order": {"quantity": number}}, content_type=JSON),
        shop.post(f"/api/works/{number}/cancel"),
    ):
        assert 400 <= answer.status_code < 500 and answer.json()["message"], answer.content
    assert shop.get(f"/api/jobs?offset={number}").status_code < 500


# -- the log --------------------------------------------------------------------------------------------------


@pytest.fixture()
def lines() -> Any:
    """What the log of the shop holds by now, as its handler writes it."""
    from django.conf import settings

    out = io.StringIO()
    handler = logging.StreamHandler(out)
    formatter = settings.LOGGING["formatters"]["line"]
    handler.setFormatter(OneLine(formatter["format"]))
    from shop.requests import NumberFilter, Refusals

    for one in (NumberFilter(), Refusals()):
        handler.addFilter(one)
    root = logging.getLogger()
    level = root.level
    root.addHandler(handler)
    root.setLevel(logging.INFO)
    yield lambda: out.getvalue().splitlines()
    root.removeHandler(handler)
    root.setLevel(level)


Lines = Callable[[], list[str]]


@pytest.mark.parametrize("sign", ["%0a", "%1b%5b2J", "%0d", "%c2%85", "%e2%80%a8", "%e2%80%ae"])
def test_an_address_writes_no_line_of_its_own(shop: Person, lines: Lines, sign: str) -> None:
    shop.get(f"/api/nothing{sign}2026-01-01 INFO horismos.people [-] ada logged in")
    found = [line for line in lines() if "nothing" in line]
    assert len(found) == 1 and "/api/nothing\\" in found[0] and found[0].isprintable()


def test_names_and_faults_write_no_line_of_their_own(
    shop: Person, lines: Lines, monkeypatch: pytest.MonkeyPatch
) -> None:
    log_in(Client(), "ada\n2026-01-01 INFO horismos.people [-] mallory logged in")

    def faulty(*_: object, **__: object) -> None:
        raise ValueError("one\n2026-01-01 INFO horismos.people [-] mallory logged in")

    monkeypatch.setattr("jobs.api.jobs.job_rows", faulty)
    shop.get("/api/jobs")
    said = lines()
    assert not [line for line in said if line.startswith("2026-01-01")]
    assert [line for line in said if line.startswith("  | 2026-01-01")], "a trace is set in"


def test_a_foreign_host_is_one_line(shop: Person, lines: Lines) -> None:
    assert shop.get("/api/me", HTTP_HOST="evil.example\x1b").status_code == 400
    said = lines()
    assert not [line for line in said if "Traceback" in line or line.startswith("  |")]
    assert [line for line in said if "HTTP_HOST" in line and line.isprintable()]
