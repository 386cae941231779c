"""Copies in rows and columns on the media, with gaps, marks, margins, leader and trailer.

Sheet coordinates: mm from the left edge of the media (x) and from its leading edge (y).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from horismos.artwork.lines import Line
from horismos.artwork.model import Page
from horismos.destinations import Destination
from horismos.errors import BadValue, DoesNotFit
from horismos.materials import Material
from horismos.orders import Order
from horismos.paths import bounds, chain, enclosing_counts, signed_area, union_bounds
from horismos.paths.box import Bounds
from horismos.paths.matrix import Matrix
from horismos.sheet.marks import Mark, corner_marks

__all__ = ["Layout", "Piece", "Sheet", "lay_out", "piece_of"]

MOST_COPIES = 20_000


@dataclass(frozen=True)
class Layout:
    """How the copies are to lie. ``columns`` None: as many as fit; ``turned`` None: whichever
    way wastes less. ``gap_mm`` None: twice the bleed, so that every copy keeps its own.
    """

    columns: int | None = None
    gap_mm: float | None = None
    turned: bool | None = None


@dataclass(frozen=True)
class Piece:
    """What is repeated: the bounds of its cuts (or trim), the area inside, the art it may show."""

    bounds: Bounds
    area_mm2: float
    bleed_mm: float


@dataclass(frozen=True)
class Sheet:
    """A laid-out sheet. ``placements`` map the artwork's mm to the sheet's, copy by copy.

    ``clip`` is the part of the artwork, in its own mm, that each copy shows. ``frame`` runs
    through the corners of the marks.
    """

    material: Material
    piece: Piece
    columns: int
    rows: int
    gap_mm: float
    turned: bool
    placements: tuple[Matrix, ...]
    clip: Bounds
    frame: Bounds
    marks: tuple[Mark, ...]
    side_margin_mm: float
    leader_mm: float
    trailer_mm: float
    length_mm: float

    @property
    def used_area_mm2(self) -> float:
        """The media that the sheet takes off the roll."""
        return self.material.width_mm * self.length_mm

    @property
    def waste(self) -> float:
        """The share of that media that is in no finished piece, 0 to 1."""
        return 1 - len(self.placements) * self.piece.area_mm2 / self.used_area_mm2

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the sheet."""
        out = []
        if self.gap_mm < 2 * self.piece.bleed_mm and len(self.placements) > 1:
            out.append(
                f"The gap of {self.gap_mm:g} mm leaves each copy {self.gap_mm / 2:g} mm of "
                f"bleed; {self.piece.bleed_mm:g} mm is wanted."
            )
        return tuple(out)


def piece_of(page: Page, lines: Sequence[Line], order: Order, bleed_mm: float) -> Piece:
    """The piece that a page makes: bounded by its lines, or by the trim box without any; with its bleed."""
    contours = [joined.contour for joined in chain([c for line in lines for c in line.contours])]
    box = union_bounds(bounds(contour) for contour in contours)
    bleed = 0.0 if order.edge == "border" else bleed_mm
    if box is None:
        w, h = page.size_mm
        return Piece(page.boxes.trim, w * h, bleed)
    depths = enclosing_counts(contours)
    loops = [c for c, depth in zip(contours, depths, strict=True) if c.loops and not depth]
    area = sum(abs(signed_area(c)) for c in loops) or (box[2] - box[0]) * (box[3] - box[1])
    # Two roles on one path count once.
    return Piece(box, min(area, (box[2] - box[0]) * (box[3] - box[1])), bleed)


def lay_out(
    piece: Piece, order: Order, material: Material, destination: Destination,
    layout: Layout | None = None,
) -> Sheet:
    """Lay out the ordered quantity. Raises DoesNotFit where the piece does not fit."""
    layout = layout or Layout()
    if order.quantity > MOST_COPIES:
        raise DoesNotFit(
            f"{order.quantity} copies are too many for one sheet.", f"Lay out {MOST_COPIES} at a time."
        )
    ways = (False, True) if layout.turned is None else (layout.turned,)
    made, why = [], ""
    for turned in ways:
        try:
            made.append(_laid(piece, order, material, destination, layout, turned))
        except DoesNotFit as error:
            why = why or str(error)
    if not made:
        raise DoesNotFit(why)
    return min(made, key=lambda sheet: sheet.length_mm)


def _laid(
    piece: Piece, order: Order, material: Material, destination: Destination, layout: Layout,
    turned: bool,
) -> Sheet:
    x0, y0, x1, y1 = piece.bounds
    w, h = (y1 - y0, x1 - x0) if turned else (x1 - x0, y1 - y0)
    gap = layout.gap_mm if layout.gap_mm is not None else 2 * piece.bleed_mm
    if gap < 0:
        raise BadValue(f"The gap is {gap:g} mm.", "Give 0 mm or more.")
    away = max(destination.cutter.marks.distance_mm, piece.bleed_mm + destination.cutter.marks.weight_mm)
    room = material.width_mm - 2 * destination.cutter.side_margin_mm - 2 * away
    fitting = math.floor((room + gap + 1e-6) / (w + gap))
    if fitting < 1:
        raise DoesNotFit(
            f"A piece {w:.1f} mm wide does not fit on {material.title}: {max(room, 0):.1f} mm is "
            "left between the marks.",
            "Choose a wider material, or turn the piece.",
        )
    wanted = layout.columns or fitting
    if wanted > fitting:
        raise DoesNotFit(
            f"{wanted} columns do not fit on {material.title}.", f"Choose {fitting} or fewer."
        )
    columns = min(wanted, order.quantity)
    rows = math.ceil(order.quantity / columns)
    block_w, block_h = columns * (w + gap) - gap, rows * (h + gap) - gap
    left = (material.width_mm - block_w) / 2
    bottom = destination.cutter.leader_mm + away
    length = bottom + block_h + away + destination.cutter.trailer_mm
    if material.length_mm is not None and length > material.length_mm:
        raise DoesNotFit(
            f"The copies need {length:.0f} mm of a sheet of {material.length_mm:.0f} mm.",
            "Order fewer copies a sheet, or choose a roll.",
        )
    placements = []
    for i in range(order.quantity):
        row, column = divmod(i, columns)
        x, y = left + column * (w + gap), bottom + row * (h + gap)
        # Turned: a quarter to the left, (x, y) to (-y, x).
        placements.append(
            (0.0, 1.0, -1.0, 0.0, x + y1, y - x0) if turned else (1.0, 0.0, 0.0, 1.0, x - x0, y - y0)
        )
    shows = min(piece.bleed_mm, gap / 2) if order.quantity > 1 else piece.bleed_mm
    frame = (left - away, bottom - away, left + block_w + away, bottom + block_h + away)
    return Sheet(
        material, piece, columns, rows, gap, turned, tuple(placements),
        (x0 - shows, y0 - shows, x1 + shows, y1 + shows), frame,
        corner_marks(frame, destination.cutter.marks.arm_mm, destination.cutter.marks.weight_mm),
        destination.cutter.side_margin_mm, destination.cutter.leader_mm, destination.cutter.trailer_mm, length,
    )
