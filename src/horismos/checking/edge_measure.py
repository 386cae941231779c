"""How far printed colour runs on beyond a contour, measured on the rendered art.

The art is rendered in tiles along the contour. On each sample of the contour the picture is read
along the line that leaves it squarely, outwards and inwards, until the colour ends or begins.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from horismos.paths import Contour, enclosing_counts, sample, signed_area
from horismos.paths.contour import Floats
from horismos.paths.measure import Bounds
from horismos.rendering import PageView
from horismos.units import MM_PER_INCH

__all__ = ["EdgeProfile", "measure_edges"]

STEP_MM = 0.5
"""[ours] between two samples of a contour."""
FINE_PPI, COARSE_PPI = 300.0, 150.0
FINE_PIXELS = 64_000_000
"""[ours] pixels that may be rendered at the finer resolution; beyond them the coarser one."""
TILE_PIXELS = 3000
BLANK = 3.0
"""[ours] of 255: a lighter tint than about 1 % counts as blank media."""
SOFT_PIXELS = 1.5
"""An edge drawn by a renderer is no softer than this many pixels."""


@dataclass(frozen=True, eq=False)
class EdgeProfile:
    """The samples of one contour; all arrays run over the samples.

    ``points`` has the shape (n, 2) in mm, ``length_mm`` is the contour's. ``outside`` is how far
    colour runs on beyond the cut (0 where the cut itself is blank), ``inside`` how far inside the
    cut the first colour lies (0 where the cut lies in colour); both stop at the reach.
    """

    contour: Contour
    points: Floats
    outside: Floats
    inside: Floats
    length_mm: float


def measure_edges(
    view: PageView, contours: Sequence[Contour], reach_mm: float
) -> list[EdgeProfile]:
    """Measure every contour against the art in ``view``, as far as ``reach_mm`` to both sides.

    Outwards is towards the waste: for a contour inside another one, such as a hole, that is
    inwards. A contour of no length is left out.
    """
    depths = enclosing_counts(contours)
    sampled = []
    for contour, depth in zip(contours, depths, strict=True):
        points, along = sample(contour, STEP_MM)
        if len(points):
            side = 1.0 if (signed_area(contour) > 0) == (depth % 2 == 0) else -1.0
            sampled.append((contour, points, np.stack([along[:, 1], -along[:, 0]], axis=1) * side))
    if not sampled:
        return []
    points = np.concatenate([p for _, p, _ in sampled])
    normals = np.concatenate([n for _, _, n in sampled])
    margin = reach_mm + 1.0
    tiles, ppi = _tiles(points, margin)
    outside, inside = np.zeros(len(points)), np.zeros(len(points))
    for area, members in tiles:
        ink = _ink(view, area, ppi)
        per_mm = ppi / MM_PER_INCH
        outside[members], inside[members] = _read(
            ink, (area[0], area[3]), per_mm, points[members], normals[members], reach_mm
        )
    out, at = [], 0
    for contour, own, _ in sampled:
        end = at + len(own)
        step = STEP_MM if len(own) < 2 else 0.0
        length_mm = float(np.hypot(*np.diff(own, axis=0, append=own[:1]).T).sum()) or step
        out.append(EdgeProfile(contour, own, outside[at:end], inside[at:end], length_mm))
        at = end
    return out


def _tiles(points: Floats, margin: float) -> tuple[list[tuple[Bounds, np.ndarray]], float]:
    """Areas in mm that together hold every sample with its margin, and the resolution."""
    for ppi in (FINE_PPI, COARSE_PPI):
        size = TILE_PIXELS / ppi * MM_PER_INCH
        cells = np.floor((points - points.min(axis=0)) / size).astype(int)
        keys, owner = np.unique(cells, axis=0, return_inverse=True)
        owner = owner.ravel()
        tiles = []
        pixels = 0.0
        for index in range(len(keys)):
            members = np.flatnonzero(owner == index)
            low = points[members].min(axis=0) - margin
            high = points[members].max(axis=0) + margin
            tiles.append(((*low.tolist(), *high.tolist()), members))
            pixels += float(np.prod((high - low) * ppi / MM_PER_INCH))
        if pixels <= FINE_PIXELS:
            break
    return tiles, ppi


def _ink(view: PageView, area: Bounds, ppi: float) -> np.ndarray:
    """How far each pixel is from blank paper, 0 to 255, shape (height, width)."""
    darkest = view.render(area, ppi).min(axis=2)
    ink: np.ndarray = (255 - darkest).astype(np.float32)
    return ink


def _along(
    ink: np.ndarray, origin: tuple[float, float], per_mm: float, points: Floats, offsets: Floats
) -> np.ndarray:
    """The ink at points, shape (n, 2), moved by offsets, shape (k, n, 2), read between pixels."""
    at = points[None] + offsets
    x = np.clip((at[..., 0] - origin[0]) * per_mm - 0.5, 0, ink.shape[1] - 1.001)
    y = np.clip((origin[1] - at[..., 1]) * per_mm - 0.5, 0, ink.shape[0] - 1.001)
    column, row = x.astype(int), y.astype(int)
    fx, fy = x - column, y - row
    top = ink[row, column] * (1 - fx) + ink[row, column + 1] * fx
    bottom = ink[row + 1, column] * (1 - fx) + ink[row + 1, column + 1] * fx
    read: np.ndarray = top * (1 - fy) + bottom * fy
    return read


def _read(
    ink: np.ndarray, origin: tuple[float, float], per_mm: float, points: Floats, normals: Floats,
    reach_mm: float,
) -> tuple[Floats, Floats]:
    """``outside`` and ``inside`` of an EdgeProfile for some samples."""
    step = 0.5 / per_mm
    ruler = np.arange(0.0, reach_mm + 1.0, step)
    outwards = _along(ink, origin, per_mm, points, ruler[:, None, None] * normals)
    inwards = _along(ink, origin, per_mm, points, -ruler[:, None, None] * normals)
    soft = round(SOFT_PIXELS / 0.5)
    # Each edge is looked for with a little of the other side before it, so that one right on the
    # cut is seen whole.
    out = _first_blank(np.vstack([inwards[soft:0:-1], outwards]), step, soft)
    inn = _first_blank(np.vstack([outwards[soft:0:-1], inwards]), step, soft, ends=False)
    outside = np.clip(out - soft * step, 0.0, reach_mm)
    inside = np.clip(inn - soft * step, 0.0, reach_mm)
    return outside, inside


def _first_blank(levels: np.ndarray, step: float, soft: int, ends: bool = True) -> Floats:
    """Where along each column colour ends (or, with ``ends`` false, begins), in mm from its top.

    The end is where the ink falls to half of what it is one soft edge before the first blank
    place; infinite where it does not end. The beginning is found alike.
    """
    count = levels.shape[0]
    blank = levels < BLANK
    wanted = blank if ends else ~blank
    first = np.where(wanted.any(axis=0), wanted.argmax(axis=0), count)
    columns = np.arange(levels.shape[1])
    if ends:
        full = np.clip(first - soft, 0, count - 1)
    else:
        full = np.clip(first + soft, 0, count - 1)
    half = levels[full, columns] / 2
    at = first.astype(float)
    for back in range(soft + 1):
        a = np.clip(first - 1 - back if ends else first - 1 + back, 0, count - 2)
        here, after = levels[a, columns], levels[a + 1, columns]
        crosses = (here >= half) & (after < half) if ends else (here < half) & (after >= half)
        crosses &= half > 0
        with np.errstate(divide="ignore", invalid="ignore"):
            between = a + np.where(crosses, (here - half) / (here - after), 0)
        at = np.where(crosses, between, at)
    at[first >= count] = np.inf
    ends_at: Floats = at * step
    return ends_at
