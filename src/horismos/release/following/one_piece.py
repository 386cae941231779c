"""A piece out of a print PDF: one copy's art and lines on a page of its own, at any scale.

The print PDF is our own, and its check sum was held against the ticket: each copy is drawn by a form of its art and
one of its lines for each role.
"""

import io
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import save
from horismos.errors import CannotRead
from horismos.units import MM_PER_POINT, user_unit_for

__all__ = ["one_piece"]

AGAIN = "Release the job again."


def one_piece(
    pdf: bytes, copy: int, piece: int, size_mm: tuple[float, float], scale: tuple[float, float] = (1.0, 1.0)
) -> bytes:
    """The piece that a copy is of, as a PDF whose trim box is its page, scaled across and along.

    ``copy`` and ``piece`` are counted from 0, as the ticket does. Raises CannotRead where the print PDF is not that of
    a ticket.
    """
    with pikepdf.open(io.BytesIO(pdf)) as source:
        page: Any = source.pages[0].obj
        art, lines = _drawn(page, copy, piece)
        shows = [float(v) for v in page.Resources.XObject[art].BBox]
        across, along = scale
        media = (
            min(shows[0], 0.0) * across, min(shows[1], 0.0) * along, max(shows[2], size_mm[0]) * across,
            max(shows[3], size_mm[1]) * along,
        )
        unit = user_unit_for(max(media[2] - media[0], media[3] - media[1]))
        k = 1 / (MM_PER_POINT * unit)
        begin = f"q {across * k:.9f} 0 0 {along * k:.9f} 0 0 cm"
        rows = [f"/OC /Art BDC {begin} {art} Do Q EMC"]
        rows += [f"/OC {layer} BDC {begin} {name} Do Q EMC" for layer, name in lines]
        trim = [0, 0, size_mm[0] * across * k, size_mm[1] * along * k]
        page.Contents = source.make_stream("\n".join(rows).encode())
        page.MediaBox, page.TrimBox = Array([v * k for v in media]), Array(trim)
        page.BleedBox = page.MediaBox
        if unit > 1:
            page.UserUnit = unit
        elif "/UserUnit" in page:
            del page.UserUnit
        kept = {art, *(name for _, name in lines)}
        page.Resources.XObject = Dictionary({n: o for n, o in page.Resources.XObject.items() if n in kept})
        return save(source)


def _drawn(page: Any, copy: int, piece: int) -> tuple[str, list[tuple[str, str]]]:
    """The form of a copy's art, and those of its piece's lines, each with its layer."""
    layer, arts, lines = "", [], []
    for instruction in pikepdf.parse_content_stream(page):
        word = str(instruction.operator)
        if word == "BDC" and instruction.operands[0] == Name.OC:
            layer = str(instruction.operands[1])
        elif word == "Do":
            name = str(instruction.operands[0])
            if layer == "/Art":
                arts.append(name)
            elif name == f"{layer}{piece}" and (layer, name) not in lines:
                lines.append((layer, name))
    if copy >= len(arts) or arts[copy] not in page.Resources.XObject:
        raise CannotRead("The print PDF has fewer copies than the ticket says.", AGAIN)
    return arts[copy], lines
