"""Cubics fitted to stretches of points, all stretches at once. The hands of ``fit``, which says how near and why."""

from collections.abc import Sequence
from typing import NamedTuple, Self

import numpy as np
import shapely
from numpy.typing import NDArray

from horismos.paths.contour import Floats, straight_segments
from horismos.paths.flatten import points_at

__all__ = ["CurveFitter", "Spans"]

Numbers = NDArray[np.int64]
ROUNDS = 4
SAMPLES = 4
"""Places to either side that a direction is measured by."""
EVEN = 0.5
SLIDING = 0.01
"""How much it counts that a point slides along the curve, beside that it is off it."""
OFF = 1 - SLIDING
TABLE = np.array([[0, 1, 3, 4, 9], [1, 2, 4, 5, 10], [3, 4, 6, 7, 11], [4, 5, 7, 8, 12]])
"""Where the sums stand in the equations for two controls: the matrix, and what is wanted in the last column."""
LOOKED_AT = 28
"""[ours] points of a stretch that are looked at while the best parting is looked for."""
SHORT = 8
"""[ours] times what counts as flat: a stretch no longer than that cannot leave its chord by more than is allowed."""
LONGEST = 0.8
"""[ours] of the way: a longer handle makes a loop or a hook between the points."""
FEW = 10
"""Points: through fewer a cubic could wriggle, and goes by their directions."""
LOOKED_FROM = np.array([0.04, 0.12, 0.25, 0.4, 0.6, 0.75, 0.88, 0.96])
MOST_ROUNDS = 40
LONG = 2.5
"""[ours] a chord that is so many times as long as others stands for a straight stretch, not for a part of a bend."""


class Spans(NamedTuple):
    """Stretches of points by the numbers of their first and last ones, and the run of each; in their order."""

    low: Numbers
    high: Numbers
    run: Numbers


class Fit(NamedTuple):
    """The cubic of each stretch, shape (n, 4, 2), how far it is off, at which point most, and whether it is a chord."""

    segments: Floats
    off: Floats
    worst: Numbers
    straight: NDArray[np.bool_]


class CurveFitter:
    """Runs of points between corners, end to end in one array; a seamless run comes back to its beginning smoothly."""

    def __init__(self, runs: Sequence[Floats], seamless: NDArray[np.bool_], reach: float) -> None:
        self.runs, self.seamless, self.reach = runs, seamless, reach
        self.points = np.concatenate(list(runs))
        sizes = np.array([len(run) for run in runs])
        self.first = np.cumsum(sizes) - sizes
        self.last = self.first + sizes - 1
        steps = np.hypot(*np.diff(self.points, axis=0, prepend=self.points[:1]).T)
        steps[self.first] = 1.0  # so that nothing is looked up across runs
        self.along = np.cumsum(steps)

    @property
    def count(self) -> int:
        """How many points there are."""
        return len(self.points)

    def turned(self, places: Spans) -> tuple[Self, Spans]:
        """The same with seamless runs begun at a node half way round, so that their seam is looked at too."""
        runs, low, high = list(self.runs), places.low.copy(), places.high.copy()
        for number in np.flatnonzero(self.seamless).tolist():
            own = np.flatnonzero(places.run == number)
            if len(own) < 3:
                continue
            middle = len(own) // 2
            base, run = int(self.first[number]), runs[number]
            begin = int(low[own[middle]]) - base
            runs[number] = np.concatenate([run[begin:-1], run[: begin + 1]])
            size = len(run) - 1
            lows = (np.roll(low[own], -middle) - base - begin) % size
            low[own] = lows + base
            high[own] = np.append(lows[1:], size) + base
        return type(self)(runs, self.seamless, self.reach), Spans(low, high, places.run)

    def _directions(self, at: Numbers, run: Numbers) -> Floats:
        """Unit vectors along the runs at points: of the line through places to both sides, or to one side at an end."""
        start, stop = self.along[self.first[run]], self.along[self.last[run]]
        here, total = self.along[at], stop - start
        back, ahead = here - start, stop - here
        reach = np.minimum(self.reach, total / 4)
        loops = self.seamless[run]
        inner = np.minimum(np.minimum(back, ahead), reach)
        one_sided = ~loops & (inner < reach / 3)
        inner = np.where(loops, reach, inner)
        steps = np.arange(-SAMPLES, SAMPLES + 1) / SAMPLES
        sign = np.where(ahead >= back, 1.0, -1.0)
        # At an end all samples lie to one side; the slope there is that of a parabola.
        offsets = np.where(one_sided[:, None], sign[:, None] * (steps + 1) / 2 * reach[:, None], steps * inner[:, None])
        where = here[:, None] + offsets
        where = np.where(loops[:, None], start[:, None] + np.mod(where - start[:, None], total[:, None]), where)
        where = np.clip(where, start[:, None], stop[:, None])
        found = np.stack([np.interp(where, self.along, self.points[:, i]) for i in (0, 1)], axis=2)
        slope = np.einsum("k,nki->ni", steps, found)
        if one_sided.any():
            table = np.column_stack([np.ones(len(steps)), (steps + 1) / 2, ((steps + 1) / 2) ** 2])
            weights = np.linalg.pinv(table)[1]
            slope[one_sided] = sign[one_sided, None] * np.einsum("k,nki->ni", weights, found[one_sided])
        unit: Floats = slope / np.maximum(np.hypot(*slope.T), 1e-12)[:, None]
        return unit

    def fits(self, low: Numbers, high: Numbers, run: Numbers, flat: float) -> Fit:
        """The cubic through the ends of each stretch that comes nearest to its points, in whatever directions."""
        few = np.flatnonzero(high - low < FEW)
        first, last = np.full((len(low), 2), np.nan), np.full((len(low), 2), np.nan)
        if len(few):
            first[few], last[few] = self._directions(low[few], run[few]), -self._directions(high[few], run[few])
        return self._fits(low, high, first, last, flat)

    def _fits(
        self, low: Numbers, high: Numbers, first: Floats, last: Floats, flat: float, most: int = LOOKED_AT
    ) -> Fit:
        """The same; in given directions at the ends, both into the stretch, where these are not NaN."""
        steps = np.maximum((high - low) // most, 1)
        sizes = -((low - high) // steps) + 1
        owner = np.repeat(np.arange(len(low)), sizes)
        begins = np.cumsum(sizes) - sizes
        index = np.minimum((np.arange(len(owner)) - begins[owner]) * steps[owner] + low[owner], high[owner])
        points = self.points[index]
        ends = self.points[low], self.points[high]
        way = np.maximum(self.along[high] - self.along[low], 1e-12)
        t = (self.along[index] - self.along[low][owner]) / way[owner]
        straight = (_off_chords(points, owner, begins, *ends) <= flat) | (way <= SHORT * flat)
        best = Fit(np.zeros((len(low), 4, 2)), np.full(len(low), np.inf), (low + high) // 2, straight)
        chords = straight_segments(self.points[np.column_stack([low, high]).ravel()])[::2]
        best.segments[straight], best.off[straight] = chords[straight], 0.0
        if straight.any():
            curved = np.flatnonzero(~straight)
            if len(curved):
                part = self._fits(low[curved], high[curved], first[curved], last[curved], flat, most)
                best.segments[curved], best.off[curved] = part.segments, part.off
                best.worst[curved] = part.worst
            return best
        normals: Floats | None = None
        for turn in range(ROUNDS):
            segments = _least_squares(points, t, owner, begins, ends, (first, last), way, normals)
            powers = _powers(segments)[owner]
            t = _nearer(powers, points, t)
            apart = _at(powers, t) - points
            squared = (apart * apart).sum(axis=1)
            off = np.sqrt(np.maximum.reduceat(squared, begins))
            handles = np.hypot(*np.moveaxis(segments[:, [1, 3]] - segments[:, [0, 2]], 2, 0)).max(axis=1)
            better = (off < best.off) & (handles <= LONGEST * way)
            where = np.where(squared >= off[owner] ** 2, index, len(self.points))
            best.worst[better] = np.minimum.reduceat(where, begins)[better]
            best.segments[better], best.off[better] = segments[better], off[better]
            if turn + 1 < ROUNDS:
                normals = _units(_speed(powers, t))[:, ::-1] * (-1, 1)
        none = np.isinf(best.off)
        best.segments[none] = chords[none]
        return best

    def held(self, leaves: Floats, comes: Floats) -> Floats:
        """The cubic for all of the one run that leaves and comes in given directions, shape (4, 2)."""
        low, high = np.zeros(1, np.int64), np.array([self.count - 1])
        ways = [_units(way[None]) if np.hypot(*way) > 1e-9 else np.full((1, 2), np.nan) for way in (leaves, comes)]
        found: Floats = self._fits(low, high, ways[0], ways[1], 0.0, self.count).segments[0]
        return found

    def split(self, near: float, flat: float) -> Spans:
        """Stretches of which each is fitted: what is not is split where it is furthest off."""
        low, high, run = self._begun(flat)
        done: list[tuple[Numbers, Numbers, Numbers]] = []
        for _ in range(MOST_ROUNDS):
            found = self.fits(low, high, run, flat)
            good = (found.off <= near) | (high - low < 2)
            done.append((low[good], high[good], run[good]))
            low, high, run, worst = low[~good], high[~good], run[~good], found.worst[~good]
            if not len(low):
                break
            # near the middle where the worst place is near an end
            quarter = ((high - low) * EVEN).astype(np.int64)
            worst = np.clip(worst, low + np.maximum(quarter, 1), high - np.maximum(quarter, 1))
            low, high, run = np.concatenate([low, worst]), np.concatenate([worst, high]), np.concatenate([run, run])
        else:
            done.append((low, high, run))
        low, high, run = (np.concatenate(part) for part in zip(*done, strict=True))
        order = np.argsort(low * 2 + (high > low))
        return Spans(low[order], high[order], run[order])

    def _begun(self, flat: float) -> Spans:
        """Runs parted where long straight stretches begin and end, and closed curves half way round."""
        run = np.arange(len(self.first))
        comes_back = np.hypot(*(self.points[self.last] - self.points[self.first]).T) < 1e-9
        loops = comes_back & (self.last - self.first > 3)
        nodes = [self.first, self.last, (self.first + self.last)[loops] // 2]
        lines = shapely.linestrings(self.points, indices=np.repeat(run, self.last - self.first + 1))
        kept = shapely.get_coordinates(shapely.simplify(lines, flat))
        if len(kept) < self.count / 2:
            own = np.flatnonzero(np.isin(_rows(self.points), _rows(kept)))
            long = np.diff(self.along[own])
            beside = np.maximum(np.append(long[1:], 0.0), np.insert(long[:-1], 0, 0.0))
            straight = np.flatnonzero((long > LONG * np.minimum(beside, np.median(long))) & (long > 2 * self.reach))
            nodes += [own[straight], own[straight + 1]]
        at = np.unique(np.concatenate(nodes))
        keep = ~np.isin(at[:-1], self.last)
        low, high = at[:-1][keep], at[1:][keep]
        return Spans(low, high, np.searchsorted(self.first, low, side="right") - 1)

    def merged(self, places: Spans, near: float, flat: float) -> Spans:
        """Two neighbours become one wherever one cubic does for both."""
        barren = parity = 0
        comes_back = np.hypot(*(self.points[self.last] - self.points[self.first]).T) < 1e-9
        while barren < 2 and len(places.low) > 1:
            pair = np.arange(parity, len(places.low) - 1, 2)
            pair = pair[places.run[pair] == places.run[pair + 1]]
            whole = (places.low[pair] == self.first[places.run[pair]]) & (
                places.high[pair + 1] == self.last[places.run[pair]]
            )
            pair = pair[~(whole & comes_back[places.run[pair]])]
            parity = 1 - parity
            if len(pair):
                found = self.fits(places.low[pair], places.high[pair + 1], places.run[pair], flat)
                pair = pair[found.off <= near]
            if not len(pair):
                barren += 1
                continue
            barren = 0
            high = places.high.copy()
            high[pair] = places.high[pair + 1]
            kept = np.ones(len(high), bool)
            kept[pair + 1] = False
            places = Spans(places.low[kept], high[kept], places.run[kept])
        return places

    def rearranged(self, places: Spans, near: float, flat: float, tries: Floats) -> Spans:
        """Three neighbours become two wherever two cubics do for them, met at one of the tried shares of the way."""
        for offset in range(3):
            at = np.arange(offset, len(places.low) - 2, 3)
            at = at[(places.run[at] == places.run[at + 2])]
            if not len(at):
                continue
            low, high, run = places.low[at], places.high[at + 2], places.run[at]
            begin, end = self.along[low], self.along[high]
            node = np.searchsorted(self.along, begin + (end - begin) * tries[:, None]).clip(low + 1, high - 1)
            lows = np.concatenate([np.tile(low, len(tries)), node.ravel()])
            highs = np.concatenate([node.ravel(), np.tile(high, len(tries))])
            found = self.fits(lows, highs, np.tile(run, 2 * len(tries)), flat)
            off = found.off.reshape(2, len(tries), len(at)).max(axis=0)
            best = off.argmin(axis=0)
            good = off[best, np.arange(len(at))] <= near
            at, chosen = at[good], node[best, np.arange(len(best))][good]
            if not len(at):
                continue
            new_low, new_high = places.low.copy(), places.high.copy()
            new_high[at], new_low[at + 1], new_high[at + 1] = chosen, chosen, places.high[at + 2]
            kept = np.ones(len(new_low), bool)
            kept[at + 2] = False
            places = Spans(new_low[kept], new_high[kept], places.run[kept])
        return places

    def halved(self, places: Spans, which: NDArray[np.bool_]) -> Spans:
        """The same, with some stretches parted in the middle."""
        low, high, run = (part[which] for part in places)
        middle = (low + high) // 2
        lows, runs = np.concatenate([places.low, middle]), np.concatenate([places.run, run])
        highs = np.concatenate([np.where(which, (places.low + places.high) // 2, places.high), high])
        order = np.argsort(lows, kind="stable")
        return Spans(lows[order], highs[order], runs[order])

    def bulges(self, places: Spans, segments: Floats) -> Floats:
        """How far each segment goes from the polyline of its stretch, looked at from the segment."""
        sizes = places.high - places.low + 1
        owner = np.repeat(np.arange(len(sizes)), sizes)
        index = np.arange(len(owner)) - (np.cumsum(sizes) - sizes)[owner] + places.low[owner]
        lines = shapely.linestrings(self.points[index], indices=owner)
        t = np.tile(LOOKED_FROM, len(segments))
        seen = points_at(np.repeat(segments, len(LOOKED_FROM), axis=0), t)
        far = shapely.distance(np.repeat(lines, len(LOOKED_FROM)), shapely.points(seen))
        most: Floats = far.reshape(len(segments), -1).max(axis=1)
        return most

    def drawn(self, places: Spans, near: float, flat: float) -> tuple[Fit, Numbers]:
        """The segments. Where two meet smoothly they do so in one direction: that of a straight one, or of both.

        Where a stretch does not come near enough so, it goes by the directions of the points at its ends.
        """
        low, high, run = places
        found = self.fits(low, high, run, flat)
        first, last = found.segments[:, 1] - found.segments[:, 0], found.segments[:, 3] - found.segments[:, 2]
        first, last = _units(first), _units(last)
        before, after = _neighbours(places, self.first, self.last, self.seamless)
        for own, other, beside in ((first, last.copy(), before), (last, first.copy(), after)):
            smooth = np.flatnonzero(beside >= 0)
            weight = np.where(found.straight, 1e6, 1.0)
            mean = own[smooth] * weight[smooth, None] + other[beside[smooth]] * weight[beside[smooth], None]
            own[smooth] = _units(mean)
        curved = np.flatnonzero(~found.straight)
        if len(curved):
            self._take(found, curved, first[curved], last[curved], near, places)
        return found, run

    def _take(self, found: Fit, curved: Numbers, first: Floats, last: Floats, near: float, places: Spans) -> None:
        low, high, run = (part[curved] for part in places)
        made = self._fits(low, high, first, -last, 0.0, self.count)
        bad = np.flatnonzero(made.off > near)
        if len(bad):
            by_points = self._fits(
                low[bad], high[bad], self._directions(low[bad], run[bad]), -self._directions(high[bad], run[bad]), 0.0
            )
            better = (by_points.off <= near) | (high[bad] - low[bad] < FEW)
            made.segments[bad[better]], made.off[bad[better]] = by_points.segments[better], by_points.off[better]
            # what still is too far off keeps the directions that suit it best
            left = bad[~better]
            anyhow = np.full((len(left), 2), np.nan)
            free = self._fits(low[left], high[left], anyhow, anyhow, 0.0, self.count)
            made.segments[left], made.off[left] = free.segments, free.off
        found.segments[curved], found.off[curved] = made.segments, made.off


def _units(vectors: Floats) -> Floats:
    unit: Floats = vectors / np.maximum(np.hypot(*vectors.T), 1e-12)[:, None]
    return unit


def _neighbours(
    places: Spans, firsts: Numbers, lasts: Numbers, seamless: NDArray[np.bool_]
) -> tuple[Numbers, Numbers]:
    """The stretch before and after each that it joins smoothly, by number; -1 where there is none."""
    count = len(places.low)
    number = np.arange(count)
    begins, ends = places.low == firsts[places.run], places.high == lasts[places.run]
    before, after = np.where(begins, -1, number - 1), np.where(ends, -1, number + 1)
    start, stop = np.flatnonzero(begins), np.flatnonzero(ends)
    smooth = seamless[places.run[start]]
    before[start[smooth]], after[stop[smooth]] = stop[smooth], start[smooth]
    return before, after


def _rows(points: Floats) -> NDArray[np.void]:
    rows: NDArray[np.void] = np.ascontiguousarray(points).view([("x", float), ("y", float)]).ravel()
    return rows


def _off_chords(points: Floats, owner: Numbers, begins: Numbers, start: Floats, end: Floats) -> Floats:
    """How far the points of each stretch lie off its chord; infinite where they go beyond its ends."""
    along = end - start
    long = np.maximum(np.hypot(*along.T), 1e-12)
    unit = along / long[:, None]
    rel = points - start[owner]
    way = (rel * unit[owner]).sum(axis=1)
    off = np.abs(rel[:, 0] * unit[owner, 1] - rel[:, 1] * unit[owner, 0])
    reach = np.where(long < 1e-9, -1.0, long)[owner]
    off[np.abs(way - reach / 2) > reach / 2 + 1e-6] = np.inf
    most: Floats = np.maximum.reduceat(off, begins)
    return most


def _least_squares(
    points: Floats, t: Floats, owner: Numbers, begins: Numbers, ends: tuple[Floats, Floats],
    directions: tuple[Floats, Floats], way: Floats, normals: Floats | None,
) -> Floats:
    """The controls for which each cubic comes nearest to its points, in given directions where these are not NaN.

    Where normals are known it is the distance along these that counts, since a point may slide along the curve:
    then a few rounds do what would take hundreds (W. Wang, H. Pottmann, Y. Liu, Fitting B-spline curves to point
    clouds by curvature-based squared distance minimization, ACM Transactions on Graphics 25, 2006).
    """
    s = 1 - t
    b1, b2 = 3 * s * s * t, 3 * s * t * t
    from_start, from_end = ends[0][owner], ends[1][owner]
    rest = points - from_start - (b2 + t * t * t)[:, None] * (from_end - from_start)
    # how much it counts to be off, as a matrix: alike every way, or along the normal
    along, across, upright = np.ones(len(t)), np.zeros(len(t)), np.ones(len(t))
    if normals is not None:
        nx, ny = normals[:, 0], normals[:, 1]
        along, across, upright = SLIDING + OFF * nx * nx, OFF * nx * ny, SLIDING + OFF * ny * ny
    x, y = along * rest[:, 0] + across * rest[:, 1], across * rest[:, 0] + upright * rest[:, 1]
    terms = np.empty((len(t), 13))
    for i, both in enumerate((b1 * b1, b1 * b2, b2 * b2)):
        terms[:, 3 * i], terms[:, 3 * i + 1], terms[:, 3 * i + 2] = both * along, both * across, both * upright
    terms[:, 9], terms[:, 10], terms[:, 11], terms[:, 12] = b1 * x, b1 * y, b2 * x, b2 * y
    summed = np.add.reduceat(terms, begins, axis=0)
    table = summed[:, TABLE]
    matrix, wanted = table[:, :4, :4], table[:, :4, 4]
    spread = np.trace(matrix, axis1=1, axis2=2) * 1e-9 + 1e-12
    free = np.linalg.solve(matrix + spread[:, None, None] * np.eye(4), wanted[:, :, None])[:, :, 0]
    one, other = free[:, :2], free[:, 2:]
    given = np.flatnonzero(~np.isnan(directions[0][:, 0]))
    if len(given):
        first, last = directions[0][given], directions[1][given]
        ways = np.zeros((len(given), 2, 4))
        ways[:, 0, :2], ways[:, 1, 2:] = first, last
        small = ways @ matrix[given] @ ways.transpose(0, 2, 1) + spread[given][:, None, None] * np.eye(2)
        k = np.linalg.solve(small, ways @ wanted[given][:, :, None])[:, :, 0]
        long = way[given][:, None]
        sound: NDArray[np.bool_] = np.logical_and(k > 1e-6 * long, k < LONGEST * long).min(axis=1)
        chord = np.hypot(*(ends[1] - ends[0])[given].T)
        k = np.where(sound[:, None], k, np.maximum(chord, way[given] * 0.1)[:, None] / 3)
        one[given], other[given] = k[:, :1] * first, k[:, 1:] * last
    return np.stack([ends[0], ends[0] + one, ends[1] + other, ends[1]], axis=1)


def _powers(segments: Floats) -> Floats:
    """The coefficients of each cubic by powers of its parameter, shape (n, 4, 2)."""
    p0, p1, p2, p3 = (segments[:, i] for i in range(4))
    return np.stack([p0, 3 * (p1 - p0), 3 * (p0 - 2 * p1 + p2), p3 - p0 + 3 * (p1 - p2)], axis=1)


def _at(powers: Floats, t: Floats) -> Floats:
    t = t[:, None]
    found: Floats = ((powers[:, 3] * t + powers[:, 2]) * t + powers[:, 1]) * t + powers[:, 0]
    return found


def _speed(powers: Floats, t: Floats) -> Floats:
    t = t[:, None]
    found: Floats = (3 * powers[:, 3] * t + 2 * powers[:, 2]) * t + powers[:, 1]
    return found


def _nearer(powers: Floats, points: Floats, t: Floats) -> Floats:
    """Parameters at which each cubic is nearer to its points, by one step of Newton's method."""
    apart, speed = _at(powers, t) - points, _speed(powers, t)
    bend = 6 * powers[:, 3] * t[:, None] + 2 * powers[:, 2]
    slope = (speed * speed).sum(axis=1) + (apart * bend).sum(axis=1)
    step = np.where(np.abs(slope) > 1e-12, (apart * speed).sum(axis=1) / np.where(slope == 0, 1, slope), 0.0)
    new: Floats = np.where((t <= 0) | (t >= 1), t, np.clip(t - step, 0.0, 1.0))
    return new
