"""Ink load: how much ink lies on top of each other, from the plates of a page."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from horismos.rendering.plates import Plate
from horismos.units import MM_PER_INCH

__all__ = ["DEFAULT_LIMIT", "InkLoad", "heat", "ink_load", "total"]

DEFAULT_LIMIT = 280.0
"""[practice] total ink in % that wide-format films take; by media and ink 220 to 300."""
HEAT_STOPS = np.array([
    [0, 255, 255, 255], [100, 222, 222, 222], [200, 160, 160, 160], [260, 96, 96, 96], [300, 64, 40, 40],
    [400, 0, 0, 0],
], dtype=float)
"""[ours] load in % and its grey; what is above the limit is drawn in red instead."""
ABOVE = (179, 38, 30)


@dataclass(frozen=True)
class InkLoad:
    """The heaviest place of a page. ``at_mm`` is measured from the upper left of the plates;
    ``above_cm2`` is the area above the limit.
    """

    highest: float
    at_mm: tuple[float, float]
    limit: float
    above_cm2: float


def total(plates: Sequence[Plate], leave_out: Collection[str] = ()) -> NDArray[np.float32]:
    """The sum of tints in %, shape of a plate; inks that do not print are left out."""
    printing = [p.tint for p in plates if p.ink not in leave_out]
    if not printing:
        return np.zeros(plates[0].tint.shape if plates else (1, 1), np.float32)
    return np.asarray(np.sum(printing, axis=0, dtype=np.float32) * np.float32(100 / 255), np.float32)


def ink_load(
    plates: Sequence[Plate], ppi: float, leave_out: Collection[str] = (), limit: float = DEFAULT_LIMIT
) -> InkLoad:
    """Measure the load of a page from plates at a resolution."""
    load = total(plates, leave_out)
    row, column = np.unravel_index(int(load.argmax()), load.shape)
    mm = MM_PER_INCH / ppi
    above = float((load > limit + 0.4).sum()) * mm * mm / 100  # a step of 1/255 is no excess
    return InkLoad(float(load[row, column]), ((column + 0.5) * mm, (row + 0.5) * mm), limit, above)


def heat(load: NDArray[np.float32], limit: float = DEFAULT_LIMIT) -> NDArray[np.uint8]:
    """A picture of the load, shape (height, width, 3): darker is more, red is above the limit."""
    out = np.empty((*load.shape, 3), np.uint8)
    for channel in range(3):
        out[..., channel] = np.interp(load, HEAT_STOPS[:, 0], HEAT_STOPS[:, channel + 1])
    out[load > limit + 0.4] = ABOVE
    return out
