"""Copies on the media: in rows and columns, or placed one by one; with marks, margins, leader and trailer.

Sheet coordinates: mm from the left edge of the media (x) and from its leading edge (y).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from horismos.destinations import Destination
from horismos.errors import BadValue, DoesNotFit
from horismos.machines import Cutter
from horismos.materials import Material
from horismos.paths.box import Bounds, grow, placed, union_bounds
from horismos.paths.matrix import Matrix
from horismos.sheet.marks import Mark, corner_marks
from horismos.sheet.pieces import Piece

__all__ = ["Grid", "Layout", "Placement", "Sheet", "lay_out", "sheet_of"]

MOST_COPIES = 20_000
MOST_GAP_MM = 1000.0
ROUNDING_MM = 1e-6


@dataclass(frozen=True)
class Layout:
    """How the copies are to lie. ``columns`` None: as many as fit; ``turned`` None: whichever
    way wastes less. ``gap_mm`` None: twice the bleed, so that every copy keeps its own.
    Raises BadValue for what cannot be laid out.
    """

    columns: int | None = None
    gap_mm: float | None = None
    turned: bool | None = None

    def __post_init__(self) -> None:
        """Refuse what no sheet can have."""
        if self.columns is not None and not 1 <= self.columns <= MOST_COPIES:
            raise BadValue(f"Layout: {self.columns} columns.", "Give 1 or more, or leave it out.")
        if self.gap_mm is not None and not 0 <= self.gap_mm <= MOST_GAP_MM:
            raise BadValue(f"Layout: a gap of {self.gap_mm} mm.", f"Give 0 to {MOST_GAP_MM:.0f} mm, or leave it out.")


@dataclass(frozen=True, eq=False)
class Placement:
    """One copy: ``matrix`` maps the piece's mm to the sheet's. ``shows`` is the part of its art, in its own mm."""

    piece: Piece
    matrix: Matrix
    shows: Bounds

    @property
    def bounds(self) -> Bounds:
        """The bounds of its cuts on the sheet."""
        return placed(self.piece.bounds, self.matrix)


@dataclass(frozen=True)
class Grid:
    """The rows and columns of a sheet that has such."""

    columns: int
    rows: int
    gap_mm: float
    turned: bool


@dataclass(frozen=True, eq=False)
class Sheet:
    """A laid-out sheet of copies of one or more pieces.

    ``frame`` runs through the corners of the marks. ``code`` is printed beside them and tells the sheet from
    others. ``grid`` is None where the copies lie otherwise than in rows and columns.
    """

    material: Material
    placements: tuple[Placement, ...]
    marks: tuple[Mark, ...]
    frame: Bounds
    cutter: Cutter
    length_mm: float
    code: str = ""
    grid: Grid | None = None

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The different pieces on the sheet, in the order in which they come."""
        return tuple({id(p.piece): p.piece for p in self.placements}.values())

    def copies_of(self, piece: Piece) -> tuple[Placement, ...]:
        """The copies of one of the pieces."""
        return tuple(p for p in self.placements if p.piece is piece)

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
        """What a person should know about the sheet."""
        grid, widest = self.grid, max((p.bleed_mm for p in self.pieces), default=0.0)
        if grid is None or grid.gap_mm >= 2 * widest or len(self.placements) < 2:
            return ()
        return (
            f"The gap of {grid.gap_mm:g} mm leaves each copy {grid.gap_mm / 2:g} mm of bleed; {widest:g} mm is wanted.",
        )


def lay_out(
    piece: Piece, quantity: int, material: Material, destination: Destination, layout: Layout | None = None
) -> Sheet:
    """Lay out so many copies of one piece. Raises DoesNotFit where the piece does not fit."""
    layout = layout or Layout()
    if quantity > MOST_COPIES:
        raise DoesNotFit(f"{quantity} copies are too many for one sheet.", f"Lay out {MOST_COPIES} at a time.")
    ways = (False, True) if layout.turned is None else (layout.turned,)
    made: list[Sheet] = []
    why: DoesNotFit | None = None
    for turned in ways:
        try:
            made.append(_in_rows(piece, quantity, material, destination.cutter, layout, turned))
        except DoesNotFit as error:
            why = why or error
    if not made:
        assert why is not None
        raise why
    return min(made, key=lambda sheet: sheet.length_mm)


def _in_rows(
    piece: Piece, quantity: int, material: Material, cutter: Cutter, layout: Layout, turned: bool
) -> Sheet:
    x0, y0, x1, y1 = piece.bounds
    w, h = (y1 - y0, x1 - x0) if turned else (x1 - x0, y1 - y0)
    gap = layout.gap_mm if layout.gap_mm is not None else 2 * piece.bleed_mm
    away = _away(cutter, piece.bleed_mm)
    room = _room(material, cutter, away)
    fitting = math.floor((room + gap + ROUNDING_MM) / (w + gap))
    if fitting < 1:
        raise _too_wide(w, room, material)
    wanted = fitting if layout.columns is None else layout.columns
    if wanted > fitting:
        raise DoesNotFit(f"{wanted} columns do not fit on {material.title}.", f"Choose {fitting} or fewer.")
    columns = min(wanted, quantity)
    left = (material.width_mm - columns * (w + gap) + gap) / 2
    shows = grow(piece.bounds, min(piece.bleed_mm, gap / 2) if quantity > 1 else piece.bleed_mm)
    copies = []
    for i in range(quantity):
        row, column = divmod(i, columns)
        x, y = left + column * (w + gap), cutter.leader_mm + away + row * (h + gap)
        # Turned: a quarter to the left, (x, y) to (-y, x).
        turn: Matrix = (0.0, 1.0, -1.0, 0.0, x + y1, y - x0) if turned else (1.0, 0.0, 0.0, 1.0, x - x0, y - y0)
        copies.append(Placement(piece, turn, shows))
    return sheet_of(copies, material, cutter, Grid(columns, math.ceil(quantity / columns), gap, turned))


def sheet_of(
    placements: Sequence[Placement], material: Material, cutter: Cutter, grid: Grid | None = None, code: str = ""
) -> Sheet:
    """The sheet of copies that are placed already, of one or more pieces: marks round them, and its length.

    Raises DoesNotFit where they leave the media or the room between the marks.
    """
    block = union_bounds(p.bounds for p in placements)
    if block is None:
        raise DoesNotFit("There is nothing on the sheet.", "Place a copy.")
    away = _away(cutter, max(p.piece.bleed_mm for p in placements))
    frame = grow(block, away)
    margin = cutter.side_margin_mm
    if frame[0] < margin - ROUNDING_MM or frame[2] > material.width_mm - margin + ROUNDING_MM:
        raise _too_wide(block[2] - block[0], _room(material, cutter, away), material)
    if frame[1] < cutter.leader_mm - ROUNDING_MM:
        raise DoesNotFit(
            f"A copy lies {block[1]:.1f} mm from the leading edge.", f"Leave {cutter.leader_mm + away:g} mm."
        )
    length = frame[3] + cutter.trailer_mm
    if material.length_mm is not None and length > material.length_mm:
        raise DoesNotFit(
            f"The copies need {length:.0f} mm of a sheet of {material.length_mm:.0f} mm.",
            "Order fewer copies a sheet, or choose a roll.",
        )
    marks = corner_marks(frame, cutter.marks.arm_mm, cutter.marks.weight_mm)
    return Sheet(material, tuple(placements), marks, frame, cutter, length, code, grid)


def _away(cutter: Cutter, bleed_mm: float) -> float:
    """How far the marks stay from the cuts: what the cutter wants, and never in the bleed."""
    return max(cutter.marks.distance_mm, bleed_mm + cutter.marks.weight_mm)


def _room(material: Material, cutter: Cutter, away: float) -> float:
    return material.width_mm - 2 * cutter.side_margin_mm - 2 * away


def _too_wide(width: float, room: float, material: Material) -> DoesNotFit:
    return DoesNotFit(
        f"A piece {width:.1f} mm wide does not fit on {material.title}: "
        f"{max(room, 0):.1f} mm is left between the marks.",
        "Choose a wider material, or turn the piece.",
    )
