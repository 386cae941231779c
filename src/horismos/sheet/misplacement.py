"""How far the cut is expected to land from the print: by the spread of the sensor, the marks, and how media gives.

Everything is small and Gaussian, so that the misplacement at a place is too, about nothing: its covariance is what the
fit to the marks makes of the sensor's spread, and of the stretch, skew and bend that the fit does not take out.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from horismos.machines import Cutter
from horismos.materials import Material
from horismos.misregistration import Misregistration
from horismos.paths.contour import Floats
from horismos.sheet.marks import Mark
from horismos.sheet.sheet import Sheet

__all__ = ["Misplacement", "fit_design", "misplaced", "misplacement_on", "segments_of"]

SURE = 0.95
RATIOS = np.linspace(0.0, 1.0, 65)
RADII = np.linspace(1.9, 2.5, 601)
ANGLES = (np.arange(720) + 0.5) * np.pi / 720
GIVES = ("stretch_x", "stretch_y", "skew", "bend")
FEW = 2
Chosen = NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class Misplacement:
    """What 95 of 100 loads keep within, in mm, at places of shape (n, 2) on the sheet."""

    places: Floats
    within_mm: Floats

    @property
    def worst_mm(self) -> float:
        """At the worst place."""
        return float(self.within_mm.max())

    @property
    def mean_mm(self) -> float:
        """On average over the places."""
        return float(self.within_mm.mean())

    @property
    def at(self) -> tuple[float, float]:
        """The worst place."""
        x, y = self.places[int(self.within_mm.argmax())]
        return float(x), float(y)


def misplacement_on(sheet: Sheet) -> Misplacement | None:
    """At the corners and the middle of every copy's cut; None of a sheet without marks."""
    if not sheet.marks:
        return None
    boxes = np.array([copy.bounds for copy in sheet.placements])
    corners = [boxes[:, [i, j]] for i in (0, 2) for j in (1, 3)]
    places = np.concatenate([*corners, (boxes[:, :2] + boxes[:, 2:]) / 2])
    return misplaced(places, sheet.marks, sheet.material, sheet.cutter)


def misplaced(places: Floats, marks: Sequence[Mark], material: Material, cutter: Cutter) -> Misplacement:
    """What 95 of 100 loads keep within at places, shape (n, 2), in mm on the sheet.

    Two marks are fitted by a move, a turn and one stretch, more by an affine map. Of more than two rows of marks,
    those before and behind a place count for it: the cutter reads them as it goes.
    """
    at = np.array([(mark.x_mm, mark.y_mm) for mark in marks])
    within = np.zeros(len(places))
    for chosen, here in segments_of(at, places):
        within[here] = _within(places[here], at[chosen], material, cutter)
    return Misplacement(places, within)


def segments_of(at: Floats, places: Floats) -> list[tuple[Chosen, Chosen]]:
    """Which marks count for which places, as indices: all for all, or two rows of marks for what lies between."""
    rows = np.unique(np.round(at[:, 1], 6))
    if len(rows) <= FEW:
        return [(np.arange(len(at)), np.arange(len(places)))]
    between = np.clip(np.searchsorted(rows, places[:, 1]) - 1, 0, len(rows) - 2)
    out = []
    for i in np.unique(between):
        chosen = np.flatnonzero((at[:, 1] >= rows[i] - 1e-5) & (at[:, 1] <= rows[i + 1] + 1e-5))
        out.append((chosen, np.flatnonzero(between == i)))
    return out


def fit_design(points: Floats, count: int) -> Floats:
    """The design of the fit that so many marks allow, shape (n, 2, parameters): where a place goes for each of them."""
    x, y = points.T
    none, one = np.zeros_like(x), np.ones_like(x)
    if count <= FEW:
        rows = [[one, none, x, -y], [none, one, y, x]]
    else:
        rows = [[one, none, x, y, none, none], [none, one, none, none, x, y]]
    design: Floats = np.stack([np.stack(row, axis=-1) for row in rows], axis=1)
    return design


def _within(places: Floats, at: Floats, material: Material, cutter: Cutter) -> Floats:
    middle = at.mean(axis=0)
    scale = max(float(np.abs(at - middle).max()), 1.0)
    design = fit_design((at - middle) / scale, len(at))
    solve = np.linalg.pinv(design.reshape(-1, design.shape[2]))
    maps = fit_design((places - middle) / scale, len(at)) @ solve
    covariance = cutter.spread_mm**2 * maps @ np.swapaxes(maps, 1, 2)
    for name in GIVES:
        amount = getattr(material.gives, name)
        if amount:
            given = Misregistration(**{name: amount})
            moved = given.landed(at, middle) - at
            left = given.landed(places, middle) - places - maps @ moved.reshape(-1)
            covariance = covariance + left[:, :, None] * left[:, None, :]
    larger, smaller = np.sqrt(np.maximum(np.linalg.eigvalsh(covariance)[:, ::-1], 0)).T
    ratio = np.divide(smaller, larger, out=np.zeros_like(larger), where=larger > 0)
    within: Floats = larger * np.interp(ratio, RATIOS, _radii())
    return within


def _radii() -> Floats:
    """The radius that holds 95 % of a Gaussian of two deviations, 1 and each of the ratios.

    In polar coordinates the inner integral of its density is closed; the outer one is a sum over angles.
    """
    if not _KNOWN:
        for ratio in RATIOS:
            if ratio < 1e-9:
                _KNOWN.append(1.959964)  # [standard] the two-sided 95 % of one Gaussian
                continue
            steep = np.cos(ANGLES) ** 2 + (np.sin(ANGLES) / ratio) ** 2
            held = ((1 - np.exp(-(RADII[:, None] ** 2) * steep / 2)) / steep).mean(axis=1) / ratio
            _KNOWN.append(float(np.interp(SURE, held, RADII)))
    return np.array(_KNOWN)


_KNOWN: list[float] = []
