"""Checks of the printed edge against the cut."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit, Severity
from horismos.checking.engine.rules import rule
from horismos.checking.measuring.edge_map import ACCURACY_MM, EdgeKind, classify_all
from horismos.comparing.facets import Facet
from horismos.orders import DEFAULT_BLEED_MM, DEFAULT_BORDER_MM, DEFAULT_TOLERANCE_MM, Edge
from horismos.paths.box import Bounds, around
from horismos.rendering.edges import STEP_MM, EdgeProfile

EDGE = (Facet.NAMES, Facet.GEOMETRY, Facet.ART, Facet.BOXES)
Flags = NDArray[np.bool_]
EVEN_SHARE = 0.95
"""[ours] of a contour that has to have a border for it to be judged whether it is even."""
DETAIL_MM = 6.0
"""[ours] a shape smaller than this both ways is a detail."""
SPREAD_MORE_MM = 0.45
"""[ours] what was spread ends so much further out, where it was stroked wider to close a gap to the cut, at most."""
PLACE_MM = 2.0
"""[ours] half the side of the box round a single place."""
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


@rule("edge.bleed", "stop", *EDGE, limit=DEFAULT_BLEED_MM, unit="mm", scope="piece", other_limits=("edge.risk",))
def bleed(c: Context) -> Iterator[Hit]:
    """Colour that ends short of the needed distance outside the cut."""
    if c.order.edge is Edge.BORDER or not c.printed:
        return
    needed = c.override_limit(c.edge.bleed)
    if not c.faces():
        if c.order.edge is Edge.BLEED:
            yield Hit("The bleed could not be measured: no cut closes.", measured=None, severity=Severity.LOOK)
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
        measured=max(worst, 0.0), count=len(places), where=places,
        detail=f"{affected:.0f} mm of {total:.0f} mm of contour has too little bleed.",
    )


def _short(c: Context, p: EdgeProfile, needed: float) -> Flags:
    """Which samples have too little bleed.

    Blank media on both sides of the cut is no missing bleed, unless the order wants colour over the cut and
    colour begins only a little inside, or is nowhere along the contour. Where a mend spread flat art under the cut,
    what it was spread by is enough.
    """
    short: Flags = p.coloured & (p.outside < needed - ACCURACY_MM)
    if _is_spread(p, c.page.spread_mm):
        short &= p.outside < c.page.spread_mm - ACCURACY_MM
    if c.order.edge is Edge.BLEED:
        near = p.inside <= max(needed, c.edge.tolerance)
        if not (p.coloured | near).any():
            near[:] = True
        short |= ~p.coloured & near
    return short


def _is_spread(p: EdgeProfile, spread_mm: float) -> bool:
    """Whether flat art was spread under a contour: along most of it colour ends as far out as that came to."""
    ends = (p.outside >= spread_mm - ACCURACY_MM) & (p.outside <= spread_mm + SPREAD_MORE_MM)
    return bool(spread_mm) and float(p.weight[p.coloured & ends].sum()) > p.length_mm / 2


@rule(
    "edge.border", "look", *EDGE, limit=DEFAULT_BORDER_MM, unit="mm", scope="piece", more={"even": (0.5, "mm")}
)
def border(c: Context) -> Iterator[Hit]:
    """A blank border narrower than wanted, or uneven."""
    if c.order.edge is Edge.BLEED or not c.faces():
        return
    wanted = c.override_limit(c.edge.border)
    profiles = [p for p in c.edges.colour if len(p.points)]
    narrow = [~p.coloured & (p.inside < wanted - ACCURACY_MM) for p in profiles]
    if c.order.edge is Edge.BORDER:
        narrow = [f | p.coloured for f, p in zip(narrow, profiles, strict=True)]
    if any(f.any() for f in narrow):
        worst, affected, places = _worst(profiles, narrow, lambda p: np.where(p.coloured, 0.0, p.inside))
        total = sum(p.length_mm for p in profiles)
        yield Hit(
            f"The blank border is {worst:.1f} mm at the narrowest; {wanted:g} mm is wanted.",
            measured=worst, count=len(places), where=places,
            detail=f"{affected:.0f} mm of {total:.0f} mm of contour has too narrow a border.",
        )
    for p in profiles:
        off = _uneven(p)
        if off is not None and off > c.more["even"] + ACCURACY_MM:
            least, most = int(p.inside.argmin()), int(p.inside.argmax())
            yield Hit(
                f"The blank border is uneven: {p.inside[least]:.1f} mm here, {p.inside[most]:.1f} mm there. "
                "It looks as if the cut had landed off.",
                measured=off, count=1, where=[_place(p.points[i]) for i in (least, most)], limit=c.more["even"],
                subject="even"
            )


def _uneven(p: EdgeProfile) -> float | None:
    """Half of how much a border varies along a contour, in mm; None where it is not meant as an even one."""
    along = p.weight > 0
    has = along & ~p.coloured & (p.inside < p.reach_mm)
    if p.weight[has].sum() < EVEN_SHARE * p.length_mm:
        return None
    return float(np.ptp(p.inside[has]) / 2)


def _place(point: NDArray[np.float64]) -> Bounds:
    x, y = point.tolist()
    return around(x, y, PLACE_MM)


@rule("edge.risk", "stop", *EDGE, limit=DEFAULT_TOLERANCE_MM, unit="mm", scope="piece")
def risk(c: Context) -> Iterator[Hit]:
    """Art that ends so near the cut that a cut off by the tolerance shows bare media or trims the art."""
    if not c.faces():
        return
    tolerance = c.override_limit(c.edge.tolerance)
    limits = replace(c.edge, edge=Edge.EITHER)
    for layer, listed in c.edges.layers.items():
        profiles = [p for p in listed if len(p.points)]
        flags = [kinds == EdgeKind.RISK for kinds in classify_all(profiles, limits)]
        if not any(f.any() for f in flags):
            continue
        worst, affected, places = _worst(profiles, flags, lambda p: p.stands)
        total = sum(p.length_mm for p in profiles)
        what = "The colour" if layer == "colour" else f"The {layer}"
        shows = _shows(profiles, flags)
        yield Hit(
            f"{what} ends {worst:.2f} mm from the cut; the cutter can land {tolerance:g} mm off, and then {shows}.",
            measured=worst, count=len(places), where=places, subject="" if layer == "colour" else layer,
            severity=None if layer == "colour" else Severity.LOOK,
            detail=f"{affected:.0f} mm of {total:.0f} mm of contour is at risk ({affected / total:.0%}).",
        )


def _shows(profiles: Sequence[EdgeProfile], flags: Sequence[Flags]) -> str:
    bare = any((f & p.coloured).any() for p, f in zip(profiles, flags, strict=True))
    trims = any((f & ~p.coloured & (p.inside <= p.beyond)).any() for p, f in zip(profiles, flags, strict=True))
    strange = any((f & ~p.coloured & (p.inside > p.beyond)).any() for p, f in zip(profiles, flags, strict=True))
    said = ["bare media shows"] * bare + ["art is trimmed"] * trims + ["colour from outside is on the piece"] * strange
    return " or ".join(said)
