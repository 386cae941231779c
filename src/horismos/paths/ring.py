"""Contours as shapely's areas: flattened, closed, and made valid."""

from collections.abc import Sequence
from typing import Any

import shapely

from horismos.paths.contour import Contour
from horismos.paths.flatten import flatten

__all__ = ["area_inside", "polygon_of"]


def polygon_of(contour: Contour, tolerance_mm: float = 0.01) -> Any:
    """The area inside a contour, valid; None for one that does not loop or bounds nothing.

    >>> from horismos.paths import rectangle
    >>> polygon_of(rectangle(0, 0, 2, 1)).area
    2.0
    """
    if not contour.loops:
        return None
    ring = flatten(contour, tolerance_mm)
    if len(ring) < 4:
        return None
    made = shapely.Polygon(ring)
    return made if made.is_valid else shapely.make_valid(made)


def area_inside(contours: Sequence[Contour], tolerance_mm: float = 0.01) -> Any:
    """The area inside any of the contours, holes filled, whether they are closed or not; None of none."""
    rings = [points for c in contours if len(points := flatten(c, tolerance_mm)) > 2]
    if not rings:
        return None
    polygons = shapely.make_valid(shapely.polygons([shapely.linearrings(ring) for ring in rings]))
    return polygons[0] if len(polygons) == 1 else shapely.union_all(polygons)
