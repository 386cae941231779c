"""The figure by which a turned sheet is aligned: cut right through from the front, so that it shows on the back."""

from dataclasses import replace

from horismos.cutting.tools import Tool
from horismos.paths import Contour, contour_from_points
from horismos.sheet import Sheet
from horismos.sheet.layout import Aligning

__all__ = ["aligning_figure", "aligning_places", "aligning_tool"]

FIGURE_MM = 6.0
"""[ours] the length of a side of one of its corners, where there is room."""
BESIDE_MM = 3.0
"""[ours] how far it keeps from marks, the code and the cuts."""
LEAST_MM = 2.0


def aligning_places(sheet: Sheet) -> list[tuple[float, float, float]]:
    """Where its corners stand, in mm on the sheet as printed, and how long their sides are.

    In the strips between the marks and what is cut: two before it, right and left, one behind it on the left, so that
    the sheet cannot be laid the wrong way round.
    """
    x0, y0, x1, y1 = sheet.cut_box
    low, high, left, right = y0 - FIGURE_MM - BESIDE_MM, y1 + FIGURE_MM + BESIDE_MM, x0, x1
    if sheet.marks:
        ys, boxes = [mark.y_mm for mark in sheet.marks], [mark.box for mark in sheet.marks]
        low, high = min(ys), max(ys)
        middle = (x0 + x1) / 2
        left = max([box[2] for box in boxes if box[2] < middle], default=x0) + BESIDE_MM
        right = min([box[0] for box in boxes if box[0] > middle], default=x1) - BESIDE_MM
    side = max(min(FIGURE_MM, y0 - low - 1.0, high - y1 - 1.0), LEAST_MM)
    behind = left
    if sheet.code and sheet.code.box[0] < left + side + BESIDE_MM:
        left = max(left, sheet.code.box[2] + BESIDE_MM)
    right = max(right - side, left + side + BESIDE_MM)
    return [(left, max(low, 0.0), side), (right, max(low, 0.0), side), (behind, high - side, side)]


def aligning_tool(through: Tool, wanted: Aligning) -> Tool:
    """What the figure is cut with: the tool that goes right through, with what is its own."""
    own = {key: getattr(wanted, key) for key in ("number", "force_gf", "speed_mm_s")}
    return replace(through, passes=wanted.passes, **{key: value for key, value in own.items() if value is not None})


def aligning_figure(sheet: Sheet) -> list[Contour]:
    """Its corners: two sides each, open, so that nothing falls out; the corner itself is what is aligned to."""
    return [
        contour_from_points([(x + side, y), (x, y), (x, y + side)], closed=False)
        for x, y, side in aligning_places(sheet)
    ]
