"""How near contours come to each other, and which two of them are the edges of one expanded stroke."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from horismos.paths.box import Bounds
from horismos.paths.chords import Chords
from horismos.paths.contour import Contour
from horismos.paths.flatten import flatten

__all__ = ["Near", "Ribbon", "near", "ribbons"]

CHUNK = 24
"""Chords that are looked at together."""
RIBBON_LENGTHS = 8.0
"""[ours] a ribbon is at least so many times as long as it is wide."""
RIBBON_EVEN = 1.6
"""[ours] the widest place of a ribbon over its mean width; a sliver with a belly is none."""


@dataclass(frozen=True)
class Near:
    """Two contours (by their number) and the shortest way between them, in mm."""

    a: int
    b: int
    apart_mm: float
    box: Bounds


def near(chords: Chords, group: Sequence[int], within_mm: float, least_mm: float = 0.0) -> list[Near]:
    """Pairs of contours of different groups that come nearer than ``within_mm``, nearest first.

    ``group`` gives the group of each contour. Pairs nearer than ``least_mm`` are left out: they lie on each
    other.
    """
    if not len(chords) or len(set(group)) < 2:
        return []
    starts, counts = chords.runs(CHUNK)
    owner = chords.contour[starts]
    index = np.repeat(np.arange(len(starts)), counts + 1)
    offset = np.concatenate([[0], np.cumsum(counts + 1)[:-1]])
    points = np.empty((len(index), 2))
    inner = np.ones(len(index), bool)
    inner[offset + counts] = False
    points[inner], points[offset + counts] = chords.start, chords.end[starts + counts - 1]
    pieces = shapely.linestrings(points, indices=index)
    a, b = shapely.STRtree(pieces).query(pieces, predicate="dwithin", distance=within_mm)
    groups = np.asarray(group)
    keep = (owner[a] < owner[b]) & (groups[owner[a]] != groups[owner[b]])
    a, b = a[keep], b[keep]
    apart = shapely.distance(pieces[a], pieces[b])
    best: dict[tuple[int, int], tuple[float, int]] = {}
    for i in np.argsort(apart):
        best.setdefault((int(owner[a[i]]), int(owner[b[i]])), (float(apart[i]), int(i)))
    out = []
    for (one, two), (distance, i) in best.items():
        if least_mm <= distance < within_mm:
            x0, y0, x1, y1 = shapely.bounds(shapely.shortest_line(pieces[a[i]], pieces[b[i]]))
            out.append(Near(one, two, distance, (float(x0), float(y0), float(x1), float(y1))))
    return out


@dataclass(frozen=True)
class Ribbon:
    """The outline of a stroke that was expanded: its contours (one, or outer and inner), width and place in mm."""

    contours: tuple[int, ...]
    width_mm: float
    length_mm: float
    box: Bounds


def ribbons(contours: Sequence[Contour], widest_mm: float) -> list[Ribbon]:
    """Contours, or pairs of one inside the other, that bound a band of even width below ``widest_mm``.

    The mean width is twice the area over the perimeter; that it is even is told by the largest circle
    inside.
    """
    looping = [i for i, c in enumerate(contours) if c.loops and len(c.segments) > 1]
    rings = {i: flatten(contours[i], 0.01) for i in looping}
    rings = {i: ring for i, ring in rings.items() if len(ring) >= 4}
    if not rings:
        return []
    keys = list(rings)
    counts = [len(rings[i]) for i in keys]
    points = np.concatenate([rings[i] for i in keys])
    filled = shapely.polygons(shapely.linearrings(points, indices=np.repeat(np.arange(len(keys)), counts)))
    valid = [bool(v) for v in shapely.is_valid(filled)]
    area, around = shapely.area(filled), shapely.length(filled)
    found: list[Ribbon] = []
    used: set[int] = set()
    inner, outer = shapely.STRtree(filled).query(filled)
    # A contour around another one: their band is (A - a) wide over half of both perimeters.
    width_of = 2 * (area[outer] - area[inner]) / np.maximum(around[outer] + around[inner], 1e-9)
    band_like = (area[outer] > area[inner]) & (width_of < widest_mm)
    band_like &= (around[outer] + around[inner]) / 2 > RIBBON_LENGTHS * width_of
    for place, other, width in zip(inner[band_like], outer[band_like], width_of[band_like], strict=True):
        if valid[place] and valid[other]:
            band = shapely.Polygon(rings[keys[other]], [rings[keys[place]]])
            if band.is_valid and _even(band, width):
                found.append(_ribbon((keys[other], keys[place]), width, band))
                used.update((keys[other], keys[place]))
    for place, key in enumerate(keys):
        width = 2 * area[place] / max(around[place], 1e-9)
        thin = 0 < width < widest_mm and around[place] / 2 > RIBBON_LENGTHS * width
        if key not in used and thin and valid[place] and _even(filled[place], width):
            found.append(_ribbon((key,), width, filled[place]))
    return sorted(found, key=lambda ribbon: -ribbon.width_mm)


def _even(band: shapely.Polygon, width: float) -> bool:
    widest = shapely.length(shapely.maximum_inscribed_circle(band, tolerance=width / 20)) * 2
    return bool(widest <= RIBBON_EVEN * width)


def _ribbon(members: tuple[int, ...], width: float, band: shapely.Polygon) -> Ribbon:
    x0, y0, x1, y1 = shapely.bounds(band)
    return Ribbon(members, float(width), float(shapely.length(band) / 2), (float(x0), float(y0), float(x1), float(y1)))
