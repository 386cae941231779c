"""Areas: what contours enclose, what pixels cover, and curves round them again."""

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
import shapely
from contourpy import FillType, contour_generator
from numpy.typing import NDArray

from horismos.paths.contour import Contour, contour_from_points
from horismos.paths.fit import fit_points
from horismos.paths.flatten import flatten

__all__ = ["area_inside", "outlines_of", "traced"]

FINE_MM = 0.005
MOST_FITTED = 30_000
"""[ours] points that curves are fitted through."""


def area_inside(contours: Iterable[Contour]) -> shapely.Geometry:
    """What closed contours enclose an odd number of times, as fine polygons in mm."""
    area: shapely.Geometry = shapely.Polygon()
    for contour in contours:
        area = area.symmetric_difference(shapely.make_valid(shapely.Polygon(flatten(contour, FINE_MM))))
    return area


def traced(
    values: NDArray[np.float32], level: float, origin: tuple[float, float], per_mm: tuple[float, float]
) -> shapely.Geometry:
    """Where pixel values, shape (height, width), lie above a level, as polygons in mm, straight between pixels.

    None of them meets another.

    ``origin`` is the upper left corner of the first pixel in mm, ``per_mm`` the pixels across and up.
    """
    height, width = values.shape
    padded = np.pad(values, 1, constant_values=min(float(values.min(initial=level)), level - 1))
    x = origin[0] + (np.arange(-1, width + 1) + 0.5) / per_mm[0]
    y = origin[1] - (np.arange(-1, height + 1) + 0.5) / per_mm[1]
    made: Any = contour_generator(x, y, padded, fill_type=FillType.OuterOffset).filled(level, np.inf)
    parts = []
    for corners, ends in zip(*made, strict=True):
        rings = [corners[a:b] for a, b in zip(ends[:-1], ends[1:], strict=True)]
        parts.append(shapely.Polygon(rings[0], rings[1:]))
    return shapely.MultiPolygon(parts)


def outlines_of(area: shapely.Geometry, within_mm: float, speck_mm2: float) -> list[Contour]:
    """Curves round an area, holes included, within a distance in mm; parts and holes that are specks are left out.

    Round very much it goes by straight pieces: fitting so many curves takes minutes.
    """
    rims: Sequence[shapely.LinearRing] = [
        rim for part in shapely.get_parts(area) if part.geom_type == "Polygon" and part.area > speck_mm2
        for rim in (part.exterior, *(hole for hole in part.interiors if shapely.Polygon(hole).area > speck_mm2))
    ]
    if sum(len(rim.coords) for rim in rims) > MOST_FITTED:
        return [contour_from_points(np.asarray(rim.simplify(within_mm).coords), True) for rim in rims]
    return [fit_points(np.asarray(rim.coords), True, True, within_mm) for rim in rims]
