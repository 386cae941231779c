"""Makes lines that are filled into strokes: a cutter follows strokes."""

import pikepdf

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.artwork.parting import clip_operator, what_stays
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Before, Mend, Said, register
from horismos.mending.engine.settings import ROLE
from horismos.mending.lines.paint import InkNames, counted_by_role, units_per_mm
from horismos.units import HAIRLINE_PT, mm_from_points
from horismos.words import plural

HAIRLINE_MM = mm_from_points(HAIRLINE_PT)


def _filled(before: Before) -> list[Line]:
    found = [line for line in before.of_role if isinstance(line.object, PathObject) and line.fills]
    if not found:
        raise NothingToDo(f"No {before.step.role.words if before.step.role else 'line'} is filled.")
    return found


def _say(before: Before) -> Said:
    found = _filled(before)
    art = sum(not line.takes_all for line in found)
    kept = f" The art drawn with {plural(art, 'of them')} stays." if art else ""
    return Said(
        f"Strokes {plural(len(found), 'line')} with a hairline instead of filling. The contours stay where they "
        f"are.{kept}", counted_by_role(found),
    )


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    names = InkNames(before, pdf)
    edits: dict[int, dict[int, list[Edit]]] = {}
    for line in _filled(before):
        obj = line.object
        assert isinstance(obj, PathObject)
        data = line.page.streams[obj.stream].data
        path = data[obj.start : obj.path_end]
        art = b"" if line.takes_all else path + what_stays(line, obj)
        own = f"{obj.state.line_width:g} w" if line.strokes else f"{HAIRLINE_MM * units_per_mm(line):.6f} w [] 0 d"
        # the tint of the fill is kept where it alone draws the line; to 100 % is a mend of its own
        colour = b"" if line.strokes else f"/{names.of(line)} CS {line.tint:g} SCN ".encode()
        text = art + b" q " + colour + own.encode() + b" " + path + (b" s" if obj.closes else b" S") + b" Q "
        clip = clip_operator(data[obj.path_end : obj.end])
        if clip:
            text += path + clip + b" n "
        edits.setdefault(line.page.number, {}).setdefault(obj.stream, []).append(Edit(obj.start, obj.end, text))
    for number, listed in edits.items():
        edit_page(pdf, before.artwork.pages[number - 1], listed, names.resources)


register(Mend(
    "to-stroke", "Stroke the {role} instead of filling", ("line.filled",), frozenset([Facet.PAINT]), (ROLE,),
    _say, _do, order=15,
))
