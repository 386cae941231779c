"""What a cut that lands off shows: bare media where colour should run over it, art where a border should stay blank.

It looks at the print as it is, piece by piece, and not at what anybody promised of it.
"""

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from horismos.orders import Edge
from horismos.paths.box import Bounds
from horismos.paths.contour import Floats

__all__ = ["Copy", "Inked", "meant_along"]

INSIDE_MM = 0.4
"""[ours] so far round a place on a cut the print is looked at, to tell what was meant there."""
HALF = 0.5


@dataclass(frozen=True, eq=False)
class Inked:
    """Where a piece is inked: ``covered`` from 0 to 1, rows from the top, over a box in mm of the sheet."""

    covered: NDArray[np.float32]
    box: Bounds
    per_mm: float

    def at(self, places: Floats) -> Floats:
        """How far places, shape (..., 2), are inked; blank outside the box."""
        columns = (places[..., 0] - self.box[0]) * self.per_mm - HALF
        rows = (self.box[3] - places[..., 1]) * self.per_mm - HALF
        found: Floats = scipy.ndimage.map_coordinates(self.covered, [rows, columns], order=1, mode="constant", cval=0.0)
        return found


@dataclass(frozen=True, eq=False)
class Copy:
    """One copy on the sheet: its number from 0, places along its cuts, shape (n, 2), and what was meant there.

    ``linear`` and ``move`` bring places of the sheet to the copy whose print was looked at. ``runs_over`` are places
    where colour should run over the cut, ``stays_blank`` where a border should stay; both bool, shape (n,).
    """

    number: int
    places: Floats
    linear: Floats
    move: Floats
    inked: Inked
    runs_over: NDArray[np.bool_]
    stays_blank: NDArray[np.bool_]

    def onto(self, places: Floats) -> Floats:
        """Places of this copy on the one that was looked at."""
        there: Floats = places @ self.linear + self.move
        return there

    def spoilt(self, landed: Floats) -> tuple[bool, bool]:
        """Whether bare media shows, and whether art is trimmed, where its cuts landed, shape (n, 2)."""
        inked = self.inked.at(self.onto(landed)) >= HALF
        return bool((~inked & self.runs_over).any()), bool((inked & self.stays_blank).any())


def meant_along(inked: Inked, there: Floats, edge: Edge) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Where along cuts, shape (n, 2) on the print, colour should run over, and where a border should stay blank.

    Where the order leaves it open the print says it: what is inked at the cut runs over, what is blank all round stays.
    Where an edge of the art crosses a cut nothing is meant: both are right there.
    """
    if edge is Edge.BORDER:
        return np.zeros(len(there), bool), np.ones(len(there), bool)
    ways = np.arange(8) * np.pi / 4
    around = there[:, None] + INSIDE_MM * np.stack([np.cos(ways), np.sin(ways)], axis=1)
    near = (inked.at(around) >= HALF).sum(axis=1)
    on = inked.at(there) >= HALF
    blank = ~on & (near == 0) if edge is Edge.EITHER else np.zeros(len(there), bool)
    return _also_beside(on | (near > len(ways) // 2)), _also_beside(blank)


def _also_beside(found: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """What holds at the places before and behind along the cut as well."""
    beside: NDArray[np.bool_] = found & np.roll(found, 1) & np.roll(found, -1)
    return beside
