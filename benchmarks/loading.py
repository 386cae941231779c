"""Cut against print over seeded loads, each found by its picture: how far off the cut lands, and which loads are said.

Wanted: 95 of 100 places within 0.1 mm with up to 0.3 % stretch and 0.1 degrees of skew, no load cut wrongly. The peer
is the same load with its marks read exactly: what remains then is the cutter's own.

    python -m benchmarks.loading [LOADS]
"""

import sys
import time
from dataclasses import replace

import numpy as np

from horismos.artwork import read_bytes
from horismos.checking import Report
from horismos.destinations import DEFAULT
from horismos.errors import DoesNotFit
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.simulation.bed import Laying, MarkSeen
from horismos.workflow.bench import BedState, aligned_on, bed_of, played, scanned
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.release import release
from tests.shapes import Drawing, circle, line_in, write

LOADS, WANTED_MM = 100, 0.1
TURN_DEG, STRETCH, SKEW_DEG = 3.0, 0.003, 0.1


def main() -> None:
    """Print the figures."""
    loads = int(sys.argv[1]) if len(sys.argv) > 1 else LOADS
    art = f"1 0 0 0 k {circle(50, 50, 34)} f " + line_in(circle(50, 50, 30))
    case = Case(
        artwork=read_bytes(write(Drawing(art))), order=Order(
            quantity=12
        ), destination=DEFAULT, material=MATERIALS["film-610"], facts=JobFacts("seal")
    )
    package = release(case, Report(()))[0]
    ticket, hpgl, pdf = package.ticket, package.files["seal-cut.plt"], package.files["seal-print.pdf"]
    meant = _places(None, ticket, hpgl)
    off, exact, said, unheld = [], [], 0, 0
    began = time.perf_counter()
    for seed in range(loads):
        random = np.random.default_rng(seed)
        turn, stretch, skew = random.uniform(-1, 1, 3) * (TURN_DEG, STRETCH, SKEW_DEG)
        before = BedState(ticket, Laying(seed, turn_deg=turn, stretch=stretch, skew_deg=skew, shift_x_mm=0.0))
        try:
            bed = bed_of(before)
        except DoesNotFit:  # so far turned that a roller would stand beside the media
            unheld += 1
            continue
        found = scanned(before, pdf, None, lambda share, what: None)
        before = replace(before, seen=found.seen, code=found.code)
        if aligned_on(before).trouble:
            said += 1
            continue
        off.append(np.hypot(*(_places(before, ticket, hpgl) - meant).T))
        true = bed.load.landed(np.array([(mark.x_mm, mark.y_mm) for mark in bed.marks]))
        seen = tuple(MarkSeen(m.number, (x, y), "hand") for m, (x, y) in zip(bed.marks, true.tolist(), strict=True))
        exact.append(np.hypot(*(_places(replace(before, seen=seen), ticket, hpgl) - meant).T))
    every, peer = np.concatenate(off), np.concatenate(exact)
    print(
        f"{loads} loads, {len(off)} cut, {said} said, {unheld} not held: cut against print "
        f"{np.percentile(every, 95):.4f} mm at 95 % (wanted {WANTED_MM}), {every.max():.4f} mm at most; "
        f"{np.percentile(every, 95) / max(np.percentile(peer, 95), 1e-9):.1f} x marks read exactly; "
        f"{(time.perf_counter() - began) / loads:.2f} s a load"
    )


def _places(before: BedState | None, ticket: object, hpgl: bytes) -> np.ndarray:
    run = played(before, ticket, hpgl, {})  # type: ignore[arg-type]
    return np.concatenate([move.points for move in run.moves])


if __name__ == "__main__":
    main()
