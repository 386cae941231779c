"""Checks of where lines lie: to each other, to the page, on which layer."""

from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
import shapely

from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit
from horismos.checking.engine.rules import rule
from horismos.checking.measuring.clipped import OUT_MM, clipped_away
from horismos.checking.measuring.outlines import THROUGH_ALL, Outline
from horismos.comparing.facets import Facet
from horismos.paths import bounds, flatten, length
from horismos.paths.box import Bounds
from horismos.paths.crossings import DOUBLED_WITHIN_MM
from horismos.paths.nearness import near
from horismos.roles import LineRole

SHAPE = (Facet.NAMES, Facet.GEOMETRY)
SAME_MM = 0.1
"""[ours] a line that leaves another by less lies on it, on purpose."""
HOLE_SHARE = 0.5
"""[ours] a hole is the smaller part of the piece that it is in."""


@rule("line.crowded", "look", *SHAPE, limit=2.0, unit="mm", scope="piece")
def crowded(c: Context) -> Iterator[Hit]:
    """Two lines nearer than the material can hold, between roles or copies; stacked ones are fine."""
    everything = c.shape.everything
    in_ribbon = {frozenset(r.contours) for r in c.shape.ribbons if len(r.contours) == 2}
    crossing = {frozenset((x.a, x.b)) for x in c.shape.crossings}
    touching = {frozenset((s.a, s.b)) for s in c.shape.doubled}
    known = in_ribbon | crossing | touching
    found = [
        n for n in near(c.shape.chords, range(len(everything)), c.limit, DOUBLED_WITHIN_MM)
        if frozenset((n.a, n.b)) not in known and _share_a_part(everything[n.a].role, everything[n.b].role)
        and not _stacked(everything[n.a], everything[n.b])
    ]
    groups: dict[tuple[LineRole, LineRole], list[Any]] = {}
    for n in found:
        first, second = sorted((everything[n.a].role, everything[n.b].role), key=list(LineRole).index)
        groups.setdefault((first, second), []).append(n)
    for (one, two), pairs in groups.items():
        worst = pairs[0].apart_mm
        who = f"Two contours of the {one.words} lie" if one is two else f"The {one.words} and the {two.words} lie"
        yield Hit(
            f"{who} only {worst:.2f} mm apart. The strip between them tears or comes off with the waste.",
            measured=worst, count=len(pairs), where=[n.box for n in pairs], subject=one.value,
        )


def _share_a_part(one: LineRole, other: LineRole) -> bool:
    """Whether both cut the same part of the media: between a cut in the film and one in the liner is no strip."""
    return one is other or bool(one.facts.through & other.facts.through)


def _stacked(a: Outline, b: Outline) -> bool:
    """Whether one contour of two roles lies on the other: the whole of the shorter within SAME_MM."""
    if a.role is b.role:
        return False
    short, long = sorted((a, b), key=lambda o: length(o.contour))
    line = shapely.LineString(flatten(long.contour, 0.01))
    points = shapely.points(flatten(short.contour, 0.01))
    shapely.prepare(line)
    return bool(np.all(shapely.dwithin(line, points, SAME_MM)))


@rule("line.order", "stop", *SHAPE, unit="contours", scope="piece")
def contradict(c: Context) -> Iterator[Hit]:
    """Roles that contradict: a kiss contour outside its through cut, a through cut across a kiss piece."""
    kisses = [o for o in c.shape.outlines.get(LineRole.KISS_CUT, []) if o.polygon is not None]
    outer = [
        o for role in THROUGH_ALL
        for o in c.shape.outlines.get(role, []) if o.polygon is not None
    ]
    through = c.shape.outlines.get(LineRole.THROUGH_CUT, [])
    across = _across(kisses, through)
    if across:
        yield Hit(
            f"The through cut runs across {len(across)} kiss-cut piece{'s' if len(across) > 1 else ''}. "
            "The piece would fall apart.",
            measured=len(across), count=len(across), where=across, subject=LineRole.THROUGH_CUT.value,
        )
    outside = _outside(kisses, outer)
    if outside:
        count = len(outside)
        yield Hit(
            f"{count} kiss-cut contour{'s lie' if count > 1 else ' lies'} outside the cut that goes through. "
            "The piece falls out without what is to be peeled off it.",
            measured=count, count=count, where=[bounds(o.contour) for o in outside], subject=LineRole.KISS_CUT.value,
        )


def _across(kisses: Sequence[Outline], through: Sequence[Outline]) -> list[Bounds]:
    """Where through cuts enter the inside of kiss pieces and leave it again."""
    out: list[Bounds] = []
    if not kisses or not through:
        return out
    areas = shapely.buffer([o.polygon for o in kisses], -SAME_MM)
    lines = [shapely.LineString(flatten(o.contour, 0.01)) for o in through]
    tree = shapely.STRtree(areas)
    for line, outline in zip(lines, through, strict=True):
        for i in tree.query(line, predicate="intersects"):
            kiss = kisses[int(i)]
            whole_inside = outline.polygon is not None and kiss.polygon.contains(outline.polygon)
            if not whole_inside:
                x0, y0, x1, y1 = line.intersection(areas[int(i)]).bounds
                out.append((x0, y0, x1, y1))
    return out


def _outside(kisses: Sequence[Outline], outer: Sequence[Outline]) -> list[Outline]:
    """Kiss contours that no cut through the material holds; holes cut through inside a piece hold none."""
    holes = _holes_in(kisses, outer)
    holding = [o for o in outer if o not in holes]
    if not holding:
        return []
    wide = shapely.union_all([shapely.buffer(o.polygon, SAME_MM) for o in holding])
    shapely.prepare(wide)
    # One that the other cut runs across is told already, once.
    return [
        o for o in kisses
        if not wide.contains(o.polygon) and not any(h.role is LineRole.THROUGH_CUT and _cut_by(o, h) for h in holding)
    ]


def _holes_in(kisses: Sequence[Outline], outer: Sequence[Outline]) -> set[Outline]:
    """The cuts that are holes of the kiss piece round them: together they are the smaller part of it.

    What takes most of a piece is no hole in it but the piece, and the kiss contour lies outside.
    """
    by_piece: dict[Outline, list[Outline]] = {}
    for cut in outer:
        round_it = [k for k in kisses if k.polygon.buffer(-SAME_MM).contains(cut.polygon)]
        if round_it:
            by_piece.setdefault(min(round_it, key=lambda k: float(k.polygon.area)), []).append(cut)
    return {
        cut for piece, cuts in by_piece.items()
        if shapely.union_all([c.polygon for c in cuts]).area < HOLE_SHARE * piece.polygon.area
        for cut in cuts
    }


def _cut_by(kiss: Outline, cut: Outline) -> bool:
    """Whether a cut runs across a kiss piece, and does not lie inside it whole."""
    line = shapely.LineString(flatten(cut.contour, 0.05))
    return not kiss.polygon.contains(cut.polygon) and bool(line.intersects(kiss.polygon.buffer(-SAME_MM)))


@rule("line.outside", "stop", *SHAPE, Facet.BOXES, Facet.PAINT, limit=OUT_MM, unit="mm")
def outside(c: Context) -> Iterator[Hit]:
    """A line beyond the page, clipped away, or beyond the bleed."""
    boxes = c.page.boxes
    limit, what = (boxes.bleed, "the bleed") if "bleed" in boxes.stated else (boxes.media, "the page")
    groups: dict[tuple[LineRole | None, str], list[tuple[float, Bounds]]] = {}
    for line in c.lines:
        if not isinstance(line.object, PathObject) or not line.contours:
            continue
        (place,) = c.places([line])
        far = max(limit[0] - place[0], limit[1] - place[1], place[2] - limit[2], place[3] - limit[3])
        if far > c.limit:
            groups.setdefault((line.role, what), []).append((far, place))
        else:
            hidden = clipped_away(line)
            if hidden > c.limit:
                groups.setdefault((line.role, "its clip"), []).append((hidden, place))
    for (role, beyond), found in groups.items():
        found.sort(key=lambda item: -item[0])
        words = role.words if role else "line"
        end = "and is not seen there" if beyond == "its clip" else "where nothing is printed or cut"
        yield Hit(
            f"The {words} goes {found[0][0]:.2f} mm beyond {beyond}, {end}.", measured=found[0][0], count=len(found),
            where=[place for _, place in found], subject=role.value if role else ""
        )


@rule("line.hidden", "stop", Facet.NAMES, Facet.LAYERS, Facet.GEOMETRY)
def hidden(c: Context) -> Iterator[Hit]:
    """A line on a layer that is off, or set not to print or not to view."""
    groups: dict[LineRole | None, list[Line]] = {}
    for line in c.lines:
        if not (line.object.state.visible and line.object.state.prints):
            groups.setdefault(line.role, []).append(line)
    for role, lines in groups.items():
        off = any(not line.object.state.visible for line in lines)
        names = sorted({c.artwork.layers[i].name for line in lines for i in line.object.state.layers})
        on = f" (layer {', '.join(f'“{name}”' for name in names)})" if names else ""
        yield Hit(
            f"The {role.words if role else 'line'} is {'hidden' if off else 'set not to print'}{on}. "
            "What is hidden is easily lost on the way to the cutter.",
            measured=len(lines), count=len(lines), where=c.places(lines), subject=role.value if role else "",
        )
