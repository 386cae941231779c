"""Satin and zigzag over an edge: needle points from side to side of a band, close round it."""

from dataclasses import dataclass

import numpy as np
import shapely

from horismos.paths.areas import rims_of
from horismos.paths.contour import Floats
from horismos.stitching.across import Across, Edges, lines_across
from horismos.stitching.layers import moved
from horismos.stitching.runs import in_stitches
from horismos.stitching.stack import Join, Layer, Sewing, StitchKind, Underlay

__all__ = ["Band", "Column", "band_area", "columns"]

OVER_MM = 0.35
"""[ours] how far stitches of two edges run over the middle between them, so that nothing is bare there."""
CROWDED = 0.5
"""[ours] where needle points lie nearer than this share of the spacing, of three stitches one is shortened,"""
SHORTER = 0.35
"""[ours] by this share of its length,"""
DEEPER_MM = 0.7
"""[ours] and one goes so much further, so that a needle does not meet its own holes."""
UNDERLAY_FROM_MM = 1.5
UNDERLAY_RUN_MM = 2.5
UNDERLAY_STEP_MM = 0.5
UNDERLAY_SPACING_MM = 2.5
UNDERLAY_INSIDE_MM = 0.5
"""[ours] a narrower satin needs no underlay; how a run in its middle, and a zigzag below it, are sewn."""
CLOSED_BY = 2
"""[ours] so many stitches a side run on over the beginning."""
START_STEP_MM = 0.5


@dataclass(frozen=True)
class Band:
    """How far a band reaches, in mm, outwards and inwards from a ring, and how its rim goes round corners."""

    outset_mm: float
    inset_mm: float
    join: Join


@dataclass(frozen=True, eq=False)
class Column:
    """Stitches from side to side round one ring, which begin anywhere along it."""

    across: Across
    edges: Edges
    band: Band
    sewing: Sewing
    pull_mm: float

    def begins(self) -> tuple[Floats, Floats]:
        """Where it may begin: ways along it that are at no corner, and the outer needle points there, (n, 2)."""
        length = self.across.length_mm
        ways = np.arange(0, length, min(START_STEP_MM, length / 8))
        flat = ways[self.across.is_flat(ways)]
        ways = flat if len(flat) else ways
        return ways, self._ends(ways, 1)

    def points(self, begin: float) -> Floats:
        """Needle points in their order, shape (n, 2), from a way along it, round, and a little over the beginning."""
        length = self.across.length_mm
        count = max(round(length / self.sewing.spacing_mm), 3)
        step = length / count
        ways: Floats = np.asarray(begin + np.arange(count) * step, np.float64)
        out, inner = self._shortened(ways, 1, step), self._shortened(ways + step / 2, -1, step)
        sewn = np.empty((2 * count, 2))
        sewn[0::2], sewn[1::2] = out, inner
        return np.vstack([self._below(begin), sewn, sewn[: 2 * CLOSED_BY]])

    def _ends(self, ways: Floats, side: int, less_mm: float = 0.0, over_mm: float = OVER_MM) -> Floats:
        """The ends of lines on one side: 1 outwards, -1 inwards; ``less_mm`` short of the band's rim.

        Where another edge is nearer before that, they go ``over_mm`` further than to the middle.
        """
        at, out, longer = self.across.lines(ways)
        most = self.band.outset_mm * longer if side > 0 else np.full(len(ways), self.band.inset_mm)
        reach = self.edges.reach(at, side * out, most)
        full = reach >= most - 1e-6
        over = np.minimum(over_mm, reach)  # further on it would cross the other edge
        reach = np.where(full, most + self.pull_mm, np.minimum(reach + over, most)) - less_mm
        ends: Floats = at + side * out * np.maximum(reach, 0.0)[:, None]
        return ends

    def _shortened(self, ways: Floats, side: int, step_mm: float) -> Floats:
        """The ends on one side, spread where they crowd."""
        ends = self._ends(ways, side)
        if self.sewing.kind is not StitchKind.SATIN:
            return ends
        others = self._ends(ways, -side)
        apart = np.hypot(*(ends - np.roll(ends, 1, axis=0)).T)
        crowded, turn = apart < CROWDED * step_mm, np.arange(len(ends)) % 3
        short, deep = crowded & (turn == 1), crowded & (turn == 2)
        ends[short] += (others[short] - ends[short]) * SHORTER
        ends[deep] = self._ends(ways[deep], side, over_mm=OVER_MM + DEEPER_MM)
        return ends

    def _below(self, begin: float) -> Floats:
        """The underlay: once round below a satin, back to where it begins."""
        wide = self.band.outset_mm + self.band.inset_mm
        kind = self.sewing.underlay if self.sewing.kind is StitchKind.SATIN else Underlay.NONE
        if kind is Underlay.NONE or wide < UNDERLAY_FROM_MM:
            return np.empty((0, 2))
        length = self.across.length_mm
        if kind is Underlay.CENTRE:
            ways = begin + np.linspace(0, length, max(int(length / UNDERLAY_STEP_MM), 8))
            middle = (self._ends(ways, 1) + self._ends(ways, -1)) / 2
            return in_stitches(middle, UNDERLAY_RUN_MM)
        count = max(round(length / UNDERLAY_SPACING_MM), 3)
        ways = begin + np.arange(count) * length / count
        sewn = np.empty((2 * count, 2))
        sewn[0::2] = self._ends(ways, 1, UNDERLAY_INSIDE_MM)
        sewn[1::2] = self._ends(ways + length / count / 2, -1, UNDERLAY_INSIDE_MM)
        return sewn


def band_area(area: shapely.Geometry, layer: Layer, sewing: Sewing) -> shapely.Geometry:
    """What stitches over the edge of an area are to cover.

    Its outer rim goes round corners as the layer's edge does; the inner one is round where the fabric turns inwards:
    a mitre there would reach far into it.
    """
    outer = moved(area, sewing.width_mm - sewing.inset_mm, sewing.corners or layer.join)
    return shapely.difference(outer, moved(area, -sewing.inset_mm, Join.ROUND))


def columns(area: shapely.Geometry, layer: Layer, sewing: Sewing) -> list[Column]:
    """The columns round a layer's area, one a ring.

    The ring is the fabric's edge; where the inset is wider than the stitches, the outer side of these.
    """
    join = sewing.corners or layer.join
    outset = sewing.width_mm - sewing.inset_mm
    base = area if outset >= 0 else moved(area, outset, join)
    band = Band(max(outset, 0.0), min(sewing.inset_mm, sewing.width_mm), join)
    rings = rims_of(base, 0.0)
    if not rings:
        return []
    edges = Edges(rings)
    made = [lines_across(ring, band.outset_mm, band.inset_mm, join) for ring in rings]
    return [Column(one, edges, band, sewing, layer.pull_mm) for one in made if one.length_mm > 0]
