"""The one contour type between readers, geometry, writers and the stage."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, wraps
from typing import Any, Concatenate, ParamSpec, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from horismos.paths.matrix import Matrix

__all__ = [
    "CLOSED_WITHIN_MM",
    "Chain",
    "Contour",
    "Floats",
    "cached",
    "chain",
    "closed",
    "contour_from_points",
    "rectangle",
    "straight_segments",
]

Floats = NDArray[np.float64]
CLOSED_WITHIN_MM = 0.01
"""[ours] ends nearer than this meet."""


@dataclass(frozen=True, eq=False)
class Contour:
    """One connected run of segments.

    ``segments`` has the shape (n, 4, 2): start, two controls, end of each, in mm; the controls of
    a straight segment lie at its thirds. ``straight`` has the shape (n,). ``closed`` says that
    the contour was closed on purpose, not only that its ends happen to meet.
    """

    segments: Floats
    straight: NDArray[np.bool_]
    closed: bool

    @cached_property
    def measured(self) -> dict[object, Any]:
        """What was measured of it already; it never changes."""
        return {}

    @property
    def start(self) -> Floats:
        """The first point, shape (2,)."""
        start: Floats = self.segments[0, 0]
        return start

    @property
    def end(self) -> Floats:
        """The last point, shape (2,)."""
        end: Floats = self.segments[-1, 3]
        return end

    @property
    def gap_mm(self) -> float:
        """The distance between the two ends; 0 for a closed contour."""
        return 0.0 if self.closed else float(np.hypot(*(self.end - self.start)))

    @property
    def loops(self) -> bool:
        """Whether the contour ends where it began, closed on purpose or not."""
        return self.gap_mm <= CLOSED_WITHIN_MM

    @property
    def node_count(self) -> int:
        """The number of distinct nodes."""
        return len(self.segments) + (0 if self.loops else 1)

    def transformed(self, matrix: Matrix) -> "Contour":
        """The contour under an affine matrix."""
        a, b, c, d, e, f = matrix
        linear = np.array([[a, b], [c, d]])
        return Contour(self.segments @ linear + (e, f), self.straight, self.closed)

    def reversed(self) -> "Contour":
        """The same contour run the other way."""
        return Contour(self.segments[::-1, ::-1], self.straight[::-1], self.closed)

    def started_at(self, index: int) -> "Contour":
        """A closed contour that begins at another of its nodes."""
        if not index:
            return self
        turned = np.roll(self.segments, -index, axis=0), np.roll(self.straight, -index)
        return Contour(*turned, self.closed)


def straight_segments(points: Floats) -> Floats:
    """Segments, shape (n-1, 4, 2), of the polyline through points, shape (n, 2)."""
    a, b = points[:-1], points[1:]
    return np.stack([a, a + (b - a) / 3, b - (b - a) / 3, b], axis=1)


def contour_from_points(points: Floats | Sequence[tuple[float, float]], closed: bool) -> Contour:
    """A contour of straight segments through points, shape (n, 2), n at least 2.

    >>> contour_from_points([(0, 0), (10, 0), (10, 10)], closed=True).node_count
    3
    """
    array = np.asarray(points, dtype=float)
    if len(array) < 2:
        raise ValueError("A contour needs two points.")
    if closed and np.hypot(*(array[-1] - array[0])) > 0:
        array = np.vstack([array, array[:1]])
    segments = straight_segments(array)
    return Contour(segments, np.ones(len(segments), dtype=bool), closed)


def rectangle(x0: float, y0: float, x1: float, y1: float) -> Contour:
    """A closed rectangle, counter-clockwise.

    >>> rectangle(0, 0, 2, 1).node_count
    4
    """
    return contour_from_points([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], closed=True)


P = ParamSpec("P")
Measured = TypeVar("Measured")


def cached(measure: Callable[Concatenate[Contour, P], Measured]) -> Callable[Concatenate[Contour, P], Measured]:
    """A measure of a contour that is taken once with the same figures, since several checks ask for it.

    Arrays that come of it are shared, and so cannot be written to.
    """

    @wraps(measure)
    def found(contour: Contour, *figures: P.args, **named: P.kwargs) -> Measured:
        key = (measure, *figures, *named.items())
        if key not in contour.measured:
            made = measure(contour, *figures, **named)
            for part in made if isinstance(made, tuple) else (made,):
                if isinstance(part, np.ndarray):
                    part.setflags(write=False)
            contour.measured[key] = made
        known: Measured = contour.measured[key]
        return known

    return cast(Callable[Concatenate[Contour, P], Measured], found)


@dataclass(frozen=True, eq=False)
class Chain:
    """Contours joined end to end.

    ``members`` are the places of the joined ones in what was given. ``gap_mm`` is the widest gap
    that had to be bridged, that between the two ends of the whole included; ``meets`` says that
    the whole comes back to its beginning within the distance asked for.
    """

    contour: Contour
    members: tuple[int, ...]
    gap_mm: float
    meets: bool


def chain(contours: Sequence[Contour], within_mm: float = CLOSED_WITHIN_MM) -> list[Chain]:
    """Join open contours whose ends lie within a distance; looping ones pass unchanged.

    Each end is joined to the nearest other one, and a contour is turned round where that makes
    it join on. Joins are found end to end only, never at a crossing.

    >>> a = contour_from_points([(0, 0), (1, 0)], closed=False)
    >>> b = contour_from_points([(0, 1), (1, 0)], closed=False)
    >>> [joined.members for joined in chain([a, b])]
    [(0, 1)]
    """
    return _Chainer(contours, within_mm).run()


class _Chainer:
    def __init__(self, contours: Sequence[Contour], within_mm: float) -> None:
        self.within = within_mm
        self.cell_mm = max(within_mm, 1e-6)
        self.contours = contours
        self.free = {i: c for i, c in enumerate(contours) if not c.loops}
        self.ends: dict[tuple[int, int], set[int]] = {}
        for index, contour in self.free.items():
            for point in (contour.start, contour.end):
                self.ends.setdefault(self._cell(point), set()).add(index)

    def _cell(self, point: Floats) -> tuple[int, int]:
        return int(np.floor(point[0] / self.cell_mm)), int(np.floor(point[1] / self.cell_mm))

    def run(self) -> list[Chain]:
        done = [Chain(c, (i,), 0.0, True) for i, c in enumerate(self.contours) if c.loops]
        while self.free:
            index = next(iter(self.free))
            run, members = [self.free.pop(index)], [index]
            while not self._meets(run) and (found := self._nearest(run[-1].end)):
                members.append(found[0])
                run.append(found[1])
            while not self._meets(run) and (found := self._nearest(run[0].start)):
                members.insert(0, found[0])
                run.insert(0, found[1].reversed())
            done.append(self._joined(run, members))
        return done

    def _nearest(self, point: Floats) -> tuple[int, Contour] | None:
        """The free contour with an end nearest to a point, turned so as to begin there."""
        cx, cy = self._cell(point)
        near = [
            (float(np.hypot(*(turned.start - point))), index, turned)
            for dx in (-1, 0, 1)
            for dy in (-1, 0, 1)
            for index in self.ends.get((cx + dx, cy + dy), ())
            if index in self.free
            for turned in (self.free[index], self.free[index].reversed())
        ]
        near = [found for found in near if found[0] <= self.within]
        if not near:
            return None
        _, index, turned = min(near, key=lambda found: found[:2])
        del self.free[index]
        return index, turned

    def _meets(self, run: list[Contour]) -> bool:
        return len(run) > 1 and float(np.hypot(*(run[-1].end - run[0].start))) <= self.within

    def _joined(self, run: list[Contour], members: list[int]) -> Chain:
        meets = self._meets(run)
        pairs = list(zip(run, run[1:], strict=False)) + ([(run[-1], run[0])] if meets else [])
        gaps = [float(np.hypot(*(b.start - a.end))) for a, b in pairs]
        if not meets:
            gaps.append(float(np.hypot(*(run[-1].end - run[0].start))))
        segments, straight = [run[0].segments], [run[0].straight]
        for (a, b), gap in zip(pairs, gaps, strict=False):
            if gap > 0:
                segments.append(straight_segments(np.stack([a.end, b.start])))
                straight.append(np.ones(1, dtype=bool))
            if b is not run[0]:
                segments.append(b.segments)
                straight.append(b.straight)
        whole = Contour(np.concatenate(segments), np.concatenate(straight), meets)
        return Chain(whole, tuple(members), max(gaps, default=0.0), meets)


def closed(contour: Contour) -> Contour:
    """The contour closed by a straight segment between its ends, where they differ."""
    if contour.closed:
        return contour
    segments, straight = contour.segments, contour.straight
    if contour.gap_mm > 0:
        bridge = straight_segments(np.stack([contour.end, contour.start]))
        segments, straight = np.concatenate([segments, bridge]), np.append(straight, True)
    return Contour(segments, straight, True)
