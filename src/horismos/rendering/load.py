"""Ink load: how much ink lies on top of each other, from the plates of a page."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from horismos.palette import STOP, rgb
from horismos.paths.box import Bounds
from horismos.rendering.plates import Plate, PlateSet
from horismos.units import MM_PER_INCH

__all__ = ["DEFAULT_LIMIT", "HeavyPlaces", "InkLoad", "heat", "ink_load", "load_places", "total"]

BLOCKS = 64
"""[ours] a page is divided into so many blocks each way to tell heavy places apart."""

DEFAULT_LIMIT = 280.0
"""[practice] total ink in % that wide-format films take; by media and ink 220 to 300."""
HEAT_STOPS = np.array([
    [0, 255, 255, 255], [100, 222, 222, 222], [200, 160, 160, 160], [260, 96, 96, 96], [300, 64, 40, 40],
    [400, 0, 0, 0],
], dtype=float)
"""[ours] load in % and its grey; what is above the limit is drawn in red instead."""
ABOVE = rgb(STOP)


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


@dataclass(frozen=True)
class HeavyPlaces:
    """The highest load in %, the area above the limit, and boxes round it in mm, the heaviest place first."""

    highest: float
    above_cm2: float
    places: tuple[Bounds, ...]


def load_places(
    made: PlateSet, leave_out: Collection[str], limit: float = DEFAULT_LIMIT, within: Bounds | None = None,
    also: PlateSet | None = None,
) -> HeavyPlaces:
    """Where on the page, or inside a part of it in mm, the load is above a limit.

    With ``also``, plates of the same page and size, only where it is above in both.
    """
    load = total(made.plates, leave_out)
    if also is not None:
        load = np.minimum(load, total(also.plates, leave_out))
    if within is not None:
        load = _inside(load, made, within)
    above = load > limit + 0.4  # a step of 1/255 is no excess
    mm = MM_PER_INCH / made.ppi
    area = float(above.sum()) * mm * mm / 100
    if not area:
        return HeavyPlaces(float(load.max()), 0.0, ())
    found = [(highest, _box(made, *span)) for highest, span in _regions(load, above)]
    found.sort(key=lambda place: -place[0])
    return HeavyPlaces(float(load.max()), area, tuple(box for _, box in found))


def _box(made: PlateSet, top: int, left: int, bottom: int, right: int) -> Bounds:
    """The box in mm round pixels from the first row and column to the last."""
    x0, y1 = made.at(top - 0.5, left - 0.5)
    x1, y0 = made.at(bottom + 0.5, right + 0.5)
    return x0, y0, x1, y1


def _inside(load: NDArray[np.float32], made: PlateSet, box: Bounds) -> NDArray[np.float32]:
    """The load inside a box in mm, none outside."""
    per_mm = made.ppi / MM_PER_INCH
    left, right = round((box[0] - made.box[0]) * per_mm), round((box[2] - made.box[0]) * per_mm)
    top, bottom = round((made.box[3] - box[3]) * per_mm), round((made.box[3] - box[1]) * per_mm)
    out = np.zeros_like(load)
    rows, columns = slice(max(top, 0), max(bottom, 0)), slice(max(left, 0), max(right, 0))
    out[rows, columns] = load[rows, columns]
    return out


def _regions(load: NDArray[np.float32], above: NDArray[np.bool_]) -> list[tuple[float, tuple[int, int, int, int]]]:
    """The highest load of each group of blocks that touch, with its first row and column and its last."""

    size = max(1, -(-max(load.shape) // BLOCKS))
    rows, columns = np.nonzero(above)
    blocks = np.zeros((load.shape[0] // size + 1, load.shape[1] // size + 1), bool)
    blocks[rows // size, columns // size] = True
    names, count = scipy.ndimage.label(blocks, structure=np.ones((3, 3)))
    name = names[rows // size, columns // size] - 1
    highest = np.zeros(count, np.float32)
    np.maximum.at(highest, name, load[rows, columns])
    ends = np.array([[len(load), load.shape[1], -1, -1]] * count)
    first, last = np.minimum, np.maximum
    for at, (take, values) in enumerate(((first, rows), (first, columns), (last, rows), (last, columns))):
        take.at(ends[:, at], name, values)
    return [(float(high), (int(a), int(b), int(c), int(d))) for high, (a, b, c, d) in zip(highest, ends, strict=True)]


def heat(load: NDArray[np.float32], limit: float = DEFAULT_LIMIT) -> NDArray[np.uint8]:
    """A picture of the load, shape (height, width, 3): darker is more, red is above the limit."""
    out = np.empty((*load.shape, 3), np.uint8)
    for channel in range(3):
        out[..., channel] = np.interp(load, HEAT_STOPS[:, 0], HEAT_STOPS[:, channel + 1])
    out[load > limit + 0.4] = ABOVE
    return out
