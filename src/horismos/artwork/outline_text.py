"""Takes text off a page and draws its outlines instead, where the text object ends that it stood in.

The operator that showed it moves on as far as before, so that what follows stays where it is.
"""

import re
from collections.abc import Callable, Mapping, Sequence

import pikepdf

from horismos.artwork.edit import Edit
from horismos.artwork.fonts import text_width
from horismos.artwork.model import Page, TextObject
from horismos.artwork.pathdata import path_operators
from horismos.artwork.recolour import colours_at
from horismos.artwork.scan import TEXT_BLOCK
from horismos.paths.contour import Contour

__all__ = ["outlined", "text_end"]

OPERATOR = re.compile(rb"(Tj|TJ|'|\")[\x00\t\n\f\r ]*$")
PAINTS = {0: b"f", 1: b"S", 2: b"B"}
"""[standard] ISO 32000-1, table 106: what the rendering modes paint."""
Painted = Callable[[TextObject], bytes]


def outlined(
    pdf: pikepdf.Pdf, page: Page, texts: Mapping[int, Sequence[Contour]], stroked: Mapping[int, bytes] | None = None
) -> dict[int, list[Edit]]:
    """The edits, by stream run, that draw texts, by the index of the object, as these contours in mm.

    Where ``stroked`` says by which state, the outlines are stroked, and else painted as the text was.

    Raises CannotWrite where a text has its colour from outside of its form.
    """
    ends, colours = colours_at(pdf, page, list(texts))
    edits: dict[int, list[Edit]] = {}
    behind: dict[tuple[int, int], list[bytes]] = {}
    for index, contours in texts.items():
        obj = page.objects[index]
        assert isinstance(obj, TextObject)
        data = page.streams[obj.stream].data
        block = _block(page, obj)
        end = text_end(page, obj, ends)
        if contours:
            path = path_operators(contours, obj.state.ctm)
            own = stroked.get(index) if stroked else None
            state, operator = (own, b"S") if own else (b" ".join(colours[index]), PAINTS[obj.rendering_mode % 4])
            paint = b"q " + state + b"\n" + path + b" " + operator + b" Q "
            behind.setdefault((obj.stream, end), []).append(paint)
        if block is not None:
            group = 8 if block.group(8) is not None else 9
            edits.setdefault(obj.stream, []).append(Edit(block.start(group), obj.end, _moved(obj) + b" ET "))
        else:
            edits.setdefault(obj.stream, []).append(Edit(obj.start, obj.end, _shown(obj, data)))
    for (stream, end), parts in behind.items():
        edits.setdefault(stream, []).append(Edit(end, end, b"\n" + b"".join(parts)))
    return edits


def text_end(page: Page, text: TextObject, ends: Sequence[tuple[int, int]]) -> int:
    """Where the text object ends that a text stands in, of all ``ends`` as stream run and place."""
    if _block(page, text) is not None:
        return text.end
    return min(at for run, at in ends if run == text.stream and at >= text.end)


def _block(page: Page, text: TextObject) -> re.Match[bytes] | None:
    """The whole text object, where the text is all that stands in it."""
    block = TEXT_BLOCK.match(page.streams[text.stream].data, text.start)
    return block if block is not None and block.end() == text.end else None


def _moved(text: TextObject) -> bytes:
    """An operator that shows nothing and moves on as far as the text did (ISO 32000-1, 9.4.3)."""
    reach = text.size * text.scale
    return f" [{-text_width(text) / reach * 1000:.4f}] TJ ".encode() if reach else b" "


def _shown(text: TextObject, data: bytes) -> bytes:
    """The same with what the showing operator does beside: the next line, and its spacing."""
    found = OPERATOR.search(data, text.start, text.end)
    operator = found[1] if found else b"Tj"
    before = {b"'": b" T*", b'"': f" {text.word_space:g} Tw {text.char_space:g} Tc T*".encode()}.get(operator, b"")
    return before + _moved(text)
