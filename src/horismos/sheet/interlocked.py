"""Rows of one shape that reach into each other: pairs turned against each other, rows set off against the next.

What a search that knows nothing of rows takes long to find, and where it begins to be of use: its layouts count only
where they are shorter. [practice] laying pairs head to tail and setting rows off are the first things tried by hand.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import shapely
from shapely import affinity

from horismos.paths.matrix import Matrix
from horismos.sheet.rows import Packed, UsableArea
from horismos.sheet.turning import Turn, turned

__all__ = ["interlocked"]

CLOSER_MM = 0.005
SPARE_MM = 0.002
SHIFTS = 16
"""[ours] places across at which a row is tried against the one below."""


def interlocked(outline: shapely.Polygon, turn: Turn, count: int, room: UsableArea) -> Packed | None:
    """So many copies of one outline in the shortest rows that are found; None where not one fits across.

    The gap is at least the room's between any two outlines; the room's own length is not looked at.
    """
    made = [packed for pair in _pairs(outline, turn) for packed in _layouts(pair, count, room)]
    return min(made, key=lambda packed: packed.length_mm, default=None)


@dataclass(frozen=True)
class _Copy:
    """An outline as it is turned, its lower left corner at nought, and the matrix that brings it there."""

    shape: shapely.Polygon
    matrix: Matrix

    @property
    def size(self) -> tuple[float, float]:
        _, _, wide, tall = self.shape.bounds
        return float(wide), float(tall)


def _copy(outline: shapely.Polygon, degrees: float) -> _Copy:
    a, b, c, d, _, _ = turned(degrees)
    shape = affinity.affine_transform(outline, [a, c, b, d, 0, 0])
    x, y, _, _ = shape.bounds
    return _Copy(affinity.translate(shape, -x, -y), (a, b, c, d, -float(x), -float(y)))


def _pairs(outline: shapely.Polygon, turn: Turn) -> Iterator[tuple[_Copy, _Copy]]:
    """What stands beside each other in turn along a row: the same, or one turned against the other."""
    for degrees in (0.0, 90.0) if turn.quarters else (0.0,):
        one = _copy(outline, degrees)
        yield one, one
        if turn is not Turn.NONE:
            yield one, _copy(outline, degrees + 180)


def _layouts(pair: tuple[_Copy, _Copy], count: int, room: UsableArea) -> Iterator[Packed]:
    """Layouts of a pair: rows of as many as fit across, the next row set off so that it comes nearest."""
    gap = room.gap_mm + SPARE_MM
    one, other = pair
    wide = one.size[0] + gap  # by their boxes they are surely apart
    steps = (_nearest(one.shape, other.shape, gap, (1, 0), wide), _nearest(other.shape, one.shape, gap, (1, 0), wide))
    if one is not other:
        steps = (steps[0], max(steps[1], _nearest(one.shape, one.shape, gap, (1, 0), wide) - steps[0],
                               _nearest(other.shape, other.shape, gap, (1, 0), wide) - steps[0]))
    columns = _columns(pair, steps, room.width_mm)
    if not columns:
        return
    period, tall = sum(steps), max(copy.size[1] for copy in pair) + gap
    row = _union(_row(pair, steps, columns + 4, 0))
    # every second row stands as the first: these must not meet either
    least = _nearest(row, row, gap, (0, 1), 2 * tall) / 2
    for beginning in (0, 1) if one is not other else (0,):
        above = _union(_row(pair, steps, columns + 4, beginning))
        for k in range(SHIFTS):
            shift = period * k / SHIFTS
            up = max(least, _nearest(row, affinity.translate(above, shift, 0), gap, (0, 1), tall))
            yield _filled(pair, steps, (beginning, shift, up), count, room)


def _columns(pair: tuple[_Copy, _Copy], steps: Sequence[float], width: float) -> int:
    count, x = 0, 0.0
    while x + pair[count % 2].size[0] <= width:
        x += steps[count % 2]
        count += 1
    return count


def _row(
    pair: tuple[_Copy, _Copy], steps: Sequence[float], count: int, beginning: int
) -> list[shapely.Polygon]:
    """Outlines of a row that goes on beyond both sides, so that it stands for any part of it."""
    out, x = [], -sum(steps)
    for i in range(count):
        which = (i + beginning) % 2
        out.append(affinity.translate(pair[which].shape, x, 0))
        x += steps[which]
    return out


def _union(shapes: Sequence[shapely.Polygon]) -> shapely.MultiPolygon:
    return shapely.MultiPolygon(list(shapes))


def _nearest(
    fixed: shapely.Geometry, moved: shapely.Geometry, gap: float, way: tuple[int, int], apart: float
) -> float:
    """How far a shape has to be moved along a way to keep the gap, coming from where it is apart."""
    shapely.prepare(fixed)
    near, far = 0.0, apart
    step = apart / 64
    while far - step > 0 and not shapely.dwithin(
        fixed, affinity.translate(moved, way[0] * (far - step), way[1] * (far - step)), gap
    ):
        far -= step
    near = max(far - step, 0.0)
    while far - near > CLOSER_MM:
        middle = (near + far) / 2
        if shapely.dwithin(fixed, affinity.translate(moved, way[0] * middle, way[1] * middle), gap):
            near = middle
        else:
            far = middle
    return far


def _filled(
    pair: tuple[_Copy, _Copy], steps: Sequence[float], rows: tuple[int, float, float], count: int, room: UsableArea
) -> Packed:
    """So many copies, row after row, in the middle of the room."""
    beginning, shift, up = rows
    copies: list[tuple[float, float, _Copy]] = []
    y, number = 0.0, 0
    while len(copies) < count:
        set_off = number % 2
        which, x = (beginning, shift % sum(steps)) if set_off else (0, 0.0)
        while x - steps[1 - which] >= 0:  # as far to the left as it goes
            which = 1 - which
            x -= steps[which]
        while len(copies) < count and x + pair[which].size[0] <= room.width_mm:
            copies.append((x, y, pair[which]))
            x += steps[which]
            which = 1 - which
        number, y = number + 1, y + up
    right = max(x + copy.size[0] for x, _, copy in copies)
    across = (room.width_mm - right) * room.share_left
    placed = tuple(
        (0, (*copy.matrix[:4], copy.matrix[4] + x + across, copy.matrix[5] + y)) for x, y, copy in copies
    )
    return Packed(placed, max(y + copy.size[1] for _, y, copy in copies), (0,))


