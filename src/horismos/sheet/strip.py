"""Packs outlines into a strip with sparrow, as a program of its own: it can be stopped at any time.

Reads one JSON object from its input: ``height``, ``gap``, ``seconds``, ``items`` (``shape``, ``demand``, ``turns`` in
degrees, null: any). Prints a line of JSON for each layout that is better than those before: ``width`` and ``placed``,
rows of item, turn in degrees, x, y. Imports nothing of the product, so that it starts at once.
"""

import json
import sys
import threading

import spyrrow

LOOKS_EVERY_S = 0.05


def main() -> None:
    """Pack what stands in the input."""
    wanted = json.load(sys.stdin)
    items = [
        spyrrow.Item(str(i), [tuple(p) for p in item["shape"]], item["demand"], item["turns"])
        for i, item in enumerate(wanted["items"])
    ]
    instance = spyrrow.StripPackingInstance("sheet", wanted["height"], items)
    config = spyrrow.StripPackingConfig(
        min_items_separation=wanted["gap"] or None, total_computation_time=wanted["seconds"], seed=1, num_workers=2,
    )
    queue, done = spyrrow.ProgressQueue(), threading.Event()

    def tell() -> None:
        best = float("inf")
        last = False
        while not last:
            last = done.wait(LOOKS_EVERY_S)
            for kind, found in queue.drain():
                if kind in (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas, spyrrow.ReportType.Final):
                    best = _told(found, best)

    teller = threading.Thread(target=tell)
    teller.start()
    try:
        final = instance.solve(config, queue)
    finally:
        done.set()
        teller.join()
    _told(final, float("inf"))


def _told(found: "spyrrow.StripPackingSolution", best: float) -> float:
    if found.width < best:
        placed = [[int(p.id), p.rotation, *p.translation] for p in found.placed_items]
        print(json.dumps({"width": found.width, "placed": placed}), flush=True)
        return float(found.width)
    return best


if __name__ == "__main__":
    main()
