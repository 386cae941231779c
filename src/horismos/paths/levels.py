"""Level lines: the loops along which a grid of values passes a level, straight between the pixels.

Marching squares over those cells alone that the level passes through; so a picture of a hundred million pixels
costs no more than looking at each of them once.
"""

from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from horismos.errors import LimitExceeded
from horismos.paths.contour import Floats

__all__ = ["Grid", "level_lines"]

Grid = NDArray[Any]
"""Values of pixels, shape (height, width)."""

TOP, RIGHT, BOTTOM, LEFT = range(4)
WAYS: dict[int, tuple[tuple[int, int], ...]] = {
    1: ((LEFT, TOP),), 2: ((TOP, RIGHT),), 4: ((RIGHT, BOTTOM),), 8: ((BOTTOM, LEFT),),
    3: ((LEFT, RIGHT),), 6: ((TOP, BOTTOM),), 12: ((RIGHT, LEFT),), 9: ((BOTTOM, TOP),),
    7: ((LEFT, BOTTOM),), 14: ((TOP, LEFT),), 13: ((RIGHT, TOP),), 11: ((BOTTOM, RIGHT),),
    5: ((LEFT, TOP), (RIGHT, BOTTOM)), 10: ((TOP, RIGHT), (BOTTOM, LEFT)),
    # the same two saddles where the middle lies inside
    16 + 5: ((LEFT, BOTTOM), (RIGHT, TOP)), 16 + 10: ((TOP, LEFT), (BOTTOM, RIGHT)),
}
"""How a loop crosses a cell, by which of its corners lie inside (1 upper left, clockwise): from side to side, with
the inside on the left.
"""
ROWS = 256
MOST_CELLS = 6_000_000
FEW_CELLS, NOISE_SHARE = 100_000, 0.2
"""[ours] a picture with more cells on its edges, or so large a share of them, is noise."""


def level_lines(values: Grid, level: float, least_area: float = 0.0) -> list[Floats]:
    """Closed loops, each of shape (n, 2) with the first point again at its end, round what lies at or above a level.

    Coordinates are pixels from the upper left corner of the grid, y downwards; a pixel's value stands in its middle,
    and outside the grid all is below the level. Loops round the inside run so that it is on their left as seen. Loops
    round less than ``least_area`` square pixels are left out. Raises LimitExceeded where nearly every pixel is an edge.

    >>> grid = np.zeros((4, 4)); grid[1:3, 1:3] = 1
    >>> [len(loop) for loop in level_lines(grid, 0.5)]
    [9]
    """
    padded = np.zeros((values.shape[0] + 2, values.shape[1] + 2), values.dtype)
    padded[1:-1, 1:-1] = values
    row, column, case = _edge_cells(padded, level)
    if not len(row):
        return []
    starts, ends, points = _crossings(padded, level, row, column, case)
    order = np.argsort(starts)
    follows = order[np.searchsorted(starts, ends, sorter=order)]
    count = len(starts)
    joined = scipy.sparse.coo_matrix((np.ones(count, np.int8), (np.arange(count), follows)), shape=(count, count))
    loops, member = scipy.sparse.csgraph.connected_components(joined, directed=True, connection="weak")
    after = points[follows]
    twice = np.bincount(member, points[:, 0] * after[:, 1] - points[:, 1] * after[:, 0], loops)
    _, first = np.unique(member, return_index=True)
    wanted = first[np.abs(twice) / 2 > least_area]
    chase = follows.tolist()
    out = []
    for begin in wanted.tolist():
        run, at = [begin], chase[begin]
        while at != begin:
            run.append(at)
            at = chase[at]
        loop = points[run]
        moved = np.hypot(*(loop - np.roll(loop, 1, axis=0)).T) > 1e-6
        if moved.sum() > 2:
            loop = loop[moved]
            out.append(np.vstack([loop, loop[:1]]))
    return out


def _edge_cells(padded: Grid, level: float) -> tuple[NDArray[np.int64], ...]:
    """The cells that the level passes through: the row and the column of their upper left corners, and their case."""
    found: list[tuple[NDArray[np.int64], ...]] = []
    total = 0
    for top in range(0, len(padded) - 1, ROWS):
        inside = (padded[top : top + ROWS + 1] >= level).view(np.uint8)
        across = inside[:, :-1] + inside[:, 1:]
        sums = across[:-1] + across[1:]
        at = np.flatnonzero((sums != 0) & (sums != 4))
        r, c = np.divmod(at, sums.shape[1])
        total += len(at)
        if total > MOST_CELLS or (total > FEW_CELLS and total > NOISE_SHARE * padded.size):
            raise LimitExceeded(
                "The picture is noise: nearly every pixel is an edge.", "Raise the tolerance, or choose another source."
            )
        upper, lower = inside[:-1], inside[1:]
        case = (
            upper[r, c].astype(np.int64) + 2 * upper[r, c + 1].astype(np.int64)
            + 4 * lower[r, c + 1].astype(np.int64) + 8 * lower[r, c].astype(np.int64)
        )
        found.append((r + top, c, case))
    row, column, case = (np.concatenate(part) for part in zip(*found, strict=True))
    saddle = np.flatnonzero((case == 5) | (case == 10))
    r, c = row[saddle], column[saddle]
    around = sum(padded[r + i, c + j].astype(np.float64) for i in (0, 1) for j in (0, 1))
    case[saddle[around / 4 >= level]] += 16
    return row, column, case


def _crossings(
    padded: Grid, level: float, row: NDArray[np.int64], column: NDArray[np.int64],
    case: NDArray[np.int64],
) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats]:
    """The pieces of loops in cells: the sides of the grid where each begins and ends, and the point where it begins."""
    table = np.full((27, 2, 2), -1)
    for of, ways in WAYS.items():
        table[of, : len(ways)] = ways
    crossed = table[case]  # cell, piece, from and to
    cell, piece = np.nonzero(crossed[:, :, 0] >= 0)
    begins, comes = crossed[cell, piece, 0], crossed[cell, piece, 1]
    r, c = row[cell], column[cell]
    wide = padded.shape[1]

    def side(which: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.bool_]]:
        return r + (which == BOTTOM), c + (which == RIGHT), (which == LEFT) | (which == RIGHT)

    def number(which: NDArray[np.int64]) -> NDArray[np.int64]:
        rr, cc, upright = side(which)
        found: NDArray[np.int64] = 2 * (rr * wide + cc) + upright
        return found

    rr, cc, upright = side(begins)
    one = padded[rr, cc].astype(np.float64)
    other = padded[rr + upright, cc + ~upright].astype(np.float64)
    share = (level - one) / (other - one)
    # in the padded grid a pixel's middle lies half a pixel before its number in the grid itself
    x = cc - 0.5 + np.where(upright, 0.0, share)
    y = rr - 0.5 + np.where(upright, share, 0.0)
    return number(begins), number(comes), np.column_stack([x, y])
