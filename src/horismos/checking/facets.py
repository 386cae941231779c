"""What of an artwork a check depends on, and what differs between two revisions.

A mend changes little; a check that reads nothing of what was changed need not be run again. What
changed is compared on the two files, not taken from the mend.
"""

import hashlib
from enum import StrEnum

import pikepdf

from horismos.artwork.lines import Line, line_objects
from horismos.artwork.model import Artwork, ImageObject, Page, PaintedObject, PathObject, TextObject
from horismos.artwork.read import open_pdf
from horismos.destinations import Destination

__all__ = ["ALL", "Facet", "changed"]


class Facet(StrEnum):
    """A part of an artwork that checks read."""

    FILE = "file"
    BOXES = "boxes"
    NAMES = "names"
    PAINT = "paint"
    GEOMETRY = "geometry"
    LAYERS = "layers"
    ART = "art"


ALL = frozenset(Facet)


def changed(before: Artwork, after: Artwork, destination: Destination) -> frozenset[Facet]:
    """The facets that differ between two revisions of an artwork."""
    if len(before.pages) != len(after.pages):
        return ALL
    out: set[Facet] = set()
    if _file(before) != _file(after):
        out.add(Facet.FILE)
    if before.layers != after.layers:
        out.add(Facet.LAYERS)
    if _pixels(before) != _pixels(after):
        out.add(Facet.ART)
    for old, new in zip(before.pages, after.pages, strict=True):
        out |= _page(before, old, after, new, destination)
    return frozenset(out)


def _file(artwork: Artwork) -> tuple[object, ...]:
    return (
        artwork.repairs, artwork.encrypted, artwork.forbids_changes, artwork.taken_in, artwork.active,
        [page.annotations for page in artwork.pages],
    )


def _page(before: Artwork, old: Page, after: Artwork, new: Page, destination: Destination) -> set[Facet]:
    out: set[Facet] = set()
    if old.boxes != new.boxes:
        out.add(Facet.BOXES)
    lines = line_objects(before, old, destination), line_objects(after, new, destination)
    if [_name(line) for line in lines[0]] != [_name(line) for line in lines[1]]:
        out.add(Facet.NAMES)
    if set(old.ink_names) != set(new.ink_names):
        out.add(Facet.NAMES)
    if [_paint(line) for line in lines[0]] != [_paint(line) for line in lines[1]]:
        out.add(Facet.PAINT)
    if [_content(line) for line in lines[0]] != [_content(line) for line in lines[1]]:
        out.add(Facet.GEOMETRY)
    art = _art(old, lines[0]), _art(new, lines[1])
    if [_object(old, obj) for obj in art[0]] != [_object(new, obj) for obj in art[1]]:
        out.add(Facet.ART)
    if [_layer(obj) for obj in old.objects] != [_layer(obj) for obj in new.objects]:
        out.add(Facet.LAYERS)
    return out


def _name(line: Line) -> tuple[object, ...]:
    return line.roles, line.ink


def _paint(line: Line) -> tuple[object, ...]:
    state = line.object.state
    return (
        round(line.width_mm, 6), line.tint, line.inks, line.strokes, line.fills, line.overprints, line.takes_all,
        state.dash, state.transparent, state.group >= 0, state.clip >= 0,
    )


def _content(line: Line) -> tuple[object, ...]:
    if not isinstance(line.object, PathObject):
        return (type(line.object).__name__,)
    return tuple((c.segments.round(6).tobytes(), c.closed) for c in line.contours)


def _art(page: Page, lines: list[Line]) -> list[PaintedObject]:
    taken = {line.index for line in lines if line.takes_all}
    return [obj for i, obj in enumerate(page.objects) if i not in taken]


def _object(page: Page, obj: PaintedObject) -> tuple[object, ...]:
    """An object of the art without the places in the file that an edit elsewhere may move."""
    state = obj.state._replace(clip=-1, group=-1, layers=())
    data = page.streams[obj.stream].data
    if isinstance(obj, PathObject):
        return obj.operator, state, data[obj.start : obj.path_end]
    if isinstance(obj, TextObject):
        return obj.operand, state, obj.font, obj.size, obj.text_matrix
    if isinstance(obj, ImageObject):
        return obj.pixels, state, obj.bits, obj.space, obj.inks, obj.masked
    return obj.paint, state, obj.box


def _layer(obj: PaintedObject) -> tuple[object, ...]:
    return obj.state.layers, obj.state.visible, obj.state.prints


def _pixels(artwork: Artwork) -> set[bytes]:
    """A print of everything that holds pixels or patterns, as it stands in the file."""
    out = set()
    with open_pdf(artwork.data, artwork.password) as pdf:
        for obj in pdf.objects:
            if isinstance(obj, pikepdf.Stream) and (
                obj.get("/Subtype") == pikepdf.Name.Image or "/PatternType" in obj or "/ShadingType" in obj
            ):
                out.add(hashlib.sha256(obj.read_raw_bytes()).digest())
    return out
