"""The inks of a page on screen: its plates, their amounts, the load, and the section with the inks on top."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from horismos.artwork.lines import inks_of_page, lines_by_role
from horismos.cutting.depth import CutOutcome
from horismos.cutting.section import section
from horismos.materials import Stratum
from horismos.paths import Contour
from horismos.rendering import Plate, blended, heat, ink_load, total
from horismos.rendering.plates import PlateSet
from horismos.rendering.swatch import swatches
from horismos.roles import InkRole, LineRole
from horismos.sheet.inks import InkLayer
from horismos.units import MM_PER_INCH
from horismos.workflow.case import Case
from horismos.workflow.plan import seen_from
from horismos.workflow.tools import tools_of

__all__ = [
    "BandShown", "CrossingShown", "LoadShown", "PlateInk", "PlatesShown", "SectionShown", "amounts", "plate_picture",
    "plates_shown", "section_shown",
]

SECTION_SAMPLES = 300
PROCESS = {"Cyan": "#00a0e3", "Magenta": "#e4007f", "Yellow": "#ffed00", "Black": "#1a1a1a"}
"""[ours] how the process inks are shown where plates are laid over each other."""
LAYERS = {InkRole.WHITE: InkLayer.WHITE, InkRole.VARNISH: InkLayer.VARNISH}
Point = tuple[float, float]
Tints = NDArray[np.uint8]


@dataclass(frozen=True)
class PlateInk:
    """An ink of the plates: its colour on screen, whether it prints, and how much full ink it comes to."""

    name: str
    colour: str
    prints: bool
    area_cm2: float


@dataclass(frozen=True)
class LoadShown:
    """The heaviest place in mm on the page, in %, beside the limit, and the area above that."""

    highest: float
    at_mm: tuple[float, ...]
    limit: float
    above_cm2: float


@dataclass(frozen=True)
class PlatesShown:
    """The plates of a page; the tints themselves are kept as an array by their content."""

    sha256: str
    ppi: float
    box: tuple[float, ...]
    inks: tuple[PlateInk, ...]
    load: LoadShown


@dataclass(frozen=True)
class CrossingShown:
    """A cut that a section crosses, with the depths in µm between which it parts the material."""

    role: str
    at_mm: float
    top_um: float
    bottom_um: float
    outcome: CutOutcome = CutOutcome.RIGHT


@dataclass(frozen=True)
class BandShown:
    """An ink along a section: its tints, 0 to 255, at even steps."""

    name: str
    colour: str
    tints: tuple[int, ...]


@dataclass(frozen=True)
class SectionShown:
    """The material cut open along a line."""

    length_mm: float
    strata: tuple[Stratum, ...]
    crossings: tuple[CrossingShown, ...]
    inks: tuple[BandShown, ...]


def plates_shown(case: Case, made: PlateSet, limit: float, sha256: str) -> PlatesShown:
    """What the screen needs to know of plates that are kept under a hash."""
    x0, y0, x1, y1 = made.box
    cut = {ink.name for ink in inks_of_page(case.artwork, case.page, case.destination) if ink.kind == "line"}
    colours = {**swatches(case.artwork, [p.ink for p in made.plates]), **PROCESS}
    load = ink_load(made.plates, made.ppi, cut, limit)
    area = (x1 - x0) * (y1 - y0) / 100
    return PlatesShown(
        sha256, made.ppi, made.box,
        tuple(
            PlateInk(p.ink, colours.get(p.ink, "#808080"), p.ink not in cut, round(p.coverage * area, 3))
            for p in made.plates
        ),
        LoadShown(load.highest, (x0 + load.at_mm[0], y1 - load.at_mm[1]), load.limit, load.above_cm2),
    )


def plate_picture(shown: PlatesShown, stack: Tints, which: Sequence[int], as_heat: bool) -> Tints:
    """Plates laid over each other (numbers in a row, none for all), or the load of those that print.

    ``stack`` holds the tints, shape (inks, height, width).
    """
    chosen = [i for i in which if 0 <= i < len(stack)] or list(range(len(stack)))
    if as_heat:
        printing = [Plate(shown.inks[i].name, stack[i]) for i in chosen if shown.inks[i].prints]
        return heat(total(printing) if printing else np.zeros(stack.shape[1:], np.float32), shown.load.limit)
    return blended([stack[i] for i in chosen], [shown.inks[i].colour for i in chosen])


def amounts(shown: PlatesShown, stack: Tints, points: Sequence[Point]) -> list[list[int]]:
    """The tints, 0 to 255, of every ink at points in mm; an empty list outside the page."""
    x0, _, _, y1 = shown.box
    per_mm = shown.ppi / MM_PER_INCH
    out: list[list[int]] = []
    for x, y in points:
        column, row = int((x - x0) * per_mm), int((y1 - y) * per_mm)
        inside = 0 <= column < stack.shape[2] and 0 <= row < stack.shape[1]
        out.append([int(v) for v in stack[:, row, column]] if inside else [])
    return out


def section_shown(
    case: Case, plates: tuple[PlatesShown, Tints] | None, start: Point, end: Point,
    lines: Mapping[LineRole, Sequence[Contour]] | None = None,
) -> SectionShown:
    """The material cut open along a line: strata, crossings and, where there are plates, the inks along it.

    ``lines`` are others than those of the page, where there are such.
    """
    if lines is None:
        lines = {role: [c for line in of for c in line.contours] for role, of in lines_by_role(case.lines).items()}
    cut = section(case.media, lines, start, end, tools_of(case))
    return SectionShown(
        cut.length_mm, cut.strata,
        tuple(CrossingShown(c.role.value, c.at_mm, c.top_um, c.bottom_um, c.outcome) for c in cut.crossings),
        _as_laid(_bands(*plates, start, end), case) if plates else (),
    )


def _as_laid(bands: Sequence[BandShown], case: Case) -> tuple[BandShown, ...]:
    """The bands as they lie on each other: the ink that is laid down first lies next to the material, and comes last.

    As it is printed: a mirrored print has its colour next to the film, white above.
    """
    layers = {case.destination.names.get(role): layer for role, layer in LAYERS.items()}
    order = seen_from([case], case.layout).ink_order
    depth = [order.index(layers.get(band.name, InkLayer.COLOUR)) for band in bands]
    return tuple(band for _, band in sorted(zip(depth, bands, strict=True), key=lambda pair: -pair[0]))


def _bands(shown: PlatesShown, stack: Tints, start: Point, end: Point) -> tuple[BandShown, ...]:
    steps = np.linspace(0, 1, SECTION_SAMPLES)
    points = [(start[0] + (end[0] - start[0]) * t, start[1] + (end[1] - start[1]) * t) for t in steps]
    read = amounts(shown, stack, points)
    bands = []
    for i, ink in enumerate(shown.inks):
        tints = tuple(row[i] if row else 0 for row in read)
        if ink.prints and any(tints):
            bands.append(BandShown(ink.name, ink.colour, tints))
    return tuple(bands)



