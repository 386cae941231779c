"""How sheets are loaded: askew, stretched, bent, from a seed; what the cutter makes of it by the marks it reads."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from horismos.alignment import aligned
from horismos.machines import Cutter
from horismos.materials import Material
from horismos.misregistration import CAMBER_MM, Misregistration
from horismos.paths.contour import Floats

__all__ = ["Load", "Spread", "loaded", "spread_of"]

SHIFT_MM, TURN_DEG = 2.0, 0.3
"""[ours] standard deviations of how a person lays a sheet in."""
GLOSS_MISSES = 0.15
"""[ours] how often a sensor misses a mark under glossy laminate."""


@dataclass(frozen=True)
class Spread:
    """Standard deviations of a load: of its place in mm, its turn in degrees, its stretch (a fraction) along each axis.

    ``reading_mm`` is how exactly a mark is read, along each axis; ``local_mm`` how far the middle between two rows of
    marks lies off by bend and local stretch; ``repeats_mm`` how exactly the cutter comes back. ``misses`` is how often
    a mark is not seen at all; further off than ``search_mm`` it is not looked for.
    """

    shift_mm: float = SHIFT_MM
    turn_deg: float = TURN_DEG
    stretch: float = 0.0005
    skew_deg: float = 0.01
    reading_mm: float = 0.1
    local_mm: float = 0.02
    repeats_mm: float = 0.02
    misses: float = 0.0
    search_mm: float = 100.0

    def but(self, **given: float | None) -> "Spread":
        """The same with what is given otherwise."""
        return replace(self, **{key: value for key, value in given.items() if value is not None})


def spread_of(cutter: Cutter, material: Material, marks: Floats) -> Spread:
    """The spread of a shipped cutter and material, with marks at places, shape (n, 2) in mm."""
    gives = material.gives
    rows = np.unique(np.round(marks[:, 1], 3)) if len(marks) else np.zeros(0)
    widest = float(np.diff(rows).max()) if len(rows) > 1 else 0.0
    return Spread(
        stretch=float(np.hypot(gives.stretch_x, gives.stretch_y)) / 100 / np.sqrt(2), skew_deg=gives.skew,
        reading_mm=cutter.spread_mm, local_mm=gives.bend * (widest / CAMBER_MM) ** 2, repeats_mm=cutter.repeats_mm,
        misses=GLOSS_MISSES if material.glossy else 0.0, search_mm=cutter.search_mm,
    )


@dataclass(frozen=True, eq=False)
class Load:
    """One load: how the sheet lies, what lies off between the rows of marks, where its marks were seen.

    ``missed`` are the marks that were not found, by their numbers from 0; then nothing is cut.
    """

    lies: Misregistration
    rows: Floats
    local: Floats
    middle: Floats
    meant: Floats
    seen: Floats
    missed: tuple[int, ...]
    turned: bool = False
    """With its trailing edge in front."""

    def landed(self, places: Floats) -> Floats:
        """Where places of the print, shape (n, 2), truly lie before the cutter."""
        lies = places + self._off(places)
        return self._straight(lies)

    @property
    def origin_and_axes(self) -> tuple[Floats, Floats]:
        """Where the lower left corner of the sheet lies, and how its two axes do, rows; without bend."""
        ends = self._straight(np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]]))
        return ends[0], ends[1:] - ends[0]

    def _straight(self, places: Floats) -> Floats:
        return self.lies.landed(2 * self.middle - places if self.turned else places, self.middle)

    def cut_at(self, places: Floats) -> Floats:
        """Where on the print, shape (n, 2), a cut lands that is meant for places: by the marks as they were seen."""
        if not len(self.meant):
            goes = places + np.array([self.lies.dx, self.lies.dy])
        else:
            goes = aligned(self.meant, self.seen, places)
        # back onto the print: both maps are near each other, so one step by the linear part is exact enough
        landed: Floats = places + (goes - self.landed(places)) @ np.linalg.inv(self.origin_and_axes[1])
        return landed

    def _off(self, places: Floats) -> Floats:
        """What bend and local stretch make of places: nothing at the rows of marks, most halfway between two."""
        if len(self.rows) < 2:
            return np.zeros_like(places)
        i = np.clip(np.searchsorted(self.rows, places[:, 1]) - 1, 0, len(self.rows) - 2)
        share = (places[:, 1] - self.rows[i]) / (self.rows[i + 1] - self.rows[i])
        off: Floats = self.local[i] * np.sin(np.pi * np.clip(share, 0, 1))[:, None]
        return off


def loaded(marks: Floats, middle: Floats, spread: Spread, random: Generator) -> Load:
    """One load of a sheet with marks at places, shape (n, 2): drawn from the spread."""
    dx, dy, turn, along, across, skew = random.normal(size=6)
    lies = Misregistration(
        dx * spread.shift_mm, dy * spread.shift_mm, turn * spread.turn_deg, along * spread.stretch * 100,
        across * spread.stretch * 100, skew * spread.skew_deg,
    )
    rows = np.unique(np.round(marks[:, 1], 3)) if len(marks) else np.zeros(0)
    local = random.normal(size=(max(len(rows) - 1, 0), 2)) * spread.local_mm
    reading = random.normal(size=(len(marks), 2)) * spread.reading_mm
    misses = random.random(len(marks)) < spread.misses
    load = Load(lies, rows, local, middle, marks, marks, ())
    if not len(marks):
        return load
    true = load.landed(marks)
    # the first mark is gone to by hand; the others are looked for where they should lie from there
    far = np.hypot(*((true - true[0]) - (marks - marks[0])).T) > spread.search_mm
    missed = tuple(np.flatnonzero(far | misses).tolist())
    return replace(load, seen=true + reading, missed=missed)
