"""Areas: what contours enclose, what pixels cover, and curves round them again."""

from collections.abc import Sequence

import numpy as np
import shapely

from horismos.paths.contour import Contour, Floats, contour_from_points
from horismos.paths.corners import corner_places
from horismos.paths.fit import dense, fit_loops, reach_of
from horismos.paths.flatten import flatten
from horismos.paths.levels import Grid, level_lines

__all__ = ["area_of", "outlines_of", "rims_of", "straight_round", "traced"]

MOST_FITTED = 30_000
"""[ours] points that curves are fitted through."""


def area_of(contours: Sequence[Contour], tolerance_mm: float = 0.005) -> shapely.Geometry:
    """What closed contours enclose an odd number of times, as polygons no further off than ``tolerance_mm``.

    >>> from horismos.paths import rectangle
    >>> area_of([rectangle(0, 0, 4, 4), rectangle(1, 1, 2, 2)]).area
    15.0
    """
    rings = [ring for c in contours if len(ring := flatten(c, tolerance_mm)) > 3]
    lines = shapely.MultiLineString(rings)
    if lines.is_simple:
        return _built(lines)
    faces = shapely.get_parts(shapely.polygonize([shapely.node(lines)]))
    round_each = shapely.make_valid(shapely.polygons([shapely.linearrings(ring) for ring in rings]))
    inside, _ = shapely.STRtree(round_each).query(shapely.point_on_surface(faces), predicate="within")
    return shapely.union_all(faces[np.bincount(inside, minlength=len(faces)) % 2 == 1])


def _built(lines: shapely.Geometry) -> shapely.Geometry:
    """The area of rings that cross nowhere: at most one holds another, as outlines do."""
    made: shapely.Geometry = shapely.build_area(lines)
    return made


def traced(
    values: Grid, level: float, origin: tuple[float, float], per_mm: tuple[float, float]
) -> shapely.MultiPolygon:
    """Where pixel values, shape (height, width), lie above a level, as polygons in mm, straight between pixels.

    ``origin`` is the upper left corner of the first pixel in mm, ``per_mm`` the pixels across and up. Raises
    LimitExceeded where nearly every pixel is an edge.
    """
    scale = np.array([1 / per_mm[0], -1 / per_mm[1]])
    loops = [loop * scale + origin for loop in level_lines(values, level)]
    area = _built(shapely.MultiLineString(loops))
    return shapely.MultiPolygon([part for part in shapely.get_parts(area) if part.area])


def rims_of(area: shapely.Geometry, speck_mm2: float, least_wide_mm: float = 0.0) -> list[Floats]:
    """The rings round an area, shape (n, 2) each, outer ones counter-clockwise, holes clockwise; without specks.

    What is nowhere wider than about ``least_wide_mm`` is a sliver, and left out too.
    """

    def counts(rim: shapely.LinearRing) -> bool:
        inside = shapely.Polygon(rim).area
        return bool(inside > speck_mm2 and inside > least_wide_mm * rim.length / 2)

    return [
        np.asarray(rim.coords) for part in shapely.get_parts(shapely.orient_polygons(area))
        if part.geom_type == "Polygon" and counts(part.exterior)
        for rim in (part.exterior, *filter(counts, part.interiors))
    ]


def straight_round(rims: Sequence[Floats], tolerance_mm: float) -> list[Contour]:
    """Straight pieces along rings, within a distance in mm."""
    plain = (shapely.simplify(shapely.LinearRing(rim), tolerance_mm) for rim in rims)
    return [contour_from_points(np.asarray(rim.coords), True) for rim in plain if len(rim.coords) > 3]


def outlines_of(area: shapely.Geometry, tolerance_mm: float, speck_mm2: float) -> list[Contour]:
    """Curves round an area that may be noisy, holes included, within a distance in mm; specks are left out.

    Round very much it goes by straight pieces: fitting so many curves takes minutes.
    """
    rims = rims_of(area, speck_mm2)
    if sum(map(len, rims)) > MOST_FITTED:
        return straight_round(rims, tolerance_mm)
    filled = [dense(rim, tolerance_mm) for rim in rims]
    corners = [corner_places(points, True, tolerance_mm) for points in filled]
    return fit_loops(filled, corners, True, True, tolerance_mm, reach_of(tolerance_mm))
