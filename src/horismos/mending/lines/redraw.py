"""Draws lines anew where they stand in the content, with other contours and the same paint."""

from collections.abc import Mapping, Sequence

import pikepdf

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.artwork.parting import clip_operator
from horismos.artwork.pathdata import path_operators
from horismos.mending.engine.registry import Before
from horismos.paths import Contour

__all__ = ["redraw"]


def redraw(before: Before, pdf: pikepdf.Pdf, contours: Mapping[Line, Sequence[Contour]]) -> None:
    """Draw lines with these contours (mm) instead of their own; a line with none is not painted any more."""
    edits: dict[int, dict[int, list[Edit]]] = {}
    for line, own in contours.items():
        obj = line.object
        assert isinstance(obj, PathObject)
        edits.setdefault(line.page.number, {}).setdefault(obj.stream, []).append(_redrawn(line, obj, own))
    for number, listed in edits.items():
        edit_page(pdf, before.artwork.pages[number - 1], listed, {})


def _redrawn(line: Line, obj: PathObject, contours: Sequence[Contour]) -> Edit:
    data = line.page.streams[obj.stream].data
    operator = obj.operator.encode().replace(b"s", b"S").replace(b"b", b"B")
    path = path_operators(contours, obj.state.ctm)
    text = b"\n" + path + b" " + operator + b" " if contours else b" "
    clip = clip_operator(data[obj.path_end : obj.end])
    if clip:
        text += data[obj.start : obj.path_end] + clip + b" n "
    return Edit(obj.start, obj.end, text)
