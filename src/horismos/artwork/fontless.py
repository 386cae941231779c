"""Takes out what only text needs, where no text is shown any more: empty text objects, and the fonts they name.

A RIP and other readers report every font that is named, whether a letter of it is drawn or not.
"""

from collections.abc import Iterator
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name, Stream, String

from horismos.artwork.boxes import inherited

__all__ = ["without_idle_fonts"]

TEXT_ONLY = frozenset([
    "BT", "ET", "Tc", "Tw", "Tz", "TL", "Tf", "Tr", "Ts", "Td", "TD", "Tm", "T*", "Tj", "TJ", "'", '"',
])
"""[standard] ISO 32000-1, tables 105, 107 to 109: the operators of text objects, state, positioning and showing."""
SHOWS = frozenset(["Tj", "TJ", "'", '"'])
MOST_STREAMS = 20_000


def without_idle_fonts(pdf: pikepdf.Pdf) -> int:
    """Take text that shows nothing out of pages, forms and patterns, and the fonts out of resources nobody shows with.

    Gives how many resources lost their fonts. What shows any letter keeps all of its fonts.
    """
    pdf.remove_unreferenced_resources()
    users: dict[Any, list[bool]] = {}
    holders: dict[Any, Any] = {}
    borrowed = False
    for content, resources in _contents(pdf):
        instructions = _instructions(content)
        shows = instructions is None or any(_shows(one) for one in instructions)
        if instructions is not None and not shows:
            _strip(pdf, content, instructions)
        if resources is None:
            borrowed = borrowed or shows  # it shows text with the fonts of whoever draws it
        else:
            key = resources.objgen if resources.is_indirect else id(content)
            users.setdefault(key, []).append(shows)
            holders[key] = resources
    gone = 0
    if borrowed:
        return gone
    for key, resources in holders.items():
        if not any(users[key]) and "/Font" in resources:
            del resources["/Font"]
            gone += 1
    return gone


def _contents(pdf: pikepdf.Pdf) -> Iterator[tuple[Any, Any]]:
    """Every page, and every form and tiling pattern that is reached from one, each with the resources that it uses."""
    seen: set[tuple[int, int]] = set()
    for page in pdf.pages:
        # what pages inherit is left to all of them
        yield page.obj, page.obj.get("/Resources", Dictionary())
        waiting = [inherited(page.obj, "/Resources"), *_appearances(page.obj)]
        while waiting and len(seen) < MOST_STREAMS:
            one = waiting.pop()
            if isinstance(one, Stream):
                if one.objgen in seen:
                    continue
                seen.add(one.objgen)
                if one.get("/Subtype") == Name.Form or one.get("/PatternType") == 1:
                    yield one, one.get("/Resources")
                    waiting.append(one.get("/Resources"))
            elif isinstance(one, Dictionary):
                for category in ("/XObject", "/Pattern"):
                    named = one.get(category)
                    waiting += [named[key] for key in named.keys()] if isinstance(named, Dictionary) else []


def _appearances(page: Any) -> list[Any]:
    """What annotations are drawn by."""
    out: list[Any] = []
    note: Any
    for note in page.get("/Annots", []):
        drawn: Any = note.get("/AP", None) if isinstance(note, Dictionary) else None
        normal: Any = drawn.get("/N", None) if drawn is not None else None
        out += [normal] if isinstance(normal, Stream) else []
    return out


def _instructions(content: Any) -> list[Any] | None:
    """What a page or stream does; None where it cannot be read: then it is left alone."""
    try:
        return list(pikepdf.parse_content_stream(content))
    except (pikepdf.PdfError, ValueError, TypeError):
        return None


def _shows(instruction: Any) -> bool:
    if str(instruction.operator) not in SHOWS:
        return False
    return any(
        len(bytes(text)) > 0
        for operand in instruction.operands
        for text in (operand if isinstance(operand, Array) else [operand])
        if isinstance(text, String)
    )


def _strip(pdf: pikepdf.Pdf, content: Any, instructions: list[Any]) -> None:
    kept = [one for one in instructions if str(one.operator) not in TEXT_ONLY]
    if len(kept) == len(instructions):
        return
    data = pikepdf.unparse_content_stream(kept)
    if isinstance(content, Dictionary):
        content.Contents = pdf.make_stream(data)
    else:
        content.write(data)
