"""Points on contours: polylines within a tolerance, and samples at even steps."""

import numpy as np
from numpy.typing import NDArray

from horismos.paths.contour import Contour, Floats, cached

__all__ = ["chord_steps", "flatten", "parted", "points_at", "sample"]

MOST_STEPS = 4096


def chord_steps(segments: Floats, straight: NDArray[np.bool_], tolerance_mm: float) -> NDArray[np.int64]:
    """How many chords each segment, shape (n, 4, 2), needs to lie within a tolerance of it.

    A curve leaves its chord by at most |B''| / 8 over a unit of its parameter, and a cubic has
    |B''| <= 6 * max|second difference of its controls|; so n parts leave it by 3/4 of that
    difference over n² at most.
    """
    p = segments
    second = np.maximum(
        np.hypot(*(p[:, 0] - 2 * p[:, 1] + p[:, 2]).T),
        np.hypot(*(p[:, 1] - 2 * p[:, 2] + p[:, 3]).T),
    )
    steps = np.ceil(np.sqrt(0.75 * second / tolerance_mm)).astype(int)
    steps[straight] = 1
    clipped: NDArray[np.int64] = np.clip(steps, 1, MOST_STEPS)
    return clipped


def points_at(segments: Floats, t: Floats) -> Floats:
    """Points, shape (n, 2), of segments, shape (n, 4, 2), at parameters, shape (n,)."""
    t = t[:, None]
    s = 1 - t
    points: Floats = (
        s * s * s * segments[:, 0]
        + 3 * s * s * t * segments[:, 1]
        + 3 * s * t * t * segments[:, 2]
        + t * t * t * segments[:, 3]
    )
    return points


def parted(points: Floats, steps: NDArray[np.int64]) -> Floats:
    """A polyline, shape (n, 2), each of whose chords is parted into so many even steps, shape (n - 1,)."""
    index = np.repeat(np.arange(len(steps)), steps)
    k = np.arange(len(index)) - np.repeat(np.cumsum(steps) - steps, steps)
    share = (k / steps[index])[:, None]
    return np.vstack([points[index] * (1 - share) + points[index + 1] * share, points[-1:]])


@cached
def flatten(contour: Contour, tolerance_mm: float = 0.01) -> Floats:
    """The contour as a polyline, shape (n, 2), nowhere further off than the tolerance.

    >>> from horismos.paths import rectangle
    >>> flatten(rectangle(0, 0, 2, 1)).tolist()
    [[0.0, 0.0], [2.0, 0.0], [2.0, 1.0], [0.0, 1.0], [0.0, 0.0]]
    """
    if tolerance_mm <= 0:
        raise ValueError("The tolerance must be above 0 mm.")
    steps = chord_steps(contour.segments, contour.straight, tolerance_mm)
    index = np.repeat(np.arange(len(steps)), steps)
    first = np.repeat(np.cumsum(steps) - steps, steps)
    k = np.arange(len(index)) - first + 1
    t = k / steps[index]
    points = points_at(contour.segments[index], t)
    last = t >= 1
    points[last] = contour.segments[index[last], 3]
    return np.vstack([contour.start, points])


@cached
def sample(contour: Contour, step_mm: float) -> tuple[Floats, Floats]:
    """Points at even steps of at most ``step_mm`` along the contour, and the directions there.

    Both have the shape (n, 2); directions are unit vectors. A contour of no length gives none.

    >>> from horismos.paths import rectangle
    >>> points, directions = sample(rectangle(0, 0, 2, 2), 1.0)
    >>> len(points)
    8
    """
    line = flatten(contour, min(0.01, step_mm / 20))
    chords = np.diff(line, axis=0)
    lengths = np.hypot(*chords.T)
    line = np.vstack([line[:1], line[1:][lengths > 0]])
    chords, lengths = chords[lengths > 0], lengths[lengths > 0]
    if not len(lengths):
        return np.empty((0, 2)), np.empty((0, 2))
    along = np.concatenate([[0.0], np.cumsum(lengths)])
    count = max(1, int(np.ceil(along[-1] / step_mm)))
    at = (np.arange(count) + 0.5) * along[-1] / count
    index = np.clip(np.searchsorted(along, at, side="right") - 1, 0, len(lengths) - 1)
    directions = chords[index] / lengths[index, None]
    points = line[index] + directions * (at - along[index])[:, None]
    return points, directions
