"""The outlines of live strokes, with caps, joins and dashes as drawn."""

import math

import shapely

from horismos.artwork.model import Page, PathObject
from horismos.paths import flatten
from horismos.paths.areas import area_of, rims_of
from horismos.paths.contour import Contour, contour_from_points
from horismos.paths.matrix import inverse, multiply, scale, size_of
from horismos.paths.weld import expanded

__all__ = ["FINE_MM", "covers_alike", "stroke_area", "stroke_outline"]

FINE_MM = 0.005
UNLIKE = 0.03
"""[ours] how far the areas may differ that two libraries make of a stroke."""
CAPS, JOINS = ("flat", "round", "square"), ("mitre", "round", "bevel")
"""[standard] ISO 32000-1, tables 54 and 55."""


def stroke_outline(page: Page, obj: PathObject) -> list[Contour]:
    """The outline in mm of what a path strokes; none where its width is nothing.

    A pen is round in user space (ISO 32000-1, 8.4.3.2): the outline is made there, at the size that it has on the
    page. Where it does not cover what the stroke does, since a join was lost, it is made of straight pieces instead.
    Raises CannotWrite where it cannot be made.
    """
    state = obj.state
    size = size_of(state.ctm)
    if not size or not state.line_width:
        return []
    there, back = multiply(inverse(state.ctm), scale(size)), multiply(scale(1 / size), state.ctm)
    outline = expanded(
        [contour.transformed(there) for contour in page.contours(obj)], state.line_width * size, state.line_cap,
        state.line_join, state.miter_limit, [v * size for v in state.dash[0]], state.dash[1] * size,
    )
    made = [contour.transformed(back) for contour in outline]
    meant = stroke_area(page, obj)
    if meant is None or covers_alike(area_of(made, FINE_MM), meant, state.line_width * size):
        return made
    return [contour_from_points(rim, True) for rim in rims_of(meant, 0.0)]


def covers_alike(made: shapely.Geometry, meant: shapely.Geometry, width: float) -> bool:
    """Whether two areas that are to be one stroke, so wide in mm, are alike."""
    return bool(abs(made.area - meant.area) <= max(UNLIKE * meant.area, width * width))


def stroke_area(page: Page, obj: PathObject) -> shapely.Geometry | None:
    """What a stroke covers, by another library than the one that outlines it; None where that has no such stroke."""
    state = obj.state
    a, b, c, d, _, _ = state.ctm
    skewed = abs(a * c + b * d) > 1e-3 * abs(a * d - b * c) or abs(math.hypot(a, b) - math.hypot(c, d)) > 1e-3 * abs(a)
    if state.dash[0] or skewed:
        return None
    lines = [shapely.LineString(points) for k in page.contours(obj) if len(points := flatten(k, FINE_MM)) > 1]
    return shapely.union_all([
        shapely.buffer(
            line, state.line_width * size_of(state.ctm) / 2, quad_segs=16, cap_style=CAPS[state.line_cap],
            join_style=JOINS[state.line_join], mitre_limit=max(state.miter_limit, 1.0),
        ) for line in lines
    ])
