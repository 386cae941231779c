"""Areas joined and strokes expanded, on curves and giving curves, by Skia's path operations.

Skia counts in single precision: coordinates are moved to the middle of what is worked on first, which keeps
them right to a ten-thousandth of its size in mm divided by a thousand.
"""

from collections.abc import Sequence
from dataclasses import replace
from itertools import zip_longest
from typing import Any

import numpy as np
import pathops
import shapely

from horismos.errors import CannotWrite, LimitExceeded
from horismos.paths.areas import area_of
from horismos.paths.box import union_bounds
from horismos.paths.contour import Contour, Floats
from horismos.paths.measure import bounds, length
from horismos.paths.pen import ContourPen, draw
from horismos.paths.tangled import crossings_about

__all__ = ["expanded", "welded", "welded_areas", "without_overlaps"]

CAPS = (pathops.LineCap.BUTT_CAP, pathops.LineCap.ROUND_CAP, pathops.LineCap.SQUARE_CAP)
JOINS = (pathops.LineJoin.MITER_JOIN, pathops.LineJoin.ROUND_JOIN, pathops.LineJoin.BEVEL_JOIN)
MOST_CROSSINGS = 200_000
"""[ours] of one outline; more take minutes to part."""
UNITS = 64.0
"""Skia's strokes are as fine as pixels want them; so many of its units make a mm."""
CONIC_UNITS = 0.02
"""[ours] how far a piece of a conic may be off when it is drawn by parabolas."""
DOT_MM = 0.002
FINE_MM, OFF_MM = 0.01, 0.02
"""[ours] what is joined is counted as polygons as fine as the one, and may differ by the other all along its edge."""
SPECK_MM = 0.01
"""[ours] contours shorter than this come of rounding, and are left out."""


def welded(contours: Sequence[Contour]) -> list[Contour]:
    """The outlines of all that closed contours go round together, without crossings; outer ones counter-clockwise.

    Raises CannotWrite where the areas cannot be joined.
    """
    return welded_areas([[contour] for contour in contours])


def welded_areas(areas: Sequence[Sequence[Contour]]) -> list[Contour]:
    """The outlines of areas together, each the closed contours that bound it, holes among them.

    Raises CannotWrite where the areas cannot be joined.
    """
    if not areas:
        return []
    middle = _middle([contour for area in areas for contour in area])
    paths = []
    for area in areas:
        path = _path(area, middle)
        path.fillType = pathops.FillType.EVEN_ODD
        paths.append(path)
    # Two at a time, and those that are made again: Skia's own builder for many loses holes that others cross.
    while len(paths) > 1:
        paths = [
            _resolved(lambda a=a, b=b: pathops.op(a, b, pathops.PathOp.UNION, fix_winding=True))
            if b is not None else a
            for a, b in zip_longest(paths[::2], paths[1::2])
        ]
    if len(areas) == 1:
        _resolved(lambda: paths[0].simplify(fix_winding=True))
    made = _contours(paths[0], middle)
    _must_cover(made, areas)
    return made


def _must_cover(made: Sequence[Contour], areas: Sequence[Sequence[Contour]]) -> None:
    """Raise CannotWrite where outlines do not enclose what the areas cover together, as another library has it."""
    meant = shapely.union_all([shapely.make_valid(area_of(area, FINE_MM)) for area in areas if area])
    found = area_of(made, FINE_MM) if made else shapely.Polygon()
    off = abs(found.area - meant.area)
    if off > OFF_MM * max(meant.length, 1.0):
        words = f"The joined outlines would enclose {off:.1f} mm² too much or too little."
        raise CannotWrite(words, "Join them by hand.")


def without_overlaps(contours: Sequence[Contour], even_odd: bool) -> list[Contour]:
    """The outlines of the area that a path fills (ISO 32000-1, 8.5.3.3): none lies on or crosses another.

    Raises CannotWrite where they cannot be made, LimitExceeded where they cross too often.
    """
    crossings = crossings_about(contours)
    if crossings > MOST_CROSSINGS:
        raise LimitExceeded(
            f"An outline crosses itself about {crossings:,.0f} times.", "Take what shows as the source, or ask for it "
            "drawn anew.",
        )
    middle = _middle(contours)
    path = _path([Contour(c.segments, c.straight, True) for c in contours], middle)
    path.fillType = pathops.FillType.EVEN_ODD if even_odd else pathops.FillType.WINDING
    _resolved(lambda: path.simplify(fix_winding=True))
    return _contours(path, middle)


def expanded(
    contours: Sequence[Contour], width_mm: float, cap: int = 0, join: int = 0, miter_limit: float = 10.0,
    dash_mm: Sequence[float] = (), phase_mm: float = 0.0,
) -> list[Contour]:
    """The outlines of a stroke, with caps, joins and dashes as ISO 32000-1, 8.4.3, has them.

    Raises CannotWrite where they cannot be made.
    """
    middle = _middle(contours)
    path = _path(contours, middle)
    dashes = list(dash_mm) * (2 if len(dash_mm) % 2 else 1)
    # A dash of no length is drawn by its caps; Skia would leave it out.
    dashes = [max(v, DOT_MM if i % 2 == 0 and cap else 0.0) * UNITS for i, v in enumerate(dashes)]
    path.stroke(width_mm * UNITS, CAPS[cap], JOINS[join], max(miter_limit, 1.0), dashes or None, phase_mm * UNITS)
    path.convertConicsToQuads(CONIC_UNITS)
    _resolved(lambda: path.simplify(fix_winding=True))
    return _contours(path, middle)


def _resolved(work: Any) -> Any:
    try:
        return work()
    except pathops.PathOpsError as error:
        raise CannotWrite(f"The outlines could not be joined ({error}).", "Join them by hand.") from None


def _middle(contours: Sequence[Contour]) -> Floats:
    box = union_bounds(bounds(c) for c in contours)
    if box is None:
        return np.zeros(2)
    return np.array([(box[0] + box[2]) / 2, (box[1] + box[3]) / 2])


def _path(contours: Sequence[Contour], middle: Floats) -> Any:
    path, (x, y) = pathops.Path(), (-middle * UNITS).tolist()
    moved = (replace(c.transformed((UNITS, 0, 0, UNITS, x, y)), closed=c.loops) for c in contours)
    draw(moved, path.getPen())
    return path


def _contours(path: Any, middle: Floats) -> list[Contour]:
    pen, k = ContourPen(), 1 / UNITS
    path.draw(pen)
    moved = (c.transformed((k, 0, 0, k, float(middle[0]), float(middle[1]))) for c in pen.contours)
    return [c for c in moved if length(c) > SPECK_MM]
