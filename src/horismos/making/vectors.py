"""The outline of vector art: fills, strokes at their width and letters, welded into one."""

import math

import shapely

from horismos.artwork.clips import clip_paths
from horismos.artwork.extent import bounds_of
from horismos.artwork.glyphs import has_outlines, text_contours
from horismos.artwork.model import ImageObject, Page, PathObject, ShadingObject, TextObject
from horismos.artwork.strokes import stroke_outline
from horismos.errors import CannotWrite
from horismos.paths import Contour, bounds, rectangle, union_bounds
from horismos.paths.areas import area_of
from horismos.paths.weld import expanded, welded_areas, without_overlaps

__all__ = ["fades", "has_pictures", "is_ground", "object_at", "vector_area", "vector_contours"]

UNSEEN, STROKED, FILLED = 3, (1, 2), (0, 2)
"""[standard] ISO 32000-1, table 106: the rendering mode that paints nothing; those that stroke, and that fill."""
MOST_WELDED = 60_000
"""[ours] segments that are welded on their curves; more are joined as fine polygons."""
FINE_MM = 0.003
GROUND_SHARE = 0.98


def has_pictures(page: Page, objects: list[int]) -> bool:
    """Whether any of the objects is drawn by pixels or by letters whose outlines cannot be had."""
    return any(
        isinstance(o, ImageObject) or (isinstance(o, TextObject) and not has_outlines(o) and _seen(o))
        for o in (page.objects[i] for i in objects)
    )


def fades(page: Page, index: int) -> bool:
    """Whether an object is masked softly, so that what it covers is not what is seen of it."""
    state = page.objects[index].state
    group, masked = state.group, state.soft_mask
    while group >= 0 and not masked:
        group, masked = page.groups[group].outer, page.groups[group].soft_mask
    return masked


def _seen(text: TextObject) -> bool:
    return text.rendering_mode != UNSEEN


def is_ground(page: Page, index: int) -> bool:
    """Whether an object is a white box under all of the page: paper that was drawn, not art."""
    obj = page.objects[index]
    if not isinstance(obj, PathObject) or not obj.fills or obj.strokes or not obj.state.fill.white:
        return False
    box, trim = bounds_of(page, obj), page.boxes.trim
    if box is None or len(page.contours(obj)) != 1:
        return False
    wide = max(min(box[2], trim[2]) - max(box[0], trim[0]), 0.0) * max(min(box[3], trim[3]) - max(box[1], trim[1]), 0.0)
    return wide >= GROUND_SHARE * (trim[2] - trim[0]) * (trim[3] - trim[1])


def _painted(page: Page, index: int) -> list[list[Contour]]:
    """What an object covers, as areas of closed contours that do not overlap within each."""
    obj = page.objects[index]
    areas: list[list[Contour]] = []
    if isinstance(obj, PathObject):
        if obj.fills:
            areas.append(without_overlaps(page.contours(obj), obj.operator.endswith("*")))
        if obj.strokes:
            areas.append(stroke_outline(page, obj))
    elif isinstance(obj, ShadingObject):
        areas.append([rectangle(*page.boxes.media)])  # as much of it as its clip lets through
    elif isinstance(obj, TextObject) and _seen(obj):
        letters = [Contour(c.segments, c.straight, True) for c in text_contours(obj) or []]
        if letters and obj.rendering_mode % 4 in FILLED:
            areas.append(without_overlaps(letters, False))
        if letters and obj.rendering_mode % 4 in STROKED:
            a, b, c, d, _, _ = obj.state.ctm
            areas.append(expanded(letters, obj.state.line_width * math.sqrt(abs(a * d - b * c))))
    return [area for area in areas if area]


def vector_contours(page: Page, objects: list[int]) -> list[Contour] | None:
    """The welded outline of objects on their curves; None where it has to be joined as polygons instead."""
    clips: dict[int, shapely.Geometry] = {}
    if any(_clips(page, i, clips) for i in objects):
        return None
    try:
        areas = [area for i in objects for area in _painted(page, i)]
        if sum(len(c.segments) for area in areas for c in area) > MOST_WELDED:
            return None
        if len(areas) == 1:
            return areas[0]
        return welded_areas(areas)
    except CannotWrite:
        return None


def _clips(page: Page, index: int, known: dict[int, shapely.Geometry]) -> bool:
    """Whether a clip cuts into an object, as far as boxes tell; ``known`` keeps what clips let through."""
    clip = page.objects[index].state.clip
    if clip < 0:
        return False
    box = union_bounds(bounds(c) for area in _painted(page, index) for c in area)
    if box is None:
        return False
    if clip not in known:
        known[clip] = _clip_area(page, clip, 0.05).buffer(0.02)
        shapely.prepare(known[clip])
    return not known[clip].covers(shapely.box(*box))


def vector_area(page: Page, objects: list[int], fine_mm: float = FINE_MM) -> shapely.Geometry:
    """The same as fine polygons, each object within its clips."""
    clips: dict[int, shapely.Geometry] = {}
    parts = []
    for i in objects:
        own = [area_of(area, fine_mm) for area in _painted(page, i)]
        if not own:
            continue
        area = shapely.union_all(own) if len(own) > 1 else own[0]
        clip = page.objects[i].state.clip
        if clip >= 0:
            if clip not in clips:
                clips[clip] = _clip_area(page, clip, fine_mm)
            area = area.intersection(clips[clip])
        parts.append(area)
    return shapely.union_all(parts) if parts else shapely.Polygon()


def _clip_area(page: Page, clip: int, fine_mm: float) -> shapely.Geometry:
    """What a clip and all outside of it let through."""
    made: shapely.Geometry | None = None
    for contours, even_odd in clip_paths(page, clip):
        within = without_overlaps([Contour(c.segments, c.straight, True) for c in contours], even_odd)
        area = area_of(within, fine_mm)
        made = area if made is None else made.intersection(area)
    assert made is not None
    return made


def object_at(page: Page, objects: list[int], point: tuple[float, float]) -> int | None:
    """The topmost object that paints a place, by index; where its shape cannot be told, by its box."""
    at = shapely.Point(point)
    for i in reversed(objects):
        box = bounds_of(page, page.objects[i])
        if box is None or not (box[0] <= point[0] <= box[2] and box[1] <= point[1] <= box[3]):
            continue
        if has_pictures(page, [i]) or shapely.intersects(vector_area(page, [i], 0.02), at):
            return i
    return None
