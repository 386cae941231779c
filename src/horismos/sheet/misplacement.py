"""How far the cut is expected to land from the print: by the spread of the sensor, the marks, and how media gives.

Everything is small and Gaussian, so that the misplacement at a place is too, about nothing: its covariance is what the
fit to the marks makes of the sensor's spread, and of the stretch, skew and bend that the fit does not take out.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

from horismos.machines import Cutter
from horismos.materials import Material
from horismos.misregistration import Misregistration
from horismos.paths.box import union_bounds
from horismos.paths.contour import Floats
from horismos.sheet.marks import Mark
from horismos.sheet.sheet import Sheet

__all__ = ["Misplacement", "advice", "fit_design", "misplaced", "misplacement_map", "misplacement_on", "segments_of"]

SURE = 0.95
RATIOS = np.linspace(0.0, 1.0, 65)
ANGLES = (np.arange(720) + 0.5) * np.pi / 720
ALONE = 1.959964
"""[standard] what holds 95 % of one deviation alone: the two-sided bound of a Gaussian."""
STEPS = 8
GIVES = ("stretch_x", "stretch_y", "skew", "bend")
FEW = 2
MOST_CELLS = 900
TRIED_EVERY_MM = (1000.0, 700.0, 500.0, 350.0, 250.0, 150.0)
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


def misplacement_map(sheet: Sheet) -> tuple[Misplacement, float] | None:
    """What is expected at the middles of square cells over the part of a sheet that is cut, row by row; their side.

    None of a sheet without marks.
    """
    box = union_bounds(copy.bounds for copy in sheet.placements)
    if not sheet.marks or box is None:
        return None
    wide, long = box[2] - box[0], box[3] - box[1]
    side = max((wide * long / MOST_CELLS) ** 0.5, max(wide, long) / MOST_CELLS, 1.0)
    xs, ys = (np.arange(low + side / 2, high + side / 2, side) for low, high in ((box[0], box[2]), (box[1], box[3])))
    x, y = np.meshgrid(xs, ys)
    places = np.column_stack([x.ravel(), y.ravel()])
    return misplaced(places, sheet.marks, sheet.material, sheet.cutter), side


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


@cache
def _radii() -> Floats:
    """The radius that holds 95 % of a Gaussian of two deviations, 1 and each of the ratios.

    In polar coordinates the inner integral of its density is closed; the outer one is a sum over angles. What is held
    grows ever more slowly with the radius, so that Newton's steps come to it from below.
    """
    ratios = RATIOS[1:, None]
    steep = np.cos(ANGLES) ** 2 + (np.sin(ANGLES) / ratios) ** 2
    radii = np.full(ratios.shape, ALONE)
    for _ in range(STEPS):
        left = np.exp(-(radii**2) * steep / 2)
        held = ((1 - left) / steep).mean(axis=1, keepdims=True) / ratios
        radii = radii + (SURE - held) * ratios / (radii * left.mean(axis=1, keepdims=True))
    return np.concatenate([[ALONE], radii[:, 0]])


def advice(sheet: Sheet, expected: Misplacement | None, wanted_mm: float, name: str) -> list[str]:
    """What is to be said where the marks do not hold what a piece's edge can stand: how much, where, what would."""
    if expected is None or expected.worst_mm <= wanted_mm:
        return []
    x, y = expected.at
    said = f"Cuts may land {expected.worst_mm:.2f} mm off at {x:.0f}, {y:.0f} mm; “{name}” can stand {wanted_mm:g} mm."
    for every in TRIED_EVERY_MM:
        denser = _with_marks_every(sheet, expected, every)
        if denser is not None and denser.worst_mm <= wanted_mm:
            return [f"{said} Marks every {every:g} mm would bring it to {denser.worst_mm:.2f} mm."]
    return [f"{said} A shorter sheet would do, or bleed and border for {expected.worst_mm:.1f} mm."]


def _with_marks_every(sheet: Sheet, expected: Misplacement, every: float) -> Misplacement | None:
    """What marks so near to each other along both sides would come to; None where those there are nearer already."""
    ys, xs = sorted({m.y_mm for m in sheet.marks}), sorted({m.x_mm for m in sheet.marks})
    long = ys[-1] - ys[0]
    if len(xs) < FEW or max(np.diff(ys), default=0.0) <= every:
        return None
    count = int(np.ceil(long / every))
    first = sheet.marks[0]
    denser = [replace(first, x_mm=x, y_mm=ys[0] + long * i / count) for x in (xs[0], xs[-1]) for i in range(count + 1)]
    return misplaced(expected.places, denser, sheet.material, sheet.cutter)
