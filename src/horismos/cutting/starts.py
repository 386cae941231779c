"""Where the cut of a contour may begin: away from its corners, a few places to choose from."""

from dataclasses import dataclass

import numpy as np

from horismos.paths.contour import CLOSED_WITHIN_MM, Floats

__all__ = ["MOST", "Starts", "starts_of"]

SHARP = np.cos(np.radians(20.0))
"""[ours] where a line turns more, no cut begins: the knot of beginning and end would show and tear."""
CLEAR_MM = 2.0
"""[ours] so far from a corner is far enough."""
LONG_MM, SHARES = 4.0, np.array([0.25, 0.5, 0.75])
"""[ours] on a chord as long as that a cut may begin here too; on shorter ones at their ends."""
MOST = 12
"""[ours] places a contour; more make the way hardly shorter."""
LEAST_MM = 1e-9


@dataclass(frozen=True, eq=False)
class Starts:
    """Places where the cut along a polyline may begin, and where it ends then: both shape (k, 2), in mm.

    A looping one ends where it begins, ``at`` so many mm along it; an open one at its other end.
    """

    line: Floats
    begins: Floats
    ends: Floats
    at: Floats | None = None

    def begun(self, which: int) -> Floats:
        """The polyline begun at one of them."""
        if self.at is None:
            return self.line[::-1] if which else self.line
        along = np.concatenate([ZERO, np.hypot(*np.diff(self.line, axis=0).T).cumsum()])
        place = float(self.at[which])
        behind, before = along > place + LEAST_MM, along < place - LEAST_MM
        before[0] = False
        begin = self.begins[which : which + 1]
        return np.concatenate([begin, self.line[behind], self.line[before], begin])


def starts_of(line: Floats) -> Starts:
    """Where the cut of a polyline may begin: in the middle of what lies between its corners, or at either open end."""
    if np.hypot(*(line[-1] - line[0])) > CLOSED_WITHIN_MM:
        ends = np.stack([line[0], line[-1]])
        return Starts(line, ends, ends[::-1])
    chords = line[1:] - line[:-1]
    long = np.hypot(chords[:, 0], chords[:, 1])
    along = np.concatenate([ZERO, long.cumsum()])
    total = float(along[-1])
    behind = np.concatenate([chords[-1:], chords[:-1]])
    straight = (behind * chords).sum(axis=1) >= SHARP * long * np.concatenate([long[-1:], long[:-1]])
    on_chords = np.flatnonzero(long >= LONG_MM) if long.max() >= LONG_MM else NONE
    inner = (along[on_chords, None] + long[on_chords, None] * SHARES).ravel()
    if straight.all():
        places = np.concatenate([along[:-1], inner])
    else:
        places = np.concatenate([along[:-1][straight], inner, (along[:-1] + long / 2) if not len(inner) else ZERO[:0]])
        corners = along[:-1][~straight]
        corners = np.concatenate([corners[-1:] - total, corners, corners[:1] + total])
        k = corners.searchsorted(places)
        clear = np.minimum(np.minimum(places - corners[k - 1], corners[k] - places), CLEAR_MM)
        places = places[clear >= 0.7 * clear.max()]
    places.sort()
    if len(places) > MOST:
        places = places[np.linspace(0, len(places) - 1, MOST).astype(int)]
    at = np.column_stack([np.interp(places, along, line[:, axis]) for axis in (0, 1)])
    return Starts(line, at, at, places)


ZERO, NONE = np.zeros(1), np.zeros(0, np.intp)
