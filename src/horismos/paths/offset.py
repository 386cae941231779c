"""Areas moved outwards and inwards: their edges offset as fine polygons, and drawn by curves again."""

import numpy as np
import shapely

from horismos.paths.areas import rims_of, straight_round
from horismos.paths.contour import Contour, Floats
from horismos.paths.corners import vertex_corners
from horismos.paths.fit import fit_simple
from horismos.paths.flatten import flatten, parted
from horismos.paths.measure import signed_area

__all__ = ["MITRE_LIMIT", "buffered", "curves_round", "offset"]

FINE = 0.2
"""[ours] of the tolerance, for the polygons on the way."""
FITTED = 0.9
"""[ours] of the tolerance is for the fit, the rest for the polygons."""
SIMPLER = 0.1
"""[ours] of the tolerance: polygons that are finer than this cost time and tell nothing."""
LEAST_FINE_MM = 0.0005
MITRE_LIMIT = 4.0
"""[ours] a mitred tip goes no further than so many offsets from its corner, and is bevelled there."""
REACH_MM = 0.05
MANY = 5_000
A_CHORD = 3
"""[ours] points that a chord has at least: between two of them a curve is held by nothing."""
FILLED = 400
"""[ours] points that a way round is filled up to at least,"""
STEP_MM = 0.3
"""[ours] and how far apart they are at most, unless there would be too many."""
MOST_FITTED = 250_000
"""[ours] points that curves are fitted through; round more it goes by straight pieces."""


def offset(contour: Contour, *by_mm: float, join: str = "round", tolerance_mm: float = 0.01) -> Contour | None:
    """A closed contour moved by each distance in turn, outwards where it is positive, running the way that it ran.

    ``join`` is round, mitre or bevel. The curves lie within ``tolerance_mm`` of the offset. None where it falls apart,
    closes a hole in, or vanishes on the way.

    >>> from horismos.paths import rectangle
    >>> made = offset(rectangle(0, 0, 10, 10), -1, join="mitre")
    >>> made.node_count, round(signed_area(made), 3)
    (4, 64.0)
    """
    fine = max(tolerance_mm * FINE, LEAST_FINE_MM)
    area: shapely.Geometry = shapely.make_valid(shapely.Polygon(flatten(contour, fine)))
    for by in by_mm:
        area = buffered(area, by, join, fine)
        if area.geom_type != "Polygon" or area.is_empty or len(area.interiors):
            return None
    new = curves_round(area, tolerance_mm)[0]
    return new if signed_area(new) * signed_area(contour) > 0 else new.reversed()


def buffered(
    area: shapely.Geometry, by_mm: float, join: str, tolerance_mm: float, mitre_limit: float = MITRE_LIMIT
) -> shapely.Geometry:
    """An area moved outwards or inwards, its arcs no further off than ``tolerance_mm``."""
    if not by_mm:
        return area
    half = np.arccos(max(1 - tolerance_mm / max(abs(by_mm), tolerance_mm), 0.0))
    quarter = int(np.clip(np.ceil(np.pi / 4 / max(half, 1e-3)), 4, 400))
    moved: shapely.Geometry = shapely.buffer(
        area, by_mm, quad_segs=quarter, join_style=join, mitre_limit=mitre_limit
    )
    return moved


def curves_round(area: shapely.Geometry, tolerance_mm: float) -> list[Contour]:
    """Curves round an area, holes included, within a distance in mm; slivers that rounding left are left out.

    Outer ones run counter-clockwise, holes clockwise. The area's edges must be exact: every vertex that turns much is
    a corner.
    """
    rims = rims_of(shapely.simplify(area, tolerance_mm * SIMPLER), 0.0, tolerance_mm)
    if sum(map(len, rims)) > MOST_FITTED:
        return straight_round(rims, tolerance_mm)
    dense = [_filled(_without_steps(rim, 3 * tolerance_mm)) for rim in rims]
    corners = [vertex_corners(points, True) for points in dense]
    return fit_simple(dense, corners, tolerance_mm * FITTED, max(REACH_MM, 2 * tolerance_mm))


def _without_steps(rim: Floats, least_mm: float) -> Floats:
    """A closed polygon in which two corners nearer than so much are one: such a step is left by rounding."""
    corners = vertex_corners(rim, True)
    if len(corners) < 2 or len(rim) < 8:
        return rim
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(rim, axis=0).T))])
    keep = np.ones(len(rim), bool)
    for one, other in zip(corners[:-1], corners[1:], strict=True):
        if keep[one] and along[other] - along[one] < least_mm:
            keep[one + 1 : other + 1] = False
    keep[-1] = keep[0]
    kept = rim[keep]
    return kept if len(kept) > 4 else rim


def _filled(rim: Floats) -> Floats:
    """A closed polygon with points along its long chords too, and none twice."""
    rim = rim[np.concatenate([[True], np.hypot(*np.diff(rim, axis=0).T) > 1e-7])]
    long = np.hypot(*np.diff(rim, axis=0).T)
    total = float(long.sum())
    steps = np.ceil(long / max(min(total / FILLED, STEP_MM), total / MANY, 0.02)).astype(np.int64)
    if len(rim) < MANY:
        steps = np.maximum(steps, np.where(long > 0.1, A_CHORD, 1))
    return parted(rim, steps)
