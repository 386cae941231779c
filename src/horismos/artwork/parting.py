"""Parts art from lines: the art is the same page without what is meant as a line."""

from collections.abc import Iterable, Sequence
from pathlib import Path

import pikepdf

from horismos.artwork.edit import Edit, edit_page, reopened, save
from horismos.artwork.lines import Line
from horismos.artwork.model import Artwork, Page, PathObject

__all__ = [
    "art_alone", "clip_operator", "edits_without", "leave_out", "show_whole", "what_stays", "write_art_alone",
]

MOST_KEPT_BYTES = 32_000_000
"""[ours] art above this is made anew when it is wanted again, instead of being held in memory."""


def edits_without(lines: Sequence[Line]) -> dict[int, list[Edit]]:
    """The edits, by stream run, that take lines off their page.

    A path stays as an unpainted one, since it may be a clip as well; anything else goes whole.
    """
    edits: dict[int, list[Edit]] = {}
    for line in lines:
        obj = line.object
        if isinstance(obj, PathObject):
            data = line.page.streams[obj.stream].data
            text = clip_operator(data[obj.path_end : obj.end]) + what_stays(line, obj)
            edit = Edit(obj.path_end, obj.end, text)
        else:
            edit = Edit(obj.start, obj.end, b" ")
        edits.setdefault(obj.stream, []).append(edit)
    return edits


def leave_out(page: Page, objects: Iterable[int], edits: dict[int, list[Edit]]) -> dict[int, list[Edit]]:
    """Add the edits, by stream run, that leave objects (by index) out of a page; paths stay as clips."""
    for index in objects:
        obj = page.objects[index]
        if isinstance(obj, PathObject):
            data = page.streams[obj.stream].data
            edit = Edit(obj.path_end, obj.end, clip_operator(data[obj.path_end : obj.end]) + b" n ")
        else:
            edit = Edit(obj.start, obj.end, b" ")
        edits.setdefault(obj.stream, []).append(edit)
    return edits


def clip_operator(between: bytes) -> bytes:
    """The clipping operator that stands between a path and its painting operator, if any."""
    return b" W*" if b"W*" in between else b" W" if b"W" in between else b""


def what_stays(line: Line, obj: PathObject) -> bytes:
    """The painting operator for the part of the object that is art (ISO 32000-1, table 60)."""
    close = b" h" if obj.closes else b""
    if obj.fills and not line.fills:
        return close + (b" f* " if obj.operator.endswith("*") else b" f ")
    if obj.strokes and not line.strokes:
        return close + b" S "
    return b" n "


def art_alone(artwork: Artwork, page: Page, lines: Sequence[Line]) -> bytes:
    """A PDF of one page: the art of ``page`` without ``lines``, the whole media box in view.

    Layers keep the state they have in the file. What is not content (annotations, forms,
    actions, attachments) is left out. Made once, and kept with the page unless it is large.
    """
    key = ("art", tuple(lines))
    kept: bytes | None = page.kept.get(key)
    if kept is not None:
        return kept
    with reopened(artwork) as pdf:
        edit_page(pdf, page, edits_without(lines), {})
        show_whole(pdf, page)
        art = save(pdf, compress=False)
    if len(art) <= MOST_KEPT_BYTES:
        page.kept[key] = art
    return art


def write_art_alone(artwork: Artwork, page: Page, lines: Sequence[Line], path: Path) -> None:
    """The same, written to a file: for artwork that is too large to be held twice."""
    with reopened(artwork) as pdf:
        edit_page(pdf, page, edits_without(lines), {})
        show_whole(pdf, page)
        pdf.save(path, static_id=True, compress_streams=False)


def show_whole(pdf: pikepdf.Pdf, page: Page) -> None:
    """Leave one page of an open file, its whole media box in view, and nothing but content."""
    target = pdf.pages[page.number - 1].obj
    for key in ("/CropBox", "/Annots", "/AA"):
        if key in target:
            del target[key]
    # The media box takes the place of the crop box; what fell back to that one is written out.
    target.CropBox = list(page.boxes.raw["media"])
    target.TrimBox, target.BleedBox = list(page.boxes.raw["trim"]), list(page.boxes.raw["bleed"])
    for key in list(pdf.Root.keys()):
        if key not in ("/Type", "/Pages", "/OCProperties", "/Version"):
            del pdf.Root[key]
    _only_page(pdf, page.number)


def _only_page(pdf: pikepdf.Pdf, number: int) -> None:
    for index in reversed(range(len(pdf.pages))):
        if index != number - 1:
            del pdf.pages[index]
