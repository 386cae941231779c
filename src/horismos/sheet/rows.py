"""Copies in rows and columns: row after row of boxes, each piece turned the way that takes less length."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from horismos.paths.box import Bounds, placed
from horismos.paths.matrix import Matrix
from horismos.sheet.turning import Ways, lower_left, turned

__all__ = ["Packed", "UsableArea", "columns_of", "in_rows"]

ROUNDING_MM = 1e-6


@dataclass(frozen=True)
class UsableArea:
    """Where cut outlines may lie: so wide, so long (None: without end), with at least ``gap_mm`` between them.

    ``share_left`` is how much of what is left over across lies to the left of them: half of it, so that they stand in
    the middle, none, or all.
    """

    width_mm: float
    length_mm: float | None
    gap_mm: float
    share_left: float = 0.5


@dataclass(frozen=True)
class Packed:
    """Copies in the middle of a room, from its lower left corner: which item, and the matrix from its mm.

    ``left`` is what was left of each item.
    """

    copies: tuple[tuple[int, Matrix], ...]
    length_mm: float
    left: tuple[int, ...]


def in_rows(
    boxes: Sequence[Bounds], ways: Sequence[Ways], counts: Sequence[int], room: UsableArea, columns: int | None = None
) -> Packed:
    """As many copies of each item as fit, in their order; those that do not fit are left.

    A row is as high as its highest piece, and has at most so many ``columns``; the next item begins where the one
    before has ended.
    """
    in_row = 0
    x = y = high = top = right = 0.0
    copies: list[tuple[int, Matrix]] = []
    left = list(counts)
    for item, (box, tried) in enumerate(zip(boxes, ways, strict=True)):
        way = next((w for some in tried if (w := _least(box, some, counts[item], room, columns)) is not None), None)
        if way is None:
            continue
        wide, tall = _size(box, way)
        a, b, c, d, e, f = lower_left(box, way)
        while left[item]:
            if x and (x + wide > room.width_mm + ROUNDING_MM or in_row == columns):
                x, y, high, in_row = 0.0, y + high + room.gap_mm, 0.0, 0
            if room.length_mm is not None and y + tall > room.length_mm + ROUNDING_MM:
                break
            copies.append((item, (a, b, c, d, e + x, f + y)))
            left[item] -= 1
            in_row += 1
            x, high = x + wide + room.gap_mm, max(high, tall)
            top, right = max(top, y + tall), max(right, x - room.gap_mm)
    across = (room.width_mm - right) * room.share_left
    centred = tuple((item, (a, b, c, d, e + across, f)) for item, (a, b, c, d, e, f) in copies)
    return Packed(centred, top, tuple(left))


def _size(box: Bounds, degrees: float) -> tuple[float, float]:
    x0, y0, x1, y1 = placed(box, turned(degrees))
    return x1 - x0, y1 - y0


def columns_of(box: Bounds, degrees: float, room: UsableArea) -> int:
    """How many copies that are turned so lie beside each other in a room."""
    wide, _ = _size(box, degrees)
    return max(math.floor((room.width_mm + room.gap_mm + ROUNDING_MM) / (wide + room.gap_mm)), 0)


def _least(box: Bounds, ways: Sequence[float], count: int, room: UsableArea, most: int | None) -> float | None:
    """The turn that fits, with so many columns where that is said, and takes the least length; or None."""
    best: tuple[float, float] | None = None
    for way in ways:
        tall, columns = _size(box, way)[1], columns_of(box, way, room)
        if columns < (most or 1) or (room.length_mm is not None and tall > room.length_mm + ROUNDING_MM):
            continue
        long = math.ceil(max(count, 1) / (most or columns)) * (tall + room.gap_mm)
        if best is None or long < best[0] - ROUNDING_MM:
            best = (long, way)
    return best[1] if best else None
