"""How contours turn: corners, the tightest radii, needless nodes, the zigzag that tracing leaves."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from horismos.paths.contour import Contour, Floats, cached

__all__ = [
    "Corner",
    "Nodes",
    "all_tight_turns",
    "corners",
    "node_directions",
    "node_turns",
    "nodes",
    "tangents",
    "tight_turns",
]

SAMPLES = 9
FINE_SAMPLES = 65
LEAST_TURN = 20.0
"""[ours] degrees: a bend that turns less is no turn, whatever its radius."""
LEAST_CHORDS = 3
"""So many chords at least stand for a bend."""
POLYLINE_TURN = 60.0
"""[ours] degrees: chords that turn more from each other make a corner, not a flattened bend."""
ZIGZAG_TURN = 15.0
"""[ours] degrees at a node, from where on it counts as a tooth."""
ZIGZAG_SEGMENT_MM = 1.0
"""[ours] teeth of tracing are short; longer segments were drawn."""
WINDOW_MM = 5.0
"""[ours] the stretch of a contour over which turning is averaged."""


@dataclass(frozen=True)
class Corner:
    """A turn at a place in mm: its radius in mm (0 for a corner) and by how many degrees the line turns."""

    at: tuple[float, float]
    radius_mm: float
    degrees: float

    @property
    def inner_angle(self) -> float:
        """The angle between the two sides in degrees: 180 straight on, 0 right back."""
        return 180.0 - self.degrees


@dataclass(frozen=True)
class Nodes:
    """Nodes of a contour: how many, per mm, how many segments are tiny, and the worst zigzag in degrees/mm."""

    count: int
    per_mm: float
    tiny: int
    zigzag: float
    at: tuple[float, float]


def tangents(segments: Floats, end: bool) -> Floats:
    """Unit tangents at the start or end of segments; where controls coincide, towards the next one."""
    p = segments[:, ::-1] if end else segments
    out = np.zeros((len(p), 2))
    for other in (1, 2, 3):
        step = p[:, other] - p[:, 0]
        long = np.hypot(*step.T)
        use = (np.hypot(*out.T) == 0) & (long > 1e-9)
        out[use] = step[use] / long[use, None]
    return -out if end else out


def node_turns(contour: Contour) -> tuple[Floats, Floats]:
    """The nodes where two segments meet, shape (n, 2), and how far the line turns there in signed degrees.

    Segments of no length are passed over. The first node of a looping contour is among them.
    """
    at, turn, _ = node_directions(contour)
    return at, turn


@cached
def node_directions(contour: Contour) -> tuple[Floats, Floats, Floats]:
    """The same, with the directions in which the line comes to each node, shape (n, 2)."""
    p = contour.segments
    p = p[np.abs(p - p[:, :1]).max(axis=(1, 2)) > 1e-9]
    if len(p) < 2 and not (len(p) and contour.loops):
        return np.empty((0, 2)), np.empty(0), np.empty((0, 2))
    comes, goes = tangents(p, end=True), np.roll(tangents(p, end=False), -1, axis=0)
    at = p[:, 3]
    if not contour.loops:
        comes, goes, at = comes[:-1], goes[:-1], at[:-1]
    return at, turned(comes, goes), comes


def turned(comes: Floats, goes: Floats) -> Floats:
    """By how many signed degrees directions, shape (n, 2), turn into others."""
    found: Floats = np.degrees(
        np.arctan2(comes[:, 0] * goes[:, 1] - comes[:, 1] * goes[:, 0], (comes * goes).sum(axis=1))
    )
    return found


def corners(contour: Contour, least_degrees: float) -> list[Corner]:
    """Nodes where the line turns at once by more than so many degrees, sharpest first.

    >>> from horismos.paths import rectangle
    >>> [round(corner.degrees) for corner in corners(rectangle(0, 0, 1, 1), 60)]
    [90, 90, 90, 90]
    """
    at, turn = node_turns(contour)
    found = np.flatnonzero(np.abs(turn) > least_degrees)
    found = found[np.argsort(-np.abs(turn[found]), kind="stable")]
    return [Corner((float(at[i, 0]), float(at[i, 1])), 0.0, float(abs(turn[i]))) for i in found]


def tight_turns(contour: Contour, radius_mm: float) -> list[Corner]:
    """Bends with a radius below ``radius_mm`` that turn by LEAST_TURN or more, tightest first.

    On curves by their curvature; on polylines that stand for a bend, by the circle that their chords
    go round. Corners are not among them.
    """
    found = _on_curves(contour, radius_mm) + _on_polyline(contour, radius_mm)
    return sorted(found, key=lambda turn: turn.radius_mm)


def all_tight_turns(contours: Sequence[Contour], radius_mm: float) -> list[Corner]:
    """The tight turns of many contours, tightest first; only those are looked at one by one that may have some."""
    if not contours:
        return []
    segments = np.concatenate([c.segments for c in contours])
    straight = np.concatenate([c.straight for c in contours])
    owner = np.repeat(np.arange(len(contours)), [len(c.segments) for c in contours])
    curved = np.flatnonzero(~straight)
    _, bend, _ = _curvature(segments[curved], np.linspace(0, 1, SAMPLES))
    may = np.bincount(owner[straight], minlength=len(contours)) >= LEAST_CHORDS
    may[owner[curved[np.abs(bend).max(axis=1) > 0.5 / radius_mm]]] = True
    found = [turn for i in np.flatnonzero(may).tolist() for turn in tight_turns(contours[i], radius_mm)]
    return sorted(found, key=lambda turn: turn.radius_mm)


def _curvature(segments: Floats, t: Floats) -> tuple[Floats, Floats, Floats]:
    """Points (n, k, 2), signed curvature in 1/mm and speed, both (n, k), of segments at parameters (k,)."""
    s, u = 1 - t[:, None], t[:, None]
    p = segments[:, None]
    d, dd = 3 * np.diff(segments, axis=1)[:, None], 6 * np.diff(segments, n=2, axis=1)[:, None]
    point = s**3 * p[..., 0, :] + 3 * s * s * u * p[..., 1, :] + 3 * s * u * u * p[..., 2, :] + u**3 * p[..., 3, :]
    first = s * s * d[..., 0, :] + 2 * s * u * d[..., 1, :] + u * u * d[..., 2, :]
    second = s * dd[..., 0, :] + u * dd[..., 1, :]
    speed = np.hypot(first[..., 0], first[..., 1])
    cross = first[..., 0] * second[..., 1] - first[..., 1] * second[..., 0]
    return point, cross / np.maximum(speed, 1e-9) ** 3, speed


def _on_curves(contour: Contour, radius_mm: float) -> list[Corner]:
    index = np.flatnonzero(~contour.straight)
    if not len(index):
        return []
    _, bend, _ = _curvature(contour.segments[index], np.linspace(0, 1, SAMPLES))
    index = index[np.abs(bend).max(axis=1) > 0.5 / radius_mm]
    if not len(index):
        return []
    t = np.linspace(0, 1, FINE_SAMPLES)
    point, bend, speed = _curvature(contour.segments[index], t)
    tight = np.abs(bend) > (1 / radius_mm) * (1 + 1e-6)
    turned = np.degrees(np.abs(bend) * speed * tight) / (FINE_SAMPLES - 1)
    turned[:, (0, -1)] /= 2
    # A bend may run over several segments: those that follow each other are taken together.
    out = []
    touched = tight.any(axis=1)
    for run in _runs(index[touched]):
        of = np.searchsorted(index, run)
        degrees = float(turned[of].sum())
        if degrees < LEAST_TURN:
            continue
        flat = np.where(tight[of], np.abs(bend[of]), 0)
        i, j = np.unravel_index(int(flat.argmax()), flat.shape)
        x, y = point[of[i], j]
        out.append(Corner((float(x), float(y)), float(1 / flat[i, j]), degrees))
    return out


def _runs(index: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """Neighbouring numbers together."""
    return np.split(index, np.flatnonzero(np.diff(index) > 1) + 1) if len(index) else []


def _on_polyline(contour: Contour, radius_mm: float) -> list[Corner]:
    p = contour.segments
    if int(contour.straight.sum()) < LEAST_CHORDS:
        return []
    long = np.hypot(*(p[:, 3] - p[:, 0]).T)
    there = long > 1e-9
    p, long, straight = p[there], long[there], contour.straight[there]
    ahead = np.roll(long, -1)
    chord = p[:, 3] - p[:, 0]
    after = np.roll(chord, -1, axis=0)
    turn = np.arctan2(chord[:, 0] * after[:, 1] - chord[:, 1] * after[:, 0], (chord * after).sum(axis=1))
    half = np.tan(np.clip(np.abs(turn), 1e-9, np.pi - 1e-6) / 2)
    radius = np.maximum(long, ahead) / (2 * half)
    bends = straight & np.roll(straight, -1) & (radius < radius_mm) & (np.abs(turn) < np.radians(POLYLINE_TURN))
    if not contour.loops:
        bends[-1] = False
    out = []
    for run in _runs(np.flatnonzero(bends)):
        degrees = float(np.degrees(np.abs(turn[run]).sum()))
        if degrees >= LEAST_TURN and len(run) > 1:
            tightest = run[int(radius[run].argmin())]
            x, y = p[tightest, 3]
            out.append(Corner((float(x), float(y)), float(radius[tightest]), degrees))
    return out


def nodes(contour: Contour, length_mm: float, tiny_mm: float) -> Nodes:
    """Count the nodes of a contour against its length, its tiny segments, and look for zigzag.

    Zigzag is the turning that takes itself back: over WINDOW_MM, all turning at teeth less what is left of
    it in the end, in degrees per mm. A tooth is a node between short segments that turns by ZIGZAG_TURN or
    more and against the one before.
    """
    p = contour.segments
    long = np.hypot(*(p[:, 3] - p[:, 0]).T)
    tiny = (long < tiny_mm) & contour.straight & (long > 0)
    count = contour.node_count
    at, turn = node_turns(contour)
    worst, where = 0.0, (float(p[0, 0, 0]), float(p[0, 0, 1]))
    if len(turn) > 4:
        there = np.abs(p - p[:, :1]).max(axis=(1, 2)) > 1e-9
        along = np.cumsum(long[there])[: len(turn)]
        before = long[there][: len(turn)]
        behind = np.roll(long[there], -1)[: len(turn)]
        tooth = (np.abs(turn) > ZIGZAG_TURN) & (np.maximum(before, behind) < ZIGZAG_SEGMENT_MM)
        against = tooth & ((np.sign(turn) != np.sign(np.roll(turn, 1))) | (np.sign(turn) != np.sign(np.roll(turn, -1))))
        signed = np.where(against, turn, 0.0)
        total, net = np.concatenate([[0], np.cumsum(np.abs(signed))]), np.concatenate([[0], np.cumsum(signed)])
        hi = np.searchsorted(along, along + WINDOW_MM, side="right")
        lo = np.arange(len(along))
        excess = (total[hi] - total[lo]) - np.abs(net[hi] - net[lo])
        worst_at = int(excess.argmax())
        worst = float(excess[worst_at]) / min(WINDOW_MM, max(length_mm, 1.0))
        middle = at[(worst_at + int(hi[worst_at]) - 1) // 2]
        where = (float(middle[0]), float(middle[1]))
    return Nodes(count, count / max(length_mm, 1e-9), int(tiny.sum()), worst, where)
