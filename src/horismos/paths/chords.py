"""Many contours as one table of short straight chords, for measures that look at all of them at once."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from horismos.paths.contour import Contour, Floats
from horismos.paths.flatten import chord_steps, points_at

__all__ = ["Chords", "Ints", "chords_of"]

Ints = NDArray[np.int64]
RUN = 8
"""Chords that are looked at together, and how many pairs of such runs are compared at once."""
AT_ONCE = 20_000


@dataclass(frozen=True, eq=False, kw_only=True)
class Chords:
    """Chords of contours, in order; all arrays run over the chords.

    ``start`` and ``end`` have the shape (n, 2), in mm. ``contour`` and ``segment`` say what a chord is a
    part of (``segment`` counts through all contours), ``t0`` and ``t1`` which part of the segment.
    ``at`` is how far along its contour a chord begins, in mm. ``lengths`` and ``loops`` are those of
    the contours, ``segments`` all segments of shape (m, 4, 2).
    """

    start: Floats
    end: Floats
    contour: Ints
    segment: Ints
    t0: Floats
    t1: Floats
    at: Floats
    long: Floats
    lengths: Floats
    loops: NDArray[np.bool_]
    segments: Floats
    straight: NDArray[np.bool_]

    def __len__(self) -> int:
        """How many chords there are."""
        return len(self.start)

    @cached_property
    def direction(self) -> Floats:
        """Unit vectors along the chords, shape (n, 2)."""
        unit: Floats = (self.end - self.start) / np.maximum(self.long, 1e-12)[:, None]
        return unit

    def pairs(self, within_mm: float) -> tuple[Ints, Ints]:
        """Pairs of chords, each once (the first has the lower number), whose boxes lie within a distance.

        A tree finds pairs of short runs; chords are compared only within these.
        """
        if not len(self):
            return np.empty(0, np.int64), np.empty(0, np.int64)
        half = within_mm / 2
        low, high = np.minimum(self.start, self.end) - half, np.maximum(self.start, self.end) + half
        begins, counts = self.runs(RUN)
        corners = np.stack([np.minimum.reduceat(low, begins), np.maximum.reduceat(high, begins)], axis=1)
        boxes = shapely.linestrings(corners)  # a diagonal has the box, and is made sooner
        one, other = shapely.STRtree(boxes).query(boxes)
        one, other = one[one <= other], other[one <= other]
        found = [
            _touching(low, high, begins, counts, one[at : at + AT_ONCE], other[at : at + AT_ONCE])
            for at in range(0, len(one), AT_ONCE)
        ]
        return np.concatenate([a for a, _ in found]), np.concatenate([b for _, b in found])

    def runs(self, most: int) -> tuple[Ints, Ints]:
        """The chords in runs of at most so many of one contour: where each begins, and how many it holds."""
        first = np.flatnonzero(np.diff(self.contour, prepend=-1))
        place = np.arange(len(self)) - np.repeat(first, np.diff([*first, len(self)]))
        begins = np.flatnonzero(place % most == 0)
        return begins, np.diff([*begins, len(self)])

    def apart(self, a: Ints, b: Ints) -> Floats:
        """How far apart along their contour two chords lie, in mm; infinite on two contours.

        From the end of one to the beginning of the other, the shorter way round where the contour loops.
        """
        forth = np.maximum(self.at[b] - (self.at[a] + self.long[a]), 0.0)
        whole = self.lengths[self.contour[a]]
        back = np.maximum(whole - (self.at[b] + self.long[b]) + self.at[a], 0.0)
        way = np.where(self.loops[self.contour[a]], np.minimum(forth, back), forth)
        out: Floats = np.where(self.contour[a] == self.contour[b], way, np.inf)
        return out


def _touching(
    low: Floats, high: Floats, begins: Ints, counts: Ints, one: Ints, other: Ints
) -> tuple[Ints, Ints]:
    """The pairs of chords out of pairs of runs whose boxes touch, the lower number first."""
    k = np.arange(RUN)
    a, b = begins[one][:, None, None] + k[:, None], begins[other][:, None, None] + k
    there = (k[:, None] < counts[one][:, None, None]) & (k < counts[other][:, None, None]) & (a < b)
    a, b = np.broadcast_to(a, there.shape)[there], np.broadcast_to(b, there.shape)[there]
    touch = ((low[a] <= high[b]) & (low[b] <= high[a])).all(axis=1)
    return a[touch], b[touch]


def chords_of(contours: Sequence[Contour], tolerance_mm: float = 0.01) -> Chords:
    """The chords of contours, none further from its curve than the tolerance; those of no length are left out.

    >>> from horismos.paths import rectangle
    >>> len(chords_of([rectangle(0, 0, 2, 1)]))
    4
    """
    if not contours:
        none: Floats = np.empty((0, 2))
        no: Floats = np.empty(0)
        counts = np.empty(0, np.int64)
        flags = np.empty(0, bool)
        return Chords(
            start=none, end=none, contour=counts, segment=counts, t0=no, t1=no, at=no, long=no, lengths=no,
            loops=flags, segments=np.empty((0, 4, 2)), straight=flags
        )
    segments = np.concatenate([c.segments for c in contours])
    straight = np.concatenate([c.straight for c in contours])
    owner = np.repeat(np.arange(len(contours)), [len(c.segments) for c in contours])
    steps = chord_steps(segments, straight, tolerance_mm)
    index = np.repeat(np.arange(len(steps)), steps)
    k = np.arange(len(index)) - np.repeat(np.cumsum(steps) - steps, steps)
    t0, t1 = k / steps[index], (k + 1) / steps[index]
    end = points_at(segments[index], t1)
    last = k + 1 == steps[index]
    end[last] = segments[index[last], 3]
    start = np.empty_like(end)
    start[1:] = end[:-1]
    first = k == 0
    start[first] = segments[index[first], 0]
    long = np.hypot(*(end - start).T)
    lengths = np.bincount(owner[index], long, len(contours)).astype(float)
    run = np.cumsum(long) - long
    ahead = np.cumsum(lengths) - lengths
    at = run - ahead[owner[index]]
    there = long > 0
    return Chords(
        start=start[there], end=end[there], contour=owner[index][there], segment=index[there], t0=t0[there],
        t1=t1[there], at=at[there], long=long[there], lengths=lengths, loops=np.array([c.loops for c in contours]),
        segments=segments, straight=straight
    )
