"""Reads an HP-GL file back and says how far it lies from what was meant."""

from collections.abc import Sequence

from horismos.cutting.perforate import cuts_along
from horismos.cutting.plan import Operation
from horismos.errors import CannotWrite
from horismos.formats.hpgl import Stroke
from horismos.paths import flatten, greatest_distance
from horismos.paths.contour import Floats

__all__ = ["MOST_OFF_MM", "worst_distance"]

MOST_OFF_MM = 0.05
"""[ours] two plotter units; a file further off is not released."""
MEANT_MM = 0.002
"""How finely the meant curves are drawn for the comparison."""


def worst_distance(operations: Sequence[Operation], drawn: Sequence[Stroke]) -> float:
    """The greatest distance in mm between the curves as meant and the strokes as written.

    Operation by operation, so that a line under the wrong tool does not hide behind another one.
    Raises CannotWrite where tools, forces or speeds differ, or an operation is missing.
    """
    worst = 0.0
    with_strokes = [operation for operation in operations if operation.strokes]
    if len({d.operation for d in drawn}) != len(with_strokes):
        raise CannotWrite("The cut file has another number of operations than the plan.")
    for number, operation in enumerate(with_strokes):
        written = [d for d in drawn if d.operation == number]
        tool = operation.tool
        for d in written:
            settings = (d.tool, d.force_gf, d.speed_mm_s)
            if any(
                abs(a - b) > 1e-3
                for a, b in zip(settings, (tool.number, tool.force_gf, tool.speed_mm_s), strict=True)
            ):
                raise CannotWrite(f"The cut file has another setting for the {operation.role.words}.")
        worst = max(worst, greatest_distance(_meant(operation), [d.points for d in written]))
    return worst


def _meant(operation: Operation) -> list[Floats]:
    """The curves as meant; where the tool perforates, the cuts."""
    tool = operation.tool
    if tool.cut_mm is None or tool.tie_mm is None:
        return [flatten(contour, MEANT_MM) for contour in operation.contours]
    return [cut for contour in operation.contours for cut in cuts_along(contour, tool, MEANT_MM)]
