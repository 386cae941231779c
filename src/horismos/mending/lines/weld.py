"""Joins contours of a role that cross or overlap, so that one clean outline goes round each piece."""

from collections.abc import Sequence

import numpy as np
import shapely

from horismos.checking.measuring.outlines import Outline
from horismos.errors import CannotWrite
from horismos.mending.engine.registry import MendContext
from horismos.mending.lines.shape import Reshaping, pages_of, shape_mend
from horismos.paths import Contour
from horismos.paths.areas import area_of
from horismos.paths.weld import welded_areas, without_overlaps
from horismos.words import plural

FINE_MM = 0.01
OFF_MM = 0.02
"""[ours] two libraries differ by no more along all of an outline."""


def _groups(crossed: list[tuple[Outline, Outline]]) -> list[list[Outline]]:
    """Outlines that hang together by their crossings."""
    groups: dict[Outline, list[Outline]] = {}
    for a, b in crossed:
        one, other = groups.setdefault(a, [a]), groups.setdefault(b, [b])
        if one is not other:
            one += other
            for member in other:
                groups[member] = one
    return list({id(group): group for group in groups.values()}.values())


def _find(before: MendContext) -> Reshaping:
    made = Reshaping()
    for shape, roles in pages_of(before):
        every = shape.everything
        crossed = [
            (every[c.a], every[c.b]) for c in shape.crossings
            if every[c.a].role in roles and every[c.a].contour.loops and every[c.b].contour.loops
        ]
        for group in _groups(crossed):
            own = [o for o in shape.outlines[group[0].role] if o.polygon is not None]
            nest = _Nest(own)
            members = nest.with_what_lies_in(group)
            solids = nest.solids(members)
            new = welded_areas([[*outer, *holes] for outer, holes in solids])
            _must_hold(new, nest.area(members))
            made.changes |= {o: new if i == 0 else [] for i, o in enumerate(members)}
            made.count("contours_before", len(members))
            made.count("contours_after", len(new))
            made.count("crossings", sum(a in group for a, _ in crossed))
    return made


class _Nest:
    """Outlines of one role by what lies in what: a contour wholly inside of a piece is a hole of it.

    Only what lies inside without touching counts: what crosses goes round something itself.
    """

    def __init__(self, outlines: Sequence[Outline]) -> None:
        self.outlines = list(outlines)
        areas = np.array([o.polygon for o in self.outlines], dtype=object)
        inner, outer = shapely.STRtree(areas).query(areas, predicate="within")
        self.holders: dict[Outline, list[Outline]] = {o: [] for o in self.outlines}
        for i, k in zip(inner.tolist(), outer.tolist(), strict=True):
            if i != k and not areas[i].boundary.intersects(areas[k].boundary):
                self.holders[self.outlines[i]].append(self.outlines[k])

    def with_what_lies_in(self, group: Sequence[Outline]) -> list[Outline]:
        """The group and all that lies in any of it."""
        inside = [o for o in self.outlines if o not in group and any(held in group for held in self.holders[o])]
        return [*group, *inside]

    def is_hole(self, outline: Outline) -> bool:
        """Whether it bounds a hole: an odd number of others holds it."""
        return len(self.holders[outline]) % 2 == 1

    def holes_of(self, outline: Outline, members: Sequence[Outline]) -> list[Outline]:
        """The holes right inside of a piece."""
        depth = len(self.holders[outline])
        return [o for o in members if outline in self.holders[o] and len(self.holders[o]) == depth + 1]

    def solids(self, members: Sequence[Outline]) -> list[tuple[list[Contour], list[Contour]]]:
        """What each piece goes round, and its holes, joined where they overlap."""
        pieces = [o for o in members if not self.is_hole(o)]
        holes = [[h.contour for h in self.holes_of(o, members)] for o in pieces]
        return [
            (without_overlaps([o.contour], False), welded_areas([[c] for c in inner]) if len(inner) > 1 else inner)
            for o, inner in zip(pieces, holes, strict=True)
        ]

    def area(self, members: Sequence[Outline]) -> shapely.Geometry:
        """The same as polygons, by another library: what the welded outlines have to enclose."""
        pieces = [o for o in members if not self.is_hole(o)]
        return shapely.union_all([
            shapely.difference(o.polygon, shapely.union_all([h.polygon for h in self.holes_of(o, members)]))
            for o in pieces
        ])


def _must_hold(new: Sequence[Contour], meant: shapely.Geometry) -> None:
    """Raise CannotWrite where outlines enclose something else than is meant, counted by another library."""
    found = shapely.make_valid(area_of(new, FINE_MM)) if new else shapely.Polygon()
    off = shapely.symmetric_difference(found, meant).area
    if off > max(meant.length, 1.0) * OFF_MM:
        raise CannotWrite(
            f"The welded outlines would enclose {off:.1f} mm² otherwise than the contours do.",
            "Nothing was changed. Weld them by hand.",
        )


def _words(before: MendContext, made: Reshaping) -> str:
    counts = {name: int(value) for name, value in made.counts.items()}
    return (
        f"Welds {plural(counts['contours_before'], 'contour')} of the {before.step.role_words} that cross at "
        f"{plural(counts['crossings'], 'place')} into {plural(counts['contours_after'], 'outline')} round all that "
        "they go round. The rest stays as it is."
    )


shape_mend(
    "weld", "Weld the {role}", ("line.crosses",), _find, _words,
    lambda before: f"No closed contour of the {before.step.role_words} crosses itself or another.", order=32,
)
