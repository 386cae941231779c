"""Rehearses a package on the simulated machines before a metre is spent."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from horismos.checking import Rehearsed
from horismos.destinations import destination_of
from horismos.errors import BadValue
from horismos.materials import Material, material_of
from horismos.paths.box import Bounds, grow
from horismos.paths.contour import Floats
from horismos.rendering.png import png_of
from horismos.simulation.holding import breaks, cut_loose
from horismos.simulation.landing import Copy
from horismos.simulation.loading import Spread, loaded, spread_of
from horismos.simulation.packages import PPI, Files, Opened, copies_on, lengths_of, opened, sheets_of
from horismos.units import MM_PER_INCH

__all__ = ["RehearsalCounts", "Worst", "rehearse"]

WORST_ROOM_MM, WORST_PIXELS = 4.0, 900.0
MOST_LOADS = 100_000
Progress = Callable[[float, str], None]


@dataclass(frozen=True, eq=False)
class Worst:
    """The worst piece of all: its copy from 0, its box on the sheet, where its cut landed, and its print as PNG."""

    copy: int
    box: Bounds
    landed: Floats
    picture: bytes


@dataclass(frozen=True, eq=False, kw_only=True)
class RehearsalCounts:
    """What came of so many loads: pieces over all of them, and how far off cuts landed, in mm.

    ``marks_missed`` are loads in which a mark was not found: they were not cut, and none of their pieces is spoilt.
    ``loose`` are pieces that were cut into when nothing held them any more, ``broken`` those that came out of their
    ties too soon. ``worst_load`` counts from 1, ``worst_at`` is where on the sheet; 0 and None where nothing was cut.
    """

    loads: int
    marks_missed: int
    pieces: int
    bare: int
    trimmed: int
    worst_mm: float
    p95_mm: float
    worst_load: int
    worst_at: tuple[float, float] | None
    loose: int = 0
    broken: int = 0
    worst: Worst | None = None

    @property
    def rehearsed(self) -> Rehearsed:
        """The counts alone, as a check goes by them."""
        return Rehearsed(
            self.loads, self.marks_missed, self.pieces, self.bare, self.trimmed, self.loose, self.broken
        )

    def to_json(self) -> dict[str, Any]:
        """The figures as plain values."""
        return {
            "loads": self.loads, "marks_missed": self.marks_missed, "pieces": self.pieces, "bare": self.bare,
            "trimmed": self.trimmed, "worst_mm": round(self.worst_mm, 4), "p95_mm": round(self.p95_mm, 4),
            "worst_load": self.worst_load, "loose": self.loose, "ties_broken": self.broken,
            "worst_at": self.worst_at and [round(v, 1) for v in self.worst_at],
        }


def rehearse(
    files: Files, loads: int = 200, seed: int = 1, given: Mapping[str, float | None] | None = None,
    progress: Progress = lambda share, what: None,
) -> RehearsalCounts:
    """Print, load and cut the sheet of a package so many times, with the spread of printer, cutter and operator.

    ``given`` are standard deviations in place of the shipped ones, as ``Spread`` names them. The same seed gives the
    same figures. Raises NotFound where a file of the package is missing, BadValue for no load at all.
    """
    if not 1 <= loads <= MOST_LOADS:
        raise BadValue(f"{loads} loads.", f"Give 1 to {MOST_LOADS:,}.")
    sheets = sheets_of(files)
    parts = []
    for number, sheet in enumerate(sheets):
        parts.append(_rehearsed(
            sheet, loads, seed + number, given or {},
            lambda share, what, number=number: progress((number + share) / len(sheets), what),  # type: ignore[misc]
        ))
    return _together(parts)


def _together(parts: list[tuple[RehearsalCounts, Floats]]) -> RehearsalCounts:
    """What came of several sheets, each loaded so often; loads that were missed are counted over all of them."""
    outcomes = [outcome for outcome, _ in parts]
    worst = max(outcomes, key=lambda one: one.worst_mm)
    each = np.concatenate([off for _, off in parts])
    return RehearsalCounts(
        loads=outcomes[0].loads, marks_missed=sum(one.marks_missed for one in outcomes),
        pieces=sum(one.pieces for one in outcomes), bare=sum(one.bare for one in outcomes),
        trimmed=sum(one.trimmed for one in outcomes), worst_mm=worst.worst_mm,
        p95_mm=float(np.percentile(each, 95)) if len(each) else 0.0, worst_load=worst.worst_load,
        worst_at=worst.worst_at, loose=sum(one.loose for one in outcomes), broken=sum(one.broken for one in outcomes),
        worst=worst.worst
    )


def _rehearsed(
    files: Files, loads: int, seed: int, given: Mapping[str, float | None], progress: Progress
) -> tuple[RehearsalCounts, Floats]:
    progress(0.02, "reading the package")
    sheet = opened(files)
    ticket, material = sheet.ticket, material_of(sheet.ticket)
    marks = np.array([[mark["x_mm"], mark["y_mm"]] for mark in ticket["marks"]]).reshape(-1, 2)
    spread = spread_of(destination_of(ticket).room, material, marks).but(**given)
    progress(0.05, "looking at the print")
    copies = copies_on(sheet)
    middle = np.array([ticket["sheet"]["width_mm"], ticket["sheet"]["length_mm"]]) / 2
    outcome, each, worst = _cut_so_often(copies, marks, middle, spread, loads, seed, progress)
    cut = loads - outcome.marks_missed
    outcome = replace(
        outcome, loose=cut * len(cut_loose(ticket["operations"])), broken=_broken(sheet, material, cut, seed),
        worst=_drawn(sheet, *worst) if worst else None,
    )
    return outcome, each


def _broken(sheet: Opened, material: Material, loads: int, seed: int) -> int:
    """How many pieces, over so many loads, come out of their ties before they are to."""
    random, out = np.random.default_rng(seed), 0
    for number, op in enumerate(sheet.front):
        setting = op["setting"]
        if op["role"] != "perforation" or setting.get("tie_mm") is None:
            continue
        for length in lengths_of(sheet, number).values():
            step = setting["cut_mm"] + (setting["tie_mm"] if setting.get("tie_force_gf") else 0.0)
            out += int(breaks(round(length / step), setting, material.strata, loads, random).sum())
    return out


def _drawn(sheet: Opened, copy: int, landed: Floats) -> Worst:
    """The worst piece with its print round about."""
    x0, y0, x1, y1 = sheet.ticket["placements"][copy]["bounds"]
    box = grow((x0, y0, x1, y1), WORST_ROOM_MM)
    drawn = sheet.drawn(box, min(PPI, WORST_PIXELS / max(box[2] - box[0], box[3] - box[1]) * MM_PER_INCH))
    return Worst(copy, box, landed, b"" if drawn is None else png_of(drawn))


def _cut_so_often(
    copies: list[Copy], marks: Floats, middle: Floats, spread: Spread, loads: int, seed: int, progress: Progress
) -> tuple[RehearsalCounts, Floats, tuple[int, Floats] | None]:
    """The outcome, how far off each piece of each load was cut at worst, and which copy landed where at the worst."""
    random = np.random.default_rng(seed)
    places = np.concatenate([copy.places for copy in copies]) if copies else np.empty((0, 2))
    ends = np.cumsum([0, *(len(copy.places) for copy in copies)])
    missed = bare = trimmed = worst_load = cut = 0
    worst, worst_at, worst_copy = 0.0, None, None
    each: list[Floats] = []
    for number in range(1, loads + 1):
        progress(0.1 + 0.9 * number / loads, f"load {number} of {loads}")
        load = loaded(marks, middle, spread, random)
        again = random.normal(size=(len(copies), 2)) * spread.repeats_mm
        if load.missed or not len(places):
            missed += bool(load.missed)
            continue
        cut += 1
        landed = load.cut_at(places) + np.repeat(again, np.diff(ends), axis=0)
        off = np.hypot(*(landed - places).T)
        each.append(np.maximum.reduceat(off, ends[:-1]))
        if off.max() > worst:
            worst, worst_load = float(off.max()), number
            x, y = places[int(off.argmax())].tolist()
            worst_at = (x, y)
            number_of = int(np.searchsorted(ends, int(off.argmax()), side="right")) - 1
            worst_copy = copies[number_of].number, landed[ends[number_of] : ends[number_of + 1]]
        for copy, a, b in zip(copies, ends[:-1], ends[1:], strict=True):
            is_bare, is_trimmed = copy.spoilt(landed[a:b])
            bare += is_bare
            trimmed += is_trimmed
    all_off = np.concatenate(each) if each else np.empty(0)
    outcome = RehearsalCounts(
        loads=loads, marks_missed=missed, pieces=cut * len(copies), bare=bare, trimmed=trimmed, worst_mm=worst,
        p95_mm=0.0, worst_load=worst_load, worst_at=worst_at
    )
    return outcome, all_off, worst_copy
