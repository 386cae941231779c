"""Nesting by the true outline: sparrow packs, and what comes of it is measured before it counts.

The engine is sparrow (J. Gardeyn, G. Vanden Berghe, T. Wauters: An open-source heuristic to reboot 2D nesting research,
2025), by its package spyrrow. What is added to it: outlines of curves that are never cut too small, several contours to
a piece, a gap that holds when measured, rows and columns as the first layout and the least that is accepted, bounds
on the length, and an end at any time.
"""

import hashlib
import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
import shapely

from horismos.paths import Contour, contour_from_points, flatten
from horismos.paths.matrix import Matrix
from horismos.sandbox.programs import lines_of
from horismos.sheet.interlocked import interlocked
from horismos.sheet.pieces import Piece
from horismos.sheet.rows import Packed, UsableArea
from horismos.sheet.turning import Turn, turned

__all__ = ["Better", "cut_outline", "nested", "outline_of", "print_of", "shown_round"]

STRIP = Path(__file__).with_name("strip.py")
FINE_MM = 0.02
SIMPLE_MM = (0.05, 0.1, 0.2, 0.5, 1.0)
MOST_VERTICES = 160
"""[ours] of a packed outline: more make the search slow, and it is grown by what was left out."""
SPARE_MM = 0.02
"""[ours] more than the gap, since the search computes in single precision."""
LEAST_SECONDS, MOST_SECONDS = 1, 3600

Better = Callable[[Packed], None]
"""Hears each layout that is better than those before."""


def outline_of(piece: Piece) -> shapely.Polygon:
    """One polygon that holds all that is cut of a piece, in its mm, at most a millimetre larger, without holes.

    A piece of several contours that lie apart is packed as its hull.
    """
    plain = shape = cut_outline(piece)
    for within in SIMPLE_MM:
        plain = shapely.Polygon(shapely.simplify(shapely.buffer(shape, within, quad_segs=4), within / 2).exterior)
        if len(plain.exterior.coords) <= MOST_VERTICES:
            break
    return plain


def cut_outline(piece: Piece) -> shapely.Polygon:
    """The outline of all that is cut of a piece, in its mm, without holes; the hull where it lies apart."""
    area = _cut_area(piece)
    parts = [part for part in shapely.get_parts(area) if part.geom_type == "Polygon"]
    return shapely.Polygon(parts[0].exterior) if len(parts) == 1 else shapely.convex_hull(area)


def shown_round(piece: Piece, bleed_mm: float) -> tuple[Contour, ...]:
    """What a nested copy shows of its art: what is cut and so much round it, in the piece's mm."""
    shape = cut_outline(piece).buffer(bleed_mm, quad_segs=8).simplify(FINE_MM)
    return (contour_from_points(list(shape.exterior.coords), closed=True),)


def print_of(piece: Piece) -> str:
    """What tells the cut outline of a piece from others: copies that were placed by it stand while it is the same."""
    at = np.round(np.concatenate([flatten(c, FINE_MM) for c in piece.outline]), 2)
    return hashlib.sha256(at.tobytes()).hexdigest()[:16]


def _cut_area(piece: Piece) -> shapely.Geometry:
    contours = [contour for of in piece.lines.values() for contour in of]
    # open lines, as slits that run out, take no area but have to lie clear of the neighbours too
    opened = [shapely.LineString(flatten(c, FINE_MM)).buffer(FINE_MM) for c in contours if not c.loops]
    closed = [c for c in contours if c.loops] or piece.outline
    return shapely.union_all([*map(_filled, closed), *opened])


def _filled(contour: Contour) -> shapely.Geometry:
    return shapely.make_valid(shapely.Polygon(flatten(contour, FINE_MM)))


def nested(
    outlines: Sequence[shapely.Polygon], turns: Sequence[Turn], counts: Sequence[int], room: UsableArea, seconds: float,
    better: Better = lambda packed: None, enough: Callable[[], bool] = lambda: False,
) -> Packed | None:
    """All copies in as little length as is found in so many seconds, or until it is ``enough``; None where none is.

    Each layout is measured by shapely, and only counts where the gap holds and nothing leaves the room.
    """
    wanted = [i for i, count in enumerate(counts) if count]
    if not wanted or any(_too_wide(outlines[i], turns[i], room) for i in wanted):
        return None
    items = [
        {
            # a quarter to the right: the strip runs along x, the media along y
            "shape": [[float(y), float(-x)] for x, y in outlines[i].exterior.coords[:-1]],
            "demand": counts[i], "turns": turns[i].degrees,
        }
        for i in wanted
    ]
    budget = int(min(max(round(seconds), LEAST_SECONDS), MOST_SECONDS))
    given = json.dumps({
        "height": room.width_mm - SPARE_MM, "gap": room.gap_mm + SPARE_MM, "seconds": budget, "items": items,
    })
    best = _first(outlines, turns, counts, wanted, room)
    if best is not None:
        better(best)
    for lines in lines_of([sys.executable, "-I", str(STRIP)], given, budget + 30.0, enough):
        found = json.loads(lines[-1])  # each is better than those before
        packed = _packed(found["placed"], wanted, outlines, room)
        if (best is None or packed.length_mm < best.length_mm) and _holds(packed, outlines, room):
            best = packed
            better(best)
    return best


def _first(
    outlines: Sequence[shapely.Polygon], turns: Sequence[Turn], counts: Sequence[int], wanted: Sequence[int],
    room: UsableArea
) -> Packed | None:
    """Rows that reach into each other, where all copies are of one outline: what the search has to better."""
    if len(wanted) != 1:
        return None
    (item,) = wanted
    found = interlocked(outlines[item], turns[item], counts[item], room)
    if found is None:
        return None
    found = Packed(tuple((item, matrix) for _, matrix in found.copies), found.length_mm, tuple(0 for _ in outlines))
    return found if _holds(found, outlines, room) else None


def _too_wide(outline: shapely.Polygon, turn: Turn, room: UsableArea) -> bool:
    """Whether it fits at no turn: by its narrowest width where any turn is allowed."""
    if turn is Turn.FREE:
        hull = shapely.minimum_rotated_rectangle(outline)
        sides = np.hypot(*np.diff(np.asarray(hull.exterior.coords), axis=0).T)
        return bool(sides.min() > room.width_mm - SPARE_MM)
    x0, y0, x1, y1 = outline.bounds
    return bool(min(x1 - x0, y1 - y0 if turn.quarters else x1 - x0) > room.width_mm - SPARE_MM)


def _packed(
    placed: Sequence[Sequence[float]], wanted: Sequence[int], outlines: Sequence[shapely.Polygon], room: UsableArea
) -> Packed:
    copies: list[tuple[int, Matrix]] = []
    for item, turn, x, y in placed:
        a, b, c, d, _, _ = turned(turn)
        copies.append((wanted[int(item)], (a, b, c, d, -y, x)))
    copies.sort(key=lambda copy: (copy[0], round(copy[1][5], 3), copy[1][4]))
    box = shapely.total_bounds(_shapes(copies, outlines))
    across, up = (room.width_mm - float(box[0] + box[2])) / 2, -float(box[1])
    moved = tuple((item, (a, b, c, d, e + across, f + up)) for item, (a, b, c, d, e, f) in copies)
    return Packed(moved, float(box[3] - box[1]), tuple(0 for _ in outlines))


def _shapes(copies: Sequence[tuple[int, Matrix]], outlines: Sequence[shapely.Polygon]) -> np.ndarray:
    return np.array([
        shapely.transform(outlines[item], lambda p, m=matrix: p @ np.array([m[:2], m[2:4]]) + m[4:])
        for item, matrix in copies
    ])


def _holds(packed: Packed, outlines: Sequence[shapely.Polygon], room: UsableArea) -> bool:
    """Whether the gap holds everywhere, and nothing lies beyond the sides."""
    shapes = _shapes(packed.copies, outlines)
    box = shapely.bounds(shapes)
    if box[:, 0].min() < -1e-6 or box[:, 2].max() > room.width_mm + 1e-6:
        return False
    near, other = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=max(room.gap_mm - 1e-6, 0.0))
    apart = near < other
    if room.gap_mm:
        return not bool(apart.any())
    return bool((shapely.area(shapely.intersection(shapes[near[apart]], shapes[other[apart]])) < 1e-6).all())
