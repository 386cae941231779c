"""How far printed colour runs on beyond a contour, measured on the rendered art.

The art is rendered in tiles along the contour. On each sample of the contour the picture is read
along the line that leaves it squarely, outwards and inwards, until the colour ends or begins.
"""

from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from horismos.paths import Contour, enclosing_counts, length, sample, signed_area
from horismos.paths.batch_measures import directions_all, flatten_all, measure_all, sample_all
from horismos.paths.box import Bounds
from horismos.paths.contour import Floats
from horismos.paths.curvature import node_directions
from horismos.rendering.composite import Pixels
from horismos.units import MM_PER_INCH

__all__ = ["EdgeProfile", "View", "measure_edges"]

FAN_DEGREES = 12.0
"""[ours] at a corner the art is looked at every so many degrees."""
MOST_FANS = 20_000

STEP_MM = 0.5
"""[ours] between two samples of a contour."""
FINE_PPI, COARSE_PPI = 300.0, 150.0
FINE_PIXELS = 64_000_000
"""[ours] pixels that may be rendered at the finer resolution; beyond them the coarser one."""
TILE_MM = 60.0
"""[ours] along the contour: the less of a heavy page is drawn that is not near a contour the better."""
BLANK = 3.0
"""[ours] of 255: a lighter tint than about 1 % counts as blank media."""
SOFT_PIXELS = 2.5
"""An edge drawn by a renderer is no softer than this many pixels."""


class View(Protocol):
    """Whatever gives pictures of parts of a page: a PageView or a RasterView."""

    def render(self, area: Bounds, ppi: float) -> Pixels:
        """The part inside an area in mm, at a resolution."""
        ...


@dataclass(frozen=True, eq=False)
class EdgeProfile:
    """The samples of one contour; all arrays run over the samples.

    ``points`` and ``normals`` (towards the waste) have the shape (n, 2). ``coloured`` says that colour lies
    on the cut itself. Then ``outside`` is how far it runs on beyond the cut, else 0. Where the cut is blank,
    ``inside`` is how far inside the cut the first colour lies and ``beyond`` how far outside it, else both
    are 0. All are in mm and stop at ``reach_mm``. ``weight`` is the length of contour in mm that a sample
    stands for: 0 for the further directions that are looked in at a corner.
    """

    hole: bool
    points: Floats
    normals: Floats
    coloured: NDArray[np.bool_]
    outside: Floats
    inside: Floats
    beyond: Floats
    weight: Floats
    reach_mm: float

    @property
    def length_mm(self) -> float:
        """The length of the contour, by its samples."""
        return float(self.weight.sum())

    @property
    def stands(self) -> Floats:
        """How far the cut can move along each normal before something shows, in mm, at most the reach."""
        far: Floats = np.where(self.coloured, self.outside, np.minimum(self.inside, self.beyond))
        return far


def measure_edges(
    view: View, contours: Sequence[Contour], reach_mm: float, heavy: bool = False
) -> list[EdgeProfile]:
    """Measure every contour against the art in ``view``, as far as ``reach_mm`` to both sides.

    Outwards is towards the waste: for a contour inside another one, such as a hole, that is
    inwards. A contour of no length is left out. At corners that point outwards the art is looked at in
    the directions between the two sides as well. A ``heavy`` page is drawn at the coarser resolution.
    """
    measure_all(contours)
    flatten_all(contours, 0.05)
    sample_all(contours, STEP_MM)
    directions_all(contours)
    depths = enclosing_counts(contours)
    sampled = []
    for contour, depth in zip(contours, depths, strict=True):
        points, normals, weight = _samples(contour, 1.0 if (signed_area(contour) > 0) == (depth % 2 == 0) else -1.0)
        if len(points):
            sampled.append((depth % 2 == 1, points, normals, weight))
    if not sampled:
        return []
    points = np.concatenate([found[1] for found in sampled])
    normals = np.concatenate([found[2] for found in sampled])
    margin = reach_mm + 1.0
    tiles, ppi = _tiles(points, margin, heavy)
    outside, inside, beyond = np.zeros(len(points)), np.zeros(len(points)), np.zeros(len(points))
    for (area, members), ink in zip(tiles, _drawn_ahead(view, [area for area, _ in tiles], ppi), strict=True):
        per_mm = ppi / MM_PER_INCH
        outside[members], inside[members], beyond[members] = _read(
            ink, (area[0], area[3]), per_mm, points[members], normals[members], reach_mm
        )
    out, at = [], 0
    for hole, own, along, weight in sampled:
        part = slice(at, at + len(own))
        coloured = inside[part] <= 0
        out.append(EdgeProfile(
            hole, own, along, coloured, np.where(coloured, outside[part], 0.0),
            np.where(coloured, 0.0, inside[part]), np.where(coloured, 0.0, beyond[part]), weight, reach_mm,
        ))
        at += len(own)
    return out


def _samples(contour: Contour, side: float) -> tuple[Floats, Floats, Floats]:
    """Points, normals towards the waste, and weights."""
    points, along = sample(contour, STEP_MM)
    if not len(points):
        return points, along, np.empty(0)
    weight = np.full(len(points), length(contour) / len(points))
    normals = np.stack([along[:, 1], -along[:, 0]], axis=1) * side
    at, turn, comes = node_directions(contour)
    corner = turn * side > FAN_DEGREES
    if corner.any():
        more_points, more_normals = _fans(at[corner], turn[corner], comes[corner], side)
        points, normals = np.concatenate([points, more_points]), np.concatenate([normals, more_normals])
        weight = np.concatenate([weight, np.zeros(len(more_points))])
    return points, normals, weight


def _fans(at: Floats, turn: Floats, comes: Floats, side: float) -> tuple[Floats, Floats]:
    """The directions between the two sides of corners that point outwards."""
    points, normals = [], []
    for point, degrees, direction in zip(at[:MOST_FANS], turn[:MOST_FANS], comes[:MOST_FANS], strict=True):
        steps = int(np.ceil(abs(degrees) / FAN_DEGREES))
        angles = np.radians(degrees) * np.arange(steps + 1) / steps
        first = np.array([direction[1], -direction[0]]) * side
        cos, sin = np.cos(angles), np.sin(angles)
        normals.append(np.stack([first[0] * cos - first[1] * sin, first[0] * sin + first[1] * cos], axis=1))
        points.append(np.repeat(point[None], steps + 1, axis=0))
    return np.concatenate(points), np.concatenate(normals)


def _tiles(points: Floats, margin: float, heavy: bool) -> tuple[list[tuple[Bounds, np.ndarray]], float]:
    """Areas in mm that together hold every sample with its margin, and the resolution."""
    for ppi in (COARSE_PPI,) if heavy else (FINE_PPI, COARSE_PPI):
        cells = np.floor((points - points.min(axis=0)) / TILE_MM).astype(np.int64)
        keys, owner = np.unique(cells[:, 0] * (cells[:, 1].max() + 1) + cells[:, 1], return_inverse=True)
        tiles = []
        pixels = 0.0
        ends = np.cumsum(np.bincount(owner, minlength=len(keys)))[:-1]
        for members in np.split(np.argsort(owner, kind="stable"), ends):
            low = points[members].min(axis=0) - margin
            high = points[members].max(axis=0) + margin
            tiles.append(((*low.tolist(), *high.tolist()), members))
            pixels += float(np.prod((high - low) * ppi / MM_PER_INCH))
        if pixels <= FINE_PIXELS:
            break
    return tiles, ppi


def _drawn_ahead(view: View, areas: Sequence[Bounds], ppi: float) -> Iterator[np.ndarray]:
    """The ink of each area in turn; the next one is drawn while the last is looked at."""
    with ThreadPoolExecutor(1) as drawing:
        coming = drawing.submit(_ink, view, areas[0], ppi)
        for following in areas[1:]:
            ink = coming.result()
            coming = drawing.submit(_ink, view, following, ppi)
            yield ink
        yield coming.result()


def _ink(view: View, area: Bounds, ppi: float) -> np.ndarray:
    """How far each pixel is from blank paper, 0 to 255, shape (height, width)."""
    pixels = view.render(area, ppi)
    darkest = np.minimum(np.minimum(pixels[..., 0], pixels[..., 1]), pixels[..., 2])
    ink: np.ndarray = np.subtract(255, darkest, dtype=np.uint8)
    return ink


def _along(ink: np.ndarray, x: Floats, y: Floats, dx: Floats, dy: Floats, count: int) -> np.ndarray:
    """The ink, shape (count, n), at pixels and so many steps from them, each shape (n,), read between pixels."""
    steps = np.arange(count, dtype=np.float32)[:, None]
    across = np.clip(x.astype(np.float32) + steps * dx.astype(np.float32), 0, ink.shape[1] - 1.01)
    down = np.clip(y.astype(np.float32) + steps * dy.astype(np.float32), 0, ink.shape[0] - 1.01)
    column, row = across.astype(np.int32), down.astype(np.int32)
    across -= column
    down -= row
    flat, at = ink.ravel(), row * ink.shape[1] + column
    top, right = flat.take(at).astype(np.float32), flat.take(at + 1)
    top += (right - top) * across
    at += ink.shape[1]
    bottom, right = flat.take(at).astype(np.float32), flat.take(at + 1)
    bottom += (right - bottom) * across
    read: np.ndarray = top + (bottom - top) * down
    return read


def _read(
    ink: np.ndarray, origin: tuple[float, float], per_mm: float, points: Floats, normals: Floats,
    reach_mm: float,
) -> tuple[Floats, Floats, Floats]:
    """How far colour runs on outside, how far inside it begins and how far outside, for some samples."""
    blank = ink < BLANK
    if blank.all() or not blank.any():
        least, most = np.zeros(len(points)), np.full(len(points), reach_mm)
        return (least, most, most) if blank[0, 0] else (most, least, least)
    step = 0.5 / per_mm
    count = len(np.arange(0.0, reach_mm + 1.0, step))
    x, y = (points[:, 0] - origin[0]) * per_mm - 0.5, (origin[1] - points[:, 1]) * per_mm - 0.5
    dx, dy = normals[:, 0] / 2, -normals[:, 1] / 2  # half a pixel, rows downwards
    outwards = _along(ink, x, y, dx, dy, count)
    inwards = _along(ink, x, y, -dx, -dy, count)
    soft = round(SOFT_PIXELS / 0.5)
    # Each edge is looked for with a little of the other side before it, so that one right on the
    # cut is seen whole.
    out = _first_blank(np.vstack([inwards[soft:0:-1], outwards]), step, soft)
    inn = _first_blank(np.vstack([outwards[soft:0:-1], inwards]), step, soft, ends=False)
    beyond = _first_blank(outwards, step, soft, ends=False)
    outside = np.clip(out - soft * step, 0.0, reach_mm)
    inside = np.clip(inn - soft * step, 0.0, reach_mm)
    return outside, inside, np.clip(beyond, 0.0, reach_mm)


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
