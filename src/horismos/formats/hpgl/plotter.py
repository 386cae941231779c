"""Keeps what the pen draws: strokes in mm, each with the tool and the settings that it was drawn with."""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from horismos.errors import CannotRead, LimitExceeded
from horismos.machines import Dialect
from horismos.paths import Contour, flatten
from horismos.paths.contour import Floats
from horismos.paths.matrix import IDENTITY, Matrix, apply, move, multiply
from horismos.paths.pen import ContourPen

__all__ = ["Plotter", "PlotterStroke"]

MOST_POINTS = 20_000_000
ARC_OFF_MM = 0.001
"""[ours] how far a cubic may lie from the arc that it stands for."""
QUARTER_OFF = 2.8e-4
"""How far, in radii, the best cubic lies from a quarter circle; a part of an angle is off by its sixth power."""


@dataclass(frozen=True, eq=False)
class PlotterStroke:
    """One stroke as read: tool, settings and the curve on the sheet in mm.

    ``operation`` counts the tool selections of the file from 0; force and speed are 0 where none was set for the tool.
    """

    operation: int
    tool: int
    force_gf: float
    speed_mm_s: float
    contour: Contour

    @cached_property
    def points(self) -> Floats:
        """The stroke as a polyline, shape (n, 2), nowhere further off than 0.01 mm."""
        if self.contour.straight.all():
            return np.vstack([self.contour.segments[:, 0], self.contour.end])
        return flatten(self.contour, 0.01)


PLAIN = Dialect()


class Plotter:
    """The pen on the paper. Places are given in the units of the file; ``to_units`` makes them plotter units."""

    def __init__(self, origin_mm: tuple[float, float], dialect: Dialect = PLAIN) -> None:
        unit = dialect.unit_mm
        aside = -unit if dialect.right else unit
        across: Matrix = (0.0, unit, aside, 0.0, 0.0, 0.0) if dialect.turned else (aside, 0.0, 0.0, unit, 0.0, 0.0)
        self._to_mm, self._unit_mm = multiply(across, move(*origin_mm)), unit
        self.strokes: list[PlotterStroke] = []
        self.most_strokes: int | None = None
        self.at = (0.0, 0.0)
        self.down = False
        self.tool, self.force_gf, self.speed_mm_s, self.operation = 0, 0.0, 0.0, -1
        self.to_units: Matrix = IDENTITY
        self._pen: ContourPen | None = None
        self._points = 0

    @property
    def mm_per_unit(self) -> float:
        """How many mm a unit of the file comes to, at its longer side."""
        a, b, c, d, _, _ = self.to_units
        return max(math.hypot(a, b), math.hypot(c, d)) * self._unit_mm

    def lift(self) -> None:
        """End the stroke that is being drawn."""
        if self._pen is not None:
            for contour in self._pen.contours:
                stroke = PlotterStroke(self.operation, self.tool, self.force_gf, self.speed_mm_s, contour)
                self.strokes.append(stroke)
            if self.most_strokes is not None and len(self.strokes) > self.most_strokes:
                raise LimitExceeded(
                    f"The plot has more than {self.most_strokes:,} strokes.", "Ask for the cut lines alone.",
                )
        self._pen, self.down = None, False

    def line_to(self, x: float, y: float) -> None:
        """Move the pen straight; it draws where it is down."""
        if self.down:
            self._begun().lineTo(self._mm(x, y))
        self.at = (x, y)

    def lines_to(self, places: Floats) -> None:
        """Move the pen straight from place to place, shape (n, 2)."""
        if self.down:
            a, b, c, d, e, f = multiply(self.to_units, self._to_mm)
            self._begun(len(places)).lines_to(places @ np.array([[a, b], [c, d]]) + (e, f))
        self.at = (float(places[-1, 0]), float(places[-1, 1]))

    def curve_to(self, x1: float, y1: float, x2: float, y2: float, x3: float, y3: float) -> None:
        """Move the pen along a cubic."""
        if self.down:
            self._begun().curveTo(self._mm(x1, y1), self._mm(x2, y2), self._mm(x3, y3))
        self.at = (x3, y3)

    def arc_to(self, cx: float, cy: float, sweep: float) -> None:
        """Move the pen round a point by so many radians, counter-clockwise where positive."""
        dx, dy = self.at[0] - cx, self.at[1] - cy
        parts = self._parts(math.hypot(dx, dy) * self.mm_per_unit, abs(sweep))
        step = sweep / parts
        k = 4 / 3 * math.tan(step / 4)
        turn = np.array([[math.cos(step), math.sin(step)], [-math.sin(step), math.cos(step)]])
        for _ in range(parts):
            ex, ey = (np.array([dx, dy]) @ turn).tolist()
            self.curve_to(
                cx + dx - k * dy, cy + dy + k * dx, cx + ex + k * ey, cy + ey - k * ex, cx + ex, cy + ey,
            )
            dx, dy = ex, ey

    def _parts(self, radius_mm: float, sweep: float) -> int:
        """Into how many cubics an arc is parted so that none lies off."""
        quarter = QUARTER_OFF * radius_mm
        widest = math.pi / 2 * min(1.0, (ARC_OFF_MM / quarter) ** (1 / 6) if quarter else 1.0)
        return min(max(1, math.ceil(sweep / widest - 1e-9)), 100_000)

    def _begun(self, points: int = 1) -> ContourPen:
        if self._pen is None:
            self._pen = ContourPen(loops=True)
            self._pen.moveTo(self._mm(*self.at))
        self._points += points
        if self._points > MOST_POINTS:
            raise CannotRead("The HP-GL file draws more points than a file may.")
        return self._pen

    def _mm(self, x: float, y: float) -> tuple[float, float]:
        return apply(self._to_mm, *apply(self.to_units, x, y))
