"""Makes lines: one after the other from the outline, each with its offset, corners, pattern and what hands changed."""

import json
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TypeVar

import numpy as np
import shapely

from horismos.artwork import Artwork, Line, Page
from horismos.errors import NothingToDo
from horismos.making.companion_lines import beside, frame_round, slits, weeding_cuts, with_round_corners, with_tab
from horismos.making.edits import edited, path_drawn
from horismos.making.made import Inner, Made, MadeLine
from horismos.making.pattern import DEFAULT_CUT_MM, DEFAULT_TIE_MM, pattern_along
from horismos.making.shapes import fitted_shape
from horismos.making.silhouette import ArtOutline, Silhouette, found, shaped
from horismos.making.spec import Around, LineWanted, Make, Source, base_of_line
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
WEEDED_MM = 1.0
"""[ours] waste of a line that we draw is at least so wide; the check of strips begins to look at twice of it."""
OWN_WEEDED_MM = 0.5
"""[ours] an inner contour of the art itself is left out below this."""
JOINED_MM = 0.001
MOST_KNOWN = 6
MOST_MEASURED = 12_000

Base = tuple[ArtOutline, Silhouette]
"""What lines are made from: it takes long to find, and stays the same while offsets change."""


BY_HAND = ArtOutline(Source.LINE, "The line was drawn by hand.", (), shapely.Polygon())


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
    if wanted.needs_outline:
        if draft:
            return make_from(base_of(artwork, page, lines, wanted), wanted, draft)
        key = json.dumps(wanted.to_json(), sort_keys=True)
        return _once(page, "made lines", key, lambda: make_from(base_of(artwork, page, lines, wanted), wanted))
    return make_from(None, wanted, draft)


def make_from(base: Base | None, wanted: Make, draft: bool = False) -> Made:
    """Make lines from an outline that is known already; None where all of them are drawn by hand.

    Raises NothingToDo where nothing is left of any piece.
    """
    outline, silhouette = base or (BY_HAND, None)
    maker = _Maker(silhouette, wanted, draft)
    lines: list[MadeLine] = []
    for number in wanted.in_order:
        spec = wanted.lines[number]
        contours, said = _by_hand(maker.contours(number, spec), spec)
        maker.made[number] = contours
        maker.notes += said
        lines += _as_lines(contours, number, spec, maker.holes_in(contours))
    if not lines:
        raise NothingToDo("Nothing is left of any piece. " + " ".join(maker.notes[-1:]))
    lines.sort(key=lambda line: line.wanted)
    maker.notes += _unlike_patterns(wanted)
    notes = (*(silhouette.notes if silhouette else ()), *maker.notes)
    return Made(
        outline.source.value if silhouette else "drawn", outline.why, tuple(lines),
        (silhouette.contours if silhouette else None) or outline.contours,
        _left(silhouette.inner, maker.too_narrow) if silhouette else (),
        maker.deviation_mm, tuple(dict.fromkeys(notes)),
    )


def _left(inner: Sequence[Inner], too_narrow: Sequence[shapely.Geometry]) -> tuple[Inner, ...]:
    """Inner contours as they are cut: not where they were left out for being too narrow."""
    at = shapely.points([one.at for one in inner]) if inner else []
    gone = set(shapely.STRtree(too_narrow).query(at, predicate="within")[0].tolist()) if len(too_narrow) else set()
    return tuple(replace(one, kept=False) if i in gone else one for i, one in enumerate(inner))


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

    def __init__(self, silhouette: Silhouette | None, wanted: Make, draft: bool) -> None:
        self.silhouette, self.wanted, self.draft = silhouette, wanted, draft
        self.notes: list[str] = []
        self.deviation_mm = 0.0
        self.too_narrow: list[shapely.Geometry] = []
        self.made: dict[int, list[Contour]] = {}
        self._bounding = next((i for i, line in enumerate(wanted.lines) if line.role in FRONT and line.follows), None)
        self._areas: dict[int, shapely.Geometry] = {}

    @property
    def art(self) -> shapely.Geometry:
        """The area of the art; none where all lines are drawn by hand."""
        return self.silhouette.area if self.silhouette else shapely.Polygon()

    def contours(self, number: int, spec: LineWanted) -> list[Contour]:
        """The contours of one line."""
        if spec.drawn:
            return self._moved(number, path_drawn(spec.drawn), spec)
        if spec.along:
            return self._moved(number, self.made[base_of_line(self.wanted.lines, number)], spec)
        if spec.slit_deg is not None:
            return slits(shapely.get_parts(self._front(spec)), spec)
        if spec.frame_mm is not None:
            return [frame_round(self._all(), spec.frame_mm)]
        if spec.weed_mm is not None:
            frame = next((line.frame_mm for line in self.wanted.lines if line.frame_mm is not None), 5.0)
            x0, y0, x1, y1 = self._all().bounds
            return weeding_cuts(shapely.box(x0 - frame, y0 - frame, x1 + frame, y1 + frame), self._all(), spec.weed_mm)
        return self._following(number, spec)

    def _moved(self, number: int, contours: Sequence[Contour], spec: LineWanted) -> list[Contour]:
        """Contours that are there already, at the line's offset: closed ones as areas, open ones to their right."""
        closed, opened = [c for c in contours if c.loops], [c for c in contours if not c.loops]
        area = _outer_and_holes(closed, spec.fit_mm * FINE)
        if spec.offset_mm or spec.corner_mm or spec.tab_mm:
            if spec.along and spec.holes is not True:
                area = _filled(area)
            area = self._with_steps(buffered(area, spec.offset_mm, spec.join.value, spec.fit_mm * FINE), spec)
            closed = [] if area.is_empty else curves_round(area, spec.fit_mm)
            opened = [one for c in opened for one in beside(c, spec)]
            if not closed and not opened:
                self._swallowed(len(contours), spec)
            elif closed:
                self.deviation_mm = max(self.deviation_mm, _deviation(closed, area))
        elif spec.along and spec.holes is False:
            closed = [c for c in closed if signed_area(c) > 0]
        self._areas[number] = area
        return [*closed, *opened]

    def _with_steps(self, area: shapely.Geometry, spec: LineWanted) -> shapely.Geometry:
        """An area with its lift tabs and round corners."""
        if spec.tab_mm is not None:
            area = shapely.union_all([with_tab(p, spec.tab_mm, spec.tab_deg) for p in shapely.get_parts(area)])
        if spec.corner_mm and not area.is_empty:
            area = with_round_corners(area, spec.corner_mm, spec.fit_mm * FINE)
        return area

    def holes_in(self, contours: Sequence[Contour]) -> list[bool]:
        """Which contours bound holes: those that run clockwise."""
        return [c.closed and signed_area(c) < 0 for c in contours]

    def _front(self, spec: LineWanted) -> shapely.Geometry:
        """The pieces that a slit goes across: what the front cut bounds, or at an offset from the art."""
        if spec.offset_mm:
            return buffered(_filled(self.art), spec.offset_mm, spec.join.value, 0.01)
        known = [(line.offset_mm, self._areas[i]) for i, line in enumerate(self.wanted.lines)
                 if line.role in FRONT and i in self._areas]
        return _filled(max(known, key=lambda one: one[0])[1] if known else self.art)

    def _all(self) -> shapely.Geometry:
        """All that lines go round, filled."""
        return _filled(shapely.union_all([self.art, *self._areas.values()]))

    def _following(self, number: int, spec: LineWanted) -> list[Contour]:
        shape, area = self.wanted.shape, self.art
        holes = spec.holes if spec.holes is not None else number == self._bounding
        fine = DRAFT_MM if self.draft else spec.fit_mm * FINE
        if shape is not None:
            parts = [area] if self.wanted.around is Around.ALL else list(shapely.get_parts(area))
            made = [contour for part in parts for contour in fitted_shape(part, shape, spec)]
            self._swallowed(len(parts) - len(made), spec)
            inner = self._inner_of(parts, spec, fine) if holes else shapely.Polygon()
            if spec.tab_mm is None:
                self._areas[number] = shapely.difference(area_of(made, spec.fit_mm * FINE), inner)
                return [*made, *(c.reversed() for c in curves_round(inner, spec.fit_mm))] if inner else made
            wanted = shapely.difference(area_of(made, spec.fit_mm * FINE), inner)
        else:
            area = area if holes else _filled(area)
            if self.draft:
                area = shapely.simplify(area, DRAFT_MM)
            wanted = buffered(area, spec.offset_mm, spec.join.value, fine)
            if spec.offset_mm < 0:
                gone = shapely.is_empty(shapely.buffer(shapely.get_parts(area), spec.offset_mm, quad_segs=4))
                self._swallowed(int(gone.sum()), spec)
            elif holes and spec.offset_mm > 0:
                self._closed_up(area, spec)
        wanted = self._with_steps(self._weedable(wanted, spec), spec)
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

    def _closed_up(self, area: shapely.Geometry, spec: LineWanted) -> None:
        """Tell of the inner contours that a line so far outside of the art closes up."""
        own = np.array([shapely.Polygon(ring) for part in shapely.get_parts(area) for ring in part.interiors])
        gone = own[shapely.is_empty(shapely.buffer(own, -spec.offset_mm, quad_segs=4))]
        if len(gone):
            self.notes.append(f"{plural(len(gone), 'inner contour')} closed up: {spec.offset_mm:g} mm outside the art "
                              f"the {spec.role.words} has no room in {'it' if len(gone) == 1 else 'them'}.")
            self.too_narrow.extend(gone)

    def _weedable(self, area: shapely.Geometry, spec: LineWanted) -> shapely.Geometry:
        """An area without inner contours, and without inlets, that are too narrow to be weeded; a person may keep one.

        Where the line is the outline itself its inlets stay.
        """
        if area.is_empty or self.wanted.shape is not None:
            return area
        least = WEEDED_MM if spec.offset_mm else OWN_WEEDED_MM
        points = [shapely.Point(at) for at in (*self.wanted.keep_at, *self.wanted.cut_out_at)]
        own = [shapely.Polygon(ring) for part in shapely.get_parts(self.art) for ring in part.interiors]
        kept = [one for one in own if any(one.contains(at) for at in points)]
        holes = [shapely.Polygon(ring) for part in shapely.get_parts(area) for ring in part.interiors]
        gone = [
            h for h in holes
            if h.buffer(-least / 2).is_empty and not any(one.contains(h.representative_point()) for one in kept)
        ]
        if gone:
            self.notes.append(f"{plural(len(gone), 'inner contour')} narrower than {least:g} mm left out of the "
                              f"{spec.role.words}: nobody could weed {'it' if len(gone) == 1 else 'them'}.")
            area = shapely.union_all([area, *gone])
            self.too_narrow += [o for o in own if any(o.contains(h.representative_point()) for h in gone)]
        if spec.offset_mm <= 0:
            return area
        parts = shapely.get_parts(area)
        narrow = [gap for i, part in enumerate(parts) for gap in _inlets(part, least, [*parts[:i], *parts[i + 1 :]])]
        narrow = [p for p in narrow if not any(one.contains(p.representative_point()) for one in kept)]
        if narrow:
            self.notes.append(f"{plural(len(narrow), 'inlet')} narrower than {least:g} mm closed.")
            area = shapely.union_all([area, *(p.buffer(JOINED_MM) for p in narrow)])
        return area

    def _inner_of(self, parts: Sequence[shapely.Geometry], spec: LineWanted, fine: float) -> shapely.Geometry:
        """The holes of pieces, smaller by what the line lies outside of the art: a shape round a piece keeps them."""
        found = shapely.difference(_filled(shapely.union_all(parts)), shapely.union_all(parts))
        return buffered(found, -spec.offset_mm, spec.join.value, fine)

    def _exact(self, spec: LineWanted, number: int) -> list[Contour] | None:
        """The curves of the outline itself, where the line is just that."""
        plain = not (spec.offset_mm or spec.corner_mm or spec.tab_mm or self.wanted.shape)
        contours = self.silhouette.contours if self.silhouette else None
        if not plain or contours is None:
            return None
        oriented = _oriented(contours, self.art)
        holes = spec.holes if spec.holes is not None else number == self._bounding
        return oriented if holes else [c for c in oriented if signed_area(c) > 0]

    def _swallowed(self, count: int, spec: LineWanted) -> None:
        if count > 0:
            self.notes.append(
                f"{plural(count, 'piece')} vanished under the {spec.role.words} of {spec.offset_mm:g} mm."
            )


def _inlets(
    piece: shapely.Geometry, least_mm: float, others: Sequence[shapely.Geometry]
) -> list[shapely.Geometry]:
    """What is narrower than so many mm and open on one side, or runs into a wider hole; other pieces stay apart."""
    shut = shapely.difference(piece.buffer(least_mm / 2, quad_segs=16).buffer(-least_mm / 2, quad_segs=16), piece)
    found = [p for p in shapely.get_parts(shut) if p.geom_type == "Polygon" and p.area > (least_mm / 2) ** 2]
    return [p for p in found if not any(shapely.dwithin(p, other, JOINED_MM) for other in others)]


def _straight(area: shapely.Geometry) -> list[Contour]:
    """Straight pieces round an area: soon made, and as near as a screen shows."""
    return straight_round(rims_of(area, 0.0), DRAFT_MM)


def _nodes(contours: Sequence[Contour]) -> int:
    return sum(c.node_count for c in contours)


def _filled(area: shapely.Geometry) -> shapely.Geometry:
    """An area without its holes."""
    return shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(area)])


def _outer_and_holes(contours: Sequence[Contour], fine_mm: float) -> shapely.Geometry:
    """The area that closed contours bound: what lies in an odd number of them."""
    return shapely.make_valid(area_of(contours, fine_mm)) if contours else shapely.Polygon()


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

