"""What if the cut lands off? The slivers that a moved, turned or stretched cut would show.

It is worked out on the measured edge, sample by sample: a cut that moves along its normal beyond the place
where colour ends shows bare media, one that moves into the art trims it, one that moves out onto foreign
colour takes some of it along. Exact to the first order: for moves that are small beside the radii of the
contour, and but for the little that belongs to corners alone.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from horismos.misregistration import Misregistration
from horismos.paths.contour import Floats
from horismos.rendering.edges import EdgeProfile

__all__ = ["KINDS", "Landing", "Sliver", "land"]

KINDS = ("bare media", "trimmed art", "foreign colour")
SHOWS_MM = 0.02
"""[ours] a thinner sliver is none: the measure itself is no better."""
JOIN_MM = 1.2
"""Samples further apart than this do not belong to one sliver."""


@dataclass(frozen=True, eq=False)
class Sliver:
    """A run of samples where something shows: its kind, area in mm², greatest width in mm and outline (n, 2)."""

    kind: str
    area_mm2: float
    widest_mm: float
    outline: Floats


@dataclass(frozen=True)
class Landing:
    """All slivers, largest first."""

    slivers: tuple[Sliver, ...]

    @property
    def area_mm2(self) -> float:
        """The area of all slivers together."""
        return sum(sliver.area_mm2 for sliver in self.slivers)

    def to_json(self, most: int = 400) -> dict[str, Any]:
        """The landing for the stage: the largest slivers with their outlines, and what all come to."""
        return {
            "area_mm2": round(self.area_mm2, 3),
            "widest_mm": round(max((s.widest_mm for s in self.slivers), default=0.0), 3),
            "count": len(self.slivers),
            "by_kind": {
                kind: round(sum(s.area_mm2 for s in self.slivers if s.kind == kind), 3) for kind in KINDS
            },
            "slivers": [
                {
                    "kind": s.kind, "area_mm2": round(s.area_mm2, 4), "widest_mm": round(s.widest_mm, 3),
                    "outline": s.outline.round(3).tolist(),
                }
                for s in self.slivers[:most]
            ],
        }


def land(profiles: Sequence[EdgeProfile], off: Misregistration) -> Landing:
    """The slivers of a cut that lands off."""
    if not profiles:
        return Landing(())
    everywhere = np.concatenate([p.points for p in profiles])
    middle = (everywhere.min(axis=0) + everywhere.max(axis=0)) / 2
    slivers = [sliver for p in profiles for sliver in _of(p, middle, off)]
    return Landing(tuple(sorted(slivers, key=lambda s: -s.area_mm2)))


def _of(p: EdgeProfile, middle: Floats, off: Misregistration) -> list[Sliver]:
    along = p.weight > 0
    points, normals, weight = p.points[along], p.normals[along], p.weight[along]
    coloured = p.coloured[along]
    outside, inside, beyond = p.outside[along], p.inside[along], p.beyond[along]
    out = ((off.landed(points, middle) - points) * normals).sum(axis=1)
    bare = np.where(coloured & (outside < p.reach_mm), out - outside, 0.0)
    trimmed = np.where(~coloured & (inside < p.reach_mm), -out - inside, 0.0)
    foreign = np.where(~coloured & (beyond < p.reach_mm), out - beyond, 0.0)
    slivers = []
    for kind, width, first, sign in (
        (KINDS[0], bare, outside, 1.0), (KINDS[1], trimmed, inside, -1.0), (KINDS[2], foreign, beyond, 1.0)
    ):
        shows = width > SHOWS_MM
        if not shows.any():
            continue
        for run in _runs(shows, points):
            a = points[run] + normals[run] * (sign * first[run])[:, None]
            b = points[run] + normals[run] * (sign * (first[run] + width[run]))[:, None]
            # A strip between two curves side by side: how much longer it is further out than on the contour.
            half = sign * (first[run] + width[run] / 2)
            longer = np.maximum(1 + half * _bend(points, normals, weight)[run], 0.0)
            area = float((width[run] * weight[run] * longer).sum())
            slivers.append(Sliver(kind, area, float(width[run].max()), np.concatenate([a, b[::-1]])))
    return slivers


def _bend(points: Floats, normals: Floats, weight: Floats) -> Floats:
    """How much the normals spread along the contour, in 1/mm: the curvature, positive where it bulges out."""
    if len(points) < 3:
        return np.zeros(len(points))
    step = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    spread = np.roll(normals, -1, axis=0) - np.roll(normals, 1, axis=0)
    long = np.maximum((step * step).sum(axis=1), 1e-9)
    bend: Floats = np.clip((step * spread).sum(axis=1) / long, -1.0, 1.0)
    smooth = np.hypot(*spread.T) < 0.5
    return np.where(smooth, bend, 0.0)


def _runs(flags: np.ndarray, points: Floats) -> list[np.ndarray]:
    """Runs of neighbouring samples round a loop; a run breaks where samples lie apart."""
    count = len(flags)
    turn = 0 if flags.all() else int(np.flatnonzero(~flags)[0])
    order = np.roll(np.arange(count), -turn)
    gaps = np.hypot(*(points[order][1:] - points[order][:-1]).T) > JOIN_MM
    cuts = np.flatnonzero((np.diff(flags[order].astype(int)) != 0) | gaps) + 1
    return [run for run in np.split(order, cuts) if flags[run[0]]]
