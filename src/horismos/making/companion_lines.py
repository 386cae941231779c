"""Lines beside the outline: slits across pieces, a frame and cuts through the waste, lift tabs, round corners."""

import math
from collections.abc import Sequence

import numpy as np
import shapely

from horismos.errors import BadValue
from horismos.making.shapes import straight
from horismos.making.spec import LineWanted
from horismos.paths import Contour, flatten, rectangle
from horismos.paths.fit import fit_points

__all__ = ["beside", "frame_round", "slits", "weeding_cuts", "with_round_corners", "with_tab"]

CLEAR_MM = 1.0
"""[ours] so far from a piece a cut through the waste ends: it must not lift the piece's edge."""
SHORT_MM = 3.0
"""[ours] a cut through waste that is shorter frees nothing."""
MOST_CUTS = 500
"""[ours] through the waste of one sheet."""
CORNERS = 3.0
"""[ours] what rounding takes away beyond so many squares of its radius was no corner but a thin part."""


def slits(pieces: Sequence[shapely.Geometry], line: LineWanted) -> list[Contour]:
    """A straight line across the middle of each piece, at an angle, run out beyond both sides."""
    angle = math.radians(line.slit_deg or 0.0)
    way = np.array([math.cos(angle), math.sin(angle)])
    out = []
    for piece in pieces:
        middle = np.array(shapely.centroid(piece).coords[0])
        reach = float(np.hypot(*(np.array(piece.bounds[2:]) - piece.bounds[:2]))) + 1.0
        ray = shapely.LineString([middle - way * reach, middle + way * reach])
        crossed = shapely.get_coordinates(shapely.intersection(ray, piece))
        if not len(crossed):
            continue
        along = (crossed - middle) @ way
        low, high = float(along.min()) - line.run_out_mm, float(along.max()) + line.run_out_mm
        if high - low > 0.01:
            out.append(straight(np.array([middle + way * low, middle + way * high])))
    return out


def beside(contour: Contour, line: LineWanted) -> list[Contour]:
    """An open line again at its offset: to the right of the way that it runs, to the left where that is negative."""
    way = shapely.LineString(flatten(contour, line.fit_mm / 5))
    moved = shapely.offset_curve(way, -line.offset_mm, quad_segs=32, join_style=line.join.value)
    parts = [part for part in shapely.get_parts(moved) if part.length > 0.01]
    return [fit_points(np.asarray(part.coords), False, False, line.fit_mm) for part in parts]


def frame_round(area: shapely.Geometry, by_mm: float) -> Contour:
    """A rectangle at a distance round an area."""
    x0, y0, x1, y1 = area.bounds
    return rectangle(x0 - by_mm, y0 - by_mm, x1 + by_mm, y1 + by_mm)


def weeding_cuts(frame: shapely.Geometry, pieces: shapely.Geometry, widest_mm: float) -> list[Contour]:
    """Straight cuts through the waste inside a frame, so that no strip of it is wider than so much.

    Raises BadValue where that would be too many.
    """
    x0, y0, x1, y1 = frame.bounds
    cuts = (x1 - x0 + y1 - y0) / widest_mm
    if cuts > MOST_CUTS:
        raise BadValue(
            f"Cuts every {widest_mm:g} mm would be {cuts:,.0f}; {MOST_CUTS} are the most.", "Set them further apart.",
        )
    waste = shapely.difference(frame, shapely.buffer(pieces, CLEAR_MM))
    out = []
    for across in (False, True):
        low, high = (y0, y1) if across else (x0, x1)
        count = math.ceil((high - low) / widest_mm)
        for i in range(1, count):
            at = low + (high - low) * i / count
            ends = [(x0, at), (x1, at)] if across else [(at, y0), (at, y1)]
            inside = shapely.intersection(shapely.LineString(ends), waste)
            out += [
                straight(np.asarray(part.coords)[[0, -1]])
                for part in shapely.get_parts(inside) if part.geom_type == "LineString" and part.length > SHORT_MM
            ]
    return out


def with_tab(piece: shapely.Geometry, wide_mm: float, towards_deg: float) -> shapely.Geometry:
    """A piece with a half round tab on its edge, where a ray from its middle leaves it last."""
    angle = math.radians(towards_deg)
    way = np.array([math.cos(angle), math.sin(angle)])
    middle = np.array(shapely.centroid(piece).coords[0])
    reach = float(np.hypot(*(np.array(piece.bounds[2:]) - piece.bounds[:2]))) + 1.0
    ray = shapely.LineString([middle, middle + way * reach])
    crossed = shapely.get_coordinates(shapely.intersection(ray, shapely.boundary(piece)))
    if not len(crossed):
        return piece
    at = crossed[((crossed - middle) @ way).argmax()]
    return shapely.union(piece, shapely.buffer(shapely.Point(at), wide_mm / 2, quad_segs=64))


def with_round_corners(area: shapely.Geometry, radius_mm: float, fine_mm: float) -> shapely.Geometry:
    """An area without corners below a radius, outer and inner; thin parts that have no room for it stay as they are."""
    half = math.acos(max(1 - fine_mm / max(radius_mm, fine_mm), 0.0))
    quarter = max(math.ceil(math.pi / 4 / max(half, 1e-3)), 4)

    def moved(of: shapely.Geometry, by: float) -> shapely.Geometry:
        return shapely.buffer(of, by, quad_segs=quarter)

    def only_corners(before: shapely.Geometry, after: shapely.Geometry) -> shapely.Geometry:
        gone = [p for p in shapely.get_parts(shapely.difference(before, after)) if p.area > CORNERS * radius_mm**2]
        return shapely.union_all([after, *gone]) if gone else after

    outer = only_corners(area, moved(moved(area, -radius_mm), radius_mm))
    box = shapely.box(*outer.bounds).buffer(2 * radius_mm + 1)
    around = shapely.difference(box, outer)
    return shapely.difference(box, only_corners(around, moved(moved(around, -radius_mm), radius_mm)))
