"""A stack of fabric: what the stage, the docket and the section show of it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from horismos.cutting.depth import CutOutcome
from horismos.errors import NotFound
from horismos.formats.embroidery import UNIT_MM
from horismos.formats.svg import svg_path
from horismos.paths.areas import rims_of, straight_round
from horismos.paths.contour import Floats
from horismos.simulation.sewing import SewnOut
from horismos.simulation.stack_cut import JobCut
from horismos.stitching.drawn import Drawn
from horismos.stitching.fabrics import FABRICS
from horismos.stitching.plan import Seam, thread_of
from horismos.stitching.section import StackSection
from horismos.workflow.stack import MACHINE, LayerCut, MadeStack, sewing_time

__all__ = [
    "DrawnShown", "FabricShown", "HaltShown", "KindSewn", "LayerCutShown", "LayerShown", "SeamShown", "SewnSeam",
    "SewnShown", "StackSectionShown", "StackShown", "StitchFigures", "drawn_shown", "fabrics_shown",
    "layer_cut_shown", "sewn_shown", "stack_section_shown", "stack_shown",
]

SHOWN_MM = 0.005


@dataclass(frozen=True)
class FabricShown:
    """A fabric that can be chosen, with what its layers begin with."""

    id: str
    title: str
    thickness_um: float
    adhesive_um: float
    colour: str
    shrinks: float
    pull_mm: float


@dataclass(frozen=True)
class DrawnShown:
    """Something that a file draws and a layer of fabric can be: by what it is told, in words, as path data in mm."""

    key: str
    by: str
    words: str
    path: str
    area_mm2: float


def drawn_shown(drawn: Iterable[Drawn]) -> tuple[DrawnShown, ...]:
    """What the screen shows of what a file draws."""
    return tuple(DrawnShown(d.key, d.by, d.words, _path(d.area), round(float(d.area.area), 1)) for d in drawn)


@dataclass(frozen=True, kw_only=True)
class LayerShown:
    """A layer, from the top and from 0: its fabric as path data in mm, and its cut job, which is the ``cut_as``-th.

    ``lay`` says what is to be done before it. The blade goes ``reaches_um`` deep, of ``own_um`` that are its own;
    ``outcome`` is what a test cut would show.
    """

    number: int
    name: str
    fabric: str
    colour: str
    thread: str
    path: str
    contours: int
    cut_mm: float
    area_mm2: float
    cut_as: int
    lay: str
    force_gf: float | None
    own_um: float
    reaches_um: float
    outcome: CutOutcome
    time_s: float


@dataclass(frozen=True)
class KindSewn:
    """From which needle point of a seam on a kind of stitches is sewn."""

    begins: int
    kind: str


@dataclass(frozen=True)
class SeamShown:
    """Stitches without a jump: needle points x, y, x, y … in mm of the page, and the kinds that follow each other.

    ``stop`` is what a person does before it, empty where the machine only cuts the thread and moves.
    """

    layer: int
    colour: str
    stop: str
    kinds: tuple[KindSewn, ...]
    points: tuple[float, ...]


@dataclass(frozen=True)
class StitchFigures:
    """Stitches in figures; the time is that of a machine which sews so many a minute, without what a person does."""

    count: int
    jumps: int
    trims: int
    stops: int
    colours: int
    thread_mm: float
    longest_mm: float
    time_s: float
    stitches_min: float


@dataclass(frozen=True)
class StackShown:
    """A stack as it would be made. ``refused`` says why there is nothing, else empty; ``said`` is to be known."""

    why: str
    outline: str
    bounds: tuple[float, ...]
    layers: tuple[LayerShown, ...]
    seams: tuple[SeamShown, ...]
    figures: StitchFigures
    said: tuple[str, ...]
    fabrics: tuple[FabricShown, ...]
    refused: str = ""

    @classmethod
    def nothing(cls, why: str) -> "StackShown":
        """Nothing, and why."""
        none = StitchFigures(0, 0, 0, 0, 0, 0.0, 0.0, 0.0, MACHINE.stitches_min)
        return cls("", "", (0.0, 0.0, 1.0, 1.0), (), (), none, (), fabrics_shown(), why)


def fabrics_shown() -> tuple[FabricShown, ...]:
    """The fabrics that can be chosen."""
    return tuple(
        FabricShown(f.id, f.title, f.thickness_um, f.adhesive_um, f.colour, f.shrinks, f.pull_mm)
        for f in FABRICS.values()
    )


def stack_shown(made: MadeStack) -> StackShown:
    """What the screen shows of a stack."""
    plan = made.stitches
    box = shapely.union_all([laid.area for laid in made.layers]).bounds
    return StackShown(
        made.why, _path(made.outline), box, tuple(_layer(cut) for cut in made.cuts),
        tuple(_seam(seam, plan.middle_mm) for seam in plan.seams),
        StitchFigures(
            plan.count, plan.jumps, plan.trims, plan.stops, plan.colours, round(plan.thread_mm, 1),
            round(plan.longest_mm, 2), round(sewing_time(plan), 1), MACHINE.stitches_min,
        ),
        made.said, fabrics_shown(),
    )


def _path(area: shapely.Geometry) -> str:
    return svg_path(straight_round(rims_of(area, 0.0), SHOWN_MM))


def _layer(cut: LayerCut) -> LayerShown:
    layer = cut.laid.layer
    return LayerShown(
        number=cut.laid.number, name=layer.name, fabric=layer.cloth.title, colour=layer.looks,
        thread=thread_of(cut.laid), path=_path(cut.laid.area), contours=len(cut.laid.contours),
        cut_mm=round(cut.plan.cut_mm, 1), area_mm2=round(float(cut.laid.area.area), 1), cut_as=cut.cut_as, lay=cut.lay,
        force_gf=cut.tool.sent_gf, own_um=cut.own_um, reaches_um=round(cut.reaches_um, 1), outcome=cut.outcome,
        time_s=round(cut.plan.time_s, 1)
    )


def _seam(seam: Seam, middle: tuple[float, float]) -> SeamShown:
    points = np.round(seam.points * UNIT_MM + np.array(middle), 2)
    kinds = tuple(KindSewn(begin, kind.value) for begin, kind in seam.kinds)
    return SeamShown(seam.layer, seam.colour, seam.stop, kinds, tuple(points.ravel().tolist()))


@dataclass(frozen=True)
class StandingShown:
    """A layer in a section: where its fabric stands, is cut and is sewn over, in mm along the line; depths in µm."""

    number: int
    name: str
    fabric: str
    colour: str
    thread: str
    spans: tuple[tuple[float, ...], ...]
    cuts_mm: tuple[float, ...]
    sewn: tuple[tuple[float, ...], ...]
    thick_um: float
    deep_um: float
    outcome: CutOutcome


@dataclass(frozen=True)
class StackSectionShown:
    """A stack cut open along a line; layers from the top down."""

    length_mm: float
    layers: tuple[StandingShown, ...]
    carrier_um: float


def stack_section_shown(made: MadeStack, found: StackSection, carrier_um: float) -> StackSectionShown:
    """What the screen shows of a section."""
    return StackSectionShown(
        round(found.length_mm, 3),
        tuple(
            StandingShown(
                one.number, laid.layer.name, laid.layer.cloth.title, laid.layer.looks, thread_of(laid), one.fabric,
                one.cuts_mm, one.sewn, one.thick_um, one.deep_um, cut.outcome,
            )
            for one, laid, cut in zip(found.layers, made.layers, made.cuts, strict=True)
        ),
        carrier_um,
    )


@dataclass(frozen=True)
class LayerCutShown:
    """A layer that was cut: where the blade went, in mm of the page; how deep, what that comes to, how far off it is.

    ``inside_mm`` is by how much it lies within the layer below, negative where it lies over its edge.
    """

    number: int
    paths: list[str]
    frame: str
    deep_um: float
    outcome: CutOutcome
    off_mm: list[float]
    inside_mm: float | None


@dataclass(frozen=True)
class SewnSeam:
    """Needle points x, y, x, y … in mm of the page, and when the needle was down in each, in s."""

    colour: str
    points: list[float]
    at_s: list[float]


@dataclass(frozen=True)
class HaltShown:
    """A stop of the sewing machine, before a seam: what a person does then, and the layer that is laid, if any."""

    at_s: float
    before: int
    words: str
    lays: int | None


@dataclass(frozen=True)
class SewnShown:
    """A stitch file as the machine sews it; ``refused`` says why it does not. ``begins`` is what is done before."""

    begins: HaltShown
    seams: list[SewnSeam]
    halts: list[HaltShown]
    total_s: float
    thread_mm: float
    count: int
    trims: int
    refused: str


def layer_cut_shown(number: int, cut: JobCut, home: tuple[float, float]) -> LayerCutShown:
    """A layer that was cut, in mm of the page; ``home`` is where the first zero lies there."""
    return LayerCutShown(
        number, [_way(stroke + home) for stroke in cut.strokes],
        "" if cut.frame is None else _way(cut.frame + home), cut.deep_um, cut.outcome,
        [round(v, 3) for v in cut.off_mm], None if cut.inside_mm is None else round(cut.inside_mm, 3),
    )


def _way(points: Floats) -> str:
    return "M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in points.tolist())


def sewn_shown(found: SewnOut, stops: Sequence[Mapping[str, Any]], middle: tuple[float, float]) -> SewnShown:
    """A run of the sewing machine with the stops of the stack: what is done before each seam. Raises NotFound."""
    if len(stops) != len(found.halts) + 1 and not found.refused:
        raise NotFound("The stitches are not those of this stack.", "Write its files again.")
    seams, part = [], 0
    for i, (points, at) in enumerate(zip(found.seams, found.at_s, strict=True)):
        part += sum(halt.before == i for halt in found.halts)
        seams.append(SewnSeam(
            stops[part]["colour"], (points + np.array(middle)).round(2).ravel().tolist(), at.round(2).tolist()
        ))
    halts = [
        HaltShown(halt.at_s, halt.before, stop["words"], stop["lays"])
        for halt, stop in zip(found.halts, stops[1:], strict=False)
    ]
    return SewnShown(
        HaltShown(0.0, 0, stops[0]["words"], stops[0]["lays"]), seams, halts, found.total_s, found.thread_mm,
        found.count, found.trims, found.refused,
    )
