"""A stack of fabric on the way from art to files: the outline, its layers, a cut file for each, and the stitches."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import shapely

from horismos.cutting import CutPlan, Tool, plan_cut
from horismos.cutting.depth import CutOutcome, outcome_of, reached_um, tools_for
from horismos.errors import DoesNotFit, NothingToDo
from horismos.formats.embroidery import FORMATS, read_stitches, worst_off, write_stitches
from horismos.machines import Cutter, SewingMachine
from horismos.making import LineWanted, Make, Source
from horismos.making.make import base_of
from horismos.materials import Material
from horismos.paths import bounds, union_bounds
from horismos.paths.areas import area_of
from horismos.paths.box import Bounds, grow
from horismos.release.cut_files import CutFile, cut_files
from horismos.roles import LineRole
from horismos.sheet import Piece, Sheet
from horismos.sheet.sheet import Placement
from horismos.simulation.sewing import needle_times, too_large
from horismos.stitching.drawn import Drawn, drawn_areas
from horismos.stitching.layers import LaidLayer, lay_layers
from horismos.stitching.plan import StitchPlan, plan_stitches
from horismos.stitching.stack import Lay, Outline, Stack
from horismos.words import plural
from horismos.workflow.case import Case

__all__ = [
    "MACHINE", "LayerCut", "MadeStack", "StackFile", "drawn_in", "files_of", "make_stack", "outline_of",
    "returning_to_origin", "sewing_time", "summary_json",
]

MEDIA_MM = 1500.0
"""[practice] fabric with adhesive comes on rolls up to this wide."""
FINE_MM = 0.002
MACHINE = SewingMachine()
"""The sewing machine of the shop."""
ALL_OF_IT = Make(lines=(LineWanted(role=LineRole.KISS_CUT),), source=Source.AUTO, inner=0.0)
"""The outline of all art, its inner contours kept."""
LEAST_INSIDE_MM = 1e-3
AS_DRAWN = "As it is drawn."


@dataclass(frozen=True, eq=False)
class LayerCut:
    """The cut job of one layer: its sheet and plan, and what is to be laid before it, in words.

    ``reaches_um`` is how deep the blade goes with its tool, of ``own_um`` that the fabric is thick. ``cut_as`` is its
    place in the order of cutting, from 1.
    """

    laid: LaidLayer
    sheet: Sheet
    plan: CutPlan
    tool: Tool
    material: Material
    lay: str
    cut_as: int

    @property
    def own_um(self) -> float:
        """How thick the fabric is, adhesive included."""
        return self.laid.layer.cloth.thick_um

    @property
    def reaches_um(self) -> float:
        """How deep the blade goes."""
        return reached_um(self.tool, self.material.strata)

    @property
    def outcome(self) -> CutOutcome:
        """What a test cut would show."""
        return outcome_of(self.tool, self.material.strata)


@dataclass(frozen=True, eq=False)
class MadeStack:
    """A stack with all that is made of it; layers and cuts from the top down. ``said`` is to be known."""

    stack: Stack
    why: str
    outline: shapely.Geometry
    layers: tuple[LaidLayer, ...]
    cuts: tuple[LayerCut, ...]
    stitches: StitchPlan
    said: tuple[str, ...]

    @property
    def in_order(self) -> list[LayerCut]:
        """The cut jobs in the order in which they are done: the lowest first."""
        return list(reversed(self.cuts))


@dataclass(frozen=True)
class StackFile:
    """A file of a stack; ``layer`` is that of a cut file, from the top and from 0, None for stitches."""

    name: str
    data: bytes
    format: str
    layer: int | None
    off_mm: float


def outline_of(case: Case, wanted: Outline = Outline.AUTO) -> tuple[shapely.Geometry, str]:
    """What a stack is made on, as an area in mm, and why: the file's kiss or through cut, else the outline of its art.

    Raises NothingToDo where there is none of what is wanted.
    """
    for role in wanted.roles:
        contours = [c for line in case.lines if line.role is role for c in line.contours if c.loops]
        if contours:
            area = area_of(contours, FINE_MM)
            if not area.is_empty:
                return _polygons(area), f"The {role.words} of the file."
    if wanted not in (Outline.AUTO, Outline.ART):
        raise NothingToDo(f"The file has no closed {wanted.roles[0].words}.", "Take the outline of the art.")
    found, shaped = base_of(case.artwork, case.page, case.lines, ALL_OF_IT)
    if shaped.area.is_empty:
        raise NothingToDo("There is no outline to make a stack of.", "Make a line first.")
    return _polygons(shaped.area), f"The outline of the art. {found.why}"


def _polygons(area: shapely.Geometry) -> shapely.Geometry:
    parts = [p for p in shapely.get_parts(shapely.make_valid(area)) if p.geom_type == "Polygon" and not p.is_empty]
    return shapely.orient_polygons(shapely.MultiPolygon(parts))


def drawn_in(case: Case) -> tuple[Drawn, ...]:
    """What the page draws that a layer of fabric can be."""
    return drawn_areas(case.artwork, case.page, case.lines)


def make_stack(case: Case, stack: Stack) -> MadeStack:
    """Make a stack of a page: layers, cut jobs on one origin, and stitches.

    Raises NothingToDo where there is no outline or nothing is left of a layer, DoesNotFit where the media is too small.
    """
    drawn = {one.key: one.area for one in drawn_in(case)} if any(one.drawn for one in stack.layers) else {}
    top = stack.layers[0].drawn
    outline, why = (drawn[top], AS_DRAWN) if top in drawn else outline_of(case, stack.outline)
    layers = lay_layers(outline, stack, drawn)
    cuts = _cut_jobs(case, stack, layers)
    stitches = plan_stitches(layers)
    said = [
        *_of_lost(outline, layers), *_of_depth(cuts), *_of_reaching(layers), *stitches.said, *_of_hoop(stitches)
    ]
    return MadeStack(stack, why, outline, layers, cuts, stitches, tuple(dict.fromkeys(said)))


# -- cutting -----------------------------------------------------------------------------------------------------------


def _cut_jobs(case: Case, stack: Stack, layers: Sequence[LaidLayer]) -> tuple[LayerCut, ...]:
    """A job a layer, all at one place of the media and on one zero."""
    cutter = returning_to_origin(case.destination.cutter)
    box = union_bounds(bounds(c) for laid in layers for c in laid.contours)
    assert box is not None  # a layer has an area
    frame = grow(box, stack.frame_mm) if stack.frame_mm is not None else None
    x0, y0, x1, y1 = frame or box
    room = MEDIA_MM - 2 * cutter.side_margin_mm
    if x1 - x0 > room:
        raise DoesNotFit(
            f"The stack is {x1 - x0:.0f} mm wide; {room:g} mm of the media can be cut.", "Make it smaller, or turn it."
        )
    shift = (cutter.side_margin_mm - x0, cutter.leader_mm - y0)
    length = y1 + shift[1] + cutter.trailer_mm
    return tuple(
        _cut_job(case, laid, below, cutter, shift, length, frame, len(layers) - laid.number)
        for laid, below in zip(layers, [*layers[1:], None], strict=True)
    )


def _cut_job(
    case: Case, laid: LaidLayer, below: LaidLayer | None, cutter: Cutter, shift: tuple[float, float], length: float,
    frame: Bounds | None, cut_as: int,
) -> LayerCut:
    cloth = laid.layer.cloth
    material = cloth.lying_on(below.layer.cloth if below else None, MEDIA_MM)
    tool = tools_for(material)[LineRole.KISS_CUT]
    if laid.layer.force_gf is not None:
        tool = replace(tool, force_gf=laid.layer.force_gf, passed=laid.layer.passed)
    own = union_bounds(bounds(c) for c in laid.contours)
    assert own is not None
    piece = Piece(
        case.artwork, case.page, (), {LineRole.KISS_CUT: laid.contours}, (), laid.contours, own, 0.0, laid.layer.name
    )
    placed = Placement(piece, (1.0, 0.0, 0.0, 1.0, *shift), own)
    around = frame and (frame[0] + shift[0], frame[1] + shift[1], frame[2] + shift[0], frame[3] + shift[1])
    sheet = Sheet(material=material, placements=(placed,), marks=(), cutter=cutter, length_mm=length, frame=around)
    right = material.width_mm - cutter.side_margin_mm if cutter.dialect.right else cutter.side_margin_mm
    zero = (right, cutter.leader_mm)  # the same for all layers, whatever each of them cuts
    plan = plan_cut(sheet, lambda piece: {**tools_for(material), LineRole.KISS_CUT: tool}, zero_mm=zero)
    return LayerCut(laid, sheet, plan, tool, material, _lay(laid, below), cut_as)


def returning_to_origin(cutter: Cutter) -> Cutter:
    """A cutter that goes back to its zero behind every job, so that the next begins there."""
    dialect = cutter.dialect
    return replace(cutter, dialect=replace(dialect, trailer=f"PU0,0;{dialect.trailer}"))


def _lay(laid: LaidLayer, below: LaidLayer | None) -> str:
    """What is to be laid before a layer is cut, and how."""
    what = f"“{laid.layer.name}”, {laid.layer.cloth.title.lower()}"
    if below is None:
        return f"Load {what}, on its carrier. Set the origin once, at the lower left of where the stack is to lie."
    how = "Heat it on" if laid.layer.lay is Lay.HEAT else "Peel and stick it down"
    return (
        f"Leave the sheet where it is. Weed “{below.layer.name}”, lay {what} over all of it, face up. {how}. "
        "Do not set a new origin."
    )


def _of_lost(outline: shapely.Geometry, layers: Sequence[LaidLayer]) -> list[str]:
    """Which pieces an inward offset has swallowed: every piece of what lies above has to be there."""
    out = []
    for laid, above in zip(layers, [outline, *(one.area for one in layers)], strict=False):
        parts = shapely.get_parts(above)
        lost = int((~shapely.intersects(parts, laid.area)).sum())
        if lost and not laid.layer.drawn:
            out.append(
                f"{plural(lost, 'piece')} of {len(parts)} vanished from “{laid.layer.name}” under the offset of "
                f"{laid.layer.offset_mm:g} mm."
            )
    return out


def _of_depth(cuts: Sequence[LayerCut]) -> list[str]:
    """Which layers are not cut through, or are cut into what lies below and is to stay whole."""
    out = []
    for cut, below in zip(cuts, [*cuts[1:], None], strict=True):
        name, force = cut.laid.layer.name, cut.tool.sent_gf
        if cut.outcome is CutOutcome.SHALLOW:
            out.append(
                f"{force:g} gf cut “{name}” {cut.reaches_um:.0f} µm deep, of {cut.own_um:.0f} µm: it is not cut "
                "through. Raise the force by a test cut."
            )
        elif cut.outcome in (CutOutcome.LINER, CutOutcome.THROUGH):
            what = f"“{below.laid.layer.name}”, which is to stay whole" if below else "the carrier"
            out.append(
                f"{force:g} gf cut “{name}” and {cut.reaches_um - cut.own_um:.0f} µm into {what}. Lower the force by a "
                "test cut."
            )
    return out


def _of_reaching(layers: Sequence[LaidLayer]) -> list[str]:
    """Which layers reach over the edge of the one below: drawn so, or as these lie when they are cut."""
    out = []
    for upper, lower in zip(layers, layers[1:], strict=False):
        over = shapely.difference(upper.area, shapely.buffer(lower.area, LEAST_INSIDE_MM))
        if not over.is_empty:
            out.append(
                f"“{upper.layer.name}” is drawn over the edge of “{lower.layer.name}” on {over.area:.1f} mm²: there "
                "nothing carries it. Give the lower one an offset, or change their order."
            )
            continue
        over = shapely.difference(upper.cut_area, shapely.buffer(lower.cut_area, LEAST_INSIDE_MM))
        if not over.is_empty:
            out.append(
                f"“{upper.layer.name}” is cut over the edge of “{lower.layer.name}”, since it shrinks more. Give the "
                "lower one a larger offset."
            )
    return out


def _of_hoop(plan: StitchPlan) -> list[str]:
    """Whether the stitches are too large for the sewing machine."""
    why = too_large(plan.seams_mm, MACHINE) if plan.seams else ""
    return [f"{why} Make the stack smaller, or sew it in parts."] if why else []


# -- files -------------------------------------------------------------------------------------------------------------


def files_of(made: MadeStack, case: Case) -> list[StackFile]:
    """All files of a stack: a cut file a layer, in the order of cutting, then the stitches in every format wanted.

    Each is read back and compared. Raises CannotWrite where what was written is not what was meant.
    """
    out = []
    for cut in made.in_order:
        base = f"{cut.cut_as}-{_plain(cut.laid.layer.name)}"
        files: list[CutFile] = cut_files(base, cut.plan, cut.sheet, case.destination)
        out += [StackFile(one.name, one.data, "hpgl", cut.laid.number, one.off_mm) for one in files]
    if made.stitches.seams:
        first = made.stitches.seams[0].colour
        for suffix in made.stack.formats:
            kind = FORMATS[suffix]
            data = write_stitches(made.stitches.records, first, case.facts.name or "stack", kind)
            off = worst_off(made.stitches.records, read_stitches(data, kind))
            out.append(StackFile(f"stitches.{suffix}", data, suffix, None, off))
    return out


def _plain(name: str) -> str:
    """A name as part of a file's."""
    return re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "layer"


def summary_json(made: MadeStack, files: Sequence[StackFile]) -> dict[str, Any]:
    """A stack as plain values, as docs/stacks.md tells them."""
    plan = made.stitches
    return {
        "layers": [
            {
                "name": cut.laid.layer.name, "fabric": cut.laid.layer.fabric_id, "contours": len(cut.laid.contours),
                "cut_mm": round(cut.plan.cut_mm, 3), "area_mm2": round(float(cut.laid.area.area), 3),
                "cut_as": cut.cut_as, "time_s": round(cut.plan.time_s, 2), "lay": cut.lay,
            }
            for cut in made.cuts
        ],
        "stitches": {
            "count": plan.count, "jumps": plan.jumps, "trims": plan.trims, "colours": plan.colours,
            "stops": plan.stops, "thread_mm": round(plan.thread_mm, 1), "longest_mm": round(plan.longest_mm, 2),
            "time_s": round(sewing_time(plan), 1),
        },
        "files": [{"name": f.name, "format": f.format, "layer": f.layer} for f in files],
        "worst_off_mm": round(max((f.off_mm for f in files), default=0.0), 4),
        "notes": list(made.said),
    }


def sewing_time(plan: StitchPlan) -> float:
    """How long the machine sews, in s, without what a person does at its stops."""
    return float(needle_times(plan.seams_mm, MACHINE)[-1][-1]) if plan.seams else 0.0
