"""Curves through dense points: as few cubic segments as a tolerance allows, true corners kept.

All runs between corners are worked on at once, so that it takes a few passes over all points whether there are ten
segments or ten thousand. A run is split while one cubic does not come near enough to it; then two neighbours become
one, and three become two, wherever that holds. A cubic is fitted by least squares with the directions at its ends
given, and its parameters brought nearer by Newton's method (P. J. Schneider, An algorithm for automatically fitting
digitized curves, Graphics Gems, 1990).
"""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from horismos.paths.contour import Contour, Floats, contour_from_points, straight_segments
from horismos.paths.corners import LEAST_REACH_MM, REACH, corner_places
from horismos.paths.cubics import CurveFitter
from horismos.paths.flatten import chord_steps, flatten, parted

__all__ = ["crossing_chords", "dense", "fit", "fit_loops", "fit_points", "fit_simple", "one_cubic", "reach_of"]

MOST_POINTS = 2_000
"""[ours] that a polyline is filled up to."""
SHARE = 0.95
"""[ours] of the tolerance for the fit itself; the rest is for points between those that are measured."""
LOOKED = 0.85
"""[ours] of the tolerance, while it is looked for; meeting in one direction takes some more."""
STRAIGHT = 0.25
"""[ours] of the tolerance: what leaves its chord by less is straight."""
MOST_HALVED = 4
CLOSER = (0.4, 0.15)
MOST_SHORT = 3
THOROUGH = 30_000
MANY = 150
"""[ours] points, and segments, up to which it pays to look for fewer segments still."""
TRIES = np.array([0.3, 0.5, 0.7])


def fit(contour: Contour, tolerance_mm: float) -> Contour:
    """A contour of fewer segments, nowhere further from the given one than the tolerance.

    >>> angle = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    >>> from horismos.paths import contour_from_points
    >>> fit(contour_from_points(20 * np.column_stack([np.cos(angle), np.sin(angle)]), True), 0.05).node_count <= 12
    True
    """
    return fit_points(flatten(contour, tolerance_mm / 10), contour.loops, contour.closed, tolerance_mm)


def fit_points(points: Floats, loops: bool, closed: bool, tolerance_mm: float) -> Contour:
    """The same for a polyline, shape (n, 2), whose last point is the first one where it loops.

    The points may be noisy: corners are looked for a little way off.
    """
    points = _apart(points)
    if len(points) < 3:
        segments = straight_segments(points)
        return Contour(segments, np.ones(len(segments), bool), closed)
    points = dense(points, tolerance_mm)
    corners = [corner_places(points, loops, tolerance_mm)]
    return fit_loops([points], corners, loops, closed, tolerance_mm, reach_of(tolerance_mm))[0]


def one_cubic(points: Floats, leaves: Floats, comes: Floats) -> Floats:
    """The cubic through the ends of a polyline, shape (n, 2), that comes nearest to it, shape (4, 2).

    ``leaves`` and ``comes`` are its directions at the first and at the last point, both into it.

    >>> quarter = np.linspace(0, np.pi / 2, 40)
    >>> arc = np.column_stack([np.cos(quarter), np.sin(quarter)])
    >>> one_cubic(arc, np.array([0.0, 1.0]), np.array([1.0, 0.0])).round(2).tolist()
    [[1.0, 0.0], [1.0, 0.55], [0.55, 1.0], [0.0, 1.0]]
    """
    return CurveFitter([points], np.zeros(1, bool), LEAST_REACH_MM).held(leaves, comes)


def reach_of(tolerance_mm: float) -> float:
    """The way over which a direction is measured on points that may be noisy, in mm."""
    return max(REACH * tolerance_mm, LEAST_REACH_MM)


def fit_loops(
    polylines: Sequence[Floats], corners: Sequence[NDArray[np.int64]], loops: bool, closed: bool, tolerance: float,
    reach: float, flat: float = 0.0,
) -> list[Contour]:
    """Curves through many polylines at once, each with the numbers of the points that are its corners.

    ``reach`` is the way over which a direction is measured: none of it is looked at across a corner. What leaves its
    chord by no more than ``flat`` is straight. All three are in the unit of the points, which may be pixels.
    """
    if not polylines:
        return []
    runs: list[Floats] = []
    counts: list[int] = []
    for points, places in zip(polylines, corners, strict=True):
        if loops:
            # a loop without corners begins anywhere and is seamless there
            first = int(places[0]) if len(places) else 0
            points = np.concatenate([points[first:-1], points[: first + 1]])
            ends = np.append(places - first, len(points) - 1) if len(places) else np.array([0, len(points) - 1])
        else:
            ends = np.unique(np.concatenate([[0], places, [len(points) - 1]]))
        runs += [points[a : b + 1] for a, b in zip(ends[:-1], ends[1:], strict=True)]
        counts.append(len(ends) - 1)
    seamless = np.concatenate([
        [loops and not len(places)] + [False] * (count - 1) for places, count in zip(corners, counts, strict=True)
    ]).astype(bool)
    segments, straight, run = _fitted(CurveFitter(runs, seamless, reach), tolerance, flat or STRAIGHT * tolerance)
    cuts = np.searchsorted(run, np.cumsum(counts))
    return [
        Contour(made, bent, closed)
        for made, bent in zip(np.split(segments, cuts)[:-1], np.split(straight, cuts)[:-1], strict=True)
    ]


def fit_simple(
    polylines: Sequence[Floats], corners: Sequence[NDArray[np.int64]], tolerance: float, reach: float, flat: float = 0.0
) -> list[Contour]:
    """The same for closed polylines that cross themselves nowhere: neither do the curves.

    Where a thin part lets them, those that cross are fitted more closely; at last they go by straight pieces.
    """
    made = fit_loops(polylines, corners, True, True, tolerance, reach, flat)
    for i, contour in enumerate(made):
        for share in (*CLOSER, 0.0, 0.0):
            tangled = _tangled(contour, tolerance)
            if not len(tangled):
                break
            contour = _closer(contour, tangled, polylines[i], tolerance, share, reach)
        else:
            if len(_tangled(contour, tolerance)):
                plain = shapely.simplify(shapely.LinearRing(polylines[i]), tolerance / 2)
                contour = contour_from_points(np.asarray(plain.coords), True)
        made[i] = contour
    return made


def _tangled(contour: Contour, tolerance: float) -> NDArray[np.int64]:
    """The segments of a contour that cross others, or themselves, by number."""
    steps = chord_steps(contour.segments, contour.straight, tolerance / 4)
    own = np.repeat(np.arange(len(steps)), steps)
    ring = flatten(contour, tolerance / 4)
    if len(ring) < 4 or len(own) != len(ring) - 1:
        return np.arange(len(steps)) if len(ring) < 4 else np.empty(0, np.int64)
    return np.unique(own[crossing_chords(ring)])


def crossing_chords(ring: Floats) -> NDArray[np.int64]:
    """The chords of a closed polyline, shape (n, 2), that cross others, by number; none where it is simple."""
    if shapely.is_simple(shapely.linestrings(ring)):
        return np.empty(0, np.int64)
    chords = shapely.linestrings(np.stack([ring[:-1], ring[1:]], axis=1))
    one, other = shapely.STRtree(chords).query(chords, predicate="intersects")
    apart = (other - one) % len(chords)
    return np.unique(one[(apart > 1) & (apart < len(chords) - 1)])


def _closer(
    contour: Contour, which: NDArray[np.int64], points: Floats, tolerance: float, share: float, reach: float
) -> Contour:
    """A contour with some of its segments drawn anew along the points between their ends: closer, or straight."""
    place = {tuple(point): i for i, point in enumerate(points[:-1].tolist())}
    size = len(points) - 1
    segments, straight = list(contour.segments[:, None]), [flag[None] for flag in contour.straight]
    for number in which.tolist():
        begin, end = (place.get(tuple(contour.segments[number, k].tolist())) for k in (0, 3))
        if begin is None or end is None:
            continue
        between = points[np.arange(begin, begin + ((end - begin) % size or size) + 1) % size]
        if share and len(between) > MOST_SHORT:
            none = [np.empty(0, np.int64)]
            new = fit_loops([between], none, False, False, tolerance * share, reach * share)[0]
            segments[number], straight[number] = new.segments, new.straight
        else:
            plain = np.asarray(shapely.simplify(shapely.linestrings(between), tolerance / 4).coords)
            segments[number] = straight_segments(plain)
            straight[number] = np.ones(len(plain) - 1, bool)
    return Contour(np.concatenate(segments), np.concatenate(straight), contour.closed)


def _fitted(points: CurveFitter, tolerance: float, flat: float) -> tuple[Floats, NDArray[np.bool_], NDArray[np.int64]]:
    """Segments, whether each is straight, and the run that it belongs to, in their order."""
    near, within = tolerance * LOOKED, tolerance * SHARE
    places = points.split(near, flat)
    places = points.merged(places, near, flat)
    if points.count <= THOROUGH and len(places.low) <= MANY:
        for turned in (False, True):
            if turned:
                points, places = points.turned(places)
            for _ in range(4):
                fewer = points.merged(points.rearranged(places, near, flat, TRIES), near, flat)
                if len(fewer.low) == len(places.low):
                    break
                places = fewer
    found, run = points.drawn(places, within, flat)
    for _ in range(MOST_HALVED if points.count <= THOROUGH else 2):
        off = np.maximum(found.off, points.bulges(places, found.segments))
        far = (off > tolerance) & (places.high - places.low > 3)
        if not far.any():
            break
        places = points.halved(places, far)
        found, run = points.drawn(places, within, flat)
    return found.segments, found.straight, run


def dense(points: Floats, tolerance_mm: float) -> Floats:
    """The polyline with points along its long chords too: a curve is held only where there are points."""
    long = np.hypot(*np.diff(points, axis=0).T)
    steps = np.ceil(long / max(5 * tolerance_mm, 0.1, long.sum() / MOST_POINTS)).astype(np.int64)
    return parted(points, steps)


def _apart(points: Floats) -> Floats:
    kept: Floats = points[np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > 1e-9])]
    return kept
