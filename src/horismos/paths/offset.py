"""Closed contours moved outwards and inwards: offset as fine polygons, and drawn by curves again."""

import numpy as np
import shapely

from horismos.paths.contour import Contour
from horismos.paths.fit import fit_points
from horismos.paths.flatten import flatten
from horismos.paths.measure import signed_area

__all__ = ["offset"]

FINE_MM = 0.002
QUARTER = 64
"""Segments that a quarter of a circle is made of on the way."""


def offset(contour: Contour, *by_mm: float, join: str = "round", within_mm: float = 0.01) -> Contour | None:
    """A closed contour moved by each distance in turn, outwards where it is positive, running the way that it ran.

    ``join`` is round or mitre. The curves lie within ``within_mm`` of the offset. None where it falls apart, closes
    a hole in, or vanishes on the way.

    >>> from horismos.paths import rectangle
    >>> made = offset(rectangle(0, 0, 10, 10), -1, join="mitre")
    >>> made.node_count, round(signed_area(made), 3)
    (4, 64.0)
    """
    area = shapely.make_valid(shapely.Polygon(flatten(contour, FINE_MM)))
    for by in by_mm:
        area = area.buffer(by, quad_segs=QUARTER, join_style=join)
        if area.geom_type != "Polygon" or area.is_empty or len(area.interiors):
            return None
    new = fit_points(np.asarray(area.exterior.coords), True, True, within_mm)
    return new if signed_area(new) * signed_area(contour) > 0 else new.reversed()
