"""How far two sets of lines lie apart at the worst place."""

from collections.abc import Sequence

import numpy as np
import shapely

from horismos.paths.contour import Floats

__all__ = ["farthest_from", "greatest_distance"]


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
