"""Checks of the printed edge against the cut."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from horismos.artwork.extent import bounds_of
from horismos.artwork.glyphs import text_box
from horismos.artwork.model import PathObject
from horismos.artwork.pathdata import hull_boxes
from horismos.checking.art import texts
from horismos.checking.check import rule
from horismos.checking.context import Context
from horismos.checking.edge_map import ACCURACY_MM, Edge, classify
from horismos.checking.edge_measure import STEP_MM, EdgeProfile
from horismos.checking.facets import Facet
from horismos.checking.findings import MOST_PLACES, Hit, Severity
from horismos.orders import DEFAULT_BLEED_MM, DEFAULT_BORDER_MM, DEFAULT_TOLERANCE_MM
from horismos.paths import flatten
from horismos.paths.box import Bounds

EDGE = (Facet.NAMES, Facet.GEOMETRY, Facet.ART, Facet.BOXES)
Flags = NDArray[np.bool_]
EVEN_SHARE = 0.95
"""[ours] of a contour that has to have a border for it to be judged whether it is even."""
DETAIL_MM = 6.0
"""[ours] a shape smaller than this both ways is a detail."""
WINDOW = 10
"""Samples to both sides of the worst one that its box takes in: 5 mm."""


def _worst(
    profiles: Sequence[EdgeProfile], flags: Sequence[Flags], value: Callable[[EdgeProfile], NDArray[np.float64]]
) -> tuple[float, float, list[Bounds]]:
    """The least value among flagged samples, the length of contour flagged, and places, the worst first."""
    stretches: list[tuple[float, Bounds]] = []
    affected = 0.0
    for profile, flagged in zip(profiles, flags, strict=True):
        affected += float(profile.weight[flagged].sum())
        stretches += _stretches(flagged, profile, value(profile))
    stretches.sort(key=lambda found: found[0])
    return stretches[0][0], affected, [box for _, box in stretches]


def _stretches(flagged: Flags, profile: EdgeProfile, values: NDArray[np.float64]) -> list[tuple[float, Bounds]]:
    """The runs of neighbouring flagged samples: the least value of each, and a box round it.

    The box of a long run is that of the worst few millimetres, so that it shows the place.
    """
    if not flagged.any():
        return []
    turn = 0 if flagged.all() else int(np.flatnonzero(~flagged)[0])
    order = np.roll(np.arange(len(flagged)), -turn)
    runs = np.split(order, np.flatnonzero(np.diff(flagged[order].astype(int))) + 1)
    out = []
    for run in runs:
        if not flagged[run[0]]:
            continue
        least = int(np.argmin(values[run]))
        window = run[max(0, least - WINDOW) : least + WINDOW + 1]
        low, high = profile.points[window].min(axis=0), profile.points[window].max(axis=0)
        box = (*(low - STEP_MM).tolist(), *(high + STEP_MM).tolist())
        out.append((float(values[run[least]]), box))
    return out


@rule("edge.bleed", "stop", *EDGE, limit=DEFAULT_BLEED_MM, unit="mm", scope="piece")
def bleed(c: Context) -> Iterator[Hit]:
    """Colour that ends short of the needed distance outside the cut."""
    if c.order.edge == "border":
        return
    needed = c.go_by(c.edge.bleed)
    if not c.faces():
        if c.order.edge == "bleed":
            yield Hit("The bleed could not be measured: no cut closes.", None, severity=Severity.LOOK)
        return
    profiles = [p for p in c.edges.colour if len(p.points)]
    flags = [_short(c, p, needed) for p in profiles]
    if not any(f.any() for f in flags):
        return
    # A blank cut has a bleed of none, and the further inside the colour ends the worse.
    worst, affected, places = _worst(profiles, flags, lambda p: np.where(p.coloured, p.outside, -p.inside))
    total = sum(p.length_mm for p in profiles)
    reach = c.edges.reach_mm
    ends = (
        f"Colour ends {worst:.1f} mm outside the cut" if worst >= ACCURACY_MM
        else f"Colour ends {min(-worst, reach):.1f} mm inside the cut" if worst < -ACCURACY_MM
        else "Colour ends on the cut"
    )
    yield Hit(
        f"{ends} at the worst place; {needed:g} mm is needed. "
        "A cut that lands a little off shows bare media.",
        max(worst, 0.0), len(places), places,
        detail=f"{affected:.0f} mm of {total:.0f} mm of contour has too little bleed.",
    )


def _short(c: Context, p: EdgeProfile, needed: float) -> Flags:
    """Which samples have too little bleed.

    Blank media on both sides of the cut is no missing bleed, unless the order wants colour over the cut and
    colour begins only a little inside, or is nowhere along the contour.
    """
    short: Flags = p.coloured & (p.outside < needed - ACCURACY_MM)
    if c.order.edge == "bleed":
        near = p.inside <= max(needed, c.edge.tolerance)
        if not (p.coloured | near).any():
            near[:] = True
        short |= ~p.coloured & near
    return short


@rule(
    "edge.border", "look", *EDGE, limit=DEFAULT_BORDER_MM, unit="mm", scope="piece", more={"even": (0.5, "mm")}
)
def border(c: Context) -> Iterator[Hit]:
    """A blank border narrower than wanted, or uneven."""
    if c.order.edge == "bleed" or not c.faces():
        return
    wanted = c.go_by(c.edge.border)
    profiles = [p for p in c.edges.colour if len(p.points)]
    narrow = [~p.coloured & (p.inside < wanted - ACCURACY_MM) for p in profiles]
    if c.order.edge == "border":
        narrow = [f | p.coloured for f, p in zip(narrow, profiles, strict=True)]
    if any(f.any() for f in narrow):
        worst, affected, places = _worst(profiles, narrow, lambda p: np.where(p.coloured, 0.0, p.inside))
        total = sum(p.length_mm for p in profiles)
        yield Hit(
            f"The blank border is {worst:.1f} mm at the narrowest; {wanted:g} mm is wanted.",
            worst, len(places), places,
            detail=f"{affected:.0f} mm of {total:.0f} mm of contour has too narrow a border.",
        )
    for p in profiles:
        off = _uneven(p)
        if off is not None and off > c.more["even"] + ACCURACY_MM:
            least, most = int(p.inside.argmin()), int(p.inside.argmax())
            yield Hit(
                f"The blank border is uneven: {p.inside[least]:.1f} mm here, {p.inside[most]:.1f} mm there. "
                "It looks as if the cut had landed off.",
                off, 1, [_round(p.points[least]), _round(p.points[most])], limit=c.more["even"], subject="even",
            )


def _uneven(p: EdgeProfile) -> float | None:
    """Half of how much a border varies along a contour, in mm; None where it is not meant as an even one."""
    along = p.weight > 0
    has = along & ~p.coloured & (p.inside < p.reach_mm)
    if p.weight[has].sum() < EVEN_SHARE * p.length_mm:
        return None
    return float(np.ptp(p.inside[has]) / 2)


def _round(point: NDArray[np.float64]) -> Bounds:
    x, y = float(point[0]), float(point[1])
    return x - 2, y - 2, x + 2, y + 2


@rule("edge.risk", "stop", *EDGE, limit=DEFAULT_TOLERANCE_MM, unit="mm", scope="piece")
def risk(c: Context) -> Iterator[Hit]:
    """Art that ends so near the cut that a cut off by the tolerance shows bare media or trims the art."""
    if not c.faces():
        return
    tolerance = c.go_by(c.edge.tolerance)
    limits = replace(c.edge, edge="either")
    for layer, listed in c.edges.layers.items():
        profiles = [p for p in listed if len(p.points)]
        flags = [classify(p, limits) == Edge.RISK for p in profiles]
        if not any(f.any() for f in flags):
            continue
        worst, affected, places = _worst(profiles, flags, lambda p: p.stands)
        total = sum(p.length_mm for p in profiles)
        what = "The colour" if layer == "colour" else f"The {layer}"
        shows = _shows(profiles, flags)
        yield Hit(
            f"{what} ends {worst:.2f} mm from the cut; the cutter can land {tolerance:g} mm off, and then {shows}.",
            worst, len(places), places, subject="" if layer == "colour" else layer,
            severity=None if layer == "colour" else Severity.LOOK,
            detail=f"{affected:.0f} mm of {total:.0f} mm of contour is at risk ({affected / total:.0%}).",
        )


def _shows(profiles: Sequence[EdgeProfile], flags: Sequence[Flags]) -> str:
    bare = any((f & p.coloured).any() for p, f in zip(profiles, flags, strict=True))
    trims = any((f & ~p.coloured & (p.inside <= p.beyond)).any() for p, f in zip(profiles, flags, strict=True))
    strange = any((f & ~p.coloured & (p.inside > p.beyond)).any() for p, f in zip(profiles, flags, strict=True))
    said = ["bare media shows"] * bare + ["art is trimmed"] * trims + ["colour from outside is on the piece"] * strange
    return " or ".join(said)


@rule("edge.safe", "look", *EDGE, limit=3.0, unit="mm", scope="piece")
def safe(c: Context) -> Iterator[Hit]:
    """Live text or fine detail too near the cut.

    Details count where colour runs over the cut; where a border stays blank they are the edge itself.
    """
    if not c.faces():
        return
    rings = [flatten(contour, 0.02) for contour in c.faces()]
    cut = shapely.union_all([shapely.LineString(ring) for ring in rings if len(ring) > 1])
    inside = shapely.union_all(shapely.make_valid([shapely.Polygon(ring) for ring in rings if len(ring) > 3]))
    shapely.prepare(cut)
    shapely.prepare(inside)
    words = [text_box(o) for o in texts(c)]
    details = _details(c, cut) if any(p.coloured.any() for p in c.edges.colour) else []
    boxes = np.array([*words, *details]).reshape(-1, 4)
    shapes = shapely.box(*boxes.T)
    is_text = np.arange(len(boxes)) < len(words)
    near = shapely.dwithin(cut, shapes, c.limit - ACCURACY_MM)
    near &= np.where(is_text, shapely.intersects(inside, shapes), shapely.contains(inside, shapes))
    index = np.flatnonzero(near)
    apart = shapely.distance(cut, shapes[index])
    found = [
        (float(distance), words[i] if i < len(words) else details[i - len(words)], bool(is_text[i]))
        for distance, i in zip(apart, index, strict=True)
    ]
    if found:
        found.sort(key=lambda item: item[0])
        what = "Text" if found[0][2] else "Fine detail"
        count = len(found)
        yield Hit(
            f"{what} lies {found[0][0]:.1f} mm from the cut; {c.limit:g} mm are safe. "
            "A cut that lands off makes it look crooked, or takes some of it away.",
            found[0][0], count, [box for _, box, _ in found[:MOST_PLACES]],
        )


def _details(c: Context, cut: Any) -> list[Bounds]:
    """The boxes of small shapes near the cut, by all their points; what is clipped away is left out.

    A small shape near the cut begins near it, so that no other path needs to be looked at.
    """
    drawn = [o for o in c.printed if isinstance(o, PathObject) and not _white_only(o)]
    starts = np.array([_start(c, o) for o in drawn]).reshape(-1, 2)
    close = shapely.dwithin(cut, shapely.points(starts), c.limit + DETAIL_MM * math.sqrt(2))
    drawn = [o for o, is_close in zip(drawn, close, strict=True) if is_close]
    boxes = hull_boxes([(c.page.streams[o.stream].data[o.start : o.path_end], o.state.ctm) for o in drawn])
    small = (boxes[:, 2] - boxes[:, 0] < DETAIL_MM) & (boxes[:, 3] - boxes[:, 1] < DETAIL_MM)
    out = []
    for i in np.flatnonzero(small):
        seen = bounds_of(c.page, drawn[i]) if drawn[i].state.clip >= 0 else tuple(boxes[i].tolist())
        if seen is not None:
            out.append(seen)
    return out


def _start(c: Context, obj: PathObject) -> tuple[float, float]:
    """The first point of a path in mm; far away where there is none."""
    data = c.page.streams[obj.stream].data[obj.start : min(obj.path_end, obj.start + 80)].split(None, 2)
    try:
        x, y = float(data[0]), float(data[1])
    except (ValueError, IndexError):
        return math.inf, math.inf
    a, b, k, d, e, f = obj.state.ctm
    return a * x + k * y + e, b * x + d * y + f


def _white_only(obj: PathObject) -> bool:
    return (not obj.strokes or obj.state.stroke.white) and (not obj.fills or obj.state.fill.white)

