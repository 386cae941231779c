"""Finds the lines among the painted objects: by the name of the ink, or by the layer's metadata."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely

from horismos.artwork.model import (
    PROCESS_INKS,
    Artwork,
    Ink,
    Page,
    Paint,
    PaintedObject,
    PathObject,
)
from horismos.artwork.paints import paints_of
from horismos.destinations import Destination
from horismos.errors import LimitExceeded
from horismos.names import Recognised, recognise
from horismos.paths import Chain, Contour, bounds, chain, flatten, length, union_bounds
from horismos.paths.box import Bounds
from horismos.paths.contour import CLOSED_WITHIN_MM
from horismos.paths.tangled import crossings_about
from horismos.roles import OUTERMOST_FIRST, InkRole, LineRole

__all__ = ["FULL", "Line", "inks_of_page", "line_objects", "lines_by_role", "outer_cut", "paints_of", "unclosed"]

FULL = 0.9995
"""A tint that is written as 100 % in any file; below it ink is missing."""
ON_MM = 0.05
"""[ours] a line that leaves another by less lies on it."""
JOINS_WITHIN_MM = 1.0
"""[ours] two ends nearer than this were meant to meet."""


@dataclass(frozen=True, eq=False)
class Line:
    """A painted object that is meant as a line.

    ``roles`` holds one role, or several where the name does not tell them apart. ``ink`` is the
    line ink as the file spells it, or the empty text where only the layer says what the line is.
    ``tint`` runs from 0 to 1; ``inks`` counts the inks of the line's colour. ``strokes`` and
    ``fills`` say in which way the object paints the line; the other way, if any, is art.
    """

    page: Page = field(repr=False)
    index: int
    object: PaintedObject = field(repr=False)
    roles: tuple[LineRole, ...]
    ink: str
    layer: int | None
    tint: float
    inks: int
    strokes: bool
    fills: bool

    @property
    def role(self) -> LineRole | None:
        """The one role of the line, or None where several are equally near."""
        return self.roles[0] if len(self.roles) == 1 else None

    @cached_property
    def contours(self) -> tuple[Contour, ...]:
        """The contours in mm; none for what is no path."""
        if not isinstance(self.object, PathObject):
            return ()
        return tuple(self.page.contours(self.object))

    @property
    def width_mm(self) -> float:
        """The stroke's width in mm at its widest under the matrix; 0 where nothing is stroked."""
        if not self.strokes:
            return 0.0
        a, b, c, d, _, _ = self.object.state.ctm
        # The larger singular value of the 2x2 matrix.
        s = a * a + b * b + c * c + d * d
        det = a * d - b * c
        widest = math.sqrt((s + math.sqrt(max(s * s - 4 * det * det, 0.0))) / 2)
        return self.object.state.line_width * widest

    @property
    def takes_all(self) -> bool:
        """Whether the whole object is the line, and no part of it is art."""
        obj = self.object
        if not isinstance(obj, PathObject):
            return True
        return obj.strokes == self.strokes and obj.fills == self.fills

    @property
    def overprints(self) -> bool:
        """Whether everything the line paints overprints what lies below."""
        state = self.object.state
        return (state.overprint_stroke or not self.strokes) and (
            state.overprint_fill or not self.fills
        )


def unclosed(lines: Sequence[Line]) -> list[tuple[Chain, list[tuple[Line, int]]]]:
    """The contours of one role that should close and do not, with the pieces they are made of.

    A piece is a line and the place of the contour in it. A kiss or through cut bounds a piece and
    has to close; a perforation, crease or back cut may run straight across, so it counts only
    where it all but closes.
    """
    pieces = [(line, i) for line in lines for i in range(len(line.contours))]
    contours = [line.contours[i] for line, i in pieces]
    out = []
    for joined in chain(contours, JOINS_WITHIN_MM):
        must = lines[0].role is None or lines[0].role.facts.closes
        nearly = joined.gap_mm <= JOINS_WITHIN_MM and length(joined.contour) > 10 * joined.gap_mm
        if joined.gap_mm > CLOSED_WITHIN_MM and (must or nearly) and not _lies_on(joined, contours):
            out.append((joined, [pieces[i] for i in joined.members]))
    return out


def _lies_on(joined: Chain, contours: Sequence[Contour]) -> bool:
    """Whether an open contour is a piece of another one drawn again: closing it would make a new shape."""
    others = [c for i, c in enumerate(contours) if i not in joined.members and len(c.segments)]
    if not others or joined.gap_mm <= JOINS_WITHIN_MM:
        return False
    box = shapely.box(*bounds(joined.contour)).buffer(ON_MM)
    near = [line for c in others if (line := shapely.LineString(flatten(c))).intersects(box)]
    if not near:
        return False
    target = shapely.union_all(near)
    return bool(np.all(shapely.dwithin(target, shapely.points(flatten(joined.contour)), ON_MM)))


class _Names:
    """Recognises each ink name once."""

    def __init__(self, destination: Destination) -> None:
        self.destination = destination
        self.known: dict[str, Recognised | None] = {name: None for name in (*PROCESS_INKS, "All")}

    def roles(self, name: str) -> tuple[LineRole, ...]:
        if name not in self.known:
            self.known[name] = recognise(name, self.destination)
        found = self.known[name]
        return tuple(r for r in found.roles if isinstance(r, LineRole)) if found else ()


MOST_CROSSINGS = 1_000_000
"""[ours] a drawing of cut lines has some thousands at most."""


def line_objects(artwork: Artwork, page: Page, destination: Destination) -> list[Line]:
    """The lines of a page in the order in which they are painted; looked for once, and kept with the page.

    Raises LimitExceeded where they cross so often that nothing could be worked out of them.
    """
    key = ("lines", *sorted(destination.names.items()))
    if key not in page.kept:
        found = tuple(_found(artwork, page, destination))
        crossings = crossings_about([contour for line in found for contour in line.contours])
        if crossings > MOST_CROSSINGS:
            raise LimitExceeded(
                f"The lines cross about {crossings / 1e6:,.1f} million times.", "Ask for the cut lines drawn anew.",
            )
        page.kept[key] = found
    return list(page.kept[key])


def _found(artwork: Artwork, page: Page, destination: Destination) -> list[Line]:
    names = _Names(destination)
    cut_layers = {
        i: layer.role for i, layer in enumerate(artwork.layers) if isinstance(layer.role, LineRole)
    }
    out: list[Line] = []
    by_paint: dict[Paint, tuple[str, float, tuple[LineRole, ...]]] = {}
    for index, obj in enumerate(page.objects):
        ink, tint, total = "", 0.0, 0
        roles: tuple[LineRole, ...] = ()
        strokes = fills = False
        for paint, stroking in paints_of(obj):
            if paint not in by_paint:
                by_paint[paint] = _line_ink(paint, names)
            its_ink, its_tint, its_roles = by_paint[paint]
            if its_roles:
                ink, tint, roles = its_ink, its_tint, its_roles
                strokes, fills = strokes or stroking, fills or not stroking
                total = max(total, sum(t > 0 for _, t in paint.inks))
        layer = next((i for i in reversed(obj.state.layers) if i in cut_layers), None)
        if layer is not None and isinstance(obj, PathObject):
            on_layer = cut_layers[layer]
            if not roles:
                first = paints_of(obj)[0][0].inks
                spot = first and first[0][0] not in (*PROCESS_INKS, "All")
                ink, tint = first[0] if spot else ("", 1.0)
                strokes, fills = obj.strokes, obj.fills
            roles = (on_layer,) if not roles or on_layer in roles else roles
        if roles:
            any_layer = layer if layer is not None else next(iter(reversed(obj.state.layers)), None)
            out.append(
                Line(page, index, obj, roles, ink, any_layer, tint, total, strokes, fills)
            )
    return out


def _line_ink(paint: Paint, names: _Names) -> tuple[str, float, tuple[LineRole, ...]]:
    for ink, tint in paint.inks:
        if tint > 0 or len(paint.inks) == 1:
            roles = names.roles(ink)
            if roles:
                return ink, tint, roles
    return "", 0.0, ()


def lines_by_role(lines: Iterable[Line]) -> dict[LineRole, list[Line]]:
    """The lines whose role is clear, gathered by role."""
    out: dict[LineRole, list[Line]] = {}
    for line in lines:
        if line.role is not None:
            out.setdefault(line.role, []).append(line)
    return out


def outer_cut(page: Page, lines: Iterable[Line]) -> Bounds | None:
    """The box in mm of a page's lines that bound whole pieces; None where there are none."""
    roles = lines_by_role(line for line in lines if line.page is page)
    for role in OUTERMOST_FIRST:
        if role in roles:
            return union_bounds(bounds(contour) for line in roles[role] for contour in line.contours)
    return None


def inks_of_page(artwork: Artwork, page: Page, destination: Destination) -> list[Ink]:
    """The inks that a page names, process inks first, with what each is for."""
    by_layer = {
        line.ink: line.role for line in line_objects(artwork, page, destination) if line.role
    }
    out = []
    for name in sorted(page.ink_names, key=_process_first):
        if name in PROCESS_INKS:
            out.append(Ink(name, "process", None))
            continue
        found = recognise(name, destination) if name != "All" else None
        role = found.role if found else None
        is_line = bool(found and any(isinstance(r, LineRole) for r in found.roles))
        if name in by_layer:
            role, is_line = by_layer[name], True
        kind = "line" if is_line else "spot"
        out.append(Ink(name, kind, role if is_line or isinstance(role, InkRole) else None))
    return out


def _process_first(name: str) -> tuple[int, str]:
    return (PROCESS_INKS.index(name) if name in PROCESS_INKS else len(PROCESS_INKS), name)
