"""A day's work of the demo shop, done through its own web interface: sheets printed, drying, cut, shared, and a stack.

It begins when the shop answers, and takes some seconds; who logs in at once sees it happen.
"""

import http.cookiejar
import json
import time
import urllib.request
import uuid
from collections.abc import Callable, Iterator
from typing import Any

from demo import NAME, PASSWORD, shown
from demo.fill import CUSTOMER

__all__ = ["work"]

WAITS_S = 240.0
SIZE = {"roles": ["kiss-cut"], "edge": "bleed", "bleed_mm": 3}
JOBS: tuple[tuple[str, Callable[[], bytes], dict[str, Any]], ...] = (
    ("Autumn opening hours", shown.opening_hours,
     {**SIZE, "width_mm": 400, "height_mm": 250, "quantity": 3, "roles": ["through-cut"]}),
    ("Hide numbers", shown.hide_number, {**SIZE, "width_mm": 120, "height_mm": 120, "quantity": 12}),
    ("Ring box labels", shown.ring_label, {**SIZE, "width_mm": 70, "height_mm": 30, "quantity": 60}),
    ("Sea star labels", lambda: shown.rockpool_label(5), {**SIZE, "width_mm": 50, "height_mm": 50, "quantity": 40}),
    ("Sun star labels", lambda: shown.rockpool_label(12), {**SIZE, "width_mm": 50, "height_mm": 50, "quantity": 24}),
)
LAYERS = (
    {"name": "face", "fabric": "twill", "colour": "#F3EBD6"},
    {"name": "border", "fabric": "twill", "offset_mm": 3, "colour": "#C98A3A"},
    {"name": "ground", "fabric": "felt", "offset_mm": 3, "inner": "close", "colour": "#2F5D62"},
)
SATIN = {"kind": "satin", "width_mm": 2, "inset_mm": 1}


class _Person:
    """Somebody of the demo shop who is logged in."""

    def __init__(self, port: int) -> None:
        self.address = f"http://127.0.0.1:{port}"
        self.jar = http.cookiejar.CookieJar()
        self.open = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar)).open
        self.open(f"{self.address}/", timeout=60).close()
        self.ask("POST", "login", name=NAME, password=PASSWORD)

    def ask(self, method: str, path: str, **body: Any) -> Any:
        """What the shop answers."""
        return self._send(method, path, json.dumps(body).encode() if body else None, "application/json")

    def drop(self, name: str, data: bytes) -> Any:
        """Take a file in, for the demo's customer."""
        edge = uuid.uuid4().hex
        parts = [
            f'--{edge}\r\nContent-Disposition: form-data; name="customer"\r\n\r\n{CUSTOMER}\r\n'.encode(),
            f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n'
            "Content-Type: application/pdf\r\n\r\n".encode(), data, f"\r\n--{edge}--\r\n".encode(),
        ]
        return self._send("POST", "jobs", b"".join(parts), f"multipart/form-data; boundary={edge}")

    def _send(self, method: str, path: str, data: bytes | None, kind: str) -> Any:
        token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "") or ""
        headers = {"Content-Type": kind, "X-CSRFToken": token, "Referer": self.address}
        request = urllib.request.Request(f"{self.address}/api/{path}", data, headers, method=method)
        with self.open(request, timeout=60) as answer:
            return json.loads(answer.read())

    def once(self, path: str, done: Callable[[Any], bool]) -> Any:
        """What stands at an address once it is so. Raises TimeoutError."""
        ends = time.monotonic() + WAITS_S
        while time.monotonic() < ends:
            found = self.ask("GET", path)
            if done(found):
                return found
            time.sleep(0.3)
        raise TimeoutError(path)


def _rests(job: dict[str, Any]) -> bool:
    return bool(job["verdict"]) and job["current"] and (job["work"] or {}).get("state") not in ("waiting", "running")


def work(port: int) -> None:
    """Do it."""
    person = _Person(port)
    jobs = dict(_taken_in(person))
    star, sun = jobs.pop("Sea star labels"), jobs.pop("Sun star labels")
    sheet = person.ask("POST", "shared-sheets", jobs=[star, sun])
    person.ask("PATCH", f"shared-sheets/{sheet['id']}", version=sheet["version"], name="Rockpool labels")
    for name, number in jobs.items():
        job = person.once(f"jobs/{number}", _rests)
        seen = {key: job[key] for key in ("version", "revision", "found")}
        person.ask("POST", f"jobs/{number}/release", **seen)
        made = person.once("bench", lambda all_, of=number: any(one["job_id"] == of for one in all_))  # type: ignore[misc]
        release = next(one["id"] for one in made if one["job_id"] == number)
        person.ask("POST", f"bench/{release}/rip", preset="usual")
        person.once("bench", lambda all_, of=release: any(one["id"] == of and one["printed"] for one in all_))  # type: ignore[misc]
        if name != "Ring box labels":
            person.ask("POST", f"bench/{release}/dry")
        if name == "Autumn opening hours":
            _cut(person, release)
    _stacked(person)
    person.ask("PATCH", "shop", sorts=True)


def _taken_in(person: _Person) -> Iterator[tuple[str, int]]:
    """The shop's own jobs, with their orders."""
    for name, draw, order in JOBS:
        number = person.drop(f"{name.lower().replace(' ', '-')}.pdf", draw())["job"]["id"]
        job = person.once(f"jobs/{number}", _rests)
        given = {**job["order"], **order}
        job = person.ask("PATCH", f"jobs/{number}", version=job["version"], name=name, order=given)
        yield name, number


def _cut(person: _Person, release: int) -> None:
    """Lay the sheet in and cut it to the end."""
    person.ask("POST", f"bench/{release}/load", seed=3)
    person.once(f"bench/{release}/bed", lambda bed: bed["known"] and not bed["aligned"]["trouble"])
    total = person.ask("GET", f"bench/{release}/play")["total_s"]
    person.ask("POST", f"bench/{release}/stood", stood_s=total)


def _stacked(person: _Person) -> None:
    """Three layers of fabric for the tabards, written for cutter and sewing machine."""
    number = next(job["id"] for job in person.ask("GET", "jobs") if job["name"] == "Volunteer tabards")
    job = person.once(f"jobs/{number}", _rests)
    layers = [{**layer, "stitches": [{"kind": "tack-down"}, SATIN]} for layer in LAYERS]
    layers[-1]["stitches"] = [{"kind": "placement"}, {"kind": "tack-down"}, SATIN]
    stack = {"layers": layers, "formats": ["dst"], "frame_mm": 5}
    job = person.ask("POST", f"jobs/{number}/stack", version=job["version"], stack=stack)
    person.ask("POST", f"jobs/{number}/stack/write", version=job["version"])
