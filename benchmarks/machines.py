"""What it costs to let workers elsewhere carry out steps, beside the same on one machine, in one run.

Sixty plain files are taken in and sorted by two built-in workers, then by four workers at a broker, each a process
with one slot, on the same cores. Wanted: at least 90 % of the files a second. One step that does next to nothing is
asked for again and again, of a child of this process and of a worker elsewhere: the difference is what a step costs
more (wanted: 15 ms and 3 % of a mean step at most). What went over the broker is counted beside what the store holds.
"""

import json
import os
import sqlite3
import statistics
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import redis
from content.folder import FolderStore
from remote.dispatch import Dispatch

from benchmarks.piling import plain
from horismos.sandbox.pool import Call, Pool
from horismos.workflow.steps import BESIDE, STEPS
from horismos.workflow.steps.stored import Content
from tests.machines import Broker, Elsewhere
from tests.running import Shop, wait_until

COUNT, ASKED, WARM = 60, 200, 10
KEPT = Path(__file__).with_name("steps.json")


def taken_in(shop: Shop, ready: list[Elsewhere]) -> tuple[float, dict[str, float]]:
    """Seconds from the first file to the last verdict; and of the processor for each file, of the server's processes.
    """
    assert wait_until(lambda: all(one.ready() for one in ready))
    shop.surely("PATCH", "/api/shop", b'{"sorts": true}')
    for i in range(2 * len(ready) or 4):  # whoever works has started its children
        shop.send(f"warm-{i}.pdf", plain(COUNT + i))
    assert wait_until(lambda: shop.surely("GET", "/api/works") == [], 120)
    server = {words: shop.children(f"manage.py {words}") for words in ("web", "dispatch")}
    before = {words: sum(map(busy_s, these)) for words, these in server.items()}
    began = time.perf_counter()
    for number in range(COUNT):
        shop.send(f"sticker-{number:02}.pdf", plain(number))
    assert wait_until(lambda: shop.surely("GET", "/api/works") == [], 400, 1.0), "asked seldom: it is work too"
    took = time.perf_counter() - began
    return took, {words: (sum(map(busy_s, these)) - before[words]) / COUNT for words, these in server.items()}


def busy_s(process: int) -> float:
    """Seconds of the processor that a process has used (proc(5))."""
    fields = Path(f"/proc/{process}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


def steps_of(var: Path) -> tuple[int, float]:
    """How many steps a shop has had carried out, and how many seconds they took in all."""
    with sqlite3.connect(f"file:{var}/horismos.sqlite3?mode=ro", uri=True) as database:
        count, seconds = database.execute("SELECT sum(count), sum(seconds) FROM jobs_steptime").fetchone()
    return int(count), float(seconds)


def asked_of(run: Any) -> float:
    """Median seconds of a step that tells what kind of file it is."""
    times = []
    for _ in range(ASKED):
        began = time.perf_counter()
        run()
        times.append(time.perf_counter() - began)
    return statistics.median(times[WARM:])


def main() -> None:
    """Print the table."""
    with tempfile.TemporaryDirectory() as name:
        here = Path(name)
        alone = Shop(here / "one", workers=2)
        built_in, _ = taken_in(alone, [])
        alone.close()
        broker = Broker(here)
        many = Shop(here / "many", HORISMOS_BROKER=broker.address)
        store = FolderStore(many.var / "files")
        hired = [Elsewhere(broker.address, str(store.root), here / f"w{i}", "--name", f"w{i}") for i in range(4)]
        elsewhere, server = taken_in(many, hired)
        print(f"two built-in workers: {COUNT / built_in:.2f} files a second")
        count, seconds = steps_of(alone.var)
        print(f"{count} steps, {1000 * seconds / count:.0f} ms each by a child")
        told = redis.Redis(port=broker.port).info()
        over = (told["total_net_input_bytes"] + told["total_net_output_bytes"]) / steps_of(many.var)[0]
        held = sum(one.bytes for one in store.listed())
        print(f"over the broker: {over / 1000:.1f} kB a step; the store holds {held / 1e6:.1f} MB")
        print(f"four at a broker: {COUNT / elsewhere:.2f} files a second, {100 * built_in / elsewhere:.0f} %")
        for words, used in server.items():
            print(f"the server itself, {words}: {1000 * used:.0f} ms of processor time a file")
        if "--keep" in sys.argv:
            KEPT.write_text(json.dumps({**json.loads(KEPT.read_text()), "server": server}, indent=1) + "\n")
        many.close()

        content = Content(store.path_of(store.put(plain(0))), store.put(plain(0)))
        pool = Pool([*STEPS, *BESIDE])
        call = Call("horismos.workflow.steps.job:kind", (content, "a.pdf"), "k")
        near = asked_of(lambda: pool.run(call))
        pool.close()
        dispatch = Dispatch(broker.address, store.path_of, store.size)
        dispatch.start()
        far = asked_of(lambda: dispatch.run_step("job:kind", content, "a.pdf", key="k", seconds=30))
        dispatch.close()
        print(f"a step: {1000 * near:.1f} ms by a child, {1000 * far:.1f} ms by a worker: {1000 * (far - near):.1f} ms")
        print(f"that is {100 * (far - near) / (seconds / count):.1f} % of a mean step")
        for one in hired:
            one.stop()
        broker.stop()


if __name__ == "__main__":
    main()
