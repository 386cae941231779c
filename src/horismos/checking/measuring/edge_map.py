"""The edge map: along every cut, whether colour runs over it, a border stays blank, or neither is sure."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import IntEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from horismos.orders import Edge
from horismos.paths import Contour
from horismos.rendering.edges import EdgeProfile, View, measure_edges

__all__ = ["ACCURACY_MM", "EdgeKind", "EdgeLimits", "EdgeMap", "classify", "measure_map"]

ACCURACY_MM = 0.05
"""[ours] what the measure is good for; a shortfall below it is none."""
REACH_BEYOND_MM = 2.0
"""[ours] the art is looked at so much further than is wanted."""
LEAST_REACH_MM = 6.0
MOST_SHOWN = 60_000
"""[ours] samples that are kept for the stage; of more, the worst of each few."""
SPECK_MM = 0.75
"""[ours] a stretch of contour shorter than this is a speck in the art, not an edge at risk."""


class EdgeKind(IntEnum):
    """What a sample of a cut is."""

    OVER = 0
    """Colour runs on as far as it should."""
    BORDER = 1
    """The media stays blank as far as it should, or there is no art near."""
    SHORT = 2
    """Colour runs on further than the cut can land off, but not as far as wanted."""
    NARROW = 3
    """Blank further than the cut can land off, but not as far as wanted."""
    RISK = 4
    """A cut that lands off within the tolerance shows bare media, or trims art."""


@dataclass(frozen=True)
class EdgeLimits:
    """What is wanted in mm: bleed, blank border, and how far the cutter can land off.

    ``edge`` is that of the order: with ``bleed`` a blank cut near the art has too little of it, with
    ``border`` a coloured one.
    """

    bleed: float
    border: float
    tolerance: float
    edge: Edge = Edge.EITHER


@dataclass(frozen=True, eq=False)
class EdgeMap:
    """Profiles of the contours that bound a piece: by ``colour``, and by ``white`` and ``varnish`` where used."""

    layers: Mapping[str, tuple[EdgeProfile, ...]]
    reach_mm: float

    @property
    def colour(self) -> tuple[EdgeProfile, ...]:
        """The profiles against the colour."""
        return self.layers.get("colour", ())

    def stands_mm(self) -> float | None:
        """The largest misplacement in any direction that shows nothing; None without a contour.

        At most the reach.
        """
        each = [float(p.stands.min()) for p in self.colour if len(p.points)]
        return min(each) if each else None

    def to_json(self, limits: EdgeLimits) -> dict[str, Any]:
        """The map for the stage: per contour its samples in hundredths of a mm, with what each of them is."""
        count = sum(len(p.points) for profiles in self.layers.values() for p in profiles)
        step = -(-count // MOST_SHOWN) or 1
        return {
            "reach_mm": self.reach_mm,
            "limits": {"bleed": limits.bleed, "border": limits.border, "tolerance": limits.tolerance},
            "stands_mm": _rounded(self.stands_mm()),
            "layers": {
                name: [_shown(_thinned(p, step), limits) for p in profiles] for name, profiles in self.layers.items()
            },
            "shares": {name: _shares(profiles, limits) for name, profiles in self.layers.items()},
        }

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "EdgeMap":
        """A map from what was kept of it, to a hundredth of a mm."""
        return cls(
            {name: tuple(_kept(p, data["reach_mm"]) for p in shown) for name, shown in data["layers"].items()},
            data["reach_mm"],
        )


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 3)


def reach_of(wanted: EdgeLimits) -> float:
    """How far to both sides an edge is measured, in mm."""
    return max(LEAST_REACH_MM, max(wanted.bleed, wanted.border) + REACH_BEYOND_MM)


def measure_map(
    views: Mapping[str, View], contours: Sequence[Contour], wanted: EdgeLimits, heavy: bool = False
) -> EdgeMap:
    """Measure contours against several views of the art: ``colour``, and others by name."""
    reach = reach_of(wanted)
    return EdgeMap({name: tuple(measure_edges(view, contours, reach, heavy)) for name, view in views.items()}, reach)


def classify_all(profiles: Sequence[EdgeProfile], limits: EdgeLimits) -> list[NDArray[np.int8]]:
    """What each sample of each contour is, as numbers of EdgeKind."""
    if not profiles:
        return []
    names = ("coloured", "outside", "inside", "beyond", "points")
    coloured, outside, inside, beyond, points = (np.concatenate([getattr(p, n) for p in profiles]) for n in names)
    ends = np.cumsum([len(p.points) for p in profiles])
    whole = replace(
        profiles[0], coloured=coloured, outside=outside, inside=inside, beyond=beyond, points=points,
    )
    kinds, risk = _kinds(whole, limits)
    found = np.split(kinds, ends[:-1])
    for own, flags, p in zip(found, np.split(risk, ends[:-1]), profiles, strict=True):
        own[_lasting(flags, p.weight)] = EdgeKind.RISK
    return found


def classify(profile: EdgeProfile, limits: EdgeLimits) -> NDArray[np.int8]:
    """What each sample of a contour is, as numbers of EdgeKind."""
    return classify_all([profile], limits)[0]


def _kinds(p: EdgeProfile, limits: EdgeLimits) -> tuple[NDArray[np.int8], NDArray[np.bool_]]:
    """What each sample is but for risks, and which ones are at risk if that lasts."""
    border = np.where(p.inside >= limits.border - ACCURACY_MM, EdgeKind.BORDER, EdgeKind.NARROW)
    over = np.where(p.outside >= limits.bleed - ACCURACY_MM, EdgeKind.OVER, EdgeKind.SHORT)
    if limits.edge is Edge.BLEED:
        border = np.where(p.inside <= max(limits.bleed, limits.tolerance), EdgeKind.SHORT, border)
    elif limits.edge is Edge.BORDER:
        over = np.full(len(p.points), EdgeKind.NARROW)
    kinds = np.where(p.coloured, over, border).astype(np.int8)
    risk = (p.stands < limits.tolerance - ACCURACY_MM) & (p.stands < p.reach_mm)
    return kinds, risk


def _lasting(flags: NDArray[np.bool_], weight: NDArray[np.float64]) -> NDArray[np.bool_]:
    """The flags without runs shorter than SPECK_MM; corner directions are kept as they are."""
    if not flags.any():
        return flags
    along = np.flatnonzero(weight > 0)
    own = flags[along]
    if not own.any() or own.all():
        return flags
    turn = int(np.flatnonzero(~own)[0])
    order = np.roll(np.arange(len(own)), -turn)
    edges = np.flatnonzero(np.diff(own[order].astype(int))) + 1
    out = flags.copy()
    for run in np.split(order, edges):
        if own[run[0]] and weight[along[run]].sum() < SPECK_MM:
            out[along[run]] = False
    return out


def _shares(profiles: Sequence[EdgeProfile], limits: EdgeLimits) -> list[dict[str, Any]]:
    """Length in mm and share of each kind over all contours."""
    total = sum(p.length_mm for p in profiles)
    kinds = [(found, p.weight) for found, p in zip(classify_all(profiles, limits), profiles, strict=True)]
    out = []
    for kind in EdgeKind:
        long = float(sum(weight[found == kind].sum() for found, weight in kinds))
        out.append({"kind": kind.name.lower(), "mm": round(long, 1), "share": long / total if total else 0.0})
    return out


def _thinned(p: EdgeProfile, step: int) -> EdgeProfile:
    """A profile with one sample out of each ``step``, the worst of them, which stands for the length of all."""
    if step < 2 or not len(p.points):
        return p
    group = np.arange(len(p.points)) // step
    order = np.lexsort((p.stands, group))
    keep = order[np.flatnonzero(np.diff(group[order], prepend=-1))]
    weight = np.bincount(group, p.weight).astype(float)
    return EdgeProfile(
        p.hole, p.points[keep], p.normals[keep], p.coloured[keep], p.outside[keep], p.inside[keep],
        p.beyond[keep], weight, p.reach_mm,
    )


def _shown(p: EdgeProfile, limits: EdgeLimits) -> dict[str, Any]:
    def whole(values: NDArray[Any], scale: float) -> list[int]:
        return [int(v) for v in np.round(values * scale).ravel()]

    worst = int(p.stands.argmin()) if len(p.points) else 0
    return {
        "hole": p.hole,
        "length_mm": round(p.length_mm, 3),
        "points": whole(p.points, 100),
        "normals": whole(p.normals, 1000),
        "coloured": [int(v) for v in p.coloured],
        "outside": whole(p.outside, 100),
        "inside": whole(p.inside, 100),
        "beyond": whole(p.beyond, 100),
        "weight": whole(p.weight, 1000),
        "kinds": [int(v) for v in classify(p, limits)],
        "worst": worst,
    }


def _kept(shown: Mapping[str, Any], reach: float) -> EdgeProfile:
    points = np.array(shown["points"], float).reshape(-1, 2) / 100
    normals = np.array(shown["normals"], float).reshape(-1, 2) / 1000
    return EdgeProfile(
        bool(shown["hole"]), points, normals, np.array(shown["coloured"], bool),
        np.array(shown["outside"], float) / 100, np.array(shown["inside"], float) / 100,
        np.array(shown["beyond"], float) / 100, np.array(shown["weight"], float) / 1000, reach,
    )
