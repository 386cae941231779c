"""How far two sets of lines lie apart at the worst place."""

from collections.abc import Sequence

import numpy as np
import shapely

from horismos.paths.contour import Floats

__all__ = ["distances_along", "farthest_from", "from_chords", "greatest_distance"]

NEAR = 2
"""So many chords to either side are looked at where two polylines go side by side."""


def _segments(lines: Sequence[Floats]) -> np.ndarray:
    pairs = [np.stack([line[:-1], line[1:]], axis=1) for line in lines if len(line) > 1]
    return shapely.linestrings(np.concatenate(pairs)) if pairs else np.empty(0, dtype=object)


def _points(lines: Sequence[Floats], step_mm: float) -> Floats:
    """The vertices of polylines and points between them, at most a step apart, shape (n, 2)."""
    out = []
    for line in lines:
        steps = np.maximum(1, np.ceil(np.hypot(*np.diff(line, axis=0).T) / step_mm)).astype(int)
        index = np.repeat(np.arange(len(steps)), steps)
        k = np.arange(len(index)) - np.repeat(np.cumsum(steps) - steps, steps)
        t = (k / steps[index])[:, None]
        out += [line[:-1][index] * (1 - t) + line[1:][index] * t, line[-1:]]
    return np.concatenate(out) if out else np.empty((0, 2))


def farthest_from(a: Sequence[Floats], b: Sequence[Floats], step_mm: float) -> float:
    """How far, in mm, a point of the polylines ``a`` lies from the nearest place of ``b`` at most; sampled alike."""
    points = _points(a, step_mm)
    if not len(points):
        return 0.0
    target = _segments(b)
    if not len(target):
        return float("inf")
    _, distances = shapely.STRtree(target).query_nearest(
        shapely.points(points), return_distance=True, all_matches=False
    )
    return float(distances.max())


def greatest_distance(a: Sequence[Floats], b: Sequence[Floats], step_mm: float = 0.5) -> float:
    """The Hausdorff distance in mm between two sets of polylines, each of shape (n, 2).

    The farthest that a point of either lies from the nearest place of the other; sampled at every
    vertex and at most every ``step_mm`` between. Infinite where only one of them is empty.

    >>> import numpy as np
    >>> greatest_distance([np.array([[0., 0.], [9., 0.]])], [np.array([[0., 1.], [9., 1.]])])
    1.0
    """
    if not len(a) and not len(b):
        return 0.0
    return max(farthest_from(a, b, step_mm), farthest_from(b, a, step_mm))


def distances_along(lines: Sequence[Floats], others: Sequence[Floats]) -> Floats:
    """How far, at most, each polyline leaves another one that runs the same way beside it, shape (n,), in mm.

    For each vertex the chords of the other are looked at round the same share of its length; a line may go on over
    the beginning of the other, which is closed then. What comes out may be too large where both do not run alike,
    never too small.

    >>> import numpy as np
    >>> distances_along([np.array([[0., 0.], [9., 0.]])], [np.array([[0., 1.], [4., 1.], [9., 1.]])]).tolist()
    [1.0]
    """
    longs = [_along(line) for line in others]
    begins = np.cumsum([0, *(len(line) for line in others)])
    shift = np.cumsum([0.0, *(float(along[-1]) + 1.0 for along in longs)])
    keys = np.concatenate([along + far for along, far in zip(longs, shift, strict=False)])
    owner = np.repeat(np.arange(len(lines)), [len(line) for line in lines])
    total = np.array([max(float(along[-1]), 1e-12) for along in longs])
    at = np.concatenate([_along(line) for line in lines])
    points, chords = np.concatenate(lines), np.concatenate(others)
    found = np.searchsorted(keys, np.mod(at, total[owner]) + shift[:-1][owner])
    least = np.full(len(points), np.inf)
    low, count = begins[:-1][owner], np.diff(begins)[owner] - 1
    for step in range(-NEAR, NEAR):
        i = low + np.mod(found + step - low, count)
        least = np.minimum(least, from_chords(points, chords[i], chords[i + 1]))
    worst: Floats = np.maximum.reduceat(least, np.cumsum([0, *(len(line) for line in lines[:-1])]))
    return worst


def _along(line: Floats) -> Floats:
    return np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])


def from_chords(points: Floats, a: Floats, b: Floats) -> Floats:
    """How far points lie from chords, each from one; all of shape (n, 2)."""
    way = b - a
    t = np.clip(((points - a) * way).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-18), 0, 1)
    off: Floats = np.hypot(*(points - a - t[:, None] * way).T)
    return off
