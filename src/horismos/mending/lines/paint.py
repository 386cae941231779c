"""Paints lines anew where they stand in the content: the same contours, some of the paint otherwise."""

from collections.abc import Callable, Iterable, Mapping
from typing import Any

import pikepdf
from pikepdf import Dictionary, Name

from horismos.artwork.edit import Edit, edit_page, unused_names
from horismos.artwork.layering import separation
from horismos.artwork.lines import Line
from horismos.artwork.model import PaintedObject, PathObject
from horismos.artwork.parting import clip_operator
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import ROLE
from horismos.mending.lines.rename import colour_arrays, pdf_name
from horismos.paths.matrix import size_of
from horismos.roles import LineRole
from horismos.words import plural

__all__ = ["InkNames", "line_mend", "line_space", "paint_mend", "repaint", "units_per_mm"]

Resources = dict[tuple[str, str], Any]


def line_space(pdf: pikepdf.Pdf, ink: str, role: LineRole) -> Any:
    """The Separation space of a line ink: the file's own, or a new one."""
    for array in colour_arrays(pdf):
        if array[0] == Name.Separation and array[1] == pdf_name(ink):
            return array
    return pdf.make_indirect(separation(pdf_name(ink), role.facts.screen_cmyk))


class InkNames:
    """Names in the resources for line inks, each made when it is first asked for."""

    def __init__(self, before: MendContext, pdf: pikepdf.Pdf) -> None:
        self.resources: Resources = {}
        self._before, self._pdf = before, pdf
        self._names = unused_names(before.artwork.pages, "HzInk")
        self._known: dict[str, str] = {}
        self._states = unused_names(before.artwork.pages, "HzOver")
        self._over: dict[tuple[bool, bool], str] = {}

    def overprint(self, strokes: bool, fills: bool) -> str:
        """The name of a graphics state in which strokes or fills overprint; both where neither is said."""
        key = (strokes, fills) if strokes or fills else (True, True)
        if key not in self._over:
            self._over[key] = next(self._states)
            self.resources[("/ExtGState", self._over[key])] = Dictionary(OP=key[0], op=key[1], OPM=1)
        return self._over[key]

    def of(self, line: Line) -> str:
        """The name of a line's own ink; of the destination's, where only a layer says what the line is."""
        assert line.role is not None
        return self.named(line.ink or self._before.destination.name_of(line.role), line.role)

    def named(self, ink: str, role: LineRole) -> str:
        """The name of an ink."""
        if ink not in self._known:
            self._known[ink] = next(self._names)
            self.resources[("/ColorSpace", self._known[ink])] = line_space(self._pdf, ink, role)
        return self._known[ink]


def units_per_mm(obj: PaintedObject) -> float:
    """How many user-space units a millimetre of an object's stroke comes to."""
    return 1 / max(size_of(obj.state.ctm), 1e-9)


def repaint(
    before: MendContext, pdf: pikepdf.Pdf, lines: Iterable[Line], state: Callable[[Line], bytes], resources: Resources
) -> None:
    """Paint lines as before but for the operators of ``state``, which hold for each line alone."""
    edits: dict[int, dict[int, list[Edit]]] = {}
    for line in lines:
        obj = line.object
        assert isinstance(obj, PathObject)
        data = line.page.streams[obj.stream].data
        path = data[obj.start : obj.path_end]
        text = b" q " + state(line) + b" " + path + b" " + obj.operator.encode() + b" Q "
        clip = clip_operator(data[obj.path_end : obj.end])
        if clip:
            text += path + clip + b" n "
        edits.setdefault(line.page.number, {}).setdefault(obj.stream, []).append(Edit(obj.start, obj.end, text))
    for number, listed in edits.items():
        edit_page(pdf, before.artwork.pages[number - 1], listed, resources)


def counted_by_role(lines: Iterable[Line]) -> Mapping[str, float]:
    """How many lines there are, by role."""
    out: dict[str, float] = {}
    for line in lines:
        name = line.role.value if line.role else ""
        out[name] = out.get(name, 0) + 1
    return out


def line_mend(
    id: str, label: str, answers: tuple[str, ...], wants: Callable[[Line], bool], words: str, nothing: str,
    do: Callable[[MendContext, pikepdf.Pdf, list[Line]], None], order: int,
    touches: frozenset[Facet] = frozenset([Facet.PAINT]),
    prove: Callable[[MendContext, Difference], None] = lambda before, difference: None, reveals: bool = False,
) -> Mend:
    """Register a mend that does something to those lines of a role, or of all, that want it.

    ``words`` says what is done to how many ``{lines}``, ``nothing`` why no ``{role}`` needs it.
    """

    def wanting(before: MendContext) -> list[Line]:
        found = [line for line in before.of_role if isinstance(line.object, PathObject) and wants(line)]
        if not found:
            raise NothingToDo(nothing.format(role=before.step.role.words if before.step.role else "line"))
        return found

    def say(before: MendContext) -> MendSummary:
        found = wanting(before)
        return MendSummary(words.format(lines=plural(len(found), "line")), counted_by_role(found))

    return register(Mend(
        id=id, label=label, answers=answers, touches=touches, settings=(ROLE,), say=say,
        do=lambda before, pdf: do(before, pdf, wanting(before)), prove=prove, order=order, reveals=reveals
    ))


def paint_mend(
    id: str, label: str, answers: tuple[str, ...], wants: Callable[[Line], bool], words: str, already: str,
    state: Callable[[Line, InkNames], bytes], order: int,
) -> Mend:
    """Register a mend that changes one thing in how lines are painted: ``state`` gives the operators."""

    def do(before: MendContext, pdf: pikepdf.Pdf, found: list[Line]) -> None:
        names = InkNames(before, pdf)
        states = {line: state(line, names) for line in found}
        repaint(before, pdf, found, states.__getitem__, names.resources)

    return line_mend(id, label, answers, wants, words, f"Every {{role}} {already} already.", do, order)
