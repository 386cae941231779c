"""What a blade needs: the path of the holder, so that the tip of a drag blade cuts the line; lifts of a turned one."""

import numpy as np

from horismos.paths.contour import Floats

__all__ = ["holder_path", "led_in", "overcut", "parted_at_corners", "swing"]

ARC_OFF_MM = 0.001
"""[ours] how far a chord may lie from the arc on which the holder swings."""
SMALL_TURN = np.radians(4.0)
"""[ours] a smaller turn is no corner: the holder goes on in one step."""
LIFT_TURN = np.radians(12.0)
"""[ours] a blade that is turned is lifted where the line turns more."""
LEAD_MM, LEAD_OFF_MM = 2.0, 0.004
"""[ours] how long the first chord of a path may be at most, and how far the path may leave it."""
ALIKE_MM = 1e-7


def _directions(tip: Floats) -> tuple[Floats, Floats]:
    """The path without steps of no length, shape (n, 2), and the directions of its chords, shape (n - 1, 2)."""
    keep = np.concatenate([[True], np.hypot(*np.diff(tip, axis=0).T) > ALIKE_MM])
    tip = tip[keep]
    chords = np.diff(tip, axis=0)
    return tip, chords / np.hypot(*chords.T)[:, None]


def holder_path(tip: Floats, offset_mm: float) -> Floats:
    """Where the holder goes, shape (m, 2), for the tip to go along a path, shape (n, 2), ``offset_mm`` behind it.

    A blade that trails points where it is drawn: along a straight stretch the holder runs ahead of the tip by the
    offset; at a corner the tip stays, and the holder swings round it. [practice]

    >>> holder_path(np.array([[0.0, 0.0], [10.0, 0.0]]), 0.5).tolist()
    [[0.5, 0.0], [10.5, 0.0]]
    """
    tip, way = _directions(tip)
    if not len(way) or not offset_mm:
        return tip
    angle = np.arctan2(way[:, 1], way[:, 0])
    turn = (np.diff(angle) + np.pi) % (2 * np.pi) - np.pi
    steps = np.where(np.abs(turn) <= SMALL_TURN, 1, np.ceil(np.abs(turn) / _step(offset_mm)).astype(int) + 1)
    steps[:1] = np.maximum(steps[:1], 2)  # the first stretch goes just the way that the blade has to lie
    index = np.repeat(np.arange(len(turn)), steps)
    k = np.arange(len(index)) - np.repeat(np.cumsum(steps) - steps, steps)
    share = np.where(steps[index] > 1, k / np.maximum(steps[index] - 1, 1), 0.5)
    at = angle[index] + share * turn[index]
    swung = tip[1:-1][index] + offset_mm * np.stack([np.cos(at), np.sin(at)], axis=1)
    return np.concatenate([tip[:1] + offset_mm * way[:1], swung, tip[-1:] + offset_mm * way[-1:]])


def led_in(path: Floats) -> Floats:
    """A path whose first chord is as long as may be: how the blade lies at first is seen from it.

    Vertices are left out while none lies further from the chord than LEAD_OFF_MM.
    """
    last = 1
    while last + 1 < len(path) and float(np.hypot(*(path[last + 1] - path[0]))) <= LEAD_MM:
        way = path[last + 1] - path[0]
        inner = path[1 : last + 1] - path[0]
        off = np.abs(inner[:, 0] * way[1] - inner[:, 1] * way[0]) / max(float(np.hypot(*way)), 1e-12)
        if off.max() > LEAD_OFF_MM or (inner @ way).min() < 0:
            break
        last += 1
    return path if last == 1 else np.concatenate([path[:1], path[last:]])


def _step(offset_mm: float) -> float:
    """Through which angle the holder may swing in one straight step."""
    return float(2 * np.arccos(max(1 - ARC_OFF_MM / offset_mm, 0.0)))


def swing(holder: Floats, tip: Floats, towards: Floats, offset_mm: float) -> Floats:
    """The holder's path with a swing round the tip at its end, so that the blade points ``towards``, a unit vector.

    So it lies right for the next stroke before it is lifted: a blade that trails keeps its direction in the air.
    """
    have = (holder[-1] - tip[-1]) / offset_mm
    turn = float(np.arctan2(have[0] * towards[1] - have[1] * towards[0], have @ towards))
    count = int(np.ceil(abs(turn) / _step(offset_mm)))
    if not count:
        return holder
    at = np.arctan2(have[1], have[0]) + turn * np.arange(1, count + 1) / count
    return np.concatenate([holder, tip[-1] + offset_mm * np.stack([np.cos(at), np.sin(at)], axis=1)])


def overcut(ring: Floats, over_mm: float) -> Floats:
    """A closed polyline, shape (n, 2), that runs on over its own beginning, once round at most.

    >>> overcut(np.array([[0.0, 0.0], [4.0, 0.0], [4.0, 3.0], [0.0, 0.0]]), 1.0)[-1].tolist()
    [1.0, 0.0]
    """
    if over_mm <= 0:
        return ring
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(ring, axis=0).T))])
    over = min(over_mm, float(along[-1]))
    end = [float(np.interp(over, along, ring[:, axis])) for axis in (0, 1)]
    return np.concatenate([ring, ring[1:][along[1:] < over], [end]])


def parted_at_corners(path: Floats) -> list[Floats]:
    """A path in parts, between which a blade that is turned has to be lifted: where the line turns sharply."""
    path, way = _directions(path)
    if len(way) < 2:
        return [path]
    turn = np.arctan2(way[:-1, 0] * way[1:, 1] - way[:-1, 1] * way[1:, 0], (way[:-1] * way[1:]).sum(axis=1))
    at = [0, *(np.flatnonzero(np.abs(turn) > LIFT_TURN) + 1).tolist(), len(path) - 1]
    return [path[a : b + 1] for a, b in zip(at[:-1], at[1:], strict=True)]
