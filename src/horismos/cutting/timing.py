"""How long a machine takes: it speeds up and slows down, takes corners and curves slowly, lifts, travels."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from horismos.machines import Cutter
from horismos.paths.contour import Floats

__all__ = ["CORNER_MM", "Timed", "corner_speeds", "cut_seconds", "timed", "travel_seconds"]

CORNER_MM = 1.0
"""[ours] over how long a stretch a machine takes a corner: as if it were a curve with that as its tangent."""


@dataclass(frozen=True, eq=False)
class Timed:
    """Strokes in a row: when the tool is lowered and lifted for each, in s, and how far it travels to it."""

    lowered: Floats
    lifted: Floats
    hops_mm: Floats
    time_s: float


def timed(
    holders: Sequence[Floats], start: Floats, cutter: Cutter, speed: float | None, acceleration: float | None
) -> Timed:
    """How long a cutter takes for strokes from a place on, by their holders' paths in mm, shape (n, 2) each.

    Speed in mm/s and acceleration in mm/s² are the cutter's own where they are None.
    """
    ends = [start, *(path[-1] for path in holders)]
    hops = np.array([np.hypot(*(path[0] - end)) for path, end in zip(holders, ends, strict=False)])
    cuts = _cut_each(holders, speed or cutter.cut_speed_mm_s, acceleration or cutter.acceleration_mm_s2)
    goes = _travel_each(hops, cutter.travel_speed_mm_s, cutter.acceleration_mm_s2) + cutter.lift_s
    lifted = np.cumsum(goes + cuts + cutter.lift_s) - cutter.lift_s
    return Timed(lifted - cuts, lifted, hops, float(lifted[-1] + cutter.lift_s) if len(lifted) else 0.0)


def corner_speeds(chords: Floats, acceleration: float) -> Floats:
    """How fast a machine may pass between chords one behind the other, shape (n, 2), in mm/s, shape (n - 1,).

    A curve of radius r is passed at sqrt(a r), so that it takes no more than the acceleration across; the radius is
    that of the circle which touches both chords [ours], however finely the curve is parted.
    """
    long = np.hypot(chords[:, 0], chords[:, 1])
    before, behind = chords[:-1], chords[1:]
    cross = np.abs(before[:, 0] * behind[:, 1] - before[:, 1] * behind[:, 0])
    half = np.arctan2(cross, (before * behind).sum(axis=1)) / 2
    reach = np.minimum(np.minimum(long[:-1], long[1:]), 2 * CORNER_MM) / 2
    speeds: Floats = np.sqrt(acceleration * reach / np.maximum(np.tan(half), 1e-9))
    return speeds


def cut_seconds(paths: Sequence[Floats], speed: float, acceleration: float) -> float:
    """How long it takes along paths in mm, shape (n, 2) each, at mm/s and mm/s², from standing to standing each."""
    return float(_cut_each(paths, speed, acceleration).sum())


def _cut_each(paths: Sequence[Floats], speed: float, acceleration: float) -> Floats:
    """The same for each of the paths."""
    each = np.zeros(len(paths))
    if not paths:
        return each
    chords = np.diff(np.concatenate(paths), axis=0)
    owner = np.repeat(np.arange(len(paths)), [len(path) for path in paths])
    moves = (owner[1:] == owner[:-1]) & chords.any(axis=1)
    chords, owner = chords[moves], owner[1:][moves]
    if not len(chords):
        return each
    inner = np.where(owner[1:] == owner[:-1], np.minimum(corner_speeds(chords, acceleration), speed), 0.0)
    limits = np.concatenate([[0.0], inner, [0.0]])
    long = np.hypot(chords[:, 0], chords[:, 1])
    gained = np.concatenate([[0.0], np.cumsum(2 * acceleration * long)])
    # faster than this no vertex can be reached from those before it, nor left for those behind it
    speeding = np.minimum.accumulate(limits**2 - gained) + gained
    slowing = (np.minimum.accumulate((limits**2 + gained)[::-1])[::-1]) - gained
    at = np.sqrt(np.maximum(np.minimum(speeding, slowing), 0.0))
    np.add.at(each, owner, _seconds(long, at[:-1], at[1:], speed, acceleration))
    return each


def _seconds(long: Floats, begin: Floats, end: Floats, speed: float, acceleration: float) -> Floats:
    """How long each stretch takes that is entered and left at given speeds: speeding up, going on, slowing down."""
    most = np.minimum(np.sqrt((begin**2 + end**2) / 2 + acceleration * long), speed)
    most = np.maximum(most, np.maximum(begin, end))
    changing = (2 * most**2 - begin**2 - end**2) / (2 * acceleration)
    level = np.maximum(long - changing, 0.0) / np.maximum(most, 1e-9)
    seconds: Floats = (2 * most - begin - end) / acceleration + level
    return seconds


def travel_seconds(long: Floats, speed: float, acceleration: float) -> float:
    """How long moves with the tool up take, of lengths in mm, each from standing to standing."""
    return float(_travel_each(long, speed, acceleration).sum())


def _travel_each(long: Floats, speed: float, acceleration: float) -> Floats:
    """The same for each of the moves."""
    none = np.zeros(len(long))
    return _seconds(np.asarray(long, float), none, none, speed, acceleration)
