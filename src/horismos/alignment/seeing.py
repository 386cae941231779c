"""Finds a registration mark in a picture: dark ink on a lighter ground, by its shape; or says why there is none.

It knows what kind of mark to look for, and its size, as a cutter is told them; where it lies it finds out by itself.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import scipy
from numpy.typing import NDArray

from horismos.paths.contour import Floats
from horismos.sheet.mark_kinds import Arms, MarkKind, Probe

__all__ = ["Sighting", "Unseen", "look_for"]

LEAST_CONTRAST = 45.0
"""[ours] steps of brightness between ink and ground: less is glare, a dark ground, or no mark at all."""
DARK_GROUND = 110.0
BLANK, BLANK_BLUR = 10.0, 3.0
"""[ours] steps of brightness that noise may come to on blank media, blurred by so many pixels."""
BRIGHT = 185.0
SIZE_OFF = 0.3
"""[ours] by so much of its size may what looks like a mark be smaller or larger."""
SAMPLES = 60
Bright = NDArray[np.float32]


class Unseen(StrEnum):
    """Why a mark was not found."""

    DARK = "the ground is too dark"
    GLARE = "the laminate mirrors the lamp"
    FAINT = "there is too little contrast"
    ABSENT = "there is no mark in reach"


@dataclass(frozen=True)
class Sighting:
    """A mark in a picture: ``column`` and ``row`` of its place, how it is turned, how dark it is against the ground.

    A place is the middle of a mark; of a bracket the corner where the outer edges of its arms meet.
    """

    column: float
    row: float
    turn_deg: float
    contrast: float


def look_for(bright: Bright, kind: MarkKind, arm: float, weight: float, opens: tuple[int, int]) -> Sighting | Unseen:
    """Look for a mark in a picture, rows from the top; ``arm`` and ``weight`` in pixels.

    ``opens`` says which way the arms of a bracket go, right and up positive.
    """
    smooth = scipy.ndimage.gaussian_filter(bright, 1.0)
    area = kind.area(arm, weight)
    # half the ink of a mark is darker than that, however fine it is
    low, high = np.percentile(smooth, [min(0.5, 50 * area / smooth.size), 90])
    if high - low < LEAST_CONTRAST:
        return Unseen.DARK if high < DARK_GROUND else _why_not(bright)
    level = float(low + high) / 2
    found, count = scipy.ndimage.label(smooth < level)
    sizes = np.bincount(found.ravel(), minlength=count + 1)[1:]
    boxes = scipy.ndimage.find_objects(found)
    best: tuple[float, Sighting] | None = None
    for i in np.flatnonzero(np.abs(sizes / area - 1) <= SIZE_OFF).tolist():
        rows, columns = np.nonzero(found[boxes[i]] == i + 1)
        rows, columns = rows + boxes[i][0].start, columns + boxes[i][1].start
        made = _as_mark(smooth, columns, rows, level, kind, arm, weight, opens)
        if made is not None and (best is None or made[0] < best[0]):
            best = made
    return best[1] if best else Unseen.ABSENT


def _why_not(bright: Bright) -> Unseen:
    """Why there is not as much ink as a mark has on a light ground, by the darkest and the brightest of it."""
    low, high = np.percentile(scipy.ndimage.gaussian_filter(bright, BLANK_BLUR), [0.02, 99.98])
    # blank, or a corner of something that is no mark; else what is there is nearly drowned
    if high - low < BLANK or high - low >= LEAST_CONTRAST:
        return Unseen.ABSENT
    return Unseen.GLARE if low > BRIGHT else Unseen.FAINT


def _as_mark(
    bright: Bright, columns: NDArray[np.intp], rows: NDArray[np.intp], level: float, kind: MarkKind, arm: float,
    weight: float, opens: tuple[int, int],
) -> tuple[float, Sighting] | None:
    """How unlike a mark a dark patch is, and where its place would be; None where it is none."""
    off = abs(len(rows) / kind.area(arm, weight) - 1)
    contrast = float(np.percentile(bright, 90) - bright[rows, columns].min())
    if kind.arms is Arms.NONE:
        column, row, turn = _middle(bright, columns, rows, level)
        wide, high = float(np.ptp(columns)) + 1, float(np.ptp(rows)) + 1
        if max(wide, high) > arm * 1.5 or min(wide, high) < arm * 0.7:
            return None
        if not _is_like(bright, (column, row), level, kind.probes(arm, weight)):
            return None
        return off, Sighting(column, row, turn, contrast)
    rough = _arms(columns, rows, kind, arm, weight, opens)
    if rough is None:
        return None
    (column, row), turn, unlike = rough
    fine = _refined(bright, (column, row), turn, kind, arm, weight, opens, level)
    return None if fine is None else (off + unlike, Sighting(*fine, contrast))


def _is_like(bright: Bright, middle: tuple[float, float], level: float, probes: Sequence[Probe]) -> bool:
    """Whether it is dark and light round a middle, column and row, where a mark is."""
    height, width = bright.shape
    for probe in probes:
        column, row = round(middle[0] + probe.right), round(middle[1] + probe.down)
        if not (0 <= column < width and 0 <= row < height) or (bright[row, column] < level) != probe.dark:
            return False
    return True


def _middle(
    bright: Bright, columns: NDArray[np.intp], rows: NDArray[np.intp], level: float
) -> tuple[float, float, float]:
    """The middle of a filled patch by how dark its pixels are, its rim with it."""
    r0, r1, c0, c1 = rows.min() - 3, rows.max() + 4, columns.min() - 3, columns.max() + 4
    r0, c0 = max(r0, 0), max(c0, 0)
    part = bright[r0:r1, c0:c1].astype(float)
    ground = float(np.percentile(part, 92))
    dark = np.clip(ground - part, 0, None)
    dark[part > (ground + level) / 2] = 0
    r, c = np.mgrid[r0 : r0 + part.shape[0], c0 : c0 + part.shape[1]]
    total = float(dark.sum())
    return float((c * dark).sum() / total), float((r * dark).sum() / total), 0.0


def _arms(
    columns: NDArray[np.intp], rows: NDArray[np.intp], kind: MarkKind, arm: float, weight: float,
    opens: tuple[int, int],
) -> tuple[tuple[float, float], float, float] | None:
    """Where two arms at right angles meet, roughly, and how they are turned; by which turn they are covered best."""
    points = np.column_stack([columns, -rows]).astype(float)
    best: tuple[float, Floats, float] | None = None
    for degrees in np.arange(-12, 12.5, 1.0):
        turn = np.radians(degrees)
        ways = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
        own = points @ ways.T
        if kind.arms is Arms.CROSSED:
            place = np.median(own, axis=0)
            off = np.abs(own - place)
            inside = (off.min(axis=1) <= weight / 2 + 1) & (off.max(axis=1) <= arm + 2)
        else:
            # the outer edges: low where arms go up or right, high where they go down or left
            place = np.array([
                np.percentile(own[:, i], 1.0 if way > 0 else 99.0) for i, way in enumerate(opens)
            ])
            off = (own - place) * opens
            inside = (off.min(axis=1) <= weight + 1) & (off.max(axis=1) <= arm + 2) & (off.min(axis=1) >= -2)
        unlike = 1 - float(inside.mean())
        if best is None or unlike < best[0]:
            best = unlike, place @ ways, float(degrees)
    assert best is not None
    unlike, place, degrees = best
    if unlike > 0.2:
        return None
    return (float(place[0]), float(-place[1])), degrees, unlike


def _refined(
    bright: Bright, place: tuple[float, float], turn_deg: float, kind: MarkKind, arm: float, weight: float,
    opens: tuple[int, int], level: float,
) -> tuple[float, float, float] | None:
    """The place to a part of a pixel: the arms' edges, looked for across them, and the lines through those."""
    turn = math.radians(turn_deg)
    along = (np.array([math.cos(turn), math.sin(turn)]), np.array([-math.sin(turn), math.cos(turn)]))
    start = np.array([place[0], -place[1]])
    lines = []
    for i, (way, across) in enumerate(((along[0], along[1]), (along[1], along[0]))):
        if kind.arms is Arms.CROSSED:
            at = np.concatenate([np.linspace(-0.85, -0.25, SAMPLES // 2), np.linspace(0.25, 0.85, SAMPLES // 2)]) * arm
            outward, middle = 1.0, 0.0
        else:
            at = np.linspace(0.2, 0.9, SAMPLES) * arm * opens[i]
            outward, middle = -float(opens[1 - i]), weight / 2 * opens[1 - i]
        base = start + at[:, None] * way + middle * across
        edges = _edge(bright, base, across * outward, weight, level)
        if kind.arms is Arms.CROSSED:
            other = _edge(bright, base, -across * outward, weight, level)
            edges = (edges + other) / 2
        edges = edges[np.isfinite(edges).all(axis=1)]
        if len(edges) < SAMPLES // 4:
            return None
        lines.append(_line(edges))
    (p, u), (q, v) = lines
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 0.5:
        return None
    t = ((q - p)[0] * v[1] - (q - p)[1] * v[0]) / cross
    met = p + t * u
    lies = math.degrees(math.atan2(u[1], u[0]))
    return float(met[0]), float(-met[1]), (lies + 90) % 180 - 90


def _edge(bright: Bright, base: Floats, way: Floats, weight: float, level: float) -> Floats:
    """Where, going out of the ink from places in it, shape (n, 2), it becomes light; nan where it never does."""
    steps = np.arange(0, weight * 0.5 + 6, 0.25)
    at = base[:, None] + steps[None, :, None] * way
    seen = scipy.ndimage.map_coordinates(bright, [-at[..., 1], at[..., 0]], order=1, mode="nearest")
    ink, ground = seen[:, :2].mean(axis=1), seen[:, -4:].mean(axis=1)
    half = (ink + ground) / 2
    light = seen >= half[:, None]
    first = light.argmax(axis=1)
    fine = (first > 0) & (ground - ink > LEAST_CONTRAST / 2) & (ink < level)
    i = np.maximum(first, 1)
    k = np.arange(len(seen))
    a, b = seen[k, i - 1], seen[k, i]
    share = np.where(b > a, (half - a) / np.maximum(b - a, 1e-6), 0.0)
    out = base + ((i - 1 + share) * 0.25)[:, None] * way
    out[~fine] = np.nan
    return np.asarray(out)


def _line(points: Floats) -> tuple[Floats, Floats]:
    """A line through points: a place on it and its direction; those far off are left out, once."""
    for _ in range(2):
        middle = points.mean(axis=0)
        _, _, ways = np.linalg.svd(points - middle)
        off = np.abs((points - middle) @ ways[1])
        points = points[off <= max(3 * float(np.median(off)), 0.3)]
    way = ways[0] if ways[0][np.abs(ways[0]).argmax()] > 0 else -ways[0]
    return middle, way
