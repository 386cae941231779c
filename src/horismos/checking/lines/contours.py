"""Checks of the contours of lines: closed, crossing, doubled, expanded strokes, leftovers, how they turn."""

from collections.abc import Iterator, Sequence

from horismos.artwork.lines import Line, unclosed
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit
from horismos.checking.engine.rules import rule
from horismos.checking.measuring.outlines import Outline
from horismos.comparing.facets import Facet
from horismos.paths import Contour, bounds, enclosing_counts, length, signed_area
from horismos.paths.box import Bounds, around
from horismos.paths.crossings import DOUBLED_WITHIN_MM
from horismos.paths.curvature import Corner, all_tight_turns, corners, nodes
from horismos.roles import LineRole
from horismos.words import plural

SHAPE = (Facet.NAMES, Facet.GEOMETRY)
LEAST_TINY = 5
"""[ours] so many tiny segments are no accident of drawing any more."""
LEAST_NODES = 16
"""[ours] fewer nodes are not too many, however short the contour."""
PLACE_MM = 0.5
"""Half the side of the box round a point that is shown."""


@rule("line.open", "stop", *SHAPE, limit=0.01, unit="mm")
def open_contours(c: Context) -> Iterator[Hit]:
    """A contour that should close and does not, with the gap."""
    groups: dict[tuple[LineRole, ...], list[Line]] = {}
    for line in c.lines:
        groups.setdefault(line.roles, []).append(line)
    for lines in groups.values():
        found = [(joined, pieces) for joined, pieces in unclosed(lines) if joined.gap_mm > c.limit]
        if not found:
            continue
        found.sort(key=lambda item: -item[0].gap_mm)
        worst = found[0][0].gap_mm
        words = " or ".join(role.words for role in lines[0].roles)
        count = len(found)
        role = lines[0].role
        yield Hit(
            f"{plural(count, 'contour')} of the {words} "
            f"{'do' if count > 1 else 'does'} not close; the widest gap is {worst:.2f} mm.",
            measured=worst, count=count, where=[_gap_place(joined.contour) for joined, _ in found],
            subject=role.value if role else "",
        )


def _gap_place(contour: Contour) -> Bounds:
    """A box round the gap between the ends; round the contour where the gap is inside it."""
    if contour.loops:
        return bounds(contour)
    (x0, y0), (x1, y1) = contour.start, contour.end
    return float(min(x0, x1)), float(min(y0, y1)), float(max(x0, x1)), float(max(y0, y1))


@rule("line.crosses", "stop", *SHAPE, unit="crossings")
def crosses(c: Context) -> Iterator[Hit]:
    """A contour that crosses itself or another of its role."""
    everything = c.shape.everything
    for role in c.shape.outlines:
        found = [x for x in c.shape.crossings if everything[x.a].role is role]
        if found:
            own = sum(x.a == x.b for x in found)
            what = "itself" if own == len(found) else "another of its role" if not own else "itself and others"
            count = len(found)
            yield Hit(
                f"The {role.words} crosses {what} at {plural(count, 'place')}. "
                "The blade would cut the piece apart there.",
                measured=count, count=count, where=[around(*x.at, PLACE_MM) for x in found], subject=role.value,
            )


@rule("line.doubled", "stop", *SHAPE, limit=1.0, unit="mm")
def doubled(c: Context) -> Iterator[Hit]:
    """The same path twice in one role, whole or in part; two roles stacked on purpose are fine."""
    everything = c.shape.everything
    for role in c.shape.outlines:
        found = [s for s in c.shape.doubled if everything[s.a].role is role and s.length_mm > c.limit]
        if found:
            total = sum(s.length_mm for s in found)
            yield Hit(
                f"The {role.words} runs twice over {total:.1f} mm, in {plural(len(found), 'stretch', 'stretches')}. "
                "The blade goes over it again and cuts deeper than it should.",
                measured=total, count=len(found), where=[s.box for s in found], subject=role.value,
                detail=f"Nearer than {DOUBLED_WITHIN_MM:g} mm; the longest stretch is {found[0].length_mm:.1f} mm.",
            )


@rule("line.ribbon", "stop", *SHAPE, limit=0.5, unit="mm")
def ribbon(c: Context) -> Iterator[Hit]:
    """A stroke that was expanded to an outline: two contours a constant small distance apart."""
    everything = c.shape.everything
    for role in c.shape.outlines:
        found = [r for r in c.shape.ribbons if everything[r.contours[0]].role is role and r.width_mm < c.limit]
        if found:
            widest = found[0].width_mm
            yield Hit(
                f"The {role.words} is the outline of a stroke {widest:.2f} mm wide, not the stroke itself. "
                "It would be cut twice, side by side.",
                measured=widest, count=len(found), where=[r.box for r in found], subject=role.value,
            )


@rule("line.leftover", "look", *SHAPE, limit=20.0, unit="mm²", scope="piece")
def leftover(c: Context) -> Iterator[Hit]:
    """Tiny contours, and holes that no one ordered."""
    in_ribbons = {c.shape.everything[i] for r in c.shape.ribbons for i in r.contours}
    for role, listed in c.shape.outlines.items():
        tiny, stray = c.shape.leftovers(role, c.limit)
        if tiny or stray:
            parts = [f"{plural(len(tiny), 'contour')} smaller than {c.limit:g} mm²"] * bool(tiny)
            parts += [f"{plural(len(stray), 'open bit')} of line"] * bool(stray)
            places = [bounds(o.contour) for o in (*tiny, *stray)]
            yield Hit(
                f"The {role.words} has {' and '.join(parts)}: leftovers, as tracing makes them.",
                measured=tiny[0].area_mm2 if tiny else 0.0, count=len(places), where=places, subject=role.value,
            )
        if c.order.holes is not None and role.facts.closes:
            yield from _holes(c, role, [o for o in listed if o not in in_ribbons])


def _holes(c: Context, role: LineRole, own: Sequence[Outline]) -> Iterator[Hit]:
    depths = enclosing_counts([o.contour for o in own])
    holes = [o for o, depth in zip(own, depths, strict=True) if depth % 2 == 1]
    ordered = c.order.holes or 0
    if len(holes) > ordered:
        holes.sort(key=lambda o: abs(signed_area(o.contour)))
        yield Hit(
            f"The {role.words} has {plural(len(holes), 'hole')}; {ordered or 'none'} "
            f"{'was' if ordered <= 1 else 'were'} ordered.",
            measured=len(holes), count=len(holes), where=[bounds(o.contour) for o in holes], subject=role.value,
            limit=ordered, unit="holes",
        )


@rule(
    "line.sharp", "look", *SHAPE, limit=0.5, unit="mm", scope="piece",
    more={"kiss-cut": (0.2, "mm"), "angle": (60.0, "°")},
)
def sharp(c: Context) -> Iterator[Hit]:
    """Turns that are tighter than the tool can follow, by role.

    A bend needs a radius. A corner is turned on the spot, and is sharp where its sides leave too small an
    angle between them: the tip tears or lifts [ours].
    """
    for role, listed in c.shape.outlines.items():
        radius = c.more["kiss-cut"] if role is LineRole.KISS_CUT else c.limit
        bends = all_tight_turns([o.contour for o in listed], radius)
        if bends:
            yield Hit(
                f"The {role.words} has {plural(len(bends), 'bend')} tighter than the blade can follow: "
                f"a radius of {bends[0].radius_mm:.2f} mm at the tightest.",
                measured=bends[0].radius_mm, count=len(bends), where=[around(*t.at, PLACE_MM) for t in bends],
                subject=role.value, limit=radius,
            )
        tips = [t for o in listed for t in corners(o.contour, 180.0 - c.more["angle"])]
        tips.sort(key=lambda t: t.inner_angle)
        if tips:
            yield _tips(role, tips, c.more["angle"])


def _tips(role: LineRole, tips: list[Corner], limit: float) -> Hit:
    return Hit(
        f"The {role.words} has {plural(len(tips), 'point')} sharper than {limit:g}°, the sharpest of "
        f"{tips[0].inner_angle:.0f}°. The blade jerks there, and the tip tears or lifts.",
        measured=tips[0].inner_angle, count=len(tips), where=[around(*t.at, PLACE_MM) for t in tips],
        subject=role.value, limit=limit, unit="°",
    )


@rule(
    "line.nodes", "look", *SHAPE, limit=1.0, unit="nodes/mm", scope="piece",
    more={"tiny": (0.05, "mm"), "zigzag": (45.0, "°/mm")},
)
def too_many_nodes(c: Context) -> Iterator[Hit]:
    """More nodes than the shape needs; tiny segments; zigzag left by tracing."""
    for role, listed in c.shape.outlines.items():
        found = [(nodes(o.contour, length(o.contour), c.more["tiny"]), o) for o in listed]
        dense = [(n, o) for n, o in found if n.count >= LEAST_NODES and n.per_mm > c.limit]
        if dense:
            dense.sort(key=lambda item: -item[0].per_mm)
            count = sum(n.count for n, _ in dense)
            yield Hit(
                f"The {role.words} has {count} nodes, up to {dense[0][0].per_mm:.1f} on a millimetre. "
                "The cutter stutters from node to node and leaves a rough edge.",
                measured=dense[0][0].per_mm, count=len(dense), where=[bounds(o.contour) for _, o in dense],
                subject=role.value
            )
        tiny = [(n, o) for n, o in found if n.tiny >= LEAST_TINY and (n, o) not in dense]
        if tiny:
            count = sum(n.tiny for n, _ in tiny)
            yield Hit(
                f"The {role.words} has {count} segments shorter than {c.more['tiny']:g} mm.", measured=count,
                count=count, where=[bounds(o.contour) for _, o in tiny], subject=role.value, limit=LEAST_TINY,
                unit="segments"
            )
        rough = sorted((n for n, _ in found if n.zigzag > c.more["zigzag"]), key=lambda n: -n.zigzag)
        if rough:
            yield Hit(
                f"The {role.words} zigzags by {rough[0].zigzag:.0f}° on a millimetre, as tracing leaves it.",
                measured=rough[0].zigzag, count=len(rough), where=[around(*n.at, PLACE_MM) for n in rough],
                subject=role.value, limit=c.more["zigzag"], unit="°/mm"
            )
