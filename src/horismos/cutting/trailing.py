"""Where the tip of a drag blade goes when its holder is drawn along: the motion itself, step by step.

It knows nothing of how holders' paths are made; they are proved by it.
"""

from collections.abc import Sequence

import numpy as np

from horismos.paths.contour import Floats

__all__ = ["trailed", "trailed_all"]

SEEN_AT = np.array([0.15, 0.35, 0.6, 1.0, 1.6, 2.5, 4.0, 7.0])
"""[ours] after so many offsets the tip is looked at along a straight stretch, and at its end."""
LYING = 0.03
"""[ours] radians: a blade that is bent less from its way lies in it, and its end alone is looked at."""
AT_ONCE, LAST = 400, 60
"""Strokes that are followed side by side."""
BACKWARDS = np.pi - 1e-6
"""A blade that is pushed straight backwards tips over to either side."""


def trailed(holder: Floats, offset_mm: float, towards: Floats | None = None) -> Floats:
    """The tip's path, shape (m, 2), behind a holder that is drawn along a polyline, shape (n, 2).

    The tip moves only towards the holder, whose distance it keeps: along a straight stretch the angle between both
    shrinks as tan(a/2) = tan(a0/2) exp(-s / offset), which is exact. ``towards`` is where the blade points at first,
    a unit vector; None: the way that the holder goes.

    >>> trailed(np.array([[0.5, 0.0], [10.5, 0.0]]), 0.5)[-1].round(6).tolist()
    [10.0, 0.0]
    """
    begin = None if towards is None else np.array([np.arctan2(towards[1], towards[0])])
    return _followed([holder], offset_mm, begin)[0]


def trailed_all(holders: Sequence[Floats], offset_mm: float, towards: Floats) -> list[Floats]:
    """The tips' paths of strokes one behind the other: in the air a blade keeps the direction that it had.

    How it lies behind a stroke hardly depends on how it began it; so all are followed side by side, then once more from
    where each begins by that. The first begins with the blade ``towards``, a unit vector.
    """
    ends = [_last_part(holder, offset_mm) for holder in holders]
    tips = _side_by_side(ends, offset_mm, None)
    lies = np.array([np.subtract(h[-1], t[-1]) for h, t in zip(holders, tips, strict=True)])
    angles = np.roll(np.arctan2(lies[:, 1], lies[:, 0]), 1)
    angles[0] = np.arctan2(towards[1], towards[0])
    return _side_by_side(holders, offset_mm, angles)


def _last_part(holder: Floats, offset_mm: float) -> Floats:
    """As much of the end of a path as tells how the blade lies behind it."""
    end = holder[-LAST:]
    return end if np.hypot(*np.diff(end, axis=0).T).sum() > SEEN_AT[-1] * offset_mm else holder


def _side_by_side(holders: Sequence[Floats], offset_mm: float, begin: Floats | None) -> list[Floats]:
    out: list[Floats] = [np.empty((0, 2))] * len(holders)
    by_size = sorted(range(len(holders)), key=lambda i: len(holders[i]))
    for k in range(0, len(by_size), AT_ONCE):
        part = by_size[k : k + AT_ONCE]
        found = _followed([holders[i] for i in part], offset_mm, None if begin is None else begin[part])
        for i, tip in zip(part, found, strict=True):
            out[i] = tip
    return out


def _followed(holders: Sequence[Floats], offset: float, begin: Floats | None) -> list[Floats]:
    most = max(len(holder) for holder in holders)
    padded = np.stack([np.vstack([h, np.repeat(h[-1:], most - len(h), axis=0)]) for h in holders])
    chords = np.diff(padded, axis=1)
    long = np.hypot(chords[..., 0], chords[..., 1])
    going = np.arctan2(chords[..., 1], chords[..., 0])
    moves = long > 0
    first = going[np.arange(len(holders)), moves.argmax(axis=1)] if moves.shape[1] else np.zeros(len(holders))
    angle = start = first if begin is None else begin
    angles = np.empty((len(holders), most - 1, len(SEEN_AT) + 1))
    bent = np.empty((len(holders), most - 1))
    gone = np.minimum(np.append(SEEN_AT * offset, np.inf), long[..., None])
    for i in range(most - 1):
        apart = np.clip((angle - going[:, i] + np.pi) % (2 * np.pi) - np.pi, -BACKWARDS, BACKWARDS)
        bent[:, i] = apart
        half = np.tan(apart / 2)[:, None] * np.exp(-gone[:, i] / offset)
        angles[:, i] = np.where(moves[:, i, None], going[:, i, None] + 2 * np.arctan(half), angle[:, None])
        angle = angles[:, i, -1]
    way = np.stack([np.cos(going), np.sin(going)], axis=-1)
    at = padded[:, :-1, None] + gone[..., None] * way[:, :, None]
    tips = at - offset * np.stack([np.cos(angles), np.sin(angles)], axis=-1)
    # places beyond the end of a short stretch fall together there: they are left out
    new = np.diff(np.concatenate([np.zeros((*gone.shape[:2], 1)), gone], axis=2), axis=2) > 0
    new[..., :-1] &= (np.abs(bent) > LYING)[..., None]
    new[..., -1] |= moves
    begins = padded[:, 0] - offset * np.stack([np.cos(start), np.sin(start)], axis=-1)
    return [np.vstack([begins[k][None], tips[k][new[k]]]) for k in range(len(holders))]
