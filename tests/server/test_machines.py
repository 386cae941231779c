"""Workers on several machines: whatever dies, each file has its verdict, the same as on one machine."""

import json
import sqlite3
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.breadth import WHOLE, breadth
from tests.machines import Broker, Elsewhere
from tests.running import Shop, wait_until
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.17, "several machines")
COUNT, WORKERS = (40, 3) if WHOLE else (6, 3)
KINDS = [{"K": "Kis Cut"}, {"K": "Kiss Cut"}, {"K": "Rim of it"}]


def file(i: int) -> bytes:
    """A file like no other: one has a name to mend, one none, one an ink that nobody knows."""
    ground = f"1 0.{i % 10} 0 0 k {circle(50, 50, 44)} f "
    return write(Drawing(ground + line_in(circle(50, 50, 40 - i / 20)), inks=KINDS[i % 3]))


@pytest.fixture(scope="module")
def broker(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Broker]:
    made = Broker(tmp_path_factory.mktemp("broker"))
    yield made
    made.stop()


def filled(shop: Shop) -> None:
    shop.surely("PATCH", "/api/shop", json.dumps({"sorts": True}).encode())
    for i in range(COUNT):
        shop.send(f"seal-{i:02}.pdf", file(i))


def findings(var: Path) -> dict[str, tuple[str, str, str, str]]:
    """Of each file: where it lies on the Desk, why it failed, its report and its revision, as they are kept."""
    with sqlite3.connect(f"file:{var}/horismos.sqlite3?mode=ro", uri=True) as database:
        found = database.execute(
            "SELECT j.original_name, j.state, a.error, a.report, r.sha256 FROM jobs_job j "
            "JOIN jobs_analysis a ON a.job_id = j.id JOIN jobs_revision r ON r.id = j.revision_id"
        )
        return {name: (state, error, outcome(report), sha256) for name, state, error, report, sha256 in found}


def outcome(report: str) -> str:
    """What a report comes to.

    Whose worker dies while a state is checked measures anew what another one carried over, or the reverse: what was
    found is the same, and only that is compared.
    """
    said = json.loads(report)
    said["ran"] = sorted({*said.pop("ran", []), *said.pop("carried", [])})
    for found in said.get("findings", []):
        del found["carried"]
    return json.dumps(said)


def all_done(shop: Shop) -> bool:
    return shop.surely("GET", "/api/works") == []


def test_a_worker_the_broker_and_the_server_die_and_every_file_has_the_verdict_of_one_machine(
    broker: Broker, tmp_path: Path
) -> None:
    shop = Shop(tmp_path / "many", HORISMOS_BROKER=broker.address)
    store = str(shop.var / "files")
    workers = [Elsewhere(broker.address, store, tmp_path / f"w{i}", "--name", f"w{i}") for i in range(WORKERS)]
    try:
        assert wait_until(lambda: all(one.ready() for one in workers)), workers[0].log.read_text()
        assert not shop.children("manage.py work"), "the server does nothing itself"
        filled(shop)
        assert wait_until(lambda: len(findings(shop.var)) >= COUNT // 6, 120)
        workers[0].kill()
        assert wait_until(lambda: len(findings(shop.var)) >= COUNT // 3, 120)
        broker.stop()
        time.sleep(1.0)
        broker.start()
        assert wait_until(lambda: len(findings(shop.var)) >= COUNT // 2, 120)
        shop.close()
        shop.start()
        assert wait_until(lambda: all_done(shop), 240, 0.5), shop.surely("GET", "/api/works")
        here = findings(shop.var)
        whole = shop.manage("verify")
        assert whole.returncode == 0, whole.stderr
    finally:
        for one in workers:
            one.stop()
        shop.close()
    alone = Shop(tmp_path / "one")
    try:
        filled(alone)
        assert wait_until(lambda: all_done(alone), 240, 0.5)
    finally:
        alone.close()
    assert len(here) == COUNT
    assert here == findings(alone.var)
