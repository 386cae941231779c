"""Perforation as geometry: cuts and ties along a line, fitted so that it closes, ties away from corners and start."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from horismos.paths import Contour, flatten
from horismos.paths.contour import Floats
from horismos.paths.curvature import node_turns

__all__ = ["DEFAULT_CUT_MM", "DEFAULT_TIE_MM", "Pattern", "pattern_along"]

DEFAULT_CUT_MM, DEFAULT_TIE_MM = 4.0, 0.5
"""[ours] cut and tie of a perforation where nobody says otherwise."""
FINE_MM = 0.002
"""[ours] how finely a line is drawn that is measured."""
CORNER_DEGREES = 20.0
"""[ours] a node where the line turns more is a corner: a tie there tears."""
PHASES = 48
CLEAR = 0.5
"""[ours] of the tie's length, to either side, that it stays away from a corner or the start."""
SHARP_DEGREES, SHARP_MM = 120.0, 1.0
"""[ours] no tie lies nearer than that to a corner that turns more: with an angle below 60 degrees it tears first."""


@dataclass(frozen=True, eq=False)
class Pattern:
    """Cuts along a line: ``parts``, shape (n, 2), from where to where in mm from its start, in order.

    ``cut_mm`` is what a cut came to. A closed line's last cut may run on beyond its end, by what stands before the
    first one. ``scored`` says that ties are scored, not whole.
    """

    parts: Floats
    length_mm: float
    cut_mm: float
    tie_mm: float
    closed: bool
    scored: bool = False

    @property
    def cuts(self) -> int:
        """How many cuts there are."""
        return len(self.parts)

    @property
    def ties(self) -> int:
        """How many ties hold."""
        return self.cuts if self.closed else max(self.cuts - 1, 0)

    def to_json(self) -> dict[str, float]:
        """The pattern in figures: ``holding`` is the share that holds, 0 to 1."""
        cut, tie = round(self.cut_mm, 3), round(self.tie_mm, 3)
        return {"cuts": self.cuts, "ties": self.ties, "holding": round(self.holding, 4), "cut_mm": cut, "tie_mm": tie}

    @property
    def holding(self) -> float:
        """The share of the line that holds, 0 to 1."""
        return self.ties * self.tie_mm / self.length_mm if self.length_mm else 0.0


def pattern_along(
    contour: Contour, cut_mm: float, tie_mm: float, least_ties: int = 0, scored: bool = False
) -> Pattern:
    """The pattern that fits a line: ties of the length asked for, cuts a little longer or shorter, none left over.

    At least ``least_ties`` ties, by shorter cuts. Ties stay off corners and the start, as far as there is room; beside
    a sharp corner there is none at all.

    >>> from horismos.paths import rectangle
    >>> made = pattern_along(rectangle(0, 0, 30, 30), 4, 0.5)
    >>> made.cuts, made.ties, round(made.cut_mm + made.tie_mm, 3)
    (27, 27, 4.444)
    """
    line = flatten(contour, FINE_MM)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    total = float(along[-1])
    closed = contour.loops
    whole = total if closed else total + tie_mm
    count = max(round(whole / (cut_mm + tie_mm)), least_ties + (0 if closed else 1), 1)
    tie = min(tie_mm, 0.8 * whole / count)
    pitch = whole / count
    if not closed:
        starts = np.arange(count) * pitch
        return Pattern(np.column_stack([starts, starts + pitch - tie]), total, pitch - tie, tie, False, scored)
    barred = _barred(contour, line, along, total, tie)
    shift = _best_shift(barred, pitch)
    middles = (shift + np.arange(count) * pitch) % total
    middles = _moved_off(np.asarray(middles, np.float64), barred, total, (pitch - tie) / 2 * 0.8)
    middles = np.sort(_kept(middles, barred, total, max(least_ties, 1)))
    starts = middles + tie / 2
    ends = np.append(middles[1:], middles[0] + total) - tie / 2
    return Pattern(np.column_stack([starts, ends]), total, pitch - tie, tie, True, scored)


@dataclass(frozen=True, eq=False)
class _Barred:
    """Where along a closed line a tie should not be: how far its middle stays off each place; never, where it tears."""

    places: Floats
    need: Floats
    tears: NDArray[np.bool_]


def _barred(contour: Contour, line: Floats, along: Floats, total: float, tie: float) -> _Barred:
    """The start of a line and its corners; of a sharp corner all that lies near it, on whichever side it passes."""
    off = tie * (0.5 + CLEAR)
    at, turn = node_turns(contour)
    found = [(0.0, off, False)]
    cornered = np.abs(turn) > CORNER_DEGREES
    for corner, degrees in zip(at[cornered], np.abs(turn[cornered]), strict=True):
        place = float(along[np.hypot(*(line - corner).T).argmin()]) % total
        found.append((place, off, False))
        if degrees > SHARP_DEGREES:
            found += [(near % total, max(half + tie / 2, off), True) for near, half in _near(line, along, corner)]
    places, need, tears = zip(*found, strict=True)
    return _Barred(np.array(places), np.array(need), np.array(tears))


def _near(line: Floats, along: Floats, corner: Floats) -> list[tuple[float, float]]:
    """Where along a line it passes near a corner: the middle of each such stretch, and half its length."""
    way = np.diff(line, axis=0)
    long = np.hypot(*way.T)
    t = np.clip(((corner - line[:-1]) * way).sum(axis=1) / np.maximum(long**2, 1e-18), 0, 1)
    far = np.hypot(*(line[:-1] + t[:, None] * way - corner).T)
    here = np.flatnonzero(far < SHARP_MM)
    return list(zip(
        (along[:-1][here] + t[here] * long[here]).tolist(), np.sqrt(SHARP_MM**2 - far[here] ** 2).tolist(), strict=True
    ))


def _spare(middles: Floats, barred: _Barred, period: float) -> Floats:
    """By how much each place of a tie's middle is further than it need be from the worst of some places."""
    apart = np.abs(middles[:, None] - barred.places[None, :]) % period
    spare: Floats = (np.minimum(apart, period - apart) - barred.need).min(axis=1)
    return spare


def _best_shift(barred: _Barred, pitch: float) -> float:
    """Where the first tie's middle stands best: where most ties are clear, and the nearest is furthest."""
    shifts = np.arange(PHASES) * pitch / PHASES
    apart = np.abs(shifts[:, None] - np.mod(barred.places, pitch)[None, :])
    spare = np.minimum(apart, pitch - apart) - barred.need
    return float(shifts[np.lexsort((-spare.min(axis=1), (spare < 0).sum(axis=1)))[0]])


def _moved_off(middles: Floats, barred: _Barred, total: float, room: float) -> Floats:
    """The same with those ties that still lie on a corner moved aside, by less than half a repeat."""
    out = middles.copy()
    tries = np.linspace(-max(room, 0.0), max(room, 0.0), 33)
    for i in np.flatnonzero(_spare(middles, barred, total) < 0):
        spare = _spare((middles[i] + tries) % total, barred, total)
        good = np.flatnonzero(spare >= 0)
        best = good[np.abs(tries[good]).argmin()] if len(good) else spare.argmax()
        out[i] = (middles[i] + tries[best]) % total
    return out


def _kept(middles: Floats, barred: _Barred, total: float, least: int) -> Floats:
    """The ties without those that would tear after all, while enough are left."""
    apart = np.abs(middles[:, None] - barred.places[None, :]) % total
    short = (np.minimum(apart, total - apart) - barred.need)[:, barred.tears].min(axis=1, initial=0.0)
    worst = np.argsort(short, kind="stable")[: max(len(middles) - least, 0)]
    return np.delete(middles, worst[short[worst] < -1e-9])
