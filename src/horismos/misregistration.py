"""How far a cut lands from where it was meant: one type for what-if, rehearsal and alignment."""

from dataclasses import dataclass

import numpy as np

from horismos.paths.contour import Floats

__all__ = ["Misregistration"]

CAMBER_MM = 1000.0
"""[practice] camber is told as a bow over a metre of feed."""


@dataclass(frozen=True)
class Misregistration:
    """Moved in mm, turned in degrees counter-clockwise, stretched in %, skewed in degrees, bent in mm to the metre.

    All about a middle: what is turned, stretched, skewed and bent stays where it is there. ``skew`` leans the
    feed direction (y) over to the right; ``bend`` is the camber: how far off to the right the ends of a metre
    of feed lie from its middle.
    """

    dx: float = 0.0
    dy: float = 0.0
    turn: float = 0.0
    stretch_x: float = 0.0
    stretch_y: float = 0.0
    skew: float = 0.0
    bend: float = 0.0

    def landed(self, points: Floats, middle: Floats) -> Floats:
        """Where points of the cut, shape (n, 2), land.

        >>> Misregistration(dx=1, bend=2).landed(np.array([[0.0, 0.0], [0.0, 500.0]]), np.zeros(2)).tolist()
        [[1.0, 0.0], [3.0, 500.0]]
        """
        own = (points - middle) * (1 + np.array([self.stretch_x, self.stretch_y]) / 100)
        x = own[:, 0] + own[:, 1] * np.tan(np.radians(self.skew)) + 4 * self.bend * (own[:, 1] / CAMBER_MM) ** 2
        cos, sin = np.cos(np.radians(self.turn)), np.sin(np.radians(self.turn))
        turned = np.stack([x * cos - own[:, 1] * sin, x * sin + own[:, 1] * cos], axis=1)
        landed: Floats = middle + turned + np.array([self.dx, self.dy])
        return landed
