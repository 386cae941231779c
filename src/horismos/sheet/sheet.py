"""A sheet and what lies on it, as values; mm from the left edge of the media (x) and from its leading edge (y)."""

from dataclasses import dataclass, replace

import numpy as np

from horismos.machines import Cutter
from horismos.materials import Material
from horismos.paths import Contour, bounds
from horismos.paths.box import Bounds, placed, union_bounds
from horismos.paths.matrix import Matrix, multiply
from horismos.sheet.code import CODE_MM, Code
from horismos.sheet.inks import FRONT, InkLayer
from horismos.sheet.layout import Makes
from horismos.sheet.marks import Mark
from horismos.sheet.pieces import Piece
from horismos.words import plural

__all__ = ["Clash", "Grid", "Placement", "Sheet", "flip", "flipped"]

LEAST_MM = 1e-6
NARROW_MM = 1.0
"""[practice] what is left between two cuts of one sheet tears when it is narrower."""
GLOSS = (
    "Glossy laminate over the marks mirrors the sensor's light: it may not find them. "
    "Leave them free of laminate, or cut by hand."
)
"""[practice]"""


@dataclass(frozen=True, eq=False)
class Placement:
    """One copy: ``matrix`` maps the piece's mm to the sheet's.

    ``shows`` is the part of its art, in its own mm; within it only what ``clip`` encloses, where there is such.
    """

    piece: Piece
    matrix: Matrix
    shows: Bounds
    clip: tuple[Contour, ...] = ()

    @property
    def bounds(self) -> Bounds:
        """The bounds of its cuts on the sheet."""
        a, b, c, d, e, f = self.matrix
        if a == 0 or b == 0:
            return placed(self.piece.bounds, self.matrix)
        at = self.piece.hull @ np.array([[a, b], [c, d]]) + (e, f)
        return float(at[:, 0].min()), float(at[:, 1].min()), float(at[:, 0].max()), float(at[:, 1].max())

    @property
    def art_box(self) -> Bounds:
        """The bounds of its art on the sheet, with what is shown of its bleed."""
        if not self.clip:
            return placed(self.shows, self.matrix)
        return union_bounds(bounds(c.transformed(self.matrix)) for c in self.clip) or placed(self.shows, self.matrix)


@dataclass(frozen=True)
class Grid:
    """The rows and columns of a sheet that has such."""

    columns: int
    rows: int
    gap_mm: float
    turned: bool


@dataclass(frozen=True)
class Clash:
    """Two copies, by their numbers from 0, whose cuts lie so near to each other; ``into``: in each other."""

    first: int
    second: int
    apart_mm: float
    into: bool = False


@dataclass(frozen=True, eq=False, kw_only=True)
class Sheet:
    """A laid-out sheet of copies of one or more pieces, as seen from the front.

    ``code`` is printed beside the marks and tells the sheet from others; ``bar``, a short bar beside the first mark,
    tells this one and the loading side from the rest. ``mirrored`` says that all is printed the other way round, to be
    seen through clear media or glass. ``grid`` is None where the copies lie otherwise than in rows and columns.
    ``inks`` are in the order in which they are laid down; ``frame`` is cut round everything, to be weeded. ``clashes``
    are copies that lie nearer to each other than the ``gap_mm`` that is wanted between them.
    """

    material: Material
    placements: tuple[Placement, ...]
    marks: tuple[Mark, ...]
    cutter: Cutter
    length_mm: float
    code: Code | None = None
    bar: Bounds | None = None
    mirrored: bool = False
    grid: Grid | None = None
    makes: Makes = Makes.BOTH
    inks: tuple[InkLayer, ...] = FRONT
    frame: Bounds | None = None
    clashes: tuple[Clash, ...] = ()
    gap_mm: float = 0.0

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The different pieces on the sheet, in the order in which they come."""
        return tuple({id(p.piece): p.piece for p in self.placements}.values())

    def copies_of(self, piece: Piece) -> tuple[Placement, ...]:
        """The copies of one of the pieces."""
        return tuple(p for p in self.placements if p.piece is piece)

    @property
    def printed(self) -> "Sheet":
        """The sheet as it is printed, and lies before the cutter: the other way round where it is mirrored."""
        return flipped(self) if self.mirrored else self

    @property
    def cut_box(self) -> Bounds:
        """The bounds of all cuts."""
        found = union_bounds(p.bounds for p in self.placements)
        assert found is not None  # a sheet has a copy
        return found

    @property
    def used_length_mm(self) -> float:
        """How much of the media's length is used up, trailer included; of a sheet some may be left."""
        tops = [self.cut_box[3], *(mark.box[3] for mark in self.marks), *([self.frame[3]] if self.frame else [])]
        return min(max(tops) + self.cutter.trailer_mm, self.length_mm)

    @property
    def marks_span_mm(self) -> float:
        """How far its marks reach along the media, from the first row to the last."""
        ys = [mark.y_mm for mark in self.marks]
        return max(ys, default=0.0) - min(ys, default=0.0)

    @property
    def used_area_mm2(self) -> float:
        """The media that the sheet takes off the roll."""
        return self.material.width_mm * self.length_mm

    @property
    def waste(self) -> float:
        """The share of that media that is in no finished piece, 0 to 1."""
        return 1 - sum(p.piece.area_mm2 for p in self.placements) / self.used_area_mm2

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the sheet: which copies show less of their bleed than they want."""
        said: dict[str, None] = {}
        for copy in self.placements:
            shown, wanted = copy.piece.bounds[0] - copy.shows[0], copy.piece.bleed_mm
            if shown < wanted - LEAST_MM:
                said[
                    f"The gap of {round(2 * shown, 3):g} mm leaves each copy {round(shown, 3):g} mm of bleed; "
                    f"{wanted:g} mm is wanted."
                ] = None
        met = [clash for clash in self.clashes if clash.into]
        if met:
            said[f"{plural(len(met), 'pair')} of copies lie in each other. Move them apart."] = None
        elif self.clashes:
            nearest = min(self.clashes, key=lambda clash: clash.apart_mm)
            said[
                f"{plural(len(self.clashes), 'pair')} of copies lie nearer than {self.gap_mm:g} mm; the nearest "
                f"{nearest.apart_mm:.1f} mm."
            ] = None
        if len(self.placements) > 1 and self.gap_mm < NARROW_MM:
            said[_narrow(self.gap_mm)] = None
        if self.marks and self.material.glossy:
            said[GLOSS] = None
        return tuple(said)


def _narrow(gap_mm: float) -> str:
    if gap_mm <= LEAST_MM:
        return "Copies share their edges: what lies between two is cut once for each, on one line."
    return f"Only {gap_mm:g} mm lie between copies, under {NARROW_MM:g} mm: such a strip tears when it is weeded."


def flip(material: Material) -> Matrix:
    """The other way round: left and right of the media change places."""
    return -1.0, 0.0, 0.0, 1.0, material.width_mm, 0.0


def flipped(sheet: Sheet) -> Sheet:
    """A sheet the other way round: as it is printed from how it is seen, or back."""
    wide, over = sheet.material.width_mm, flip(sheet.material)
    return replace(
        sheet, mirrored=not sheet.mirrored,
        placements=tuple(replace(p, matrix=multiply(p.matrix, over)) for p in sheet.placements),
        marks=tuple(replace(m, x_mm=wide - m.x_mm, along_x=-m.along_x) for m in sheet.marks),
        frame=sheet.frame and (wide - sheet.frame[2], sheet.frame[1], wide - sheet.frame[0], sheet.frame[3]),
        bar=sheet.bar and (wide - sheet.bar[2], sheet.bar[1], wide - sheet.bar[0], sheet.bar[3]),
        code=sheet.code and replace(sheet.code, x_mm=wide - sheet.code.x_mm - CODE_MM),
    )
