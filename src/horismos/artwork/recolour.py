"""Sets other colours where a page sets its own: in its content, in the forms that it draws, in patterns and glyphs."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

import pikepdf
from pikepdf import Dictionary, Name, Stream

from horismos.artwork.boxes import inherited
from horismos.artwork.edit import Edit, replaced, with_entries
from horismos.artwork.interpret import ContentInterpreter
from horismos.artwork.layers import layers_of
from horismos.artwork.limits import MAX_PROGRAM_BYTES
from horismos.artwork.model import BLACK, Page, PathObject
from horismos.artwork.page_inventory import ColourOperator
from horismos.artwork.parting import clip_operator
from horismos.artwork.read import page_content
from horismos.artwork.resources import ResourceCache
from horismos.artwork.unpack import stream_bytes
from horismos.errors import CannotWrite
from horismos.paths.matrix import IDENTITY

__all__ = [
    "ColourOperator",
    "Mapped",
    "as_fill",
    "colour_operators",
    "colours_at",
    "recolour_within",
    "recoloured",
    "repainted",
    "with_long_names",
]

Mapped = Callable[[ColourOperator], bytes | None]
"""The operators that set another colour instead; None where it stays."""


def colour_operators(pdf: pikepdf.Pdf, page: Page) -> list[ColourOperator]:
    """Every operator that sets a colour on a page of an open copy of its own file, run by run."""
    return _run_again(pdf, page).colours or []


def _run_again(pdf: pikepdf.Pdf, page: Page) -> ContentInterpreter:
    layers, numbers = layers_of(pdf)
    interpreter = ContentInterpreter(ResourceCache(numbers, layers), stream_bytes)
    interpreter.colours = []
    target = pdf.pages[page.number - 1].obj
    content, _ = page_content(target)
    interpreter.run(content, inherited(target, "/Resources"), page.matrix)
    return interpreter


SHORT = frozenset(["G", "RGB", "CMYK", "I"])
"""[standard] ISO 32000-1, table 94: short for device spaces in pictures within the content. Ghostscript 10.0 takes a
resource of such a name for that space everywhere, and makes no plate of the ink.
"""


def with_long_names(pdf: pikepdf.Pdf, page: Page) -> tuple[dict[int, list[Edit]], dict[tuple[str, str], Any]]:
    """The edits and resources by which spaces with such a short name get a longer one."""
    edits: dict[int, list[Edit]] = {}
    resources: dict[tuple[str, str], Any] = {}
    for one in colour_operators(pdf, page):
        if one.chooses and one.name in SHORT and one.space is not None:
            name = f"HzSpace{one.name}{one.stream}"
            resources[("/ColorSpace", name)] = one.space
            text = f" /{name} {'CS' if one.stroking else 'cs'} ".encode()
            edits.setdefault(one.stream, []).append(Edit(one.start, one.end, text))
    return edits, resources


def repainted(pdf: pikepdf.Pdf, page: Page, wanted: Mapping[int, tuple[bytes, bytes]]) -> dict[int, list[Edit]]:
    """The edits, by stream run, that paint objects, by index, in other colours, and nothing else.

    ``wanted`` holds the operators that set the colours of their strokes and fills, empty where these stay. Raises
    CannotWrite where what comes after could not have its own colour back.
    """
    again = _run_again(pdf, page)
    edits: dict[int, list[Edit]] = {}
    for i, (stroke, fill) in wanted.items():
        obj = page.objects[i]
        data = page.streams[obj.stream].data
        colours = b" " + stroke + b" " + fill + b" "
        if isinstance(obj, PathObject):
            path = data[obj.start : obj.path_end]
            text = b" q" + colours + path + b" " + obj.operator.encode() + b" Q "
            clip = clip_operator(data[obj.path_end : obj.end])
            text += path + clip + b" n " if clip else b""
        else:
            back = [
                _back(again, obj.stream, by, stroking)
                for by, stroking, asked in zip(again.set_by[i], (True, False), (stroke, fill), strict=True) if asked
            ]
            text = colours + data[obj.start : obj.end] + b" " + b" ".join(back) + b" "
        edits.setdefault(obj.stream, []).append(Edit(obj.start, obj.end, text))
    return edits


def colours_at(
    pdf: pikepdf.Pdf, page: Page, objects: Sequence[int]
) -> tuple[list[tuple[int, int]], dict[int, tuple[bytes, bytes]]]:
    """Where the text objects of a page end, as stream run and place, and what sets the colours that objects have.

    Colours of strokes and fills are apart. Raises CannotWrite where an object has a colour from outside of its form.
    """
    again = _run_again(pdf, page)
    found = {
        i: (
            _back(again, page.objects[i].stream, again.set_by[i][0], True),
            _back(again, page.objects[i].stream, again.set_by[i][1], False),
        )
        for i in objects
    }
    return again.text_ends, found


FILLS = {b"K": b"k", b"RG": b"rg", b"G": b"g", b"CS": b"cs", b"SC": b"sc", b"SCN": b"scn"}


def as_fill(stroke: bytes) -> bytes:
    """The operators that set a stroke's colour, for fills."""
    return b" ".join(FILLS.get(part, part) for part in stroke.split()) + b" "


def _back(again: ContentInterpreter, stream: int, by: int, stroking: bool) -> bytes:
    """The operators that set a colour as it was: inside a text object nothing can be saved and restored."""
    if by < 0:
        return b"0 G" if stroking else b"0 g"
    assert again.colours is not None
    one = again.colours[by]
    if one.stream != stream:
        raise CannotWrite("A text has its colour from outside of its form.", "Nothing was changed; outline it first.")
    choose = f"/{one.name} {'CS' if stroking else 'cs'} ".encode() if one.name and not one.chooses else b""
    return choose + again.streams[stream].data[one.start : one.end]


def recoloured(pdf: pikepdf.Pdf, page: Page, new: Mapped) -> dict[int, list[Edit]]:
    """The edits, by stream run, that set other colours.

    A colour that stays behind one that changed needs its space chosen anew: the other may have chosen one.
    """
    edits = _edits(colour_operators(pdf, page), new)
    first = b"".join(
        text for stroking in (True, False)
        if (text := new(ColourOperator(0, 0, 0, stroking, BLACK, False, "", None))) is not None
    )
    if first:
        edits.setdefault(0, []).insert(0, Edit(0, 0, first + b" "))
    return edits


def _edits(operators: Sequence[ColourOperator], new: Mapped) -> dict[int, list[Edit]]:
    changes = {i: text for i, one in enumerate(operators) if (text := new(one)) is not None}
    runs = {operators[i].stream for i in changes}
    edits: dict[int, list[Edit]] = {}
    for i, one in enumerate(operators):
        if i in changes:
            edits.setdefault(one.stream, []).append(Edit(one.start, one.end, b" " + changes[i] + b" "))
        elif one.stream in runs and one.name and not one.chooses:
            choose = f" /{one.name} {'CS' if one.stroking else 'cs'} ".encode()
            edits.setdefault(one.stream, []).append(Edit(one.start, one.start, choose))
    return edits


def recolour_within(pdf: pikepdf.Pdf, new: Mapped, resources: Mapping[tuple[str, str], Any]) -> None:
    """Set other colours in the tiling patterns and Type 3 glyphs of a file that have their own (8.7.3, 9.6.5).

    ``resources`` are added to those that were changed. Forms that these draw keep their colours.
    """
    layers, numbers = layers_of(pdf)
    for obj in list(pdf.objects):
        if isinstance(obj, Stream) and obj.get("/PatternType") == 1 and obj.get("/PaintType") == 1:
            _recolour_stream(ResourceCache(numbers, layers), obj, obj, new, resources)
        elif isinstance(obj, Dictionary) and obj.get("/Subtype") == Name.Type3:
            glyphs = obj.get("/CharProcs", Dictionary())
            for key in glyphs.keys():
                _recolour_stream(ResourceCache(numbers, layers), glyphs[key], obj, new, resources)


def _recolour_stream(
    cache: ResourceCache, stream: Any, owner: Any, new: Mapped, resources: Mapping[tuple[str, str], Any]
) -> None:
    """Set other colours in one stream; its resources belong to the pattern or the font."""
    interpreter = ContentInterpreter(cache, stream_bytes)
    interpreter.colours = []
    data = stream_bytes(stream, MAX_PROGRAM_BYTES)
    interpreter.run(data, owner.get("/Resources"), IDENTITY)
    edits = _edits(interpreter.colours, new).get(0, [])
    if edits and interpreter.coloured_glyph:
        stream.write(replaced(data, edits))
        if resources:
            owner.Resources = with_entries(owner.get("/Resources"), resources)
