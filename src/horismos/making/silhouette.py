"""What should be cut: the outline of the art, from whichever source tells it best, its islands and inner contours."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import scipy
import shapely

from horismos.artwork import Artwork, Line, Page, art_alone
from horismos.artwork.extent import art_boxes
from horismos.artwork.model import ImageObject, PathObject
from horismos.artwork.sorting import art_without
from horismos.errors import NothingToDo
from horismos.formats.svg import svg_path
from horismos.making.made import Inner
from horismos.making.note import source_lines
from horismos.making.pixels import (
    Colours,
    Ground,
    by_alpha_of,
    by_ground,
    drawn_alpha,
    drawn_colours,
    frame_colour,
    own_picture,
    sharpest_tolerance,
    whole,
)
from horismos.making.spec import Make, Source, Where
from horismos.making.tracing import Field, pieces_in, soft_part, traced
from horismos.making.vectors import fades, has_pictures, is_ground, object_at, vector_area, vector_contours
from horismos.paths import Contour, chain, contour_from_points
from horismos.paths.areas import area_of
from horismos.paths.box import common
from horismos.paths.contour import closed
from horismos.paths.matrix import Matrix
from horismos.paths.offset import curves_round
from horismos.paths.tangled import crossings_about
from horismos.words import plural

__all__ = ["ArtOutline", "Silhouette", "found", "shaped"]

FINE_MM = 0.002
"""[ours] the polygons that are worked on leave the curves by no more."""
HALF = 0.5
LETTERS_LACK = "Letters are drawn whose outlines are not in the file"
SOFT_FIT_MM = 0.05
GOES_ROUND = "Soft parts, such as shadows, are seen: the outline goes round them; with a threshold, through them."
SPECK_NEAR_MM = 3.0
"""[ours] a speck of vector art so near to a piece is a part of it; of pixels it may be noise."""
OPAQUE = 250
FRAME_TOLERANCE = 24.0
MOST_CROSSINGS = 20_000
MOST_OBJECTS = 400
"""[ours] vectors that are joined one by one where nobody asks for it."""
MOST_INNER = 500


@dataclass(frozen=True, eq=False)
class ArtOutline:
    """The outline of the art as its source gives it: curves, the same as polygons, and why this source was taken."""

    source: Source
    why: str
    contours: tuple[Contour, ...]
    area: shapely.Geometry
    specks: int = 0


@dataclass(frozen=True, eq=False)
class Silhouette:
    """What is to be cut round: the area, and where it still is the source's, the curves."""

    area: shapely.Geometry
    contours: tuple[Contour, ...] | None
    inner: tuple[Inner, ...]
    notes: tuple[str, ...]


def found(artwork: Artwork, page: Page, lines: Sequence[Line], make: Make) -> ArtOutline:
    """Find the outline of a page's art. Raises NothingToDo where there is none."""
    if make.source is Source.LINE:
        return _of_line(page, lines, make)
    art = _Art(artwork, page, lines, make)
    if not art.objects:
        raise NothingToDo("There is no art on the page to make lines from.")
    if all(common(box, page.boxes.media) is None for box in art_boxes(page, lines)):
        raise NothingToDo("All of the art lies beyond the page's edge.", "Fit the page to all that is drawn first.")
    source, why = art.chosen()
    is_soft = False
    if source is Source.VECTOR:
        contours = vector_contours(page, art.objects)
        area = _valid(area_of(contours, FINE_MM)) if contours is not None else vector_area(page, art.objects)
        if contours is None:
            contours = curves_round(area, art.fit_mm)
    else:
        contours, area, is_soft = _traced(art.field(source), make, art.fit_mm)
    parts = shapely.get_parts(area)
    is_big = shapely.area(parts) >= max(make.specks_mm2, 1e-4) if len(parts) else np.zeros(0, bool)
    if source is Source.VECTOR and is_big.any() and not is_big.all():
        is_big |= shapely.dwithin(parts, shapely.MultiPolygon(list(parts[is_big])), SPECK_NEAR_MM)
    big = parts[is_big]
    if not len(big):
        if len(parts):
            raise NothingToDo(f"All that was found is below {make.specks_mm2:g} mm². Lower the smallest piece.")
        raise NothingToDo(NOTHING[source])
    why += f" {GOES_ROUND}" if is_soft else ""
    return ArtOutline(source, why, tuple(contours), shapely.MultiPolygon(list(big)), len(parts) - len(big))


def _traced(field: Field, make: Make, fit_mm: float) -> tuple[list[Contour], shapely.Geometry, bool]:
    """The outline in a picture as curves and as an area, and whether soft parts are in it."""
    threshold = HALF if make.threshold is None else make.threshold
    contours = traced(field, threshold, fit_mm, make.specks_mm2)
    area = _valid(area_of(contours, FINE_MM)) if contours else shapely.MultiPolygon()
    soft = soft_part(field) if make.threshold is None and field.graded else None
    rims = traced(soft, HALF, max(fit_mm, SOFT_FIT_MM), make.specks_mm2) if soft is not None else []
    if rims:
        area = _valid(shapely.union(area, area_of(rims, FINE_MM)))
        contours = curves_round(area, fit_mm)
    if not contours and (specks := pieces_in(field, threshold)):
        raise NothingToDo(
            f"{plural(specks, 'piece')} found, none of {make.specks_mm2:g} mm² or more. Lower the smallest piece."
        )
    return contours, area, bool(rims)


def _of_line(page: Page, lines: Sequence[Line], make: Make) -> ArtOutline:
    """The outline that a line of the file is: its contours that close, ends that meet joined."""
    assert make.line is not None
    own = [contour for line in source_lines(page, lines, make) for contour in line.contours]
    if not own:
        raise NothingToDo(f"The file has no {make.line.words} to make a line from. Take the art as the source.")
    joined = [one.contour for one in chain(own)]
    loops = [closed(contour) for contour in joined if contour.loops]
    if not loops:
        raise NothingToDo(f"The {make.line.words} of the file is open: it goes round nothing. Close it first.")
    left = len(joined) - len(loops)
    why = f"The {make.line.words} that the file has" + (f"; {plural(left, 'open contour')} left out." if left else ".")
    return ArtOutline(Source.LINE, why, tuple(loops), _valid(area_of(loops, FINE_MM)))


NOTHING = {
    Source.VECTOR: "The art covers no area: it has neither fills nor strokes with a width.",
    Source.ALPHA: "The art is clear everywhere, or what is opaque is too small to be a piece.",
    Source.GROUND: "Everything is as the ground is. Point at the ground, or lower the tolerance.",
    Source.RENDER: "The page draws nothing that could be cut round.",
}


def _valid(area: shapely.Geometry) -> shapely.Geometry:
    polygons = [p for p in shapely.get_parts(shapely.make_valid(area)) if p.geom_type == "Polygon" and not p.is_empty]
    return shapely.MultiPolygon(polygons)


class _Art:
    """The art of a page, as far as it counts, and the pictures that tell its outline, each drawn when asked for."""

    def __init__(self, artwork: Artwork, page: Page, lines: Sequence[Line], make: Make) -> None:
        self.artwork, self.page, self.make = artwork, page, make
        self.lines = [line for line in lines if line.page is page]
        taken = {line.index for line in self.lines if line.takes_all}
        self.objects = [
            i for i, o in enumerate(page.objects)
            if i not in taken and o.state.prints and o.state.visible
        ]
        self.chosen_objects = bool(make.objects_at)
        if make.objects_at:
            at = {object_at(page, self.objects, point) for point in make.objects_at}
            self.objects = [i for i in self.objects if i in at]
        self._colours: tuple[Colours, Matrix] | None = None
        self._sharp: float | None = None
        self.fit_mm = make.fit_mm

    def art(self) -> bytes:
        """The art that counts, alone, as a PDF."""
        if self.chosen_objects:
            out = set(range(len(self.page.objects))) - set(self.objects)
            return art_without(self.artwork, self.page, self.lines, out)
        return art_alone(self.artwork, self.page, self.lines)

    def _ppi(self) -> float:
        """As fine as the finest picture, and at least so fine that an edge is found to a twentieth of a mm."""
        pictures = [o for i in self.objects if isinstance(o := self.page.objects[i], ImageObject)]
        only = own_picture(self.page, self.objects)
        if only is not None:
            return float(np.clip(max(only.ppi), 20.0, 1200.0))
        return float(np.clip(max((max(o.ppi) for o in pictures), default=600.0), 300.0, 600.0))

    def colours(self) -> tuple[Colours, Matrix]:
        """What the art looks like on white."""
        if self._colours is None:
            self._colours = drawn_colours(self.art(), self.page, self._ppi())
        return self._colours

    def alpha(self) -> Field:
        """How opaque the art is: the picture's own mask, where the art is one picture."""
        only = own_picture(self.page, self.objects)
        if only is not None:
            own = by_alpha_of(self.artwork, self.page, only) if only.masked else whole(only)
            if own is not None:
                return own
        return drawn_alpha(self.art(), self.page, self._ppi())

    def chosen(self) -> tuple[Source, str]:
        """The source, and why."""
        asked = self.make.source
        if asked is Source.VECTOR:
            if has_pictures(self.page, self.objects):
                left = [i for i in self.objects if not has_pictures(self.page, [i])]
                if not left:
                    raise NothingToDo("There are no vectors in the art. Take the alpha or the ground as the source.")
                self.objects = left
                return asked, "The vectors were asked for; pictures beside them do not count."
            return asked, "The vectors were asked for."
        if asked not in (Source.AUTO, Source.SHAPE):
            return asked, f"{asked.value.capitalize()} was asked for."
        if not has_pictures(self.page, self.objects) and any(fades(self.page, i) for i in self.objects):
            return Source.RENDER, "The art is vectors, and some of them fade out: what shows counts."
        if not has_pictures(self.page, self.objects):
            papers = [i for i in self.objects if is_ground(self.page, i)]
            if papers and len(papers) < len(self.objects):
                self.objects = [i for i in self.objects if i not in papers]
                return Source.VECTOR, "The art is vectors; the white box below them is taken for paper."
            count = len(self.objects)
            if count > MOST_OBJECTS:
                return Source.RENDER, f"The art is {count:,} objects: what they cover is quicker drawn than joined."
            paths = [o for i in self.objects if isinstance(o := self.page.objects[i], PathObject)]
            crossings = crossings_about([contour for path in paths for contour in self.page.contours(path)])
            if crossings > MOST_CROSSINGS:
                return Source.RENDER, f"The art crosses itself about {crossings:,.0f} times: what shows counts."
            return Source.VECTOR, f"The art is vectors: {plural(count, 'object')}."
        field = self.alpha()
        if _bare_share(field) > 0.001:
            only = own_picture(self.page, self.objects) is not None
            pictures = any(isinstance(self.page.objects[i], ImageObject) for i in self.objects)
            mixed = "Pictures and vectors are mixed, and parts are clear" if pictures else LETTERS_LACK
            what = "The picture has clear parts" if only else mixed
            return (Source.ALPHA if only else Source.RENDER), f"{what}: what is opaque counts."
        colours, _ = self.colours()
        ground = self._ground()
        if ground is not None and np.abs(colours.astype(np.int16) - ground).max() > self._tolerance(ground):
            colour = f"RGB {ground[0]}, {ground[1]}, {ground[2]}, within {self._tolerance(ground):g}"
            return Source.GROUND, f"The art is opaque and its edge is one colour, {colour}: its ground."
        return Source.RENDER, "The art is opaque to its edges and has no plain ground: its own edge is its outline."

    def _ground(self) -> tuple[int, int, int] | None:
        """The colour of the ground: as it was said, pointed at, or that of the frame."""
        if self.make.ground is not None:
            return self.make.ground
        if self.make.ground_at is not None:
            return self._colour_at(self.make.ground_at)[0]
        return frame_colour(self.colours()[0], self.make.tolerance or FRAME_TOLERANCE)

    def _tolerance(self, ground: tuple[int, int, int]) -> float:
        """The tolerance that was asked for, or that at which the art's edge is sharp."""
        if self.make.tolerance is not None:
            return self.make.tolerance
        if self._sharp is None:
            self._sharp = sharpest_tolerance(self.colours()[0], ground)
        return self._sharp

    def field(self, source: Source) -> Field:
        """How much of each pixel counts, by a source."""
        if source is Source.GROUND:
            colours, matrix = self.colours()
            ground = self._ground()
            if ground is None:
                raise NothingToDo("The edge of the art is not one colour. Point at the ground, or raise the tolerance.")
            return by_ground(colours, matrix, Ground(ground, self._tolerance(ground), self.make.joined))
        if source is Source.ALPHA:
            return self.alpha()
        return self.alpha() if own_picture(self.page, self.objects) else drawn_alpha(self.art(), self.page, self._ppi())

    def _colour_at(self, point: tuple[float, float]) -> tuple[tuple[int, int, int], int, int]:
        """The colour at a place, and the row and column of its pixel."""
        colours, matrix = self.colours()
        x, y = (point[0] - matrix[4]) / matrix[0], (point[1] - matrix[5]) / matrix[3]
        row, column = int(np.clip(y, 0, len(colours) - 1)), int(np.clip(x, 0, colours.shape[1] - 1))
        around = colours[max(row - 1, 0) : row + 2, max(column - 1, 0) : column + 2]
        red, green, blue = (int(v) for v in np.median(around, axis=(0, 1)))
        return (red, green, blue), row, column

    def area_at(self, point: tuple[float, float]) -> shapely.Geometry:
        """The area of one colour or object at a place, which is to become a hole."""
        index = object_at(self.page, self.objects, point)
        if index is not None and not has_pictures(self.page, [index]):
            above = [i for i in self.objects if i > index and not has_pictures(self.page, [i])]
            own = vector_area(self.page, [index])
            return shapely.difference(own, vector_area(self.page, above)) if above else own
        colours, matrix = self.colours()
        colour, row, column = self._colour_at(point)
        within = self.make.tolerance or FRAME_TOLERANCE
        field = by_ground(colours, matrix, Ground(colour, within, Where.ANYWHERE))
        there = 255 - field.values.astype(np.uint8)
        labels, _ = scipy.ndimage.label(scipy.ndimage.binary_dilation(there > 20))
        if not labels[row, column]:
            return shapely.Polygon()
        alone = replace(field, values=np.where(labels == labels[row, column], there, 0).astype(np.uint8))
        return _valid(area_of(traced(alone, 0.5, self.fit_mm, self.make.specks_mm2), FINE_MM))


def _bare_share(field: Field) -> float:
    return float((np.asarray(field.values) < OPAQUE * field.full / 255).mean())


# -- islands and inner contours ----------------------------------------------------------------------------------------


def shaped(artwork: Artwork, page: Page, lines: Sequence[Line], make: Make, base: ArtOutline) -> Silhouette:
    """The outline with its inner contours as they were asked for, areas cut out, and islands joined."""
    notes = [f"{plural(base.specks, 'speck')} below {make.specks_mm2:g} mm² left out."] if base.specks else []
    area, inner = _with_inner(base.area, make)
    touched = False
    if make.cut_out_at:
        art = _Art(artwork, page, lines, make)
        before = area.area
        for point in make.cut_out_at:
            area = shapely.difference(area, art.area_at(point))
        touched = area.area < before
        notes += [] if touched else ["Nothing was cut out: no closed area lies where it was pointed at."]
    if make.bridge_mm:
        joined = bridged(area, make.bridge_mm)
        count = len(shapely.get_parts(area)) - len(shapely.get_parts(joined))
        if count:
            notes.append(f"{plural(count, 'gap')} of up to {make.bridge_mm:g} mm bridged.")
        touched, area = touched or bool(count), joined
    area = _valid(area)
    if area.is_empty:
        raise NothingToDo("Nothing is left of the art. Keep more of it.")
    kept = None if touched else tuple(_on_edge(base.contours, area))
    return Silhouette(area, kept, inner, tuple(notes))


def _with_inner(area: shapely.Geometry, make: Make) -> tuple[shapely.Geometry, tuple[Inner, ...]]:
    parts: list[shapely.Geometry] = []
    inner: list[Inner] = []
    for part in shapely.get_parts(area):
        holes = []
        for ring in part.interiors:
            hole = shapely.Polygon(ring)
            kept = make.inner is not None and hole.area >= make.inner
            kept = (kept or _holds(hole, make.keep_at)) and not _holds(hole, make.drop_at)
            if kept:
                holes.append(ring)
            at = shapely.point_on_surface(hole)
            if len(inner) < MOST_INNER:
                rim = contour_from_points(np.asarray(shapely.simplify(ring, 0.02).coords), True)
                inner.append(Inner((at.x, at.y), hole.area, kept, svg_path([rim])))
        parts.append(shapely.Polygon(part.exterior, holes))
    # what stood as an island in a hole that is gone is a part of the piece now
    return shapely.union_all(parts), tuple(inner)


def _holds(area: shapely.Geometry, points: Sequence[tuple[float, float]]) -> bool:
    """Whether any of the places lies in an area."""
    return bool(points) and bool(shapely.contains_xy(area, np.array(points)).any())


def _on_edge(contours: Sequence[Contour], area: shapely.Geometry) -> list[Contour]:
    edge = shapely.boundary(area)
    shapely.prepare(edge)
    starts = shapely.points(np.array([c.start for c in contours]))
    near = shapely.dwithin(edge, starts, 4 * FINE_MM)
    return [c for c, yes in zip(contours, near.tolist(), strict=True) if yes]


def bridged(area: shapely.Geometry, gap_mm: float) -> shapely.Geometry:
    """Islands no further apart than a gap, joined where they are near; nothing else of their outline changes."""
    islands = shapely.get_parts(area)
    if len(islands) < 2:
        return area
    # a little wider than the gap, or the bridge over a gap of just that width would have no width itself
    reach = gap_mm * 0.75
    closed = shapely.buffer(shapely.buffer(area, reach, quad_segs=32), -reach, quad_segs=32)
    tree = shapely.STRtree(islands)
    links = []
    for part in shapely.get_parts(shapely.difference(closed, area)):
        touched = islands[tree.query(part, predicate="dwithin", distance=1e-4)]
        pairs = ((a, b) for i, a in enumerate(touched) for b in touched[i + 1 :])
        if any(a.distance(b) <= gap_mm + 1e-6 for a, b in pairs):
            links.append(shapely.buffer(part, 1e-3))
    return shapely.union_all([area, *links]) if links else area
