"""Copies on the media: in rows and columns, or placed one by one; with marks, margins, leader and trailer.

Sheet coordinates: mm from the left edge of the media (x) and from its leading edge (y).
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from horismos.destinations import Destination
from horismos.errors import BadValue, DoesNotFit
from horismos.given import Read, number, object_of, yes
from horismos.machines import Cutter
from horismos.materials import Material
from horismos.paths.box import grow
from horismos.paths.matrix import Matrix
from horismos.sheet.assemble import FOUR, ROUNDING_MM, inner_box, sheet_of, spacing, too_wide, unless_far
from horismos.sheet.marks import MarkPlan
from horismos.sheet.nest import print_of, shown_round
from horismos.sheet.pieces import Piece
from horismos.sheet.rows import Room, in_rows
from horismos.sheet.sheet import Grid, Placement, Sheet

__all__ = ["Layout", "lay_out"]

MOST_COPIES = 20_000
MOST_GAP_MM = 1000.0
MOST_PRINT = 64


@dataclass(frozen=True)
class Layout:
    """How the copies are to lie. ``columns`` None: as many as fit; ``turned`` None: whichever
    way wastes less. ``gap_mm`` None: twice the bleed, so that every copy keeps its own. ``code``: one is printed beside
    the marks; ``mirror``: all is printed the other way round. ``placed`` are the copies of a piece one by one, by
    nesting or by hand, in place of rows and columns; ``placed_of`` tells which outline they were placed by,
    ``rows_mm`` how much rows and columns would take. Raises BadValue for what cannot be laid out.
    """

    columns: int | None = None
    gap_mm: float | None = None
    turned: bool | None = None
    marks: MarkPlan = FOUR
    code: bool = True
    mirror: bool = False
    placed: tuple[Matrix, ...] = ()
    placed_of: str = ""
    rows_mm: float | None = None

    def __post_init__(self) -> None:
        """Refuse what no sheet can have."""
        if self.columns is not None and not 1 <= self.columns <= MOST_COPIES:
            raise BadValue(f"Layout: {self.columns} columns.", "Give 1 or more, or leave it out.")
        if self.gap_mm is not None and not 0 <= self.gap_mm <= MOST_GAP_MM:
            raise BadValue(f"Layout: a gap of {self.gap_mm} mm.", f"Give 0 to {MOST_GAP_MM:.0f} mm, or leave it out.")

    @classmethod
    def from_json(cls, data: object) -> "Layout":
        """Read a layout as a job keeps it; unknown keys and figures out of range are refused. Raises BadValue."""
        given = object_of(data, "Layout", READERS)
        return cls(**{key: READERS[key](f"Layout: {key}", value) for key, value in given.items() if value is not None})


def _matrices(name: str, value: object) -> tuple[Matrix, ...]:
    read = number(-1e6, 1e6)
    rows: list[Any] = list(value) if isinstance(value, list | tuple) else [None]
    if len(rows) > MOST_COPIES or not all(isinstance(row, list | tuple) and len(row) == 6 for row in rows):
        raise BadValue(f"{name} must be a list of matrices [a, b, c, d, e, f].")
    return tuple((read(name, a), read(name, b), read(name, c), read(name, d), read(name, e), read(name, f))
                 for a, b, c, d, e, f in rows)


def _print(name: str, value: object) -> str:
    if not isinstance(value, str) or len(value) > MOST_PRINT:
        raise BadValue(f"{name} must be a short text.")
    return value


READERS: Mapping[str, Read] = {
    "placed": _matrices, "placed_of": _print, "rows_mm": number(0, 1e7),
    "columns": number(1, MOST_COPIES, whole=True), "gap_mm": number(0, MOST_GAP_MM), "turned": yes,
    "marks": MarkPlan.from_json, "code": yes, "mirror": yes,
}


def lay_out(
    piece: Piece, quantity: int, material: Material, destination: Destination, layout: Layout | None = None
) -> Sheet:
    """Lay out so many copies of one piece. Raises DoesNotFit where the piece does not fit."""
    layout = layout or Layout()
    if layout.placed:
        return _as_placed(piece, quantity, material, destination.cutter, layout)
    if quantity > MOST_COPIES:
        raise DoesNotFit(f"{quantity} copies are too many for one sheet.", f"Lay out {MOST_COPIES} at a time.")

    def rows(marks: MarkPlan) -> Sheet:
        return _least_long(piece, quantity, material, destination.cutter, replace(layout, marks=marks))

    return unless_far(layout.marks, rows, lambda sheet: [sheet])


def _least_long(piece: Piece, quantity: int, material: Material, cutter: Cutter, layout: Layout) -> Sheet:
    """The shorter of the ways that are allowed. Raises DoesNotFit where none fits."""
    made: list[Sheet] = []
    why: DoesNotFit | None = None
    for turned in (False, True) if layout.turned is None else (layout.turned,):
        try:
            made.append(_in_rows(piece, quantity, material, cutter, layout, turned))
        except DoesNotFit as error:
            why = why or error
    if not made:
        assert why is not None
        raise why
    return min(made, key=lambda sheet: sheet.length_mm)


def _as_placed(piece: Piece, quantity: int, material: Material, cutter: Cutter, layout: Layout) -> Sheet:
    """Copies that were placed one by one. Raises DoesNotFit where they do not stand any more."""
    again = "Nest them again."
    if layout.placed_of != print_of(piece):
        raise DoesNotFit("The cut outline has changed since the copies were nested.", again)
    if len(layout.placed) != quantity:
        raise DoesNotFit(f"{len(layout.placed)} copies are nested, {quantity} are ordered.", again)
    _, shown = spacing(piece.bleed_mm, layout.gap_mm, quantity == 1, layout.marks, cutter)
    shows, clip = grow(piece.bounds, shown), shown_round(piece, shown)
    copies = [Placement(piece, matrix, shows, clip) for matrix in layout.placed]
    try:
        return sheet_of(copies, material, cutter, layout.marks, int(layout.code), layout.mirror)
    except DoesNotFit as why:
        raise DoesNotFit(f"The copies were nested for other marks or another material. {why.message}", again) from why


def _in_rows(
    piece: Piece, quantity: int, material: Material, cutter: Cutter, layout: Layout, turned: bool
) -> Sheet:
    x0, y0, x1, y1 = piece.bounds
    w = y1 - y0 if turned else x1 - x0
    gap, shown = spacing(piece.bleed_mm, layout.gap_mm, quantity == 1, layout.marks, cutter)
    inner = inner_box(material, cutter, layout.marks, shown, layout.code)
    room = inner[2] - inner[0]
    fitting = math.floor((room + gap + ROUNDING_MM) / (w + gap))
    if fitting < 1:
        raise too_wide(w, room, material)
    wanted = fitting if layout.columns is None else layout.columns
    if wanted > fitting:
        raise DoesNotFit(f"{wanted} columns do not fit on {material.title}.", f"Choose {fitting} or fewer.")
    columns = min(wanted, quantity)
    narrow = Room(columns * (w + gap) - gap, None, gap)
    packed = in_rows([piece.bounds], [((90.0 if turned else 0.0,),)], [quantity], narrow)
    left, shows = (material.width_mm - narrow.width_mm) / 2, grow(piece.bounds, shown)
    copies = [Placement(piece, (a, b, c, d, e + left, f + inner[1]), shows) for _, (a, b, c, d, e, f) in packed.copies]
    grid = Grid(columns, math.ceil(quantity / columns), gap, turned)
    return sheet_of(copies, material, cutter, layout.marks, int(layout.code), layout.mirror, grid)
