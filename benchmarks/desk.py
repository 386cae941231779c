"""The Desk with ten thousand jobs, and while a pile of sixty files comes in. Prints medians and percentiles in ms.

The peer is the same address of the same shop with a dozen jobs and nothing under way, in the same run.
"""

import json
import sqlite3
import sys
import tempfile
import threading
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from benchmarks.people import percentile
from tests.running import Shop, wait_until
from tests.shapes import Drawing, circle, line_in, write

JOBS, PILE, FEW, ASKED = 10_000, 60, 12, 25
ADDRESSES = {
    "first page": "/api/jobs?limit=60", "search": "/api/jobs?limit=60&search=marram", "counts": "/api/jobs/counts",
    "group": "/api/jobs?limit=60&group=look", "alike": "/api/alike", "customers": "/api/customers/all",
}
KINDS = ("Kiss Cut", "Kiss-Cut", "Rim of it")


def file(i: int) -> bytes:
    """A file like no other: every third is sound, the others have a fault."""
    ground = f"1 0.{i % 10} 0 0 k 5 5 90 90 re f\n"
    return write(Drawing(ground + line_in(circle(50, 50, 40 - i / 40)), inks={"K": KINDS[i % len(KINDS)]}))


def grown(var: Path, jobs: int) -> None:
    """Let a shop have so many jobs: copies of those that it has, with their orders and what was found on them."""
    database = sqlite3.connect(var / "horismos.sqlite3", timeout=60)

    def columns(table: str, without: tuple[str, ...]) -> str:
        names = [row[1] for row in database.execute(f"PRAGMA table_info({table})")]
        return ", ".join(f'"{name}"' for name in names if name not in without)

    job, order, found = (
        columns(f"jobs_{table}", ("id", *more)) for table, more in (
            ("job", ("name", "created", "version")), ("order", ("job_id",)), ("analysis", ("job_id",)),
        )
    )
    with database:
        models = [id for (id,) in database.execute("SELECT id FROM jobs_job")]
        for i in range(jobs - len(models)):
            model, name = models[i % len(models)], f"Stickers {i} {'marram' if i % 500 == 0 else 'dune'}"
            made = database.execute(
                f"INSERT INTO jobs_job (name, created, version, {job}) SELECT ?, '2026-01-05 08:00:00', 2, {job} "
                "FROM jobs_job WHERE id = ?", (name, model),
            ).lastrowid
            for table, copied in (("order", order), ("analysis", found)):
                copy = f"INSERT INTO jobs_{table} (job_id, {copied}) SELECT ?, {copied}"
                database.execute(f"{copy} FROM jobs_{table} WHERE job_id = ?", (made, model))
        database.execute("UPDATE jobs_job SET state = 'released' WHERE version = 2 AND id % 20 > 0")
    database.close()


def asked(shop: Shop, times: int = ASKED) -> dict[str, list[float]]:
    """How long each address takes, in s, asked in turns."""
    taken: dict[str, list[float]] = {name: [] for name in ADDRESSES}
    for _ in range(times):
        for name, path in ADDRESSES.items():
            began = time.perf_counter()
            shop.fetch(path)
            taken[name].append(time.perf_counter() - began)
    return taken


def told(taken: dict[str, list[float]]) -> dict[str, dict[str, float]]:
    """Median and 95th percentile, in ms."""
    return {
        name: {"p50": round(percentile(times, 0.5), 1), "p95": round(percentile(times, 0.95), 1)}
        for name, times in taken.items()
    }


def main() -> None:
    """Ask a small shop, a large one, and the large one while a pile comes in."""
    jobs = int(sys.argv[1]) if len(sys.argv) > 1 else JOBS
    with tempfile.TemporaryDirectory() as folder:
        shop = Shop(Path(folder) / "var")
        try:
            for i in range(FEW):
                shop.send(f"seal-{i}.pdf", file(i))
            wait_until(lambda: shop.surely("GET", "/api/works") == [], 300, 0.5)
            small = asked(shop)
            grown(shop.var, jobs)
            large = asked(shop)
            shop.ask("PATCH", "/api/shop", json.dumps({"sorts": True}).encode())
            sender = threading.Thread(target=lambda: [shop.send(f"p-{i}.pdf", file(FEW + i)) for i in range(PILE)])
            sender.start()
            piled: dict[str, list[float]] = {name: [] for name in ADDRESSES}
            began = time.monotonic()
            while sender.is_alive() or shop.surely("GET", "/api/works"):
                for name, times in asked(shop, 1).items():
                    piled[name] += times
                time.sleep(0.3)
            took = time.monotonic() - began
        finally:
            shop.close()
    print(json.dumps({"jobs": jobs, "few": told(small), "many": told(large), "pile": told(piled)}, indent=1))
    print(f"a pile of {PILE} in {took:.0f} s")
    for name in ADDRESSES:
        few, many = percentile(small[name], 0.5), percentile(large[name], 0.5)
        print(f"{name}: {many / few:.1f} times the small shop's")


if __name__ == "__main__":
    main()
