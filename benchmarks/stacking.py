"""Stitches for a word of six letters in three layers of fabric: planned, and written as DST.

Peer: pyembroidery, which writes what was planned. Wanted: stitches made in at most 2 s, and the whole of art to files
in a press.

    python -m benchmarks.stacking
"""

import time

import shapely
from shapely import affinity

from benchmarks.nesting import letters
from horismos.formats.embroidery import FORMATS, StitchSuffix, read_stitches, worst_off, write_stitches
from horismos.stitching.layers import lay_layers
from horismos.stitching.plan import plan_stitches
from horismos.stitching.stack import Stack

WANTED_S = 2.0
ROUNDS = 3
SEWN = [{"kind": "tack-down"}, {"kind": "satin", "width_mm": 2}]
LAYERS = [{"name": name, "offset_mm": by, "stitches": SEWN} for name, by in (("a", 0), ("b", 3), ("c", 3))]


def word(text: str, size_mm: float, apart_mm: float) -> shapely.MultiPolygon:
    """The outlines of letters beside each other."""
    parts, x = [], 0.0
    for letter in letters(text, size_mm):
        x0, _, x1, _ = letter.bounds
        parts.append(affinity.translate(letter, x - x0))
        x += x1 - x0 + apart_mm
    return shapely.MultiPolygon(parts)


def main() -> None:
    """Print how long it takes, and in which ratio to the peer."""
    stack, area = Stack.from_json({"layers": LAYERS}), word("WARDEN", 60, 4)
    best = [float("inf")] * 3
    for _ in range(ROUNDS):
        start = time.perf_counter()
        plan = plan_stitches(lay_layers(area, stack))
        planned = time.perf_counter()
        data = write_stitches(plan.records, "#1F4E5F", "word", FORMATS[StitchSuffix.DST])
        written = time.perf_counter()
        off = worst_off(plan.records, read_stitches(data, FORMATS[StitchSuffix.DST]))
        read = time.perf_counter()
        times = planned - start, written - planned, read - written
        best = [min(one, other) for one, other in zip(best, times, strict=True)]
    print(
        f"{plan.count} stitches: planned in {best[0]:.2f} s (wanted {WANTED_S:g}), {best[0] / best[1]:.2f} x "
        f"pyembroidery's writing ({best[1]:.2f} s); read back in {best[2]:.2f} s, {off:.3f} mm off"
    )


if __name__ == "__main__":
    main()
