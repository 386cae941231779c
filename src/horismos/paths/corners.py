"""Where a polyline has corners: those that noise cannot make, those of exact points, and those of a traced outline."""

import numpy as np
from numpy.typing import NDArray

from horismos.paths.contour import Floats

__all__ = ["corner_places", "vertex_corners"]

CORNER_DEGREES = 35.0
"""[ours] what turns more within a short way is a corner, and stays one."""
REACH = 6.0
"""[ours] that short way to either side, as so many tolerances; zigzag of tracing is smaller."""
LEAST_REACH_MM = 0.25
VERTEX_DEGREES = 22.0
"""[ours] chords of a curve that was flattened finely turn less from each other."""


def corner_places(points: Floats, loops: bool, tolerance_mm: float) -> NDArray[np.int64]:
    """Where a polyline has corners, by the number of its point: turns that a little way off are there still."""
    reach = max(REACH * tolerance_mm, LEAST_REACH_MM)
    chords = np.diff(points, axis=0)
    long = np.hypot(*chords.T)
    at = np.concatenate([[0.0], np.cumsum(long)])
    total = at[-1]
    reach = min(reach, total / 8)
    own = points[:-1] if loops else points
    if loops:
        laps = np.concatenate([at[:-1] - total, at[:-1], at[:-1] + total, [2 * total]])
        rounds = np.concatenate([points[:-1], points[:-1], points[:-1], points[:1]])
    else:
        laps, rounds = at, points
    here = at[: len(own)]

    def placed(where: Floats) -> Floats:
        return np.column_stack([np.interp(where, laps, rounds[:, i]) for i in (0, 1)])

    before, after = own - placed(here - reach), placed(here + reach) - own
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    turn = np.degrees(np.abs(np.arctan2(cross, (before * after).sum(axis=1))))
    if not loops:
        turn[(here < reach) | (here > total - reach)] = 0.0
    cells = max(int(total / reach), 1)
    cell = np.minimum((here / reach).astype(np.int64), cells - 1)
    taken: dict[int, int] = {}
    for i in np.argsort(-turn, kind="stable")[: int((turn >= CORNER_DEGREES).sum())].tolist():
        own_cell = int(cell[i])
        near = (taken.get((own_cell + k) % cells if loops else own_cell + k) for k in (-2, -1, 0, 1, 2))
        apart = (abs(here[i] - here[j]) for j in near if j is not None)
        if all(min(d, total - d if loops else d) > reach for d in apart):
            taken[own_cell] = i
    return np.array(sorted(taken.values()), np.int64)


def vertex_corners(points: Floats, loops: bool) -> NDArray[np.int64]:
    """The corners of a polyline without noise, by the number of its point: every vertex that turns enough.

    >>> vertex_corners(np.array([[0, 0], [1, 0], [1, 1], [0, 1], [0, 0]], float), True).tolist()
    [0, 1, 2, 3]
    """
    own = points[:-1] if loops else points
    chords = np.diff(points, axis=0)
    came = np.roll(chords, 1, axis=0) if loops else np.vstack([chords[:1], chords])
    goes = chords if loops else np.vstack([chords, chords[-1:]])
    cross = came[:, 0] * goes[:, 1] - came[:, 1] * goes[:, 0]
    turn = np.degrees(np.abs(np.arctan2(cross, (came * goes).sum(axis=1))))
    found: NDArray[np.int64] = np.flatnonzero(turn[: len(own)] >= VERTEX_DEGREES)
    return found
