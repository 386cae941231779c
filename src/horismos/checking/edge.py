"""Checks of the printed edge against the cut."""

from collections.abc import Iterator

import numpy as np

from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.checking.check import rule
from horismos.checking.context import Context
from horismos.checking.edge_measure import STEP_MM, EdgeProfile, measure_edges
from horismos.checking.findings import Hit, Severity
from horismos.orders import DEFAULT_BLEED_MM
from horismos.paths import Contour, bounds, chain, enclosing_counts, rectangle
from horismos.paths.measure import Bounds
from horismos.roles import LineRole

ACCURACY_MM = 0.05
"""[ours] what the measure is good for; a shortfall below it is none."""


@rule("edge.bleed", "stop", limit=DEFAULT_BLEED_MM, unit="mm", scope="piece")
def bleed(c: Context) -> Iterator[Hit]:
    """Colour that ends short of the needed distance outside the cut."""
    if c.order.edge == "border":
        return
    needed = c.limit if c.limit != DEFAULT_BLEED_MM else c.order_says(c.order.bleed_mm)
    contours = face_contours(c)
    if not contours:
        if c.order.edge != "bleed":
            return
        if any(isinstance(line.object, PathObject) for line in c.lines):
            yield Hit(
                "The bleed could not be measured: no cut closes.", None, severity=Severity.LOOK
            )
            return
        contours = [rectangle(*c.page.boxes.trim)]
    profiles = measure_edges(c.view, contours, needed + 2.0)
    short = [_short(c, p, needed) for p in profiles]
    affected = sum(float(s.mean()) * p.length_mm for s, p in zip(short, profiles, strict=True))
    if not any(s.any() for s in short):
        return
    stretches = sorted(
        (stretch for s, p in zip(short, profiles, strict=True) for stretch in _stretches(s, p)),
        key=lambda found: found[0],
    )
    worst = stretches[0][0]
    inside = max(float(p.inside[s].max(initial=0)) for s, p in zip(short, profiles, strict=True))
    total = sum(p.length_mm for p in profiles)
    ends = (
        f"Colour ends {min(inside, needed + 2):.1f} mm inside the cut"
        if worst < ACCURACY_MM and inside > ACCURACY_MM
        else f"Colour ends {worst:.1f} mm outside the cut"
    )
    yield Hit(
        f"{ends} at the worst place; {needed:g} mm is needed. "
        "A cut that lands a little off shows bare media.",
        worst, len(stretches), [box for _, box in stretches],
        detail=f"{affected:.0f} mm of {total:.0f} mm of contour has too little bleed.",
    )


def _short(c: Context, profile: EdgeProfile, needed: float) -> np.ndarray:
    """Which samples have too little bleed.

    Blank media on both sides of the cut is no missing bleed, unless the order wants colour over
    the cut and colour begins only a little inside, or is nowhere along the contour.
    """
    near = profile.inside <= c.order.tolerance_mm
    if c.order.edge == "bleed":
        near = profile.inside <= max(needed, c.order.tolerance_mm)
        if not near.any():
            near[:] = True
    return np.asarray(near & (profile.outside < needed - ACCURACY_MM))


def _stretches(short: np.ndarray, profile: EdgeProfile) -> list[tuple[float, Bounds]]:
    """The runs of neighbouring short samples: the least bleed of each, and a box round it.

    The box of a long run is that of the worst few millimetres, so that it shows the place.
    """
    if not short.any():
        return []
    turn = 0 if short.all() else int(np.flatnonzero(~short)[0])
    flags = np.roll(short, -turn)
    order = np.roll(np.arange(len(short)), -turn)
    runs = np.split(order, np.flatnonzero(np.diff(flags.astype(int))) + 1)
    out = []
    for run in runs:
        if not short[run[0]]:
            continue
        least = int(np.argmin(profile.outside[run] - profile.inside[run]))
        window = run[max(0, least - WINDOW) : least + WINDOW + 1]
        low, high = profile.points[window].min(axis=0), profile.points[window].max(axis=0)
        box = (*(low - STEP_MM).tolist(), *(high + STEP_MM).tolist())
        out.append((float(profile.outside[run[least]]), box))
    return out


WINDOW = 10
"""Samples to both sides of the worst one that its box takes in: 5 mm."""


def face_contours(c: Context) -> list[Contour]:
    """The contours that bound what the customer sees.

    Kiss cuts, and such through cuts and perforations as have no kiss cut inside them.
    """
    kiss = _looping(c.roles.get(LineRole.KISS_CUT, []))
    others = [
        contour
        for role in (LineRole.THROUGH_CUT, LineRole.PERFORATION)
        for contour in _looping(c.roles.get(role, []))
    ]
    return kiss + [contour for contour in others if not _holds_any(contour, kiss)]


def _looping(lines: list[Line]) -> list[Contour]:
    pieces = [contour for line in lines for contour in line.contours]
    return [joined.contour for joined in chain(pieces) if joined.contour.loops]


def _holds_any(outer: Contour, inner: list[Contour]) -> bool:
    x0, y0, x1, y1 = bounds(outer)
    near = [i for i in inner if x0 <= bounds(i)[0] and bounds(i)[2] <= x1
            and y0 <= bounds(i)[1] and bounds(i)[3] <= y1]
    return bool(near) and sum(enclosing_counts([outer, near[0]])) > 0
