"""The geometry of the lines of one page, role by role, each measure made once and shared by the checks."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from horismos.artwork.lines import Line
from horismos.paths import Contour, bounds, chain, enclosing_counts, length
from horismos.paths.batch_measures import flatten_all, measure_all
from horismos.paths.chords import Chords, Ints, chords_of
from horismos.paths.crossings import DOUBLED_WITHIN_MM, Crossing, Stretch, crossings, doubled
from horismos.paths.nearness import Ribbon, ribbons
from horismos.paths.ring import polygon_of
from horismos.roles import OUTERMOST_FIRST, LineRole, Part

__all__ = ["THROUGH_ALL", "LineShape", "Outline"]

THROUGH_ALL = tuple(role for role in OUTERMOST_FIRST if Part.CARRIER in role.facts.through)
"""What holds a piece goes through everything."""


@dataclass(frozen=True, eq=False)
class Outline:
    """A contour of a role, its pieces joined end to end, and its number among those of the role.

    ``pieces`` are the lines that it is drawn by, with the place of the contour in each.
    """

    role: LineRole
    number: int
    contour: Contour
    pieces: tuple[tuple[Line, int], ...] = ()

    @cached_property
    def area_mm2(self) -> float | None:
        """The area inside; of a contour that crosses itself all that it goes round; None for an open one."""
        return float(self.polygon.area) if self.polygon is not None else None

    def is_stray(self, short_mm: float) -> bool:
        """Whether it is an open bit too short to be a cut of its own; one that all but closes is no such bit."""
        contour = self.contour
        return not contour.loops and length(contour) < short_mm and contour.gap_mm > 0.5 * length(contour)

    @cached_property
    def polygon(self) -> Any:
        """The area inside, as shapely has it; None where the contour does not loop or bounds nothing."""
        return polygon_of(self.contour)


class LineShape:
    """Contours by role, and what there is to say of how they lie."""

    def __init__(self, roles: Mapping[LineRole, Sequence[Line]]) -> None:
        self._roles = roles

    @cached_property
    def outlines(self) -> dict[LineRole, list[Outline]]:
        """The contours of each role, joined where their ends meet."""
        out = {}
        for role, lines in self._roles.items():
            pieces = [(line, i) for line in lines for i in range(len(line.contours))]
            out[role] = [
                Outline(role, number, joined.contour, tuple(pieces[i] for i in joined.members))
                for number, joined in enumerate(chain([line.contours[i] for line, i in pieces]))
            ]
        every = [outline.contour for of in out.values() for outline in of]
        measure_all(every)
        flatten_all(every, 0.01)
        return out

    def leftovers(self, role: LineRole, area_mm2: float) -> tuple[list[Outline], list[Outline]]:
        """What tracing leaves behind: contours smaller than an area, the smallest first, and stray open bits.

        Outlines of expanded strokes are none.
        """
        in_ribbons = {i for ribbon in self.ribbons for i in ribbon.contours}
        own = [o for i, o in enumerate(self.everything) if o.role is role and i not in in_ribbons]
        tiny = [o for o in own if o.area_mm2 is not None and o.area_mm2 < area_mm2]
        return sorted(tiny, key=lambda o: o.area_mm2 or 0.0), [o for o in own if o.is_stray(math.sqrt(area_mm2))]

    @cached_property
    def everything(self) -> list[Outline]:
        """The contours of all roles."""
        return [outline for listed in self.outlines.values() for outline in listed]

    @cached_property
    def chords(self) -> Chords:
        """The chords of all roles; the contours are numbered as in ``everything``."""
        return chords_of([outline.contour for outline in self.everything], 0.005)

    @cached_property
    def _pairs(self) -> tuple[Ints, Ints]:
        """Pairs of chords of one role that come near each other."""
        a, b = self.chords.pairs(DOUBLED_WITHIN_MM)
        roles = np.array([list(LineRole).index(outline.role) for outline in self.everything] or [0])
        same = roles[self.chords.contour[a]] == roles[self.chords.contour[b]]
        return a[same], b[same]

    @cached_property
    def doubled(self) -> list[Stretch]:
        """Stretches that run twice in one role; the contours are numbered as in ``everything``."""
        in_ribbons = {i for ribbon in self.ribbons for i in ribbon.contours}
        return [
            stretch for stretch in doubled(self.chords, self._pairs, 0.0)
            if not {stretch.a, stretch.b} <= in_ribbons
        ]

    @cached_property
    def crossings(self) -> list[Crossing]:
        """Where contours of one role cross themselves or each other, as far as they must not.

        Lines that may run straight across are let cross, unless both of them loop.
        """
        found = crossings(self.chords, self._pairs, [s for s in self.doubled if s.length_mm > 2 * DOUBLED_WITHIN_MM])

        def bounding(i: int) -> bool:
            outline = self.everything[i]
            return outline.role.facts.closes or outline.contour.loops

        return [c for c in found if bounding(c.a) and bounding(c.b)]

    @cached_property
    def ribbons(self) -> list[Ribbon]:
        """Expanded strokes up to 2 mm wide; the contours are numbered as in ``everything``."""
        out = []
        first = 0
        for listed in self.outlines.values():
            for ribbon in ribbons([outline.contour for outline in listed], 2.0):
                members = tuple(first + i for i in ribbon.contours)
                out.append(Ribbon(members, ribbon.width_mm, ribbon.length_mm, ribbon.box))
            first += len(listed)
        return out

    @cached_property
    def faces(self) -> list[Contour]:
        """The contours that bound what the customer sees.

        Kiss cuts, and such through cuts and perforations as have no kiss cut inside them.
        """
        kiss = [o.contour for o in self.outlines.get(LineRole.KISS_CUT, []) if o.contour.loops]
        others = [
            o.contour
            for role in THROUGH_ALL
            for o in self.outlines.get(role, [])
            if o.contour.loops
        ]
        return kiss + [contour for contour in others if not _holds_any(contour, kiss)]


def _holds_any(outer: Contour, inner: list[Contour]) -> bool:
    x0, y0, x1, y1 = bounds(outer)
    near = [i for i in inner if x0 <= bounds(i)[0] and bounds(i)[2] <= x1
            and y0 <= bounds(i)[1] and bounds(i)[3] <= y1]
    return bool(near) and sum(enclosing_counts([outer, near[0]])) > 0
