"""Makes lines: one after the other from the outline, each with its offset, corners, pattern and what hands changed."""

import json
from collections.abc import Callable, Sequence
from typing import TypeVar

import numpy as np
import shapely

from horismos.artwork import Artwork, Line, Page
from horismos.errors import NothingToDo
from horismos.making.beside import frame_round, slits, weeding_cuts, with_round_corners, with_tab
from horismos.making.edits import edited, path_drawn
from horismos.making.made import Made, MadeLine
from horismos.making.pattern import DEFAULT_CUT_MM, DEFAULT_TIE_MM, pattern_along
from horismos.making.shapes import fitted_shape
from horismos.making.silhouette import Found, Silhouette, found, shaped
from horismos.making.wanted import Around, LineWanted, Make
from horismos.paths import Contour, flatten, length, signed_area
from horismos.paths.areas import area_of, rims_of, straight_round
from horismos.paths.offset import buffered, curves_round
from horismos.roles import LineRole
from horismos.words import plural

__all__ = ["Base", "base_of", "make", "make_from"]

FRONT = (LineRole.KISS_CUT, LineRole.THROUGH_CUT)
FINE = 0.2
"""[ours] of a line's fit, for the polygons on the way."""
DENSE_PER_MM = 0.2
FEWER = 0.75
"""[ours] the outline's own curves are taken unless fitting them anew saves a quarter of the nodes."""
DRAFT_MM = 0.04
MOST_KNOWN = 6
MOST_MEASURED = 60_000

Base = tuple[Found, Silhouette]
"""What lines are made from: it takes long to find, and stays the same while offsets change."""


def base_of(artwork: Artwork, page: Page, lines: Sequence[Line], wanted: Make) -> Base:
    """The outline of the art, found once a page and way of finding it. Raises NothingToDo where there is none."""
    base = _once(page, "outlines", wanted.finding, lambda: found(artwork, page, lines, wanted))
    return base, _once(page, "silhouettes", wanted.shaping, lambda: shaped(artwork, page, lines, wanted, base))


Known = TypeVar("Known")


def _once(page: Page, what: str, key: object, find: Callable[[], Known]) -> Known:
    """What was worked out of a page under a key; the last few are remembered, since a hand goes back and forth."""
    known: dict[object, Known] = page.kept.setdefault(what, {})
    if key not in known:
        made = find()
        while len(known) >= MOST_KNOWN:
            known.pop(next(iter(known)))
        known[key] = made
    return known[key]


def make(artwork: Artwork, page: Page, lines: Sequence[Line], wanted: Make, draft: bool = False) -> Made:
    """Make lines from a page's art.

    ``lines`` are the page's lines as it is: they are no art. A ``draft`` goes by straight pieces. Raises NothingToDo
    where there is no outline, or where nothing is left of any piece.
    """
    if all(line.drawn for line in wanted.lines):
        return _only_drawn(wanted)
    if draft:
        return make_from(base_of(artwork, page, lines, wanted), wanted, draft)
    key = json.dumps(wanted.to_json(), sort_keys=True)
    return _once(page, "made lines", key, lambda: make_from(base_of(artwork, page, lines, wanted), wanted))


def _only_drawn(wanted: Make) -> Made:
    lines, notes = [], []
    for number, spec in enumerate(wanted.lines):
        made, said = _by_hand(path_drawn(spec.drawn), spec)
        lines += _as_lines(made, number, spec)
        notes += said
    if not lines:
        raise NothingToDo("No line was drawn.")
    return Made("drawn", "The line was drawn by hand.", tuple(lines), (), (), 0.0, tuple(notes))


def make_from(base: Base, wanted: Make, draft: bool = False) -> Made:
    """Make lines from an outline that is known already. Raises NothingToDo where nothing is left of any piece."""
    outline, silhouette = base
    maker = _Maker(silhouette, wanted, draft)
    lines: list[MadeLine] = []
    # what goes round all of them comes last
    for number, spec in sorted(enumerate(wanted.lines), key=lambda one: one[1].goes_round_all):
        contours = maker.contours(number, spec)
        contours, said = _by_hand(contours, spec)
        maker.notes += said
        lines += _as_lines(contours, number, spec, maker.holes_in(contours))
    if not lines:
        raise NothingToDo("Nothing is left of any piece. " + " ".join(maker.notes[-1:]))
    lines.sort(key=lambda line: line.wanted)
    maker.notes += _unlike_patterns(wanted)
    return Made(
        outline.source.value, outline.why, tuple(lines), silhouette.contours or outline.contours, silhouette.inner,
        maker.deviation_mm, tuple(dict.fromkeys([*silhouette.notes, *maker.notes])),
    )


def _unlike_patterns(wanted: Make) -> list[str]:
    """What is to be said where lines of one role want several patterns: a tool has one."""
    found: dict[LineRole, set[tuple[object, ...]]] = {}
    for line in wanted.lines:
        if line.perforated:
            found.setdefault(line.role, set()).add((line.cut_mm, line.tie_mm, line.least_ties, line.tie))
    return [
        f"The {role.words} has {len(patterns)} patterns; it is cut with the last of them."
        for role, patterns in found.items() if len(patterns) > 1
    ]


def _by_hand(contours: Sequence[Contour], spec: LineWanted) -> tuple[list[Contour], list[str]]:
    return edited(contours, spec.edits) if spec.edits else (list(contours), [])


def _as_lines(
    contours: Sequence[Contour], number: int, spec: LineWanted, holes: Sequence[bool] | None = None
) -> list[MadeLine]:
    out = []
    for i, contour in enumerate(contours):
        pattern = None
        if spec.perforated:
            cut, tie = spec.cut_mm or DEFAULT_CUT_MM, spec.tie_mm or DEFAULT_TIE_MM
            pattern = pattern_along(contour, cut, tie, spec.least_ties, spec.tie == "scored")
        out.append(MadeLine(number, spec, contour, bool(holes and holes[i]), pattern))
    return out


class _Maker:
    """Makes one line after the other, and gathers what is to be said."""

    def __init__(self, silhouette: Silhouette, wanted: Make, draft: bool) -> None:
        self.silhouette, self.wanted, self.draft = silhouette, wanted, draft
        self.notes: list[str] = []
        self.deviation_mm = 0.0
        self._bounding = next((i for i, line in enumerate(wanted.lines) if line.role in FRONT and line.follows), None)
        self._areas: dict[int, shapely.Geometry] = {}

    def contours(self, number: int, spec: LineWanted) -> list[Contour]:
        """The contours of one line."""
        if spec.drawn:
            return path_drawn(spec.drawn)
        if spec.slit_deg is not None:
            return slits(shapely.get_parts(self._front(spec)), spec)
        if spec.frame_mm is not None:
            return [frame_round(self._all(), spec.frame_mm)]
        if spec.weed_mm is not None:
            frame = next((line.frame_mm for line in self.wanted.lines if line.frame_mm is not None), 5.0)
            x0, y0, x1, y1 = self._all().bounds
            return weeding_cuts(shapely.box(x0 - frame, y0 - frame, x1 + frame, y1 + frame), self._all(), spec.weed_mm)
        return self._following(number, spec)

    def holes_in(self, contours: Sequence[Contour]) -> list[bool]:
        """Which contours bound holes: those that run clockwise."""
        return [c.closed and signed_area(c) < 0 for c in contours]

    def _front(self, spec: LineWanted) -> shapely.Geometry:
        """The pieces that a slit goes across: what the front cut bounds, or at an offset from the art."""
        if spec.offset_mm:
            return buffered(_filled(self.silhouette.area), spec.offset_mm, spec.join.value, 0.01)
        known = [(line.offset_mm, self._areas[i]) for i, line in enumerate(self.wanted.lines)
                 if line.role in FRONT and i in self._areas]
        return _filled(max(known, key=lambda one: one[0])[1] if known else self.silhouette.area)

    def _all(self) -> shapely.Geometry:
        """All that lines go round, filled."""
        return _filled(shapely.union_all([self.silhouette.area, *self._areas.values()]))

    def _following(self, number: int, spec: LineWanted) -> list[Contour]:
        shape = self.wanted.shape
        area = self.silhouette.area
        if shape is not None:
            parts = [area] if self.wanted.around is Around.ALL else list(shapely.get_parts(area))
            made = [contour for part in parts for contour in fitted_shape(part, shape, spec)]
            if spec.tab_mm is None:
                self._swallowed(len(parts) - len(made), spec)
                self._areas[number] = area_of(made, spec.fit_mm * FINE)
                return made
            wanted = area_of(made, spec.fit_mm * FINE)
        else:
            holes = spec.holes if spec.holes is not None else number == self._bounding
            area = area if holes else _filled(area)
            if self.draft:
                area = shapely.simplify(area, DRAFT_MM)
            wanted = buffered(area, spec.offset_mm, spec.join.value, DRAFT_MM if self.draft else spec.fit_mm * FINE)
            if spec.offset_mm < 0:
                gone = shapely.is_empty(shapely.buffer(shapely.get_parts(area), spec.offset_mm, quad_segs=4))
                self._swallowed(int(gone.sum()), spec)
        if spec.tab_mm is not None:
            wanted = shapely.union_all([with_tab(p, spec.tab_mm, spec.tab_deg) for p in shapely.get_parts(wanted)])
        if spec.corner_mm and not (shape is not None and spec.tab_mm is None) and not wanted.is_empty:
            wanted = with_round_corners(wanted, spec.corner_mm, spec.fit_mm * FINE)
        if wanted.is_empty:
            return []
        if self.draft:
            self._areas[number] = wanted
            return _straight(wanted)
        exact = self._exact(spec, number)
        made = exact or curves_round(wanted, spec.fit_mm)
        if exact is not None and _nodes(exact) > DENSE_PER_MM * sum(map(length, exact)):
            fewer = curves_round(wanted, spec.fit_mm)
            made = fewer if _nodes(fewer) < FEWER * _nodes(exact) else exact
        self._areas[number] = wanted
        self.deviation_mm = max(self.deviation_mm, _deviation(made, wanted))
        return made

    def _exact(self, spec: LineWanted, number: int) -> list[Contour] | None:
        """The curves of the outline itself, where the line is just that."""
        plain = not (spec.offset_mm or spec.corner_mm or spec.tab_mm or self.wanted.shape)
        contours = self.silhouette.contours
        if not plain or contours is None:
            return None
        oriented = _oriented(contours, self.silhouette.area)
        holes = spec.holes if spec.holes is not None else number == self._bounding
        return oriented if holes else [c for c in oriented if signed_area(c) > 0]

    def _swallowed(self, count: int, spec: LineWanted) -> None:
        if count > 0:
            self.notes.append(
                f"{plural(count, 'piece')} vanished under the {spec.role.words} of {spec.offset_mm:g} mm."
            )


def _straight(area: shapely.Geometry) -> list[Contour]:
    """Straight pieces round an area: soon made, and as near as a screen shows."""
    return straight_round(rims_of(area, 0.0), DRAFT_MM)


def _nodes(contours: Sequence[Contour]) -> int:
    return sum(c.node_count for c in contours)


def _filled(area: shapely.Geometry) -> shapely.Geometry:
    """An area without its holes."""
    return shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(area)])


def _oriented(contours: Sequence[Contour], area: shapely.Geometry) -> list[Contour]:
    """Outer contours counter-clockwise, those that bound holes clockwise: just inside of a hole there is no area."""
    out = []
    shapely.prepare(area)
    for contour in contours:
        ring = shapely.Polygon(flatten(contour, 0.01))
        hole = not shapely.intersects(area, _just_inside(ring))
        out.append(contour if (signed_area(contour) < 0) is hole else contour.reversed())
    return out


def _just_inside(ring: shapely.Geometry) -> shapely.Geometry:
    ring = shapely.make_valid(ring)
    thin = shapely.difference(shapely.buffer(ring, -0.01), shapely.buffer(ring, -0.03))
    return shapely.point_on_surface(ring if thin.is_empty else thin)


def _deviation(made: Sequence[Contour], wanted: shapely.Geometry) -> float:
    """The greatest distance of curves from the edge that they stand for, in mm."""
    edge = shapely.boundary(wanted)
    shapely.prepare(edge)
    points = np.concatenate([flatten(c, 0.002) for c in made])
    points = points[:: max(1, len(points) // MOST_MEASURED)]
    return float(shapely.distance(edge, shapely.points(points)).max(initial=0.0))

