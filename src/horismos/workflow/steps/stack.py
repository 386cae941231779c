"""Stacks of fabric: shown, cut open, tried with a test cut, and written, by a child that reads the customer's file."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from horismos.cutting.depth import outcome_of, reached_um
from horismos.cutting.weeding import figure_strokes
from horismos.destinations import Destination
from horismos.errors import CannotWrite, DoesNotFit, NotFound, NothingToDo
from horismos.formats.embroidery import FORMATS, StitchSuffix
from horismos.formats.hpgl import ToolRun, write_hpgl
from horismos.materials import Stratum
from horismos.roles import Part
from horismos.simulation.cutter import as_brought
from horismos.simulation.sewing import sew
from horismos.simulation.stack_cut import StackJob, cut_stack
from horismos.stitching.fabrics import CARRIER
from horismos.stitching.section import stack_section
from horismos.stitching.stack import Stack
from horismos.workflow.case import Case
from horismos.workflow.showing.stack import (
    StackShown,
    drawn_shown,
    layer_cut_shown,
    sewn_shown,
    stack_section_shown,
    stack_shown,
)
from horismos.workflow.stack import (
    MACHINE,
    LayerCut,
    MadeStack,
    drawn_in,
    files_of,
    make_stack,
    returning_to_origin,
    summary_json,
)
from horismos.workflow.steps.stored import Content, StoredCase, case_of
from horismos.workflow.trial import try_stack

__all__ = ["CutLayer", "cut", "drawn", "section", "sewn", "shown", "tested", "tried", "written"]

Plain = dict[str, Any]
Point = tuple[float, float]
_last: list[tuple[object, MadeStack]] = []
"""Of this child alone: what was made last is asked about again at once."""


def _made(stored: StoredCase, wanted: Mapping[str, Any]) -> tuple[MadeStack, Case]:
    stack, case = Stack.from_json(wanted), case_of(stored)
    key = (stored.content.sha256, stored.page_number, stored.destination, stored.known, stack)
    if not _last or _last[0][0] != key:
        _last[:] = [(key, make_stack(case, stack))]
    return _last[0][1], case


def shown(stored: StoredCase, wanted: Mapping[str, Any], tell: Any) -> Plain:
    """The stack as it would be made, with every stitch."""
    try:
        made, _ = _made(stored, wanted)
    except (NothingToDo, DoesNotFit, CannotWrite) as why:
        return asdict(StackShown.nothing(str(why)))
    return asdict(stack_shown(made))


def tried(stored: StoredCase, wanted: Mapping[str, Any], otherwise: Mapping[str, Any], tell: Any) -> Plain:
    """What changes when a stack is of other fabrics."""
    before, _ = _made(stored, wanted)
    after, _ = _made(stored, otherwise)
    return try_stack(before, after).to_json()


def drawn(stored: StoredCase, tell: Any) -> list[Plain]:
    """What the file draws that a layer of fabric can be."""
    return [asdict(one) for one in drawn_shown(drawn_in(case_of(stored)))]


def section(stored: StoredCase, wanted: Mapping[str, Any], start: Point, end: Point, tell: Any) -> Plain:
    """The stack cut open along a line."""
    made, _ = _made(stored, wanted)
    found = stack_section(made.layers, [cut.reaches_um for cut in made.cuts], start, end)
    return asdict(stack_section_shown(made, found, CARRIER.thickness_um))


def _layer(made: MadeStack, number: int) -> LayerCut:
    if not 0 <= number < len(made.cuts):
        raise NotFound("The stack has no such layer.")
    return made.cuts[number]


def tested(stored: StoredCase, wanted: Mapping[str, Any], number: int, tell: Any) -> Plain:
    """The figure of a test cut in a layer's fabric, laid on what lies below it; as the simulated cutter cuts it."""
    made, _ = _made(stored, wanted)
    cut = _layer(made, number)
    tool = cut.tool
    truly = as_brought(tool)
    strokes = figure_strokes(tool, *_beside(cut))
    run = ToolRun(tool.number, tool.sent_gf, tool.speed_mm_s, [stroke.parts for stroke in strokes])
    hpgl = write_hpgl([run], cut.plan.origin_mm, cut.plan.cutter.dialect)
    return {
        "force_gf": tool.sent_gf, "own_um": cut.own_um, "reached_um": reached_um(truly, cut.material.strata),
        "seen": outcome_of(truly, cut.material.strata), "hpgl": hpgl,
    }


def _beside(cut: LayerCut) -> Point:
    """Where the figure of a test cut stands, in mm of the media: above the layer's piece, where nothing is cut."""
    x0, _, _, y1 = cut.sheet.frame or cut.sheet.cut_box
    return x0, y1 + 5.0


def written(stored: StoredCase, wanted: Mapping[str, Any], tell: Any) -> Plain:
    """All files of a stack, with what is told of them, and what the machines need to know of each layer."""
    tell(0.1, "Making the stack")
    made, case = _made(stored, wanted)
    tell(0.6, "Writing and reading back")
    files, shown_as = files_of(made, case), stack_shown(made)
    return {
        "told": summary_json(made, files),
        "files": [{"name": f.name, "data": f.data, "format": f.format, "layer": f.layer} for f in files],
        "layers": [asdict(one) for one in shown_as.layers],
        "strata": [[asdict(s) for s in cut.material.strata] for cut in made.cuts],
        "bounds": list(shown_as.bounds),
        "stops": [
            {"words": seam.stop, "lays": seam.layer if seam.lays else None, "colour": seam.colour}
            for seam in made.stitches.seams if seam.stop
        ],
        "shift_mm": list(made.cuts[-1].sheet.placements[0].matrix[4:]),
        "origin_mm": list(made.cuts[-1].plan.origin_mm), "middle_mm": list(made.stitches.middle_mm),
    }


@dataclass(frozen=True)
class CutLayer:
    """A layer that was cut: its file in the store, what the blade met as plain values, and where the zero was."""

    number: int
    name: str
    file: Content
    strata: Sequence[Mapping[str, Any]]
    origin_mm: Point
    framed: bool


def cut(layers: Sequence[CutLayer], destination: Destination, home: Point, seed: int, tell: Any) -> list[Plain]:
    """What the cutter has done to a stack so far, the lowest layer first."""
    jobs = [
        StackJob(one.name, one.file.read(), tuple(map(_stratum, one.strata)), one.origin_mm, one.framed)
        for one in layers
    ]
    found = cut_stack(jobs, returning_to_origin(destination.cutter), seed)
    return [asdict(layer_cut_shown(one.number, done, home)) for one, done in zip(layers, found, strict=True)]


def _stratum(kept: Mapping[str, Any]) -> Stratum:
    return replace(Stratum(**kept), part=Part(kept["part"]))


def sewn(file: Content, format: str, middle: Point, stops: Sequence[Mapping[str, Any]], tell: Any) -> Plain:
    """The sewing machine at work with a stitch file. Raises NotFound where its stops are not the stack's."""
    return asdict(sewn_shown(sew(file.read(), FORMATS[StitchSuffix(format)], MACHINE), stops, middle))
