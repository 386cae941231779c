"""Sets lines to overprint, so that they leave no unprinted hair in the art below."""

import pikepdf
from pikepdf import Dictionary

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.artwork.parting import clip_operator
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Before, Mend, register
from horismos.mending.engine.settings import ROLE
from horismos.words import plural


def _knocking(before: Before) -> list[Line]:
    found = [line for line in before.of_role if isinstance(line.object, PathObject) and not line.overprints]
    if not found:
        raise NothingToDo(f"Every {before.step.role.words} overprints already.")
    return found


def _say(before: Before) -> str:
    return f"Sets {plural(len(_knocking(before)), 'line')} to overprint, so that the art below is printed whole."


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    edits: dict[int, dict[int, list[Edit]]] = {}
    for line in _knocking(before):
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
        edit_page(pdf, before.artwork.pages[number - 1], listed, resources)


register(Mend(
    "overprint", "Set the {role} to overprint", ("line.knocks-out",), frozenset([Facet.PAINT]), (ROLE,), _say, _do,
    order=40,
))
