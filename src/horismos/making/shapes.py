"""Plain shapes that fit round art: rectangle, rounded rectangle, circle, ellipse, convex hull, at a distance."""

import math

import numpy as np
import shapely

from horismos.making.spec import LineWanted, Shape
from horismos.paths import Contour, rectangle
from horismos.paths.contour import straight_segments
from horismos.paths.offset import buffered, curves_round
from horismos.paths.pen import ContourPen

__all__ = ["ellipse", "fitted_shape", "rounded_rectangle"]

QUARTER_ARC = 4 / 3 * math.tan(math.pi / 8)
"""The handle of a cubic that stands for a quarter of a circle of radius 1: right to 0.00027 of it."""
ROUNDED_MM = 5.0
"""[ours] the radius of a rounded rectangle where none is said."""


def ellipse(x: float, y: float, a: float, b: float) -> Contour:
    """An ellipse about a middle with half axes along x and y, counter-clockwise, in four segments.

    >>> ellipse(0, 0, 2, 1).node_count
    4
    """
    k = QUARTER_ARC
    ways = ((1, 0), (0, 1), (-1, 0), (0, -1), (1, 0))
    segments = []
    for (ux, uy), (vx, vy) in zip(ways[:-1], ways[1:], strict=True):
        points = ((ux, uy), (ux + k * vx, uy + k * vy), (vx + k * ux, vy + k * uy), (vx, vy))
        segments.append([(x + a * px, y + b * py) for px, py in points])
    return Contour(np.array(segments), np.zeros(4, bool), True)


def rounded_rectangle(x0: float, y0: float, x1: float, y1: float, radius: float) -> Contour:
    """A rectangle with round corners, counter-clockwise; the radius is at most half of the shorter side.

    >>> rounded_rectangle(0, 0, 20, 10, 2).node_count
    8
    """
    r = min(radius, (x1 - x0) / 2, (y1 - y0) / 2)
    if r <= 0:
        return rectangle(x0, y0, x1, y1)
    h = r * (1 - QUARTER_ARC)
    pen = ContourPen()
    pen.moveTo((x0 + r, y0))
    pen.lineTo((x1 - r, y0))
    pen.curveTo((x1 - h, y0), (x1, y0 + h), (x1, y0 + r))
    pen.lineTo((x1, y1 - r))
    pen.curveTo((x1, y1 - h), (x1 - h, y1), (x1 - r, y1))
    pen.lineTo((x0 + r, y1))
    pen.curveTo((x0 + h, y1), (x0, y1 - h), (x0, y1 - r))
    pen.lineTo((x0, y0 + r))
    pen.curveTo((x0, y0 + h), (x0 + h, y0), (x0 + r, y0))
    pen.closePath()
    return pen.contours[0]


def fitted_shape(area: shapely.Geometry, shape: Shape, line: LineWanted) -> list[Contour]:
    """The smallest of a shape round an area, further out by the line's offset. None left where that swallows it."""
    by = line.offset_mm
    if shape is Shape.HULL:
        fine = line.fit_mm / 5
        hull = buffered(shapely.convex_hull(area), by, line.join.value, fine)
        return [] if hull.is_empty else curves_round(hull, line.fit_mm)
    x0, y0, x1, y1 = area.bounds
    if shape is Shape.CIRCLE:
        middle = shapely.centroid(shapely.minimum_bounding_circle(area))
        radius = float(shapely.minimum_bounding_radius(area)) + by
        return [ellipse(middle.x, middle.y, radius, radius)] if radius > 0 else []
    if shape is Shape.ELLIPSE:
        a, b = _half_axes(area)
        return [ellipse((x0 + x1) / 2, (y0 + y1) / 2, a + by, b + by)] if min(a, b) + by > 0 else []
    if x1 - x0 + 2 * by <= 0 or y1 - y0 + 2 * by <= 0:
        return []
    radius = (line.corner_mm or ROUNDED_MM) if shape is Shape.ROUNDED else 0.0
    return [rounded_rectangle(x0 - by, y0 - by, x1 + by, y1 + by, radius)]


def _half_axes(area: shapely.Geometry) -> tuple[float, float]:
    """The half axes of the least upright ellipse about the middle of an area that holds all of it."""
    x0, y0, x1, y1 = area.bounds
    points = shapely.get_coordinates(shapely.convex_hull(area)) - ((x0 + x1) / 2, (y0 + y1) / 2)
    ratios = np.exp(np.linspace(-2.0, 2.0, 401)) * max(y1 - y0, 1e-6) / max(x1 - x0, 1e-6)
    # of an ellipse whose axes have a ratio b/a, the half axis a that reaches the furthest point
    a = np.sqrt((points[:, 0] ** 2 + (points[:, 1] / ratios[:, None]) ** 2).max(axis=1))
    best = int((a * a * ratios).argmin())
    return float(a[best]), float(a[best] * ratios[best])


def straight(ends: np.ndarray) -> Contour:
    """An open straight line between two points, shape (2, 2)."""
    return Contour(straight_segments(ends), np.ones(1, bool), False)
