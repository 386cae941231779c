"""Where lines cross themselves or each other, and where they run twice."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from horismos.paths.box import Bounds
from horismos.paths.chords import Chords, Ints
from horismos.paths.contour import Floats
from horismos.paths.flatten import points_at

__all__ = ["DOUBLED_WITHIN_MM", "Crossing", "Stretch", "crossings", "doubled"]

DOUBLED_WITHIN_MM = 0.05
"""[ours] two lines nearer than this are one and the same to a blade."""
PARALLEL = 0.17
"""[ours] sine of about 10 degrees: chords that turn less from each other run along each other."""
BEND_MM = 0.5
"""[ours] chords of one contour nearer along it than this are neighbours; they double only by turning back."""
SHALLOW = 0.05
"""[ours] sine of about 3 degrees."""
SAME_MM = 0.003
"""Two crossings nearer than this are one that was found twice, at the end of a segment."""
TOUCH_MM = 1e-6
NEWTON_STEPS = 5
BEYOND = 0.01
"""How far beyond the end of a segment a crossing may be found: chords cross there a little beside the curves."""


@dataclass(frozen=True)
class Crossing:
    """Two contours (by their number) cross at a point in mm; the same number twice for one that crosses itself."""

    a: int
    b: int
    at: tuple[float, float]


@dataclass(frozen=True)
class Stretch:
    """A stretch of contour ``a`` that runs along contour ``b`` again; the box round it in mm."""

    a: int
    b: int
    length_mm: float
    box: Bounds


def doubled(chords: Chords, pairs: tuple[Ints, Ints], least_mm: float = 1.0) -> list[Stretch]:
    """The stretches longer than ``least_mm`` that lie within DOUBLED_WITHIN_MM of an earlier part of the lines.

    ``pairs`` are those of ``chords.pairs(DOUBLED_WITHIN_MM)`` or more. A stretch is given once.
    """
    a, b = _alongside(chords, pairs)
    s0, s1 = _overlap(chords, b, a)
    keep = s1 > s0
    a, b, s0, s1 = a[keep], b[keep], s0[keep], s1[keep]
    if not len(b):
        return []
    # Runs of touching stretches of the later line, wherever the earlier one lies.
    owner, other = chords.contour[b], chords.contour[a]
    begin, end = chords.at[b] + s0, chords.at[b] + s1
    order = np.lexsort((begin, other, owner))
    owner, other, of = owner[order], other[order], b[order]
    begin, end = begin[order], end[order]
    out: list[Stretch] = []
    groups = np.flatnonzero(np.diff(owner, prepend=-1) | np.diff(other, prepend=-1))
    for lo, hi in zip(groups, [*groups[1:], len(owner)], strict=True):
        reach = np.maximum.accumulate(end[lo:hi])
        breaks = np.flatnonzero(begin[lo + 1 : hi] > reach[:-1] + DOUBLED_WITHIN_MM) + 1
        for run in np.split(np.arange(lo, hi), breaks):
            long = float(end[run].max() - begin[run].min())
            if long > least_mm:
                ends = np.concatenate([chords.start[of[run]], chords.end[of[run]]])
                low, high = ends.min(axis=0), ends.max(axis=0)
                out.append(Stretch(int(owner[lo]), int(other[lo]), long, (*low.tolist(), *high.tolist())))
    return sorted(out, key=lambda stretch: -stretch.length_mm)


def _alongside(chords: Chords, pairs: tuple[Ints, Ints]) -> tuple[Ints, Ints]:
    """The pairs of chords that run along each other and are not neighbours on one contour."""
    a, b = pairs
    da, db = chords.direction[a], chords.direction[b]
    sine = np.abs(da[:, 0] * db[:, 1] - da[:, 1] * db[:, 0])
    a, b = a[sine < PARALLEL], b[sine < PARALLEL]
    back = (chords.direction[a] * chords.direction[b]).sum(axis=1) < 0
    keep = back | (chords.apart(a, b) > BEND_MM)
    return a[keep], b[keep]


def _overlap(chords: Chords, a: Ints, b: Ints) -> tuple[Floats, Floats]:
    """Which part of each chord ``a``, in mm from its start, lies within the distance of chord ``b``."""
    origin, along = chords.start[a], chords.direction[a]
    across = np.stack([-along[:, 1], along[:, 0]], axis=1)
    p, q = chords.start[b] - origin, chords.end[b] - origin
    s, e = (p * along).sum(axis=1), (q * along).sum(axis=1)
    h, g = (p * across).sum(axis=1), (q * across).sum(axis=1)
    turned = s > e
    s, e, h, g = np.where(turned, e, s), np.where(turned, s, e), np.where(turned, g, h), np.where(turned, h, g)
    slope = (g - h) / np.maximum(e - s, 1e-12)
    lo, hi = np.maximum(s, 0.0), np.minimum(e, chords.long[a])
    with np.errstate(divide="ignore", invalid="ignore"):
        one = s + (-DOUBLED_WITHIN_MM - h) / slope
        two = s + (DOUBLED_WITHIN_MM - h) / slope
    flat = np.abs(slope) < 1e-9
    inside = np.abs(h) <= DOUBLED_WITHIN_MM
    near = np.where(flat, np.where(inside, -np.inf, np.inf), np.minimum(one, two))
    far = np.where(flat, np.where(inside, np.inf, -np.inf), np.maximum(one, two))
    return np.maximum(lo, near), np.minimum(hi, far)


def crossings(chords: Chords, pairs: tuple[Ints, Ints], doubles: Sequence[Stretch] = ()) -> list[Crossing]:
    """Where the lines cross, found on the chords and brought to the curves by Newton's method.

    Lines that only touch do not cross. Where two lines lie on each other, in ``doubles``, they may run over
    each other again and again at a small angle: that is not said.
    """
    a, b = pairs
    proper = _across(chords, a, b)
    found = _on_curves(chords, a[proper], b[proper])
    found += _through_nodes(chords, a[~proper], b[~proper])
    out: list[Crossing] = []
    seen: dict[tuple[int, int, int, int], list[tuple[float, float]]] = {}
    for crossing, sine in found:
        if sine < SHALLOW and any(_inside(stretch, crossing) for stretch in doubles):
            continue
        x, y = crossing.at
        cell = round(x), round(y)
        near = (
            at for i in (-1, 0, 1) for j in (-1, 0, 1)
            for at in seen.get((crossing.a, crossing.b, cell[0] + i, cell[1] + j), ())
        )
        if all(max(abs(x - u), abs(y - v)) > SAME_MM for u, v in near):
            seen.setdefault((crossing.a, crossing.b, *cell), []).append((x, y))
            out.append(crossing)
    return out


def _inside(stretch: Stretch, crossing: Crossing) -> bool:
    x0, y0, x1, y1 = stretch.box
    x, y = crossing.at
    d = 2 * DOUBLED_WITHIN_MM
    same = {stretch.a, stretch.b} == {crossing.a, crossing.b}
    return same and x0 - d <= x <= x1 + d and y0 - d <= y <= y1 + d


def _side(p: Floats, q: Floats, r: Floats) -> Floats:
    """Twice the signed area of triangles, each point of shape (n, 2)."""
    area: Floats = (q[:, 0] - p[:, 0]) * (r[:, 1] - p[:, 1]) - (q[:, 1] - p[:, 1]) * (r[:, 0] - p[:, 0])
    return area


def _across(chords: Chords, a: Ints, b: Ints) -> np.ndarray:
    """Which pairs cross between their ends, not only at one of them."""
    p, q, r, s = chords.start[a], chords.end[a], chords.start[b], chords.end[b]
    off_a = TOUCH_MM * chords.long[a]
    off_b = TOUCH_MM * chords.long[b]
    one, two = _side(p, q, r), _side(p, q, s)
    three, four = _side(r, s, p), _side(r, s, q)
    apart: np.ndarray = (
        (np.minimum(np.abs(one), np.abs(two)) > off_a) & (one * two < 0)
        & (np.minimum(np.abs(three), np.abs(four)) > off_b) & (three * four < 0)
    )
    return apart


def _on_curves(chords: Chords, a: Ints, b: Ints) -> list[tuple[Crossing, float]]:
    """Crossings with the sine of their angle."""
    if not len(a):
        return []
    p, q, r, s = chords.start[a], chords.end[a], chords.start[b], chords.end[b]
    first, second = q - p, s - r
    area = first[:, 0] * second[:, 1] - first[:, 1] * second[:, 0]
    gap = r - p
    u = (gap[:, 0] * second[:, 1] - gap[:, 1] * second[:, 0]) / area
    v = (gap[:, 0] * first[:, 1] - gap[:, 1] * first[:, 0]) / area
    t = chords.t0[a] + u * (chords.t1[a] - chords.t0[a])
    w = chords.t0[b] + v * (chords.t1[b] - chords.t0[b])
    one, two = chords.segments[chords.segment[a]], chords.segments[chords.segment[b]]
    own = chords.segment[a] == chords.segment[b]
    for _ in range(NEWTON_STEPS):
        miss = points_at(one, t) - points_at(two, w)
        dt, dw = _velocity(one, t), -_velocity(two, w)
        det = dt[:, 0] * dw[:, 1] - dt[:, 1] * dw[:, 0]
        sound = np.abs(det) > 1e-12
        det = np.where(sound, det, 1.0)
        t = t - np.where(sound, (miss[:, 0] * dw[:, 1] - miss[:, 1] * dw[:, 0]) / det, 0)
        w = w - np.where(sound, (dt[:, 0] * miss[:, 1] - dt[:, 1] * miss[:, 0]) / det, 0)
    miss_mm = np.hypot(*(points_at(one, t) - points_at(two, w)).T)
    real = (
        (miss_mm < 1e-4) & (t > -BEYOND) & (t < 1 + BEYOND) & (w > -BEYOND) & (w < 1 + BEYOND)
        & ~(own & (np.abs(t - w) < 1e-3))
    )
    at = points_at(one, t)
    dt, dw = _velocity(one, t), _velocity(two, w)
    across = np.abs(dt[:, 0] * dw[:, 1] - dt[:, 1] * dw[:, 0])
    sine = across / np.maximum(np.hypot(*dt.T) * np.hypot(*dw.T), 1e-12)
    out = []
    for i in np.flatnonzero(real):
        place = float(at[i, 0]), float(at[i, 1])
        out.append((Crossing(int(chords.contour[a[i]]), int(chords.contour[b[i]]), place), float(sine[i])))
    return out


def _velocity(segments: Floats, t: Floats) -> Floats:
    """The derivative of cubic segments, shape (n, 4, 2), at parameters, shape (n,)."""
    t = t[:, None]
    s = 1 - t
    d = 3 * np.diff(segments, axis=1)
    speed: Floats = s * s * d[:, 0] + 2 * s * t * d[:, 1] + t * t * d[:, 2]
    return speed


def _through_nodes(chords: Chords, a: Ints, b: Ints) -> list[tuple[Crossing, float]]:
    """Crossings at an end of a chord: there the sides from which the lines come and to which they go decide."""
    far = chords.apart(a, b) > TOUCH_MM
    a, b = a[far], b[far]
    out: list[tuple[Crossing, float]] = []
    for ends_of, others, at in ((a, b, chords.end), (b, a, chords.end)):
        point = at[ends_of]
        near = (point - chords.start[others]) * chords.direction[others]
        along = near.sum(axis=1)
        off = np.abs(_side(chords.start[others], chords.end[others], point)) / chords.long[others]
        hit = (off <= TOUCH_MM) & (along > -TOUCH_MM) & (along <= chords.long[others] + TOUCH_MM)
        for i in np.flatnonzero(hit):
            if _changes_sides(chords, int(ends_of[i]), int(others[i]), float(along[i])):
                x, y = point[i]
                first, second = sorted((int(chords.contour[ends_of[i]]), int(chords.contour[others[i]])))
                d, e = chords.direction[ends_of[i]], chords.direction[others[i]]
                out.append((Crossing(first, second, (float(x), float(y))), float(abs(d[0] * e[1] - d[1] * e[0]))))
    return out


def _next(chords: Chords, index: int, step: int) -> int | None:
    """The chord before or behind one on its contour; None at an open end."""
    contour = chords.contour[index]
    there = index + step
    if 0 <= there < len(chords) and chords.contour[there] == contour:
        return there
    if not chords.loops[contour]:
        return None
    members = np.flatnonzero(chords.contour == contour)
    return int(members[0] if step > 0 else members[-1])


def _changes_sides(chords: Chords, ends: int, other: int, along: float) -> bool:
    """Whether the line that has a node at a point goes over from one side of the other line to the other."""
    onward = _next(chords, ends, 1)
    if onward is None:
        return False
    comes, goes = -chords.direction[ends], chords.direction[onward]
    back, forth = -chords.direction[other], chords.direction[other]
    if along > chords.long[other] - TOUCH_MM:
        later = _next(chords, other, 1)
        if later is None:
            return False
        forth = chords.direction[later]
    elif along < TOUCH_MM:
        return False  # the chord before ends here and is asked instead

    def angle(v: Floats) -> float:
        return float(np.arctan2(v[1], v[0]))

    turn = 2 * np.pi
    base = angle(forth)
    limit = (angle(back) - base) % turn
    sides = [(angle(v) - base) % turn for v in (comes, goes)]
    on = [min(abs(side), abs(side - limit), abs(side - turn)) < 1e-4 for side in sides]
    return not any(on) and (sides[0] < limit) != (sides[1] < limit)
