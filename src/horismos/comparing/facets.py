"""What an artwork is made of, facet by facet, and in which of them two artworks differ.

Two questions are asked. After a mend the checks that read nothing of what changed need not run again:
``changed`` says what may come out otherwise. A mend may touch certain facets only: ``touched`` holds what is
left of the lines beside what they were, so that a line that is gone does not count as painted otherwise.
"""

import hashlib
from collections import Counter
from collections.abc import Collection, Iterable, Iterator
from enum import StrEnum
from typing import Any

import pikepdf

from horismos.artwork.append import updated_numbers
from horismos.artwork.edit import reopened
from horismos.artwork.lines import Line, line_objects
from horismos.artwork.model import (
    BLACK,
    NO_DASH,
    Artwork,
    ImageObject,
    Page,
    PaintedObject,
    PaintState,
    PathObject,
    TextObject,
)
from horismos.destinations import Destination

__all__ = ["ALL", "Facet", "art_said", "changed", "touched"]


class Facet(StrEnum):
    """A part of an artwork that checks read and mends touch."""

    FILE = "file"
    BOXES = "boxes"
    NAMES = "names"
    PAINT = "paint"
    GEOMETRY = "geometry"
    LAYERS = "layers"
    ART = "art"
    LOOK = "look"
    """The picture of the art. It is compared by drawing, not here; no check reads it."""

    @property
    def words(self) -> str:
        """The facet in words, as it stands in sentences."""
        return WORDS[self]


WORDS = {
    Facet.FILE: "the file itself", Facet.BOXES: "the page boxes", Facet.NAMES: "the names of lines or inks",
    Facet.PAINT: "how lines are painted", Facet.GEOMETRY: "how lines run", Facet.LAYERS: "the layers",
    Facet.ART: "the art", Facet.LOOK: "what the art looks like",
}
ALL = frozenset(Facet)
PICTURES = (pikepdf.Name.Image,)
Said = tuple[object, ...]


def changed(before: Artwork, after: Artwork, destination: Destination) -> frozenset[Facet]:
    """The facets in which two revisions may come out otherwise when they are checked."""
    if len(before.pages) != len(after.pages):
        return ALL
    out = _of_files(before, after)
    for old, new in zip(before.pages, after.pages, strict=True):
        lines = line_objects(before, old, destination), line_objects(after, new, destination)
        out |= _of_pages(old, new, lines)
        for facet, said in LINE_FACETS.items():
            if [said(line) for line in lines[0]] != [said(line) for line in lines[1]]:
                out.add(facet)
    return frozenset(out)


def touched(
    before: Artwork, after: Artwork, destination: Destination, repacked: bool = True
) -> frozenset[Facet]:
    """The facets in which what is left differs from what there was.

    Lines are told by how they run. One that runs as before has to be called, painted and layered as before;
    one that runs otherwise may not be called, painted or layered as none was. Without ``repacked`` pixels that are
    packed otherwise count as others: unpacking them all takes long where they were meant to change anyway.
    """
    if len(before.pages) != len(after.pages):
        return ALL
    out = _of_files(before, after, repacked)
    for old, new in zip(before.pages, after.pages, strict=True):
        lines = line_objects(before, old, destination), line_objects(after, new, destination)
        found = _of_pages(old, new, lines)
        on, after_on = ({_layer(obj) for obj in _painted(p, of)} for p, of in zip((old, new), lines, strict=True))
        if Facet.ART in found and after_on <= on:
            found.discard(Facet.LAYERS)  # there is more or less of the art, and what there is lies where some did
        out |= found
        was, now = _by_course(lines[0]), _by_course(lines[1])
        if was.keys() != now.keys() or any(len(was[key]) != len(now[key]) for key in now):
            out.add(Facet.GEOMETRY)
        for facet, said in LINE_FACETS.items():
            if facet is Facet.GEOMETRY:
                continue
            if any(Counter(map(said, now[key])) - Counter(map(said, was[key])) for key in now.keys() & was.keys()):
                out.add(facet)
            strange = [line for key in now.keys() - was.keys() for line in now[key]]
            known = set(map(_layer, old.objects)) if facet is Facet.LAYERS else set(map(said, lines[0]))
            if set(map(said, strange)) - known:
                out.add(facet)
        if {_name(line) for line in lines[0]} != {_name(line) for line in lines[1]}:
            out.add(Facet.NAMES)
    return frozenset(out)


def _of_files(before: Artwork, after: Artwork, repacked: bool = True) -> set[Facet]:
    out: set[Facet] = set()
    if _file(before) != _file(after):
        out.add(Facet.FILE)
    if before.layers != after.layers:
        out.add(Facet.LAYERS)
    if before.data is not after.data and not _same_pixels(before, after, repacked):
        out.add(Facet.ART)
    return out


def _file(artwork: Artwork) -> Said:
    return (
        artwork.repairs, artwork.encrypted, artwork.forbids_changes, artwork.taken_in, artwork.active,
        *(page.annotations for page in artwork.pages),
    )


def _of_pages(old: Page, new: Page, lines: tuple[list[Line], list[Line]]) -> set[Facet]:
    """What differs beside the lines: boxes, inks, and the art with its layers."""
    out: set[Facet] = set()
    if old.boxes != new.boxes:
        out.add(Facet.BOXES)
    if set(old.ink_names) != set(new.ink_names):
        out.add(Facet.NAMES)
    if list(_art(old, lines[0])) != list(_art(new, lines[1])):
        out.add(Facet.ART)
    if [_layer(obj) for obj in _painted(old, lines[0])] != [_layer(obj) for obj in _painted(new, lines[1])]:
        out.add(Facet.LAYERS)
    return out


# -- lines -----------------------------------------------------------------------------------------


def _by_course(lines: Iterable[Line]) -> dict[Said, list[Line]]:
    out: dict[Said, list[Line]] = {}
    for line in lines:
        out.setdefault(_course(line), []).append(line)
    return out


def _name(line: Line) -> Said:
    return line.roles, line.ink


def _paint(line: Line) -> Said:
    state = line.object.state
    return (
        round(line.width_mm, 6), line.tint, line.inks, line.strokes, line.fills, line.overprints, line.takes_all,
        state.dash, state.transparent, state.group >= 0, state.clip >= 0,
    )


def _course(line: Line) -> Said:
    if not isinstance(line.object, PathObject):
        return (type(line.object).__name__,)
    return tuple((c.segments.round(6).tobytes(), c.closed) for c in line.contours)


def _on(line: Line) -> Said:
    return _layer(line.object)


LINE_FACETS = {Facet.NAMES: _name, Facet.PAINT: _paint, Facet.GEOMETRY: _course, Facet.LAYERS: _on}


# -- art -------------------------------------------------------------------------------------------


def _painted(page: Page, lines: list[Line]) -> Iterable[PaintedObject]:
    """The objects that are art, or of which a part is."""
    taken = {line.index for line in lines if line.takes_all}
    return (obj for i, obj in enumerate(page.objects) if i not in taken)


def _art(page: Page, lines: list[Line]) -> Iterable[Said]:
    """Each object of the art without its place in the file, which an edit elsewhere may move."""
    partly = {line.index: line for line in lines if not line.takes_all}
    taken = {line.index for line in lines if line.takes_all}
    for i, obj in enumerate(page.objects):
        if i not in taken:
            yield _object(page, obj, partly.get(i))


def art_said(page: Page) -> list[Said]:
    """All objects of a page, in their order, each without its place in the file."""
    return [_object(page, obj, None) for obj in page.objects]


def _object(page: Page, obj: PaintedObject, line: Line | None) -> Said:
    state = obj.state._replace(clip=-1, group=-1, layers=())
    return (*_itself(page, obj, line, state), _clips(page, obj.state.clip), _groups(page, obj.state.group))


def _clips(page: Page, index: int) -> Said:
    """The clips that an object is painted through, as they run."""
    key = ("clips said", index)
    if key not in page.kept:
        said: list[object] = []
        while index >= 0:
            clip = page.clips[index]
            path = b"" if clip.box else page.streams[clip.stream].data[clip.start : clip.end].strip()
            said.append((clip.even_odd, clip.ctm, clip.box, path))
            index = clip.outer
        page.kept[key] = tuple(said)
    found: Said = page.kept[key]
    return found


def _groups(page: Page, index: int) -> Said:
    """The transparency groups that an object is painted in."""
    said: list[object] = []
    while index >= 0:
        said.append(page.groups[index]._replace(outer=-1))
        index = page.groups[index].outer
    return tuple(said)


def _itself(page: Page, obj: PaintedObject, line: Line | None, state: PaintState) -> Said:
    if isinstance(obj, PathObject):
        fills = obj.fills and not (line and line.fills)
        strokes = obj.strokes and not (line and line.strokes)
        # Only the state that paints: a colour that is set and not used is nothing that is seen.
        if not strokes:
            state = state._replace(stroke=BLACK, line_width=0.0, dash=NO_DASH, overprint_stroke=False, alpha_stroke=1.0)
        if not fills:
            state = state._replace(fill=BLACK, overprint_fill=False, alpha_fill=1.0)
        path = page.streams[obj.stream].data[obj.start : obj.path_end].strip() + (b" h" if obj.closes else b"")
        return fills, strokes, fills and obj.operator.endswith("*"), state, path
    if isinstance(obj, TextObject):
        return obj.operand, state, obj.font, obj.size, obj.text_matrix
    if isinstance(obj, ImageObject):
        return obj.pixels, state, obj.bits, obj.space, obj.inks, obj.masked
    return obj.paint, state, obj.box


def _layer(obj: PaintedObject) -> Said:
    return obj.state.layers, obj.state.visible, obj.state.prints


def _same_pixels(before: Artwork, after: Artwork, repacked: bool) -> bool:
    """Whether all that holds pixels, patterns, glyphs or masks is the same; packed otherwise it still is."""
    numbers = updated_numbers(before.data, after.data)
    was, now = (_pixels(artwork, numbers) for artwork in (before, after))
    if was == now or not repacked:
        return was == now
    return _unpacked(before, was - now) == _unpacked(after, now - was)


def _pixels(artwork: Artwork, numbers: frozenset[int] | None) -> frozenset[bytes]:
    """A print of everything of that kind, as it stands in the file; of the objects of some numbers, None: of all."""
    key = ("pixels", numbers)
    if key not in artwork.kept:
        with reopened(artwork) as pdf:
            artwork.kept[key] = frozenset(
                _print(stream) for obj in pdf.objects for stream in _seen_in(obj)
                if numbers is None or stream.objgen[0] in numbers
            )
    found: frozenset[bytes] = artwork.kept[key]
    return found


def _print(stream: Any) -> bytes:
    return hashlib.blake2b(stream.get_raw_stream_buffer()).digest()


def _unpacked(artwork: Artwork, prints: Collection[bytes]) -> frozenset[bytes]:
    """The prints of some of these streams as they are unpacked: what lay plain is packed when a file is written."""
    with reopened(artwork) as pdf:
        return frozenset(
            hashlib.sha256(_plain(stream)).digest()
            for obj in pdf.objects for stream in _seen_in(obj) if _print(stream) in prints
        )


def _plain(stream: Any) -> bytes:
    """What a stream holds, unpacked as far as nothing is lost by it; as it stands where it cannot be."""
    try:
        found: bytes = stream.read_bytes(pikepdf.StreamDecodeLevel.generalized)
    except (pikepdf.PdfError, RuntimeError):
        found = stream.read_raw_bytes()
    return found


def _seen_in(obj: Any) -> Iterator[Any]:
    """The streams of an object of the file that are drawn, or drawn with."""
    if isinstance(obj, pikepdf.Stream):
        if obj.get("/Subtype") in PICTURES or "/PatternType" in obj or "/ShadingType" in obj:
            yield obj
    elif isinstance(obj, pikepdf.Dictionary):
        for key in ("/FontFile", "/FontFile2", "/FontFile3"):
            if isinstance(obj.get(key), pikepdf.Stream):
                yield obj[key]
        mask = obj.get("/SMask", obj)
        if isinstance(mask, pikepdf.Dictionary) and isinstance(mask.get("/G"), pikepdf.Stream):
            yield mask["/G"]
