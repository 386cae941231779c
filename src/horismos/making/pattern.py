"""Perforation as geometry: cuts and ties along a line, fitted so that it closes, ties away from corners and start."""

from dataclasses import dataclass

import numpy as np

from horismos.paths import Contour, flatten
from horismos.paths.contour import Floats
from horismos.paths.turns import node_turns

__all__ = ["DEFAULT_CUT_MM", "DEFAULT_TIE_MM", "Pattern", "pattern_along"]

DEFAULT_CUT_MM, DEFAULT_TIE_MM = 4.0, 0.5
"""[ours] cut and tie of a perforation where nobody says otherwise."""
CORNER_DEGREES = 20.0
"""[ours] a node where the line turns more is a corner: a tie there tears."""
PHASES = 48
CLEAR = 0.5
"""[ours] of the tie's length, to either side, that it stays away from a corner or the start."""


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

    At least ``least_ties`` ties, by shorter cuts. Ties stay off corners and the start, as far as there is room.

    >>> from horismos.paths import rectangle
    >>> made = pattern_along(rectangle(0, 0, 30, 30), 4, 0.5)
    >>> made.cuts, made.ties, round(made.cut_mm + made.tie_mm, 3)
    (27, 27, 4.444)
    """
    line = flatten(contour, 0.01)
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
    places = _corners(contour, line, along, total)
    shift = _best_shift(places, pitch, tie)
    middles = (shift + np.arange(count) * pitch) % total
    middles = np.sort(_moved_off(np.asarray(middles, np.float64), places, total, pitch, tie))
    starts = middles + tie / 2
    ends = np.append(middles[1:], middles[0] + total) - tie / 2
    return Pattern(np.column_stack([starts, ends]), total, pitch - tie, tie, True, scored)


def _corners(contour: Contour, line: Floats, along: Floats, total: float) -> Floats:
    """Where along a closed line a tie should not be: its start and its corners."""
    at, turn = node_turns(contour)
    corners = at[np.abs(turn) > CORNER_DEGREES]
    found = [float(along[np.hypot(*(line - corner).T).argmin()]) for corner in corners]
    return np.unique(np.round(np.mod([0.0, *found], total), 6))


def _clearance(middles: Floats, places: Floats, period: float) -> Floats:
    """How far each place of a tie's middle is from the nearest of some places, going round."""
    apart = np.abs(middles[:, None] - places[None, :]) % period
    nearest: Floats = np.minimum(apart, period - apart).min(axis=1)
    return nearest


def _best_shift(places: Floats, pitch: float, tie: float) -> float:
    """Where the first tie's middle stands best: where most ties are clear, and the nearest is furthest."""
    shifts = np.arange(PHASES) * pitch / PHASES
    apart = np.abs(shifts[:, None] - np.mod(places, pitch)[None, :])
    apart = np.minimum(apart, pitch - apart)
    bad = (apart < tie * (0.5 + CLEAR)).sum(axis=1)
    return float(shifts[np.lexsort((-apart.min(axis=1), bad))[0]])


def _moved_off(middles: Floats, places: Floats, total: float, pitch: float, tie: float) -> Floats:
    """The same with those ties that still lie on a corner moved aside, by less than half a repeat."""
    out = middles.copy()
    want = tie * (0.5 + CLEAR)
    for i in np.flatnonzero(_clearance(middles, places, total) < want):
        room = max((pitch - tie) / 2 * 0.8, 0.0)
        tries = np.linspace(-room, room, 33)
        clear = _clearance((middles[i] + tries) % total, places, total)
        good = np.flatnonzero(clear >= want)
        best = good[np.abs(tries[good]).argmin()] if len(good) else clear.argmax()
        out[i] = (middles[i] + tries[best]) % total
    return out
