"""Twenty people at one shop for a minute: reading, looking at pictures, changing things; then beside a pile of files.

Prints percentiles. Wanted beside the pile: no error, 95 of 100 reads within 300 ms, of changes within 600 ms.

Each has a log-in of its own and asks about once a second, as a browser does: what runs, the list, a job, a part of
its picture; one in eight times something is changed. The peer is the same shop asked by one person alone, in the same
run.
"""

import json
import random
import sys
import tempfile
import threading
import time
import urllib.error
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.piling import plain
from tests.running import Browser, Shop, wait_until
from tests.shapes import Drawing, circle, line_in, write

PEOPLE, SECONDS, PAUSE_S, JOBS, PILE = 20, 60.0, 1.0, 12, 60


def file(i: int) -> bytes:
    """A sound file like no other."""
    return write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40 - i / 10))))


class Person(threading.Thread):
    """One person at a browser of his or her own."""

    def __init__(self, browser: Browser, jobs: list[int], ends: float, seed: int) -> None:
        super().__init__()
        self.browser, self.jobs, self.ends, self.chance = browser, jobs, ends, random.Random(seed)
        self.reads: list[float] = []
        self.changes: list[float] = []
        self.errors: list[str] = []

    def run(self) -> None:
        """Ask until it is over."""
        while time.monotonic() < self.ends:
            job = self.chance.choice(self.jobs)
            if self.chance.random() < 1 / 8:
                self._change(job)
            else:
                x, y = self.chance.uniform(0, 60), self.chance.uniform(0, 60)
                picture = f"/api/jobs/{job}/picture?x0={x:.0f}&y0={y:.0f}&x1={x + 20:.0f}&y1={y + 20:.0f}&ppi=72"
                asked = ["/api/works", "/api/jobs", f"/api/jobs/{job}", "/api/jobs/counts", picture]
                self._read(self.chance.choice(asked))
            time.sleep(self.chance.uniform(0, 2 * PAUSE_S))

    def _read(self, path: str) -> None:
        began = time.monotonic()
        try:
            self.browser.fetch(path)
            self.reads.append(time.monotonic() - began)
        except OSError as error:
            self.errors.append(f"GET {path}: {error}")

    def _change(self, job: int) -> None:
        try:
            version = self.browser.ask("GET", f"/api/jobs/{job}")["version"]
            body: dict[str, Any] = {"version": version, "name": f"Seals {self.chance.randrange(1000)}"}
            began = time.monotonic()
            self.browser.ask("PATCH", f"/api/jobs/{job}", json.dumps(body).encode())
            self.changes.append(time.monotonic() - began)
        except urllib.error.HTTPError as error:
            if error.code != 409:  # somebody was first, and that is said
                self.errors.append(f"PATCH {job}: {error}")
        except OSError as error:
            self.errors.append(f"PATCH {job}: {error}")


def percentile(values: list[float], share: float) -> float:
    """In milliseconds."""
    return sorted(values)[min(int(len(values) * share), len(values) - 1)] * 1000 if values else float("nan")


def tried(shop: Shop, jobs: list[int], people: int, seconds: float) -> dict[str, Any]:
    """What so many people meet."""
    browsers = [shop.browser() for _ in range(people)]
    ends = time.monotonic() + seconds
    crowd = [Person(browser, jobs, ends, i) for i, browser in enumerate(browsers)]
    for person in crowd:
        person.start()
    for person in crowd:
        person.join()
    reads, changes = ([t for one in crowd for t in getattr(one, kind)] for kind in ("reads", "changes"))
    return {
        "people": people, "reads": len(reads), "changes": len(changes),
        "reads_p50_ms": round(percentile(reads, 0.5), 1), "reads_p95_ms": round(percentile(reads, 0.95), 1),
        "changes_p50_ms": round(percentile(changes, 0.5), 1), "changes_p95_ms": round(percentile(changes, 0.95), 1),
        "errors": [error for one in crowd for error in one.errors],
    }


def main() -> None:
    """Run both, and say how they compare."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else SECONDS
    with tempfile.TemporaryDirectory() as folder:
        shop = Shop(Path(folder) / "var")
        try:
            jobs = [shop.send(f"seal-{i}.pdf", file(i)) for i in range(JOBS)]
            wait_until(lambda: shop.surely("GET", "/api/works") == [], 300, 0.5)
            alone = tried(shop, jobs, 1, seconds / 4)
            wait_until(lambda: shop.surely("GET", "/api/works") == [], 300, 0.5)
            crowd = tried(shop, jobs, PEOPLE, seconds)
            wait_until(lambda: shop.surely("GET", "/api/works") == [], 300, 0.5)
            shop.surely("PATCH", "/api/shop", b'{"sorts": true}')
            pile = threading.Thread(target=lambda: [shop.send(f"p-{i}.pdf", plain(i)) for i in range(PILE)])
            pile.start()
            beside = tried(shop, jobs, PEOPLE, seconds)
            pile.join()
            left = len(shop.surely("GET", "/api/works"))
        finally:
            shop.close()
    print(json.dumps({"alone": alone, "crowd": crowd, "crowd beside a pile": beside}, indent=1))
    print(f"{PILE - left} of {PILE} files of the pile were through when the time was over")
    print(f"reads, 95th percentile: {crowd['reads_p95_ms'] / alone['reads_p95_ms']:.1f} times one person's")


if __name__ == "__main__":
    main()
