"""Lengths, bounds, areas and containment of contours, exact on curves."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from horismos.paths.box import Bounds
from horismos.paths.contour import Contour, Floats, cached
from horismos.paths.flatten import flatten

__all__ = [
    "ROUGH_MM", "bounds", "enclosing_counts", "inner_extremes", "length", "lengths_of", "nearest_around", "signed_area",
]

_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(8)
_PARTS = 4
ROUGH_MM = 0.05
"""How finely contours are drawn to tell which lies in which."""


@cached
def length(contour: Contour) -> float:
    """The length in mm, by Gauss-Legendre quadrature of the speed along each curve.

    >>> from horismos.paths import rectangle
    >>> length(rectangle(0, 0, 2, 1))
    6.0
    """
    return float(lengths_of(contour.segments, contour.straight).sum())


def lengths_of(segments: Floats, straight: NDArray[np.bool_]) -> Floats:
    """The length in mm of each segment, shape (n,)."""
    out: Floats = np.hypot(*(segments[:, 3] - segments[:, 0]).T)
    curved = segments[~straight]
    if len(curved):
        t = ((_NODES + 1) / 2 + np.arange(_PARTS)[:, None]).ravel() / _PARTS
        weights = np.tile(_WEIGHTS, _PARTS) / (2 * _PARTS)
        d = 3 * np.diff(curved, axis=1)
        s = 1 - t
        speed = (
            (s * s)[:, None, None] * d[:, 0]
            + (2 * s * t)[:, None, None] * d[:, 1]
            + (t * t)[:, None, None] * d[:, 2]
        )
        out[~straight] = weights @ np.hypot(speed[..., 0], speed[..., 1])
    return out


@cached
def bounds(contour: Contour) -> Bounds:
    """The exact bounds in mm: the nodes and the extremes of each curve between them.

    >>> from horismos.paths import rectangle
    >>> bounds(rectangle(0, 0, 2, 1))
    (0.0, 0.0, 2.0, 1.0)
    """
    p = contour.segments
    nodes = np.vstack([p[:, 0], p[-1:, 3]])
    low, high = nodes.min(axis=0), nodes.max(axis=0)
    curved = p[~contour.straight]
    if len(curved):
        least, most = inner_extremes(curved)
        low, high = np.minimum(low, least.min(axis=0)), np.maximum(high, most.max(axis=0))
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def inner_extremes(curved: Floats) -> tuple[Floats, Floats]:
    """The lowest and highest coordinates, shape (n, 2), inside each of cubic segments, shape (n, 4, 2)."""
    p0, p1, p2, p3 = (curved[:, i] for i in range(4))
    a, b, c = p3 - 3 * p2 + 3 * p1 - p0, 2 * (p2 - 2 * p1 + p0), p1 - p0
    with np.errstate(divide="ignore", invalid="ignore"):
        root = np.sqrt(np.maximum(b * b - 4 * a * c, 0))
        q = -(b + np.where(b >= 0, 1, -1) * root) / 2
        candidates = np.stack([q / a, c / q])
    t = np.where(np.isfinite(candidates), np.clip(candidates, 0, 1), 0)
    s = 1 - t
    values = s**3 * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t**3 * p3
    return values.min(axis=0), values.max(axis=0)


@cached
def signed_area(contour: Contour) -> float:
    """The enclosed area in mm², positive where the contour runs counter-clockwise.

    Exact for cubics by Green's theorem; an open contour is taken as closed by a straight line.

    >>> from horismos.paths import rectangle
    >>> round(signed_area(rectangle(0, 0, 2, 1)), 9)
    2.0
    """
    p = contour.segments
    x, y = p[..., 0], p[..., 1]

    def cross(i: int, j: int) -> Floats:
        value: Floats = x[:, i] * y[:, j] - x[:, j] * y[:, i]
        return value

    area = (
        6 * cross(0, 1) + 3 * cross(0, 2) + cross(0, 3) + 3 * cross(1, 2) + 3 * cross(1, 3)
        + 6 * cross(2, 3)
    ).sum() / 20
    closing = contour.end[0] * contour.start[1] - contour.start[0] * contour.end[1]
    return float(area + closing / 2)


def enclosing_counts(contours: Sequence[Contour]) -> list[int]:
    """For each looping contour, how many of the others lie around it; 0 for an open one.

    >>> from horismos.paths import rectangle
    >>> enclosing_counts([rectangle(0, 0, 9, 9), rectangle(1, 1, 2, 2)])
    [0, 1]
    """
    counts = [0] * len(contours)
    for inner, _, _ in _enclosed(contours):
        counts[inner] += 1
    return counts


def nearest_around(contours: Sequence[Contour]) -> list[int]:
    """For each contour the smallest of the looping ones that encloses it, by its number; -1 where none does.

    Of an open contour its middle counts.

    >>> from horismos.paths import rectangle
    >>> nearest_around([rectangle(0, 0, 9, 9), rectangle(1, 1, 5, 5), rectangle(2, 2, 3, 3)])
    [-1, 0, 1]
    """
    least: dict[int, tuple[float, int]] = {}
    for inner, outer, area in _enclosed(contours, with_open=True):
        least[inner] = min(least.get(inner, (area, outer)), (area, outer))
    return [least[i][1] if i in least else -1 for i in range(len(contours))]


def _enclosed(contours: Sequence[Contour], with_open: bool = False) -> list[tuple[int, int, float]]:
    """Pairs of contours, the first inside the second, by their numbers, with the area of the second."""
    rings = [(i, flatten(c, ROUGH_MM)) for i, c in enumerate(contours) if c.loops]
    rings = [(i, ring) for i, ring in rings if len(ring) >= 4]
    if not rings or len(contours) < 2:
        return []
    owner = np.repeat(np.arange(len(rings)), [len(ring) for _, ring in rings])
    polygons = shapely.polygons(shapely.linearrings(np.concatenate([ring for _, ring in rings]), indices=owner))
    polygons = shapely.make_valid(polygons)
    numbers, areas = [i for i, _ in rings], shapely.area(polygons)
    points, inside = list(shapely.point_on_surface(polygons)), list(areas)
    for i, contour in enumerate(contours):
        if with_open and not contour.loops:
            line = flatten(contour, ROUGH_MM)
            numbers.append(i)
            points.append(shapely.line_interpolate_point(shapely.LineString(line), 0.5, normalized=True))
            inside.append(0.0)
    inner, outer = shapely.STRtree(polygons).query(np.array(points), predicate="within")
    return [
        (numbers[i], numbers[o], float(areas[o]))
        for i, o in zip(inner.tolist(), outer.tolist(), strict=True) if i != o and areas[o] > inside[i]
    ]
