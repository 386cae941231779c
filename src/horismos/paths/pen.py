"""The one way to draw a contour: whoever has an outline moves a pen, whoever wants one brings it.

So readers, writers and measurers need not know how a contour is kept.
"""

import math
from collections.abc import Iterable
from typing import Protocol

import numpy as np

from horismos.paths.contour import CLOSED_WITHIN_MM, Contour, Floats, straight_segments

__all__ = ["ContourPen", "Pen", "circle", "draw"]


class Pen(Protocol):
    """What can be drawn with; coordinates in the space of whoever draws, mm in the core."""

    def move_to(self, x: float, y: float) -> None:
        """Begin a contour."""

    def line_to(self, x: float, y: float) -> None:
        """A straight segment."""

    def curve_to(self, x1: float, y1: float, x2: float, y2: float, x3: float, y3: float) -> None:
        """A cubic segment: two controls and the end."""

    def close(self) -> None:
        """The contour is closed; a segment back to its beginning was drawn where one is needed."""


def draw(contours: Iterable[Contour], pen: Pen) -> None:
    """Draw contours, segment by segment."""
    for contour in contours:
        pen.move_to(*contour.segments[0, 0].tolist())
        controls = contour.segments[:, 1:].reshape(-1, 6).tolist()
        for curve, straight in zip(controls, contour.straight.tolist(), strict=True):
            if straight:
                pen.line_to(curve[4], curve[5])
            else:
                pen.curve_to(*curve)
        if contour.closed:
            pen.close()


class ContourPen:
    """Keeps what is drawn as contours; segments without length are left out.

    ``loops`` says whether a contour that comes back to its beginning counts as closed, though nobody closed it.

    >>> pen = ContourPen()
    >>> pen.move_to(0, 0); pen.line_to(2, 0); pen.line_to(2, 1); pen.close()
    >>> [(c.node_count, c.closed) for c in pen.contours]
    [(3, True)]
    """

    def __init__(self, loops: bool = False) -> None:
        self._loops = loops
        self._done: list[Contour] = []
        self._nodes: list[tuple[float, float]] = []
        self._curves: dict[int, tuple[float, float, float, float]] = {}

    def move_to(self, x: float, y: float) -> None:
        """Begin a contour."""
        self._end(False)
        self._nodes = [(x, y)]

    def line_to(self, x: float, y: float) -> None:
        """A straight segment, unless it has no length."""
        if (x, y) != self._nodes[-1]:
            self._nodes.append((x, y))

    def lines_to(self, points: Floats) -> None:
        """Straight segments through points, shape (n, 2), those without a length left out."""
        come = np.vstack([self._nodes[-1:], points])
        self._nodes += map(tuple, points[np.any(np.diff(come, axis=0) != 0, axis=1)].tolist())

    def curve_to(self, x1: float, y1: float, x2: float, y2: float, x3: float, y3: float) -> None:
        """A cubic segment, unless all of it is one point."""
        last = self._nodes[-1]
        if not last == (x1, y1) == (x2, y2) == (x3, y3):
            self._curves[len(self._nodes) - 1] = (x1, y1, x2, y2)
            self._nodes.append((x3, y3))

    def close(self) -> None:
        """Close the contour, by a straight segment where its ends differ."""
        if self._nodes:
            self.line_to(*self._nodes[0])
            self._end(True)

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
    pen.move_to(x + r, y)
    pen.curve_to(x + r, y + k, x + k, y + r, x, y + r)
    pen.curve_to(x - k, y + r, x - r, y + k, x - r, y)
    pen.curve_to(x - r, y - k, x - k, y - r, x, y - r)
    pen.curve_to(x + k, y - r, x + r, y - k, x + r, y)
    pen.close()
    return pen.contours[0]
