"""Sets objects of the art to overprint, or to knock out: white that would vanish, white under colour."""

from collections.abc import Callable, Mapping

import pikepdf
from pikepdf import Dictionary

from horismos.artwork.edit import Edit, edit_page, unused_names
from horismos.artwork.model import Page, PathObject
from horismos.artwork.parting import clip_operator
from horismos.artwork.sorting import inks_for, painted_in
from horismos.checking.measuring.whites import knocking_out, vanishes
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, places_of, register
from horismos.roles import InkRole
from horismos.words import plural

TOUCHES = frozenset([Facet.ART, Facet.LOOK])
Wanted = Mapping[int, tuple[bool, bool]]
"""Objects by index, each with whether its stroke and its fill is to overprint."""


def _vanishing(before: MendContext, page: Page) -> Wanted:
    out = {}
    for i, obj in enumerate(page.objects):
        stroke, fill = vanishes(obj)
        if (stroke or fill) and obj.state.prints and obj.state.visible:
            out[i] = obj.state.overprint_stroke and not stroke, obj.state.overprint_fill and not fill
    return out


def _knocking(before: MendContext, page: Page) -> Wanted:
    white = painted_in(page, inks_for(page, InkRole.WHITE, before.destination))
    lines = {line.index for line in before.lines if line.page is page and line.takes_all}
    return {i: (True, True) for i, _ in knocking_out(page, white, lines)} if white else {}


def _overprinting(
    id: str, label: str, answers: tuple[str, ...], wanted: Callable[[MendContext, Page], Wanted], words: str,
    nothing: str,
    order: int, safe: bool,
) -> Mend:
    """Register a mend that sets whether objects overprint."""

    def found(before: MendContext) -> dict[int, Wanted]:
        made = before.cached(id, lambda: {page.number: wanted(before, page) for page in before.artwork.pages})
        if not any(made.values()):
            raise NothingToDo(nothing)
        return made

    def say(before: MendContext) -> MendSummary:
        count = sum(map(len, found(before).values()))
        said = words.format(objects=plural(count, "object"))
        return MendSummary(said, {"objects": count}, lambda: places_of(before, found(before)))

    def do(before: MendContext, pdf: pikepdf.Pdf) -> None:
        for page in before.artwork.pages:
            _set(before, pdf, page, found(before)[page.number])

    return register(Mend(
        id=id, label=label, answers=answers, touches=TOUCHES, settings=(), say=say, do=do, order=order, safe=safe
    ))


def _set(before: MendContext, pdf: pikepdf.Pdf, page: Page, wanted: Wanted) -> None:
    names = unused_names(before.artwork.pages, "HzPrint")
    states: dict[tuple[bool, bool, int], str] = {}
    resources = {}

    def state(strokes: bool, fills: bool, mode: int) -> str:
        key = strokes, fills, mode
        if key not in states:
            states[key] = next(names)
            resources[("/ExtGState", states[key])] = Dictionary(OP=strokes, op=fills, OPM=mode)
        return states[key]

    edits: dict[int, list[Edit]] = {}
    for i, (strokes, fills) in wanted.items():
        obj = page.objects[i]
        data = page.streams[obj.stream].data[obj.start : obj.end]
        now = state(strokes, fills, 1).encode()
        if isinstance(obj, PathObject):
            path = page.streams[obj.stream].data[obj.start : obj.path_end]
            text = b" q /" + now + b" gs " + path + b" " + obj.operator.encode() + b" Q "
            clip = clip_operator(page.streams[obj.stream].data[obj.path_end : obj.end])
            text += path + clip + b" n " if clip else b""
        else:  # inside a text object nothing can be saved and restored
            was = state(obj.state.overprint_stroke, obj.state.overprint_fill, obj.state.overprint_mode).encode()
            text = b" /" + now + b" gs " + data + b" /" + was + b" gs "
        edits.setdefault(obj.stream, []).append(Edit(obj.start, obj.end, text))
    if edits:
        edit_page(pdf, page, edits, resources)


_overprinting(
    "knock-out-white", "Let white knock out", ("ink.white-overprint",), _vanishing,
    "Lets {objects} in white knock out, so that the bare media shows there as it was drawn.",
    "No white is set to overprint.", 100, safe=False,
)
_overprinting(
    "white-overprint", "Let white and colour overprint each other", ("white.overprint",), _knocking,
    "Sets {objects} to overprint, so that white and colour are both printed where they lie on each other.",
    "White and colour do not knock each other out.", 101, safe=False,
)
