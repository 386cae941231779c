"""Runs: one line of stitches along an edge, to lay fabric by or to hold it."""

import numpy as np
import shapely

from horismos.paths.areas import rims_of
from horismos.paths.contour import Floats
from horismos.paths.flatten import parted
from horismos.stitching.layers import moved
from horismos.stitching.stack import Join

__all__ = ["in_stitches", "inside_edge", "rolled"]

STRAIGHT_MM = 0.08
"""[ours] how far the way of a run may leave the line; a stitch of 2.5 mm goes round a circle of 10 mm with that."""
LEAST_MM = 0.5
TRIES = 5
"""[ours] so often the inset is halved where fabric is too narrow for it."""


def inside_edge(area: shapely.Geometry, inset_mm: float) -> tuple[list[Floats], int]:
    """Rings so far inside the edge of an area, and how many pieces were too narrow and got less of an inset."""
    out: list[Floats] = []
    narrow = 0
    for part in shapely.get_parts(area):
        inset, inner = inset_mm, moved(part, -inset_mm, Join.ROUND)
        tries = 0
        while inner.is_empty and tries < TRIES:
            inset, tries = inset / 2, tries + 1
            inner = moved(part, -inset, Join.ROUND)
        narrow += tries > 0
        out += rims_of(inner, 0.0)
    return out, narrow


def rolled(ring: Floats, to: Floats) -> Floats:
    """A closed ring that begins at its point nearest to a place, and is closed there again."""
    line = shapely.LinearRing(ring)
    way = float(line.project(shapely.Point(to)))
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(ring, axis=0).T))])
    cut = int(np.searchsorted(along, way, side="right"))
    at = np.array(line.interpolate(way).coords[0])
    return np.vstack([at, ring[cut:-1], ring[: min(cut, len(ring))], at])


def in_stitches(line: Floats, stitch_mm: float) -> Floats:
    """Needle points along a line, shape (n, 2): at its corners, and evenly between, no further apart than a stitch."""
    plain = shapely.get_coordinates(shapely.simplify(shapely.LineString(line), STRAIGHT_MM))
    kept = [plain[0]]
    for point in plain[1:-1]:
        if np.hypot(*(point - kept[-1])) >= LEAST_MM:
            kept.append(point)
    kept.append(plain[-1])
    points = np.array(kept)
    return parted(points, np.maximum(np.ceil(np.hypot(*np.diff(points, axis=0).T) / stitch_mm).astype(np.int64), 1))
