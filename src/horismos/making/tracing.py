"""From pixels to curves: level lines with their true corners set back where smoothing rounded them off.

An edge that was drawn with anti-aliasing passes the level where the shape's edge lies, but for its corners: there the
pixels mix both sides, and a level line cuts across. So each side is followed up to where it is mixed, carried on, and
where both meet is the corner. Whether it is sharp is told by the area: what the pixels hold beyond the level line is
what a sharp corner has there, or less by what rounding took from it.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np
import scipy
import shapely
from numpy.typing import NDArray

from horismos.errors import LimitExceeded
from horismos.paths.contour import Contour, Floats
from horismos.paths.fit import crossing_chords, fit_simple
from horismos.paths.levels import Grid, level_lines
from horismos.paths.matrix import Matrix

__all__ = ["Field", "is_hard", "pieces_in", "soft_part", "traced"]

STEP_PX = 0.5
NEAR_PX, FAR_PX = 1.5, 5.0
"""[ours] sides of a corner are measured between these distances from it."""
SIDE_PX = 9.0
BENT_PX = 0.14
"""[ours] a level line leaves a straight side by less."""
AWAY_PX, AWAY_NARROW = 1.0, 1.0
CORNER_DEGREES = 24.0
ROUND_PX, ROUND_NARROW = 0.7, 0.6
"""[ours] a corner whose rounding takes less from its tip counts as sharp; narrow ones are known less exactly."""
DEEPER = 0.45
"""[ours] square pixels that a tip holds beyond what its sides give, before it is taken to be longer."""
SHALLOW = np.radians(80.0)
"""[ours] a corner that turns less does little harm when it is drawn round, and a bend that counts as one more."""
REACH_PX = 2.5
OWN_SHARE = 0.85
"""[ours] of the tolerance is for the fit; the rest for what a level line itself is off."""
LEAST_PX, FLAT_PX = 0.3, 0.22
"""[ours] renderers know an edge to a tenth of a pixel or two: no closer does a curve follow, nor leave the straight."""
MOST_SKIP_PX = 12.0
MOST_TIP_PX, HARD_TIP_PX = 40.0, 1.2
"""[ours] where the sides of a corner meet further off, if they meet at all, it is the end of a thin stroke; without
anti-aliasing a tip is set no further out than so much, and so much for how narrow it is."""
MOST_TRIES = 5
MOST_STEPS = 40_000
MOST_LOOPS = 20_000
HARD_SIGMA_PX, HARD_PX = 0.9, 0.6
"""[ours] stairs are half a pixel high: they are smoothed, and the curves need not follow what is left of them."""
HARD_SHARE = 0.15
"""[ours] pixels along the edge that are neither in nor out; where fewer are, the picture has no anti-aliasing."""


SEEN = 3 / 255
"""The check of the edge takes a lighter tint for blank media."""
SOFT_MM = 0.3
"""[ours] an edge that fades out within less is the edge of something sharp."""
SMOOTH_MM = 0.1
TILE_PX = 128
"""[ours] an outline of many nodes is looked at by tiles."""


Corner = tuple[float, Floats, float, float]
"""How far along a level line, where, and the stretch of the line that it takes the place of."""


@dataclass(frozen=True, eq=False)
class Field:
    """How much of each pixel is art: values, shape (height, width), from 0 to ``full``.

    ``matrix`` maps pixels from the upper left corner, y downwards, to mm. ``graded`` says that the values are opacity
    as it is seen, and not a share worked out from colours; ``hard`` that no pixel was mixed before it was smoothed.
    """

    values: Grid
    full: float
    matrix: Matrix
    graded: bool = False
    hard: bool = False

    @property
    def per_mm(self) -> float:
        """Pixels a mm."""
        a, b, c, d, _, _ = self.matrix
        return 1.0 / max(float(np.sqrt(abs(a * d - b * c))), 1e-9)


def traced(field: Field, threshold: float, fit_mm: float, least_mm2: float) -> list[Contour]:
    """Closed curves round what is covered by at least ``threshold`` (0 to 1), holes among them, within ``fit_mm``.

    What is smaller than ``least_mm2`` is left out. Outer ones and holes run opposite ways. Raises LimitExceeded where
    the picture is noise.
    """
    values, skip, least_px = field.values, 0.0, LEAST_PX
    if field.hard or is_hard(field, threshold):
        # no anti-aliasing: an edge is known to half a pixel only, and its stairs are smoothed over
        values, skip = values.astype(np.uint8) if field.full > 1 else values, 1.0
        values = scipy.ndimage.gaussian_filter(values, HARD_SIGMA_PX)
        least_px = HARD_PX
    level = min(max(threshold, 1e-3), 1.0) * field.full
    loops = level_lines(values, level, max(least_mm2 * field.per_mm**2, 0.25))
    if not loops:
        return []
    if len(loops) > MOST_LOOPS:
        raise LimitExceeded(
            f"The picture holds {len(loops):,} separate outlines.", "Raise the smallest piece, or the tolerance."
        )
    tolerance = fit_mm * field.per_mm
    held = _Held(values, field.full, loops)
    made = [_with_corners(_Line.of(loop), skip, held) for loop in loops]
    curves = fit_simple(
        [points for points, _ in made], [corners for _, corners in made], max(tolerance * OWN_SHARE, least_px),
        max(REACH_PX, 2 * tolerance) + skip, max(FLAT_PX, tolerance / 4),
    )
    return [curve.transformed(field.matrix) for curve in curves]


def soft_part(field: Field) -> Field | None:
    """Where what is half clear or less goes on beyond a sharp edge, as a shadow does; None where nothing does.

    It is smoothed, since a level line of so little opacity would follow the steps of 8 bits.
    """
    values = np.asarray(field.values)
    soft = (values >= SEEN * field.full) & (values < field.full / 2)
    wide = scipy.ndimage.binary_erosion(soft, iterations=max(2, round(SOFT_MM / 2 * field.per_mm)))
    if not wide.any():
        return None
    own = soft & scipy.ndimage.binary_propagation(wide, mask=soft)
    seen = np.where(own | (values >= field.full / 2), np.float32(field.full), np.float32(0))
    return replace(field, values=scipy.ndimage.gaussian_filter(seen, SMOOTH_MM * field.per_mm), graded=False)


def pieces_in(field: Field, threshold: float) -> int:
    """How many separate pieces are covered by at least ``threshold``, however small."""
    _, count = scipy.ndimage.label(field.values >= min(max(threshold, 1e-3), 1.0) * field.full)
    return int(count)


def is_hard(field: Field, threshold: float) -> bool:
    """Whether hardly a pixel along the edge is neither in nor out: the picture has no anti-aliasing."""
    values = field.values
    step = max(1, int(np.sqrt(values.size / 4_000_000)))
    seen = values[::step]
    inside = seen >= threshold * field.full
    edge = inside[:, 1:] != inside[:, :-1]
    count = int(edge.sum())
    if not count:
        return False
    low, high = 0.03 * field.full, 0.97 * field.full
    mixed = ((seen > low) & (seen < high)).astype(bool)
    return int((edge & (mixed[:, 1:] | mixed[:, :-1])).sum()) < HARD_SHARE * count


class _Held:
    """What pixels hold beyond what level lines go round."""

    def __init__(self, values: Grid, full: float, loops: Sequence[Floats]) -> None:
        self._values, self._full = values, full
        self._areas = shapely.polygons([shapely.linearrings(loop) for loop in loops])
        # as seen, with y downwards, the inside lies on the left: outer loops have a negative area
        self._signs = [-1.0 if _signed(loop) > 0 else 1.0 for loop in loops]
        self._tree = shapely.STRtree(self._areas)
        self._tiles: dict[tuple[int, ...], Any] = {}

    def beyond(self, at: Floats, reach: float) -> float:
        """Square pixels held round a place that lie outside the level lines there; negative where these hold more."""
        height, width = self._values.shape
        x0, y0 = (max(int(v), 0) for v in np.floor(at - reach))
        x1, y1 = min(int(np.ceil(at[0] + reach)), width), min(int(np.ceil(at[1] + reach)), height)
        if x1 <= x0 or y1 <= y0:
            return 0.0
        held = float(self._values[y0:y1, x0:x1].sum(dtype=np.float64)) / self._full
        found = self._tree.query(shapely.box(x0, y0, x1, y1))
        for i in found.tolist():
            near = self._near(i, at) if reach < TILE_PX / 2 else self._areas[i]
            held -= self._signs[i] * float(shapely.clip_by_rect(near, x0, y0, x1, y1).area)
        return held

    def _near(self, number: int, at: Floats) -> Any:
        """What an area is round a place, half a tile and more each way: cut from a strip of it, once for all places."""
        column, row = (int(v) // TILE_PX for v in at)
        strip = self._tiles.get((number, column))
        if strip is None:
            box = (column - 0.5) * TILE_PX - 1, -1.0, (column + 1.5) * TILE_PX + 1, self._values.shape[0] + 1.0
            strip = self._tiles[number, column] = shapely.clip_by_rect(self._areas[number], *box)
        tile = self._tiles.get((number, column, row))
        if tile is None:
            below, above = (row - 0.5) * TILE_PX - 1, (row + 1.5) * TILE_PX + 1
            box = (column - 0.5) * TILE_PX - 1, below, (column + 1.5) * TILE_PX + 1, above
            tile = self._tiles[number, column, row] = shapely.clip_by_rect(strip, *box)
        return tile


def _signed(loop: Floats) -> float:
    x, y = loop[:-1].T
    twice: np.float64 = np.sum(x * loop[1:, 1] - loop[1:, 0] * y)
    return float(twice) / 2


def _with_corners(line: "_Line", skip: float, held: _Held) -> tuple[Floats, NDArray[np.int64]]:
    """A level line at even steps, with its corners set in place of what rounds them off, and their numbers."""
    total = line.total
    count = max(int(total / min(max(total / MOST_STEPS, STEP_PX), 2 * STEP_PX)), 8)
    at = np.arange(count) * total / count
    points = line.at(at)
    reach = min(FAR_PX + skip, total / 6)
    if reach <= NEAR_PX + skip:
        return np.vstack([points, points[:1]]), np.empty(0, np.int64)
    # tips of a narrow place may reach across it or run away: there the level line itself is followed
    corners = [
        corner for corner in _corners(line, at, reach, skip, held)
        if float(np.hypot(*(corner[1] - line.at(np.array([corner[0]]))[0]))) <= MOST_TIP_PX
    ]
    for _ in range(MOST_TRIES):
        made, places = _set_in(line, at, points, corners)
        crossing = crossing_chords(made)
        if not len(crossing):
            return made, places
        gone = np.isin(places, np.concatenate([crossing, (crossing + 1) % (len(made) - 1)]))
        if not gone.any():
            break
        corners = [corner for corner, out in zip(corners, gone.tolist(), strict=True) if not out]
    return np.vstack([points, points[:1]]), np.empty(0, np.int64)


def _set_in(
    line: "_Line", at: Floats, points: Floats, corners: Sequence[Corner]
) -> tuple[Floats, NDArray[np.int64]]:
    """The points with corners in place of what rounds them off, and the numbers of these."""
    keep = np.ones(len(at), bool)
    for _, _, low, high in corners:
        for turn in (-line.total, 0.0, line.total):
            begin, end = np.searchsorted(at, (low + turn, high + turn + 1e-9))
            keep[begin:end] = False
    order = np.concatenate([at[keep], [place for place, *_ in corners]])
    both = np.concatenate([points[keep], np.array([apex for _, apex, *_ in corners]).reshape(-1, 2)])
    sorted_ = np.argsort(order, kind="stable")
    is_corner = np.concatenate([np.zeros(int(keep.sum()), bool), np.ones(len(corners), bool)])[sorted_]
    made = both[sorted_]
    return np.vstack([made, made[:1]]), np.flatnonzero(is_corner)


@dataclass(frozen=True, eq=False)
class _Line:
    x: Floats
    y: Floats
    along: Floats
    total: float

    @classmethod
    def of(cls, loop: Floats) -> "_Line":
        """The line along a loop."""
        along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(loop, axis=0).T))])
        x, y = np.ascontiguousarray(loop.T)
        return cls(x, y, along, float(along[-1]))

    def at(self, where: Floats) -> Floats:
        """Points, shape (…, 2), so far along the loop."""
        where = np.mod(where, self.total)
        return np.stack([np.interp(where, self.along, self.x), np.interp(where, self.along, self.y)], axis=-1)


def _corners(line: _Line, at: Floats, reach: float, skip: float, held: _Held) -> list[Corner]:
    """Corners: how far along, where, and the stretch of the level line that each takes the place of."""
    way = np.linspace(NEAR_PX + skip, reach, 6)
    before, after = line.at(at[:, None] - way), line.at(at[:, None] + way)
    comes, goes = before[:, 0] - before[:, -1], after[:, -1] - after[:, 0]
    turn = np.degrees(np.abs(np.arctan2(
        comes[:, 0] * goes[:, 1] - comes[:, 1] * goes[:, 0], (comes * goes).sum(axis=1)
    )))
    window = max(int(2 * NEAR_PX / STEP_PX), 1)
    peak = (turn >= CORNER_DEGREES) & (turn >= scipy.ndimage.maximum_filter1d(turn, 2 * window + 1, mode="wrap"))
    found: list[Corner] = []
    for i in np.flatnonzero(peak).tolist():
        corner = _corner(line, float(at[i]), skip, held)
        if corner is not None and all(_apart(line, corner[0], other[0]) > NEAR_PX for other in found):
            found.append(corner)
    return sorted(found, key=lambda corner: corner[0])


def _apart(line: _Line, one: float, other: float) -> float:
    along = abs(one - other) % line.total
    return min(along, line.total - along)


def _corner(line: _Line, place: float, skip: float, held: _Held) -> Corner | None:
    """Where both sides of a corner meet; None where they do not, or where the corner is round."""
    near = NEAR_PX + skip
    apex = line.at(np.array([place]))[0]
    for _ in range(5):
        far = min(near + SIDE_PX, line.total / 4)
        if far - near < 1.5:
            return None
        way = np.linspace(near, far, 19)
        one, u = _side(line.at(place - way), apex)
        other, v = _side(line.at(place + way), apex)
        cross = float(u[0] * v[1] - u[1] * v[0])
        if abs(cross) < 0.2 and float(u @ v) < 0:
            return None
        rel = other - one
        met = one + u * (rel[0] * v[1] - rel[1] * v[0]) / cross
        inner = np.arctan2(abs(cross), float(u @ v))
        # u and v both lead towards the corner, so the angle between them is the corner's own
        narrow = 1.0 / max(2 * np.tan(inner / 2), 0.05)
        apex = met
        stretch = np.linspace(-near, near, 41)
        nearest = place + float(stretch[np.hypot(*(line.at(place + stretch) - apex).T).argmin()])
        wanted = min(max(AWAY_PX + AWAY_NARROW * narrow, NEAR_PX) + skip, MOST_SKIP_PX)
        settled = abs(wanted - near) < 0.25 and abs(nearest - place) < 0.25
        place, near = nearest, wanted
        if settled:
            break
    reach = near + 2.0
    spread = line.at(place + np.linspace(-reach, reach, 61))
    # Between the level line and the sides up to the corner: art, where the corner lies to the right of the way round.
    feet = [apex + side * float((end - apex) @ side) for end, side in ((spread[-1], v), (spread[0], u))]
    lost = _signed(np.vstack([spread, feet[0], apex, feet[1], spread[:1]]))
    missing = float(np.sign(cross)) * (lost - held.beyond(apex, reach))
    if missing < -DEEPER:
        # More is held than straight sides give: they come together later.
        wide = 2 * float(np.hypot(*(apex - spread[30]))) * np.tan(inner / 2) + 2 * near * np.tan(inner / 2)
        deeper = min((-missing - DEEPER / 2) * 1.6 / wide, 0.8)
        apex = _reached(line, place, apex + _unit(u + v) * deeper, skip, narrow)
        return place % line.total, apex, place - near, place + near
    radius = float(np.sqrt(max(missing, 0.0) / max(1 / np.tan(inner / 2) - (np.pi - inner) / 2, 1e-4)))
    gone = radius * (1 / np.sin(inner / 2) - 1)
    if gone > ROUND_PX * min((np.pi - inner) / SHALLOW, 1.0) ** 2 + ROUND_NARROW * narrow * narrow:
        return None
    # What seems to be gone may be noise or a small radius; a third of the way back is never far off.
    apex = apex - _unit(u + v) * gone / 3
    return place % line.total, _reached(line, place, apex, skip, narrow), place - near, place + near


def _reached(line: _Line, place: float, apex: Floats, skip: float, narrow: float) -> Floats:
    """A tip no further from the level line than one can be that was drawn without anti-aliasing."""
    beside = line.at(place + np.linspace(-MOST_SKIP_PX, MOST_SKIP_PX, 97))
    nearest = beside[np.hypot(*(beside - apex).T).argmin()]
    far, most = float(np.hypot(*(apex - nearest))), HARD_TIP_PX * (1 + narrow)
    return apex if not skip or far <= most else nearest + (apex - nearest) * most / far


def _side(points: Floats, corner: Floats) -> tuple[Floats, Floats]:
    """A side of a corner, from near to far: the point and the direction in which it comes to the corner.

    As much of it as is straight is looked at; where little is, it goes on as it bends.
    """
    for share in (1.0, 0.65, 0.45):
        some = points[: int(share * len(points))]
        table, solved = _powers_of(len(points), len(some), 1)
        line = solved @ some
        if np.hypot(*(table @ line - some).T).max() < BENT_PX:
            return line[0], _unit(-line[1])
    some = points[: int(0.65 * len(points))]
    bent = _powers_of(len(points), len(some), 2)[1] @ some
    long = float(np.hypot(*(bent[0] - corner))) / max(float(np.hypot(*bent[1])), 1e-9)
    return bent[0] - bent[1] * long + bent[2] * long**2, _unit(-(bent[1] - 2 * bent[2] * long))


def _unit(vector: Floats) -> Floats:
    unit: Floats = vector / max(float(np.hypot(*vector)), 1e-12)
    return unit


@cache
def _powers_of(count: int, used: int, degree: int) -> tuple[Floats, Floats]:
    """The powers of the first of so many even steps from 0 to 1, and what solves for them by least squares."""
    steps = np.linspace(0.0, 1.0, count)[:used]
    table = steps[:, None] ** np.arange(degree + 1)
    return table, np.linalg.pinv(table).astype(np.float64)
