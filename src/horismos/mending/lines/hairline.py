"""Makes lines plain hairline strokes at 100 % of one ink."""

import math
from typing import Any

import pikepdf
from pikepdf import Name

from horismos.artwork.edit import Edit, edit_page, unused_names
from horismos.artwork.layering import separation
from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.artwork.parting import clip_operator, what_stays
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Before, Mend, register
from horismos.mending.engine.settings import ROLE
from horismos.mending.lines.rename import colour_arrays, pdf_name
from horismos.roles import LineRole
from horismos.units import HAIRLINE_PT, mm_from_points
from horismos.words import plural

__all__ = ["line_space"]

HAIRLINE_MM = mm_from_points(HAIRLINE_PT)


def line_space(pdf: pikepdf.Pdf, ink: str, role: LineRole) -> Any:
    """The Separation space of a line ink: the file's own, or a new one."""
    for array in colour_arrays(pdf):
        if array[0] == Name.Separation and array[1] == pdf_name(ink):
            return array
    return pdf.make_indirect(separation(pdf_name(ink), role))


def _is_plain(line: Line) -> bool:
    return (
        line.takes_all
        and not line.fills
        and line.width_mm <= HAIRLINE_MM + 1e-3
        and line.tint >= 1
        and line.inks == 1
        and not line.object.state.dash[0]
    )


def _coarse(before: Before) -> list[Line]:
    found = [line for line in before.of_role if isinstance(line.object, PathObject) and not _is_plain(line)]
    if not found:
        raise NothingToDo(f"Every {before.step.role.words} is a plain hairline already.")
    return found


def _say(before: Before) -> str:
    found = _coarse(before)
    changes = {
        "takes away the fill": any(line.fills for line in found),
        "sets the ink to 100 %": any(line.tint < 1 or line.inks > 1 for line in found),
        "takes away the dashes": any(line.object.state.dash[0] for line in found),
        "keeps the art drawn with it": any(not line.takes_all for line in found),
    }
    said = "".join(f", {words}" for words, it_does in changes.items() if it_does)
    return (
        f"Strokes {plural(len(found), 'line')} with a hairline of {HAIRLINE_PT:g} pt{said}. "
        "The contours stay where they are."
    )


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    role = before.step.role
    edits: dict[int, dict[int, list[Edit]]] = {}
    resources: dict[tuple[str, str], Any] = {}
    spaces: dict[str, str] = {}
    names = unused_names(before.artwork.pages, "HzInk")
    for line in _coarse(before):
        obj = line.object
        assert isinstance(obj, PathObject)
        ink = line.ink or before.destination.name_of(role)
        if ink not in spaces:
            spaces[ink] = next(names)
            resources[("/ColorSpace", spaces[ink])] = line_space(pdf, ink, role)
        data = line.page.streams[obj.stream].data
        path = data[obj.start : obj.path_end]
        width = HAIRLINE_MM / _scale(line)
        parts = []
        if not line.takes_all:
            parts.append(path + what_stays(line, obj))
        operator = b"s" if obj.closes else b"S"
        parts.append(
            f" q /{spaces[ink]} CS 1 SCN {width:.6f} w [] 0 d ".encode() + path + b" " + operator
            + b" Q "
        )
        clip = clip_operator(data[obj.path_end : obj.end])
        if clip:
            parts.append(path + clip + b" n ")
        text = b"".join(parts)
        edit = Edit(obj.start, obj.end, text)
        edits.setdefault(line.page.number, {}).setdefault(obj.stream, []).append(edit)
    for number, listed in edits.items():
        edit_page(pdf, before.artwork.pages[number - 1], listed, resources)


def _scale(line: Line) -> float:
    """How many mm a user-space unit of the line's stroke comes to."""
    a, b, c, d, _, _ = line.object.state.ctm
    return max(math.sqrt(abs(a * d - b * c)), 1e-9)


register(Mend(
    "hairline", "Make the {role} a hairline", ("line.filled", "line.wide", "line.tinted", "line.dashed"),
    frozenset([Facet.PAINT]), (ROLE,), _say, _do, order=20,
))
