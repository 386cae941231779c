"""How far painted objects reach in mm: their own geometry, widened by the stroke, inside their clip."""

import math
from collections.abc import Sequence
from typing import Any, Protocol

import shapely

from horismos.artwork.glyphs import text_bounds, text_box
from horismos.artwork.lines import Line
from horismos.artwork.model import Clip, ContentStream, Page, PaintedObject, PathObject, ShadingObject, TextObject
from horismos.artwork.pathdata import contours_of
from horismos.paths import Contour, bounds, flatten, union_bounds
from horismos.paths.box import Bounds, common, grow, holds
from horismos.paths.matrix import IDENTITY, Matrix, apply
from horismos.paths.ring import area_inside

__all__ = ["Extent", "Source", "art_box", "art_boxes", "bounds_of", "extent_of"]

MOST_NODES = 4_000
"""[ours] a path with more is clipped and widened by its box only."""
FLAT = 0.02
"""[ours] how far from a curve its chords may lie, in mm."""
INVISIBLE = 3
"""[standard] ISO 32000-1, table 106: the rendering mode that neither fills nor strokes."""
JOINS = ("mitre", "round", "bevel")
CAPS = ("flat", "round", "square")


class Source(Protocol):
    """Whatever holds content that was run: a page, or the inside of a pattern."""

    @property
    def streams(self) -> Sequence[ContentStream]: ...

    @property
    def clips(self) -> Sequence[Clip]: ...


class Extent:
    """The bounds of the objects of one page; clips are worked out once."""

    def __init__(self, source: Source) -> None:
        self._source = source
        self._regions: dict[int, tuple[Bounds | None, Any]] = {}

    def of(self, obj: PaintedObject) -> Bounds | None:
        """The bounds of what an object paints, or None where its clip leaves nothing of it."""
        if isinstance(obj, TextObject) and (obj.rendering_mode == INVISIBLE or text_bounds(obj) is None):
            return None
        box = self._own(obj)
        clip = obj.state.clip
        if clip < 0:
            return box
        region, shape = self.clip(clip)
        if region is None:
            return None
        if box is None:
            return region
        if shape is None and holds(region, box):
            return box
        left_of_box = common(region, box)
        if left_of_box is None:
            return None
        own = self._shape(obj, box)
        if own is None or (shape is None and _is_box(own)):
            return left_of_box
        left = shapely.clip_by_rect(own, *region) if shape is None else shape.intersection(own)
        return None if left.is_empty else _bounds(left)

    def clip(self, index: int) -> tuple[Bounds | None, Any]:
        """The region that a clip leaves: its bounds (None: nothing), and its shape where it is no box."""
        if index not in self._regions:
            self._regions[index] = self._clip(self._source.clips[index])
        return self._regions[index]

    def _clip(self, clip: Clip) -> tuple[Bounds | None, Any]:
        if clip.box is not None:
            x0, y0, x1, y1 = clip.box
            own: Any = _placed([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], clip.ctm)
        else:
            data = self._source.streams[clip.stream].data[clip.start : clip.end]
            own = area_inside(contours_of(data, clip.ctm), FLAT)
        if own is None or own.is_empty:
            return None, None
        outer, outer_shape = self.clip(clip.outer) if clip.outer >= 0 else (_bounds(own), None)
        if outer is None:
            return None, None
        if outer_shape is None and _is_box(own):
            return common(outer, _bounds(own)), None
        left = own.intersection(outer_shape if outer_shape is not None else shapely.box(*outer))
        if left.is_empty:
            return None, None
        return _bounds(left), None if _is_box(left) else left

    def _contours(self, path: PathObject, matrix: Matrix) -> list[Contour]:
        data = self._source.streams[path.stream].data[path.start : path.path_end]
        return contours_of(data, matrix, path.closes)

    def _own(self, obj: PaintedObject) -> Bounds | None:
        """The bounds of the object itself; None for what fills its clip."""
        if isinstance(obj, ShadingObject):
            if obj.box is None:
                return None
            x0, y0, x1, y1 = obj.box
            return _bounds(_placed([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], obj.state.ctm))
        if isinstance(obj, TextObject):
            box = text_box(obj)
            return _widened(box, obj) if obj.rendering_mode % 4 in (1, 2) else box
        if not isinstance(obj, PathObject):
            return obj.bounds
        contours = self._contours(obj, obj.state.ctm)
        own = union_bounds(map(bounds, contours))
        if own is None or not obj.strokes:
            return own
        nodes = sum(len(c.segments) for c in contours)
        if obj.state.line_join != 1 and obj.state.line_width > 0 and 0 < nodes <= MOST_NODES:
            return _bounds(self._stroked(obj))
        return _widened(own, obj)

    def _stroked(self, obj: PathObject) -> Any:
        """The area that a stroke covers, with its caps and joins, the dash left out."""
        state = obj.state
        a, b, c, d, e, f = state.ctm
        fine = FLAT / max(math.hypot(a, b), math.hypot(c, d), 1e-9)
        lines = []
        for contour in self._contours(obj, IDENTITY):
            points = flatten(contour, fine)
            closed = contour.closed and len(points) > 3
            lines.append(shapely.LinearRing(points) if closed else shapely.LineString(points))
        wide = shapely.buffer(
            shapely.GeometryCollection(lines), state.line_width / 2,
            cap_style=CAPS[min(state.line_cap, 2)], join_style=JOINS[min(state.line_join, 2)],
            mitre_limit=max(state.miter_limit, 1.0),
        )
        return shapely.affinity.affine_transform(wide, [a, c, b, d, e, f])

    def _shape(self, obj: PaintedObject, box: Bounds) -> Any:
        """The area that an object covers, for clipping; None where its box has to do."""
        if isinstance(obj, PathObject):
            contours = self._contours(obj, obj.state.ctm)
            if sum(len(c.segments) for c in contours) > MOST_NODES:
                return None
            area = area_inside(contours, FLAT) if obj.fills else None
            if obj.strokes and obj.state.line_width > 0:
                stroked = self._stroked(obj)
                area = stroked if area is None else area.union(stroked)
            return area
        if isinstance(obj, TextObject | ShadingObject):
            return shapely.box(*box)
        return _placed([(0, 0), (1, 0), (1, 1), (0, 1)], obj.state.ctm)


def extent_of(page: Page) -> Extent:
    """Where things lie on a page, each place worked out once, when asked."""
    if "extent" not in page.kept:
        page.kept["extent"] = Extent(page)
    found: Extent = page.kept["extent"]
    return found


def bounds_of(page: Page, obj: PaintedObject) -> Bounds | None:
    """The bounds in mm of what an object paints inside its clip; None where nothing shows."""
    return extent_of(page).of(obj)


def _placed(corners: list[tuple[float, float]], m: Matrix) -> Any:
    return shapely.Polygon([apply(m, x, y) for x, y in corners])


def _bounds(shape: Any) -> Bounds:
    x0, y0, x1, y1 = shape.bounds
    return float(x0), float(y0), float(x1), float(y1)


def _is_box(shape: Any) -> bool:
    x0, y0, x1, y1 = shape.bounds
    return bool(abs(shape.area - (x1 - x0) * (y1 - y0)) <= 1e-6 * max(shape.area, 1e-9))


def _widened(box: Bounds, obj: PaintedObject) -> Bounds:
    """A box with half the stroke's width on each side, as the matrix stretches it."""
    a, b, c, d, _, _ = obj.state.ctm
    half = obj.state.line_width / 2
    dx, dy = half * math.hypot(a, c), half * math.hypot(b, d)
    return grow(box, dx, dy)


def art_boxes(page: Page, lines: Sequence[Line]) -> list[Bounds]:
    """The boxes in mm of what a page prints, without its lines, also beyond its media box."""
    taken = {line.index for line in lines if line.page is page and line.takes_all}
    boxes = (
        bounds_of(page, obj) for i, obj in enumerate(page.objects)
        if i not in taken and obj.state.visible and obj.state.prints
    )
    return [box for box in boxes if box is not None]


def art_box(page: Page, lines: Sequence[Line]) -> Bounds | None:
    """The box in mm of what a page prints, without its lines and within its media box; None where that is nothing."""
    found = union_bounds(art_boxes(page, lines))
    return common(found, page.boxes.media) if found else None
