"""The one way to draw a contour: whoever has an outline moves a pen, whoever wants one brings it.

So readers, writers and measurers need not know how a contour is kept.
"""

import math
from collections.abc import Iterable
from typing import Protocol

import numpy as np

from horismos.paths.contour import CLOSED_WITHIN_MM, Contour, Floats, straight_segments

__all__ = ["ContourPen", "Pen", "circle", "draw"]


Point = tuple[float, float]


class Pen(Protocol):
    """What can be drawn with: the segments of fontTools' pens, so that theirs and pathops' draw here and are drawn by.

    Coordinates are in the space of whoever draws, mm in the core.
    """

    def moveTo(self, pt: Point, /) -> None:
        """Begin a contour."""

    def lineTo(self, pt: Point, /) -> None:
        """A straight segment."""

    def curveTo(self, first: Point, second: Point, pt: Point, /) -> None:
        """A cubic segment: two controls and the end."""

    def closePath(self) -> None:
        """The contour is closed; a segment back to its beginning was drawn where one is needed."""

    def endPath(self) -> None:
        """The contour ends open."""


def draw(contours: Iterable[Contour], pen: Pen) -> None:
    """Draw contours, segment by segment."""
    for contour in contours:
        pen.moveTo(tuple(contour.segments[0, 0].tolist()))
        controls = contour.segments[:, 1:].reshape(-1, 6).tolist()
        for (ax, ay, bx, by, x, y), straight in zip(controls, contour.straight.tolist(), strict=True):
            if straight:
                pen.lineTo((x, y))
            else:
                pen.curveTo((ax, ay), (bx, by), (x, y))
        if contour.closed:
            pen.closePath()
        else:
            pen.endPath()


class ContourPen:
    """Keeps what is drawn as contours; segments without length are left out.

    ``loops`` says whether a contour that comes back to its beginning counts as closed, though nobody closed it.

    >>> pen = ContourPen()
    >>> pen.moveTo((0, 0)); pen.lineTo((2, 0)); pen.lineTo((2, 1)); pen.closePath()
    >>> [(c.node_count, c.closed) for c in pen.contours]
    [(3, True)]
    """

    def __init__(self, loops: bool = False) -> None:
        self._loops = loops
        self._done: list[Contour] = []
        self._nodes: list[Point] = []
        self._curves: dict[int, tuple[float, float, float, float]] = {}

    def moveTo(self, pt: Point, /) -> None:
        """Begin a contour."""
        self._end(False)
        self._nodes = [pt]

    def lineTo(self, pt: Point, /) -> None:
        """A straight segment, unless it has no length."""
        if pt != self._nodes[-1]:
            self._nodes.append(pt)

    def lines_to(self, points: Floats) -> None:
        """Straight segments through points, shape (n, 2), those without a length left out."""
        come = np.vstack([self._nodes[-1:], points])
        self._nodes += map(tuple, points[np.any(np.diff(come, axis=0) != 0, axis=1)].tolist())

    def curveTo(self, first: Point, second: Point, pt: Point, /) -> None:
        """A cubic segment, unless all of it is one point."""
        if not self._nodes[-1] == first == second == pt:
            self._curves[len(self._nodes) - 1] = (*first, *second)
            self._nodes.append(pt)

    def qCurveTo(self, *points: Point | None) -> None:
        """Quadratic segments as TrueType has them: controls, and the end; None as the end: it is all controls."""
        known = [pt for pt in points if pt is not None]
        if points[-1] is None:
            (ax, ay), (bx, by) = known[0], known[-1]
            begin = (ax + bx) / 2, (ay + by) / 2
            self.moveTo(begin)
            known.append(begin)
        *controls, end = known
        for i, (cx, cy) in enumerate(controls):
            nx, ny = controls[i + 1] if i + 1 < len(controls) else end
            x, y = ((cx + nx) / 2, (cy + ny) / 2) if i + 1 < len(controls) else end
            ox, oy = self._nodes[-1]
            self.curveTo(
                (ox + (cx - ox) * 2 / 3, oy + (cy - oy) * 2 / 3), (x + (cx - x) * 2 / 3, y + (cy - y) * 2 / 3), (x, y)
            )
        if not controls:
            self.lineTo(end)

    def closePath(self) -> None:
        """Close the contour, by a straight segment where its ends differ."""
        if self._nodes:
            self.lineTo(self._nodes[0])
            self._end(True)

    def endPath(self) -> None:
        """End the contour as it is."""
        self._end(False)

    @property
    def contours(self) -> list[Contour]:
        """What was drawn so far."""
        self._end(False)
        return list(self._done)

    def _end(self, closed: bool) -> None:
        nodes, curves = self._nodes, self._curves
        self._nodes, self._curves = [], {}
        if len(nodes) < 2:
            return
        points = np.array(nodes, dtype=float)
        segments = straight_segments(points)
        straight = np.ones(len(segments), dtype=bool)
        for index, controls in curves.items():
            segments[index, 1:3] = np.reshape(controls, (2, 2))
            straight[index] = False
        if self._loops and (len(segments) > 2 or curves):
            closed = closed or float(np.hypot(*(points[-1] - points[0]))) <= CLOSED_WITHIN_MM
        self._done.append(Contour(segments, straight, closed))


QUARTER = 4 / 3 * (math.sqrt(2) - 1)
"""Handles of a quarter of a circle, as a share of the radius: the cubic is nowhere 0.03 % of it off."""


def circle(x: float, y: float, radius: float) -> Contour:
    """A circle of four cubics, counter-clockwise from its right.

    >>> circle(0, 0, 2).node_count
    4
    """
    pen, k, r = ContourPen(), radius * QUARTER, radius
    pen.moveTo((x + r, y))
    pen.curveTo((x + r, y + k), (x + k, y + r), (x, y + r))
    pen.curveTo((x - k, y + r), (x - r, y + k), (x - r, y))
    pen.curveTo((x - r, y - k), (x - k, y - r), (x, y - r))
    pen.curveTo((x + k, y - r), (x + r, y - k), (x + r, y))
    pen.closePath()
    return pen.contours[0]
