"""Draws lines anew where they stand in the content, with other contours and the same paint."""

from collections.abc import Mapping, Sequence

import pikepdf

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.artwork.parting import clip_operator
from horismos.artwork.pathdata import path_operators
from horismos.mending.engine.registry import MendContext
from horismos.mending.lines.paint import InkNames, units_per_mm
from horismos.paths import Contour
from horismos.units import HAIRLINE_MM

__all__ = ["redraw"]


def redraw(
    before: MendContext, pdf: pikepdf.Pdf, contours: Mapping[Line, Sequence[Contour]], as_strokes: bool = False
) -> None:
    """Draw lines with these contours (mm) instead of their own; a line with none is not painted any more.

    ``as_strokes``: what was filled is stroked with a hairline then, in its own ink and tint.
    """
    names = InkNames(before, pdf)
    edits: dict[int, dict[int, list[Edit]]] = {}
    for line, own in contours.items():
        obj = line.object
        assert isinstance(obj, PathObject)
        ink = names.of(line) if as_strokes and line.fills and line.takes_all else None
        edits.setdefault(line.page.number, {}).setdefault(obj.stream, []).append(_redrawn(line, obj, own, ink))
    for number, listed in edits.items():
        edit_page(pdf, before.artwork.pages[number - 1], listed, names.resources)


def _redrawn(line: Line, obj: PathObject, contours: Sequence[Contour], ink: str | None) -> Edit:
    data = line.page.streams[obj.stream].data
    operator = obj.operator.encode().replace(b"s", b"S").replace(b"b", b"B")
    path = path_operators(contours, obj.state.ctm)
    text = b"\n" + path + b" " + operator + b" " if contours else b" "
    if contours and ink is not None:
        wide = HAIRLINE_MM * units_per_mm(obj)
        text = f"\nq /{ink} CS {line.tint:g} SCN {wide:.6f} w [] 0 d\n".encode() + path + b" S Q "
    clip = clip_operator(data[obj.path_end : obj.end])
    if clip:
        text += data[obj.start : obj.path_end] + clip + b" n "
    return Edit(obj.start, obj.end, text)
