"""How a piece may be turned on the sheet, and the matrices of it."""

import math
from enum import StrEnum

from horismos.paths.box import Bounds, placed
from horismos.paths.matrix import Matrix

__all__ = ["Turn", "Ways", "lower_left", "turned"]


Ways = tuple[tuple[float, ...], ...]
"""Turns in degrees: those of the first set that has one that fits."""
SLANTS = tuple(float(degrees) for degrees in range(1, 180))


class Turn(StrEnum):
    """Which turns are allowed: grain and stripes forbid some."""

    NONE = "none"
    HALF = "half"
    QUARTER = "quarter"
    FREE = "free"

    @property
    def quarters(self) -> bool:
        """Whether a piece may lie across."""
        return self in (Turn.QUARTER, Turn.FREE)

    def along(self, grain: bool) -> "Turn":
        """What of it is allowed on a material whose grain or stripes all pieces keep."""
        return Turn.HALF if grain and self in (Turn.QUARTER, Turn.FREE) else self

    @property
    def ways(self) -> Ways:
        """The turns that rows and columns try: square ones, and slants where a piece fits only so."""
        if self is Turn.FREE:
            return ((0.0, 90.0), SLANTS)
        return ((0.0, 90.0),) if self.quarters else ((0.0,),)

    @property
    def degrees(self) -> list[float] | None:
        """The turns that are allowed; None: any."""
        known = {Turn.NONE: [0.0], Turn.HALF: [0.0, 180.0], Turn.QUARTER: [0.0, 90.0, 180.0, 270.0]}
        return known.get(self)


def turned(degrees: float) -> Matrix:
    """The matrix of a turn counter-clockwise; exact for quarters.

    >>> turned(90)
    (0.0, 1.0, -1.0, 0.0, 0.0, 0.0)
    """
    quarter = round(degrees / 90)
    if abs(degrees - 90 * quarter) < 1e-9:
        cos, sin = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[quarter % 4]
    else:
        cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return cos, sin, 0.0 - sin, cos, 0.0, 0.0


def lower_left(box: Bounds, degrees: float) -> Matrix:
    """A turn, and the move that brings the lower left of a box to nothing.

    >>> lower_left((2, 3, 5, 4), 90)
    (0.0, 1.0, -1.0, 0.0, 4.0, -2.0)
    """
    a, b, c, d, _, _ = turned(degrees)
    x, y, _, _ = placed(box, (a, b, c, d, 0.0, 0.0))
    return a, b, c, d, 0.0 - x, 0.0 - y
