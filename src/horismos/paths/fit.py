"""Curves through dense points: as few cubic segments as a tolerance allows, true corners kept.

Each run between corners is fitted by least squares with the directions at its ends given, its parameters are
brought nearer by Newton's method, and it is split where it is furthest off, as long as it is too far off
(P. J. Schneider, An algorithm for automatically fitting digitized curves, Graphics Gems, 1990).
"""

import numpy as np
from numpy.typing import NDArray

from horismos.paths.contour import Contour, Floats, straight_segments
from horismos.paths.flatten import flatten, points_at

__all__ = ["corner_places", "fit", "fit_points"]

CORNER_DEGREES = 35.0
"""[ours] what turns more within a short way is a corner, and stays one."""
REACH = 6.0
"""[ours] that short way to either side, as so many tolerances; zigzag of tracing is smaller."""
LEAST_REACH_MM = 0.25
ROUNDS = 4
MOST_POINTS = 20_000
"""[ours] that a polyline is filled up to."""
SHARE = 0.95
"""[ours] of the tolerance for the fit itself; the rest is for points between those that are measured."""


def fit(contour: Contour, tolerance_mm: float) -> Contour:
    """A contour of fewer segments, nowhere further from the given one than the tolerance.

    >>> angle = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    >>> from horismos.paths import contour_from_points
    >>> fit(contour_from_points(20 * np.column_stack([np.cos(angle), np.sin(angle)]), True), 0.05).node_count <= 12
    True
    """
    return fit_points(flatten(contour, tolerance_mm / 10), contour.loops, contour.closed, tolerance_mm)


def fit_points(points: Floats, loops: bool, closed: bool, tolerance_mm: float) -> Contour:
    """The same for a polyline, shape (n, 2), whose last point is the first one where it loops."""
    points = points[np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > 1e-9])]
    if len(points) < 3:
        segments = straight_segments(points)
        return Contour(segments, np.ones(len(segments), bool), closed)
    points = _dense(points, tolerance_mm)
    places = corner_places(points, loops, tolerance_mm)
    if loops and not len(places):
        # No corner to begin at: the end meets the beginning in one direction.
        turned = np.roll(points[:-1], len(points) // 2, axis=0)
        around = _direction(turned, len(points) // 2, tolerance_mm)
        pieces = _runs(points, around, -around, tolerance_mm)
    else:
        if loops:
            points = np.concatenate([points[places[0] : -1], points[: places[0] + 1]])
            places = np.append(places - places[0], len(points) - 1)
        else:
            places = np.unique(np.concatenate([[0], places, [len(points) - 1]]))
        pieces = [
            piece for a, b in zip(places[:-1], places[1:], strict=True)
            for piece in _runs(points[a : b + 1], None, None, tolerance_mm)
        ]
    segments = np.stack([piece for piece, _ in pieces])
    return Contour(segments, np.array([straight for _, straight in pieces]), closed)


def _dense(points: Floats, tolerance_mm: float) -> Floats:
    """The polyline with points along its long chords too: a curve is held only where there are points."""
    long = np.hypot(*np.diff(points, axis=0).T)
    steps = np.ceil(long / max(5 * tolerance_mm, 0.1, long.sum() / MOST_POINTS)).astype(np.int64)
    index = np.repeat(np.arange(len(steps)), steps)
    k = np.arange(len(index)) - np.repeat(np.cumsum(steps) - steps, steps)
    share = (k / steps[index])[:, None]
    return np.vstack([points[index] * (1 - share) + points[index + 1] * share, points[-1:]])


def corner_places(points: Floats, loops: bool, tolerance_mm: float) -> NDArray[np.int64]:
    """Where a polyline has corners, by the number of its point: turns that a little way off are there still."""
    reach = max(REACH * tolerance_mm, LEAST_REACH_MM)
    chords = np.diff(points, axis=0)
    long = np.hypot(*chords.T)
    at = np.concatenate([[0.0], np.cumsum(long)])
    total = at[-1]
    reach = min(reach, total / 8)
    own = points[:-1] if loops else points
    if loops:
        laps = np.concatenate([at[:-1] - total, at[:-1], at[:-1] + total, [2 * total]])
        rounds = np.concatenate([points[:-1], points[:-1], points[:-1], points[:1]])
    else:
        laps, rounds = at, points
    here = at[: len(own)]

    def placed(where: Floats) -> Floats:
        return np.column_stack([np.interp(where, laps, rounds[:, i]) for i in (0, 1)])

    before, after = own - placed(here - reach), placed(here + reach) - own
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    turn = np.degrees(np.abs(np.arctan2(cross, (before * after).sum(axis=1))))
    if not loops:
        turn[(here < reach) | (here > total - reach)] = 0.0
    cells = max(int(total / reach), 1)
    cell = np.minimum((here / reach).astype(np.int64), cells - 1)
    taken: dict[int, int] = {}
    for i in np.argsort(-turn, kind="stable")[: int((turn >= CORNER_DEGREES).sum())].tolist():
        own_cell = int(cell[i])
        near = (taken.get((own_cell + k) % cells if loops else own_cell + k) for k in (-2, -1, 0, 1, 2))
        apart = (abs(here[i] - here[j]) for j in near if j is not None)
        if all(min(d, total - d if loops else d) > reach for d in apart):
            taken[own_cell] = i
    return np.array(sorted(taken.values()), np.int64)


def _direction(run: Floats, at: int, tolerance_mm: float) -> Floats:
    """The direction in which a run goes at one of its points: of the parabola through those a little way off."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(run, axis=0).T))])
    reach = min(max(REACH * tolerance_mm, LEAST_REACH_MM), along[-1] / 4)
    lo, hi = np.searchsorted(along, [along[at] - reach, along[at] + reach], side="left")
    lo, hi = max(min(int(lo), at - 1), 0), min(max(int(hi), at + 1), len(run) - 1)
    way = along[lo : hi + 1] - along[at]
    table = np.column_stack([np.ones(len(way)), way, way * way])[:, : 3 if len(way) > 3 else 2]
    found, *_ = np.linalg.lstsq(table, run[lo : hi + 1], rcond=None)
    unit: Floats = found[1] / max(float(np.hypot(*found[1])), 1e-12)
    return unit


Piece = tuple[Floats, bool]


def _runs(points: Floats, leaves: Floats | None, comes: Floats | None, tolerance_mm: float) -> list[Piece]:
    """One run between corners as segments, each with whether it is straight.

    ``leaves`` and ``comes`` are the directions at its ends, both into the run; None: as the points say.
    """
    out: list[Piece] = []
    todo = [(points, leaves, comes)]
    while todo:
        run, first, last = todo.pop()
        if len(run) == 2 or _off_chord(run) <= tolerance_mm * 0.2:
            out.append((straight_segments(run[[0, -1]])[0], True))
            continue
        first = _direction(run, 0, tolerance_mm) if first is None else first
        last = -_direction(run, len(run) - 1, tolerance_mm) if last is None else last
        segment, off, worst = _fitted(run, first, last)
        if off <= tolerance_mm * SHARE or len(run) == 3:
            out.append((segment, False))
            continue
        split = min(max(worst, 1), len(run) - 2)
        through = _direction(run, split, tolerance_mm)
        todo += [(run[split:], through, last), (run[: split + 1], first, -through)]
    return out


def _off_chord(run: Floats) -> float:
    along = run[-1] - run[0]
    long = float(np.hypot(*along))
    if long < 1e-9:
        return float(np.hypot(*(run - run[0]).T).max())
    rel = run - run[0]
    way = rel @ along / long
    if way.min() < -1e-6 or way.max() > long + 1e-6:
        return float("inf")
    return float(np.abs(rel[:, 0] * along[1] - rel[:, 1] * along[0]).max() / long)


def _fitted(run: Floats, first: Floats, last: Floats) -> tuple[Floats, float, int]:
    """The cubic through a run's ends in given directions, how far it is off, and at which point most."""
    at = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(run, axis=0).T))])
    t = at / at[-1]
    best: tuple[Floats, float, int] | None = None
    for _ in range(ROUNDS):
        segment = _least_squares(run, t, first, last)
        apart = np.hypot(*(points_at(np.broadcast_to(segment, (len(t), 4, 2)), t) - run).T)
        worst = int(apart.argmax())
        if best is None or apart[worst] < best[1]:
            best = segment, float(apart[worst]), worst
        t = _nearer(segment, run, t)
    assert best is not None
    return best


def _least_squares(run: Floats, t: Floats, first: Floats, last: Floats) -> Floats:
    """The lengths of both handles for which the cubic comes nearest to the points."""
    p0, p3 = run[0], run[-1]
    s = 1 - t
    b1, b2 = 3 * s * s * t, 3 * s * t * t
    rest = run - np.outer(s**3 + b1, p0) - np.outer(b2 + t**3, p3)
    a1, a2 = np.outer(b1, first), np.outer(b2, last)
    c11, c12, c22 = (a1 * a1).sum(), (a1 * a2).sum(), (a2 * a2).sum()
    x1, x2 = (a1 * rest).sum(), (a2 * rest).sum()
    det = c11 * c22 - c12 * c12
    chord = float(np.hypot(*(p3 - p0)))
    way = float(np.hypot(*np.diff(run, axis=0).T).sum())
    one, other = ((x1 * c22 - x2 * c12) / det, (c11 * x2 - c12 * x1) / det) if abs(det) > 1e-12 else (0.0, 0.0)
    if not (1e-6 * way < one < 2 * way and 1e-6 * way < other < 2 * way):
        one = other = max(chord, way * 0.1) / 3
    out: Floats = np.stack([p0, p0 + one * first, p3 + other * last, p3])
    return out


def _nearer(segment: Floats, run: Floats, t: Floats) -> Floats:
    """Parameters at which the cubic is nearer to each point, by one step of Newton's method."""
    d1, d2 = 3 * np.diff(segment, axis=0), 6 * np.diff(segment, n=2, axis=0)
    s = 1 - t
    point = points_at(np.broadcast_to(segment, (len(t), 4, 2)), t)
    speed = np.outer(s * s, d1[0]) + np.outer(2 * s * t, d1[1]) + np.outer(t * t, d1[2])
    bend = np.outer(s, d2[0]) + np.outer(t, d2[1])
    off = point - run
    slope = (speed * speed).sum(axis=1) + (off * bend).sum(axis=1)
    step = np.where(np.abs(slope) > 1e-12, (off * speed).sum(axis=1) / np.where(slope == 0, 1, slope), 0.0)
    out = np.clip(t - step, 0.0, 1.0)
    out[0], out[-1] = 0.0, 1.0
    return np.maximum.accumulate(out)
