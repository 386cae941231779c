"""Makes lines hairline strokes at 100 % of one ink, and sets them to overprint."""

import math
from typing import Any

import pikepdf
from pikepdf import Dictionary, Name

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.layering import separation
from horismos.artwork.lines import Line
from horismos.artwork.model import Artwork, PathObject
from horismos.artwork.parting import clip_operator, what_stays
from horismos.destinations import Destination
from horismos.errors import NothingToDo
from horismos.mending.family import Family, of_role
from horismos.mending.rename import colour_arrays, pdf_name
from horismos.roles import LineRole
from horismos.steps import Step
from horismos.units import HAIRLINE_PT, mm_from_points
from horismos.words import plural

__all__ = ["HAIRLINE", "OVERPRINT", "line_space"]

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


def _coarse(lines: list[Line], step: Step) -> list[Line]:
    found = [
        line for line in of_role(lines, step)
        if isinstance(line.object, PathObject) and not _is_plain(line)
    ]
    if not found:
        raise NothingToDo(f"Every {step.role} is a plain hairline already.")
    return found


def _say_hairline(artwork: Artwork, lines: list[Line], step: Step) -> str:
    found = _coarse(lines, step)
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


def _do_hairline(
    pdf: pikepdf.Pdf, artwork: Artwork, lines: list[Line], step: Step, destination: Destination
) -> None:
    assert step.role is not None
    edits: dict[int, dict[int, list[Edit]]] = {}
    resources: dict[tuple[str, str], Any] = {}
    spaces: dict[str, str] = {}
    for line in _coarse(lines, step):
        obj = line.object
        assert isinstance(obj, PathObject)
        ink = line.ink or destination.name_of(step.role)
        if ink not in spaces:
            spaces[ink] = f"HzInk{len(spaces)}"
            resources[("/ColorSpace", spaces[ink])] = line_space(pdf, ink, step.role)
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
        edit_page(pdf, artwork.pages[number - 1], listed, resources)


def _scale(line: Line) -> float:
    """How many mm a user-space unit of the line's stroke comes to."""
    a, b, c, d, _, _ = line.object.state.ctm
    return max(math.sqrt(abs(a * d - b * c)), 1e-9)


def _knocking(lines: list[Line], step: Step) -> list[Line]:
    found = [
        line for line in of_role(lines, step)
        if isinstance(line.object, PathObject) and not line.overprints
    ]
    if not found:
        raise NothingToDo(f"Every {step.role} overprints already.")
    return found


def _say_overprint(artwork: Artwork, lines: list[Line], step: Step) -> str:
    count = plural(len(_knocking(lines, step)), "line")
    return f"Sets {count} to overprint, so that the art below is printed whole."


def _do_overprint(
    pdf: pikepdf.Pdf, artwork: Artwork, lines: list[Line], step: Step, destination: Destination
) -> None:
    edits: dict[int, dict[int, list[Edit]]] = {}
    for line in _knocking(lines, step):
        obj = line.object
        assert isinstance(obj, PathObject)
        data = line.page.streams[obj.stream].data
        path = data[obj.start : obj.path_end]
        clip = clip_operator(data[obj.path_end : obj.end])
        name = b"HzOver" if line.takes_all else b"HzOverS" if line.strokes else b"HzOverF"
        text = b" q /" + name + b" gs " + path + b" " + obj.operator.encode() + b" Q "
        if clip:
            text += path + clip + b" n "
        edit = Edit(obj.start, obj.end, text)
        edits.setdefault(line.page.number, {}).setdefault(obj.stream, []).append(edit)
    stroke_only = Dictionary(OP=True, op=False, OPM=1)
    fill_only = Dictionary(OP=False, op=True, OPM=1)
    resources = {
        ("/ExtGState", "HzOver"): Dictionary(OP=True, op=True, OPM=1),
        ("/ExtGState", "HzOverS"): stroke_only,
        ("/ExtGState", "HzOverF"): fill_only,
    }
    for number, listed in edits.items():
        edit_page(pdf, artwork.pages[number - 1], listed, resources)


HAIRLINE = Family(_say_hairline, _do_hairline)
OVERPRINT = Family(_say_overprint, _do_overprint)
