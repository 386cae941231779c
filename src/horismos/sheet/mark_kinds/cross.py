"""Two strokes that cross."""

from horismos.machines import MarkStyle
from horismos.paths import Contour, contour_from_points
from horismos.paths.box import Bounds, grow
from horismos.sheet.mark_kinds.register import Arms, Mark, MarkKind, register


def _strokes(mark: Mark) -> tuple[Contour, ...]:
    x, y, arm = mark.x_mm, mark.y_mm, mark.arm_mm
    across, up = [(x - arm, y), (x + arm, y)], [(x, y - arm), (x, y + arm)]
    return contour_from_points(across, closed=False), contour_from_points(up, closed=False)


def _box(mark: Mark) -> Bounds:
    return grow((mark.x_mm, mark.y_mm, mark.x_mm, mark.y_mm), mark.arm_mm)


def _inked(mark: Mark) -> tuple[Bounds, ...]:
    x, y, half = mark.x_mm, mark.y_mm, mark.weight_mm / 2
    return grow((x, y, x, y), mark.arm_mm, half), grow((x, y, x, y), half, mark.arm_mm)


def _reach(style: MarkStyle, between: bool) -> tuple[float, float]:
    return style.arm_mm, 2 * style.arm_mm


register(MarkKind(
    id="cross", words="crosses", size_words="arms", strokes=_strokes, fills=lambda mark: (), box=_box, inked=_inked,
    reach=_reach, area=lambda arm, weight: 4 * arm * weight - weight * weight, arms=Arms.CROSSED
))
