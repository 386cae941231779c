"""Many contours measured at once: what is found is kept with each, so that asking one by one costs nothing.

A page of some thousand small cuts would otherwise spend its time in starting measures, and not in measuring.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from horismos.paths.contour import Contour, Floats
from horismos.paths.curvature import node_directions, tangents, turned
from horismos.paths.flatten import chord_steps, flatten, points_at, sample
from horismos.paths.measure import bounds, inner_extremes, length, lengths_of, signed_area

__all__ = ["directions_all", "flatten_all", "measure_all", "sample_all"]

FEW = 8
"""[ours] so many are measured as quickly one by one."""


def _keep(measure: Any, contour: Contour, figures: tuple[float, ...], made: Any) -> None:
    for part in made if isinstance(made, tuple) else (made,):
        if isinstance(part, np.ndarray):
            part.setflags(write=False)
    contour.measured[(measure.__wrapped__, *figures)] = made


def _unmeasured(contours: Sequence[Contour], measure: Any, *figures: float) -> list[Contour]:
    return [c for c in contours if (measure.__wrapped__, *figures) not in c.measured and len(c.segments)]


def _starts(contours: Sequence[Contour]) -> NDArray[np.int64]:
    """Where the segments of each contour begin among those of all."""
    counts = [len(c.segments) for c in contours]
    return np.concatenate([[0], np.cumsum(counts)[:-1]]).astype(np.int64)


def flatten_all(contours: Sequence[Contour], tolerance_mm: float) -> None:
    """``flatten`` of every contour."""
    found = _unmeasured(contours, flatten, tolerance_mm)
    if len(found) < FEW:
        return
    segments = np.concatenate([c.segments for c in found])
    straight = np.concatenate([c.straight for c in found])
    steps = chord_steps(segments, straight, tolerance_mm)
    index = np.repeat(np.arange(len(steps)), steps)
    first = np.repeat(np.cumsum(steps) - steps, steps)
    t = (np.arange(len(index)) - first + 1) / steps[index]
    points = points_at(segments[index], t)
    last = t >= 1
    points[last] = segments[index[last], 3]
    counts = np.add.reduceat(steps, _starts(found))
    ends = np.cumsum(counts)
    for contour, end, count in zip(found, ends.tolist(), counts.tolist(), strict=True):
        line: Floats = np.empty((count + 1, 2))
        line[0] = contour.segments[0, 0]
        line[1:] = points[end - count : end]
        _keep(flatten, contour, (tolerance_mm,), line)


def sample_all(contours: Sequence[Contour], step_mm: float) -> None:
    """``sample`` of every contour."""
    tolerance = min(0.01, step_mm / 20)
    found = _unmeasured(contours, sample, step_mm)
    if len(found) < FEW:
        return
    flatten_all(found, tolerance)
    lines = [flatten(c, tolerance) for c in found]
    counts = np.array([len(line) - 1 for line in lines])
    points = np.concatenate(lines)
    inner = np.ones(len(points) - 1, bool)
    inner[np.cumsum(counts + 1)[:-1] - 1] = False
    chords, begins = np.diff(points, axis=0)[inner], points[:-1][inner]
    lengths = np.hypot(*chords.T)
    first = np.cumsum(counts) - counts
    whole = np.minimum.reduceat(lengths, first) > 0  # a chord of no length is dealt with by ``sample`` itself
    along = np.concatenate([[0.0], np.cumsum(lengths)])
    base, total = along[first], along[first + counts] - along[first]
    wanted = np.maximum(1, np.ceil(total / step_mm)).astype(int)
    owner = np.repeat(np.arange(len(found)), wanted)
    k = np.arange(len(owner)) - np.repeat(np.cumsum(wanted) - wanted, wanted)
    at = base[owner] + (k + 0.5) * total[owner] / wanted[owner]
    index = np.searchsorted(along, at, side="right") - 1
    index = np.clip(index, first[owner], (first + counts - 1)[owner])
    with np.errstate(divide="ignore", invalid="ignore"):
        directions = chords[index] / lengths[index, None]
    placed = begins[index] + directions * (at - along[index])[:, None]
    end = 0
    for contour, count, fine in zip(found, wanted.tolist(), whole.tolist(), strict=True):
        end += count
        if fine:
            _keep(sample, contour, (step_mm,), (placed[end - count : end], directions[end - count : end]))


def directions_all(contours: Sequence[Contour]) -> None:
    """``node_directions`` of every contour that has no segment without a length."""
    found = _unmeasured(contours, node_directions)
    if len(found) < FEW:
        return
    segments = np.concatenate([c.segments for c in found])
    counts = np.array([len(c.segments) for c in found])
    first = _starts(found)
    long = np.abs(segments - segments[:, :1]).max(axis=(1, 2)) > 1e-9
    whole = np.logical_and.reduceat(long, first)
    comes, goes = tangents(segments, end=True), tangents(segments, end=False)
    following = np.arange(1, len(segments) + 1)
    following[first + counts - 1] = first
    turn = turned(comes, goes[following])
    for contour, at, count, fine in zip(found, first.tolist(), counts.tolist(), whole.tolist(), strict=True):
        if fine and (contour.loops or count > 1):
            part = slice(at, at + count - (0 if contour.loops else 1))
            _keep(node_directions, contour, (), (segments[part, 3], turn[part], comes[part]))


def measure_all(contours: Sequence[Contour]) -> None:
    """``length``, ``bounds`` and ``signed_area`` of every contour."""
    found = _unmeasured(contours, bounds)
    if len(found) < FEW:
        return
    segments = np.concatenate([c.segments for c in found])
    straight = np.concatenate([c.straight for c in found])
    starts = _starts(found)
    lengths = np.add.reduceat(lengths_of(segments, straight), starts)
    low, high = _spans(segments, straight)
    low, high = np.minimum.reduceat(low, starts), np.maximum.reduceat(high, starts)
    areas = np.add.reduceat(_areas(segments), starts)
    for contour, long, (x0, y0), (x1, y1), area in zip(
        found, lengths.tolist(), low.tolist(), high.tolist(), areas.tolist(), strict=True
    ):
        (ax, ay), (bx, by) = contour.segments[0, 0].tolist(), contour.segments[-1, 3].tolist()
        _keep(length, contour, (), long)
        _keep(bounds, contour, (), (x0, y0, x1, y1))
        _keep(signed_area, contour, (), area + (bx * ay - ax * by) / 2)


def _spans(segments: Floats, straight: NDArray[np.bool_]) -> tuple[Floats, Floats]:
    """The lowest and highest coordinates of each segment, shape (n, 2)."""
    low, high = np.minimum(segments[:, 0], segments[:, 3]), np.maximum(segments[:, 0], segments[:, 3])
    curved = np.flatnonzero(~straight)
    if len(curved):
        least, most = inner_extremes(segments[curved])
        low[curved], high[curved] = np.minimum(low[curved], least), np.maximum(high[curved], most)
    return low, high


def _areas(segments: Floats) -> Floats:
    """What each segment adds to the area by Green's theorem, shape (n,)."""
    x, y = segments[..., 0], segments[..., 1]
    weights = ((0, 1, 6), (0, 2, 3), (0, 3, 1), (1, 2, 3), (1, 3, 3), (2, 3, 6))
    total: Floats = sum(w * (x[:, i] * y[:, j] - x[:, j] * y[:, i]) for i, j, w in weights) / 20  # type: ignore[assignment]
    return total
