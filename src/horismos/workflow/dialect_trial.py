"""A cutter's dialect tried before it is kept: a figure written in it, read back, and laid beside what was meant."""

from dataclasses import dataclass, replace

import numpy as np

from horismos.cutting import DEFAULT_TOOLS
from horismos.cutting.operations import CutCopy, Run, plan_operation
from horismos.cutting.proof import worst_distance
from horismos.errors import HorismosError
from horismos.formats.hpgl import read_hpgl, write_hpgl
from horismos.machines import Cutter
from horismos.paths import contour_from_points, flatten, rectangle
from horismos.roles import LineRole

__all__ = ["DialectTried", "try_dialect"]

SIDE_MM = 40.0
MOST_LINES = 60


@dataclass(frozen=True)
class DialectTried:
    """A figure in a dialect: the file, what is read back of it in mm, how far that lies off.

    ``lines`` are polylines of x, y; y goes up. ``error`` says why it cannot be read back, or is not what was meant.
    """

    text: str
    lines: list[list[list[float]]]
    off_mm: float | None
    error: str


def try_dialect(cutter: Cutter) -> DialectTried:
    """Write a square and an open hook with two tools, a pause between, and read them back."""
    run = Run(cutter, 2 * SIDE_MM, (0.0, 0.0))
    hook = contour_from_points([(10.0, 12.0), (24.0, 12.0), (24.0, 30.0)], closed=False)
    shapes = {LineRole.KISS_CUT: hook, LineRole.THROUGH_CUT: rectangle(4.0, 4.0, SIDE_MM, SIDE_MM - 6)}
    operations = [
        plan_operation(role, replace(DEFAULT_TOOLS[role], number=number), [CutCopy(0, (contour,))], run)
        for number, (role, contour) in enumerate(shapes.items(), 1)
    ]
    runs = [replace(operation.run, pause=i > 0) for i, operation in enumerate(operations)]
    text = ""
    try:
        data = write_hpgl(runs, (0.0, 0.0), cutter.dialect)
        text = "\n".join(data.decode("latin-1").splitlines()[:MOST_LINES])
        drawn = read_hpgl(data, (0.0, 0.0), cutter.dialect)
        off = worst_distance(operations, drawn, cutter.dialect)
    except (HorismosError, ValueError) as why:
        return DialectTried(text, [], None, str(why))
    lines = [np.round(flatten(stroke.contour), 3).tolist() for stroke in drawn]
    return DialectTried(text, lines, round(off, 4), "")
