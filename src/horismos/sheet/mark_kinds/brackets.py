"""Two arms from a corner, opening towards the art or away from it."""

from dataclasses import replace

from horismos.machines import MarkStyle
from horismos.paths import Contour, contour_from_points
from horismos.paths.box import Bounds
from horismos.sheet.mark_kinds.register import Arms, Mark, MarkKind, register


def _strokes(mark: Mark) -> tuple[Contour, ...]:
    x, y, arm, half = mark.x_mm, mark.y_mm, mark.arm_mm, mark.weight_mm / 2
    corner = (x + mark.along_x * half, y + mark.along_y * half)
    ends = ((x + mark.along_x * arm, corner[1]), (corner[0], y + mark.along_y * arm))
    return (contour_from_points([ends[0], corner, ends[1]], closed=False),)


def _box(mark: Mark) -> Bounds:
    return _between(mark.x_mm, mark.y_mm, mark.along_x * mark.arm_mm, mark.along_y * mark.arm_mm)


def _inked(mark: Mark) -> tuple[Bounds, ...]:
    x, y, dx, dy, w, arm = mark.x_mm, mark.y_mm, mark.along_x, mark.along_y, mark.weight_mm, mark.arm_mm
    return _between(x, y, dx * arm, dy * w), _between(x, y, dx * w, dy * arm)


def _between(x: float, y: float, dx: float, dy: float) -> Bounds:
    return min(x, x + dx), min(y, y + dy), max(x, x + dx), max(y, y + dy)


def _reach_inwards(style: MarkStyle, between: bool) -> tuple[float, float]:
    # marks between the corners reach inwards too
    place = style.arm_mm if between else style.weight_mm
    return place, place


def _reach_outwards(style: MarkStyle, between: bool) -> tuple[float, float]:
    return 0.0, style.arm_mm


INWARDS = register(MarkKind(
    id="bracket-in", words="brackets opening inwards", size_words="arms", strokes=_strokes, fills=lambda mark: (),
    box=_box, inked=_inked, reach=_reach_inwards, area=lambda arm, weight: 2 * arm * weight - weight * weight,
    arms=Arms.CORNER, opens=1, least_arm=2
))
register(replace(
    INWARDS, id="bracket-out", words="brackets opening outwards", reach=_reach_outwards, opens=-1,
))
