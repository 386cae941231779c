"""Lays copies out: packed, or as they were placed by hand or by nesting; and says where placed ones clash."""

import hashlib
from collections.abc import Sequence
from dataclasses import replace

import shapely
from shapely.affinity import affine_transform

from horismos.destinations import Destination
from horismos.errors import DoesNotFit
from horismos.materials import Material
from horismos.paths.box import Bounds, grow
from horismos.paths.matrix import Matrix
from horismos.sheet.assemble import dressed, sheet_of, unless_far
from horismos.sheet.filling import Filled, Item, fill_sheets, spacing_of
from horismos.sheet.layout import MOST_COPIES, Fill, Layout, Makes
from horismos.sheet.marks import MarkPlan
from horismos.sheet.nest import cut_outline, print_of, shown_round
from horismos.sheet.room import bound_of, inner_box
from horismos.sheet.sheet import Clash, Placement, Sheet

__all__ = ["clashes_of", "lay_out", "media_for", "nearness", "print_of_all", "room_of"]

AGAIN = "Lay them out again."
MEASURED_MM = 0.05
"""[ours] less than the gap that is no clash, and so many mm² in common that are none: outlines are flattened, and open
lines have a breadth."""


def media_for(material: Material, layout: Layout) -> Material:
    """The material at the size that is loaded."""
    return layout.media.of(material) if layout.media else material


def lay_out(items: Sequence[Item], material: Material, destination: Destination, layout: Layout) -> Filled:
    """Lay items out on what is loaded. Raises DoesNotFit where a piece fits nowhere, or placed copies do not stand."""
    on = media_for(material, layout)
    if layout.placed:
        def lay(marks: MarkPlan) -> Filled:
            placed = _as_placed(items, on, destination, replace(layout, marks=marks))
            return Filled(tuple(placed), (0,) * len(items))

        return unless_far(layout.marks, lay, lambda filled: filled.sheets)
    if layout.fill is not Fill.QUANTITY and bound_of(on, layout) is None:
        raise DoesNotFit("A roll has no end to be filled to.", "Say how long a sheet may be.")
    wanted = sum(item.quantity for item in items)
    if wanted > MOST_COPIES:
        raise DoesNotFit(f"{wanted} copies are too many at once.", f"Lay out {MOST_COPIES} at a time.")
    return fill_sheets(items, on, destination, layout)


def room_of(items: Sequence[Item], material: Material, destination: Destination, layout: Layout) -> Bounds:
    """Where cuts may lie on what is loaded, in mm; upwards without end on a roll whose length nobody bounds."""
    on, cutter = media_for(material, layout), destination.room
    _, shown = spacing_of(items, layout, cutter)
    return inner_box(replace(on, length_mm=bound_of(on, layout)), cutter, layout, shown)


def print_of_all(items: Sequence[Item]) -> str:
    """What tells the outlines of items from others: copies that were placed by them stand while they are the same."""
    prints = [print_of(item.piece) for item in items]
    return prints[0] if len(prints) == 1 else hashlib.sha256("".join(prints).encode()).hexdigest()[:16]


def _as_placed(items: Sequence[Item], material: Material, destination: Destination, layout: Layout) -> list[Sheet]:
    if layout.placed_of != print_of_all(items):
        raise DoesNotFit("A cut outline has changed since the copies were placed.", AGAIN)
    for i, item in enumerate(items):
        there = sum(copy.item == i for copy in layout.placed)
        if there != item.quantity and layout.fill is Fill.QUANTITY:
            raise DoesNotFit(f"{there} copies are placed, {item.quantity} are ordered.", AGAIN)
    if any(copy.item >= len(items) for copy in layout.placed):
        raise DoesNotFit("A copy is placed of what is not on the sheet any more.", AGAIN)
    cutter = destination.room
    gap, most = spacing_of(items, layout, cutter)
    shown = [min(item.piece.bleed_mm, most) for item in items]
    shows = [grow(item.piece.bounds, mm) for item, mm in zip(items, shown, strict=True)]
    clips = [
        () if layout.makes is Makes.CUT else shown_round(item.piece, mm) for item, mm in zip(items, shown, strict=True)
    ]
    out = []
    for number in sorted({copy.sheet for copy in layout.placed}):
        copies = [
            Placement(items[c.item].piece, c.matrix, shows[c.item], clips[c.item])
            for c in layout.placed if c.sheet == number
        ]
        try:
            sheet = dressed(sheet_of(copies, material, cutter, layout, number), layout, gap)
        except DoesNotFit as why:
            said = f"The copies were placed for other marks or another material. {why.message}"
            raise DoesNotFit(said, AGAIN) from why
        out.append(replace(sheet, clashes=tuple(clashes_of(copies, gap))))
    return out


def clashes_of(placements: Sequence[Placement], gap_mm: float) -> list[Clash]:
    """The pairs of copies whose cut outlines lie nearer than the gap, or in each other."""
    outlines = {id(p.piece): cut_outline(p.piece) for p in placements}
    shapes = [_moved(outlines[id(p.piece)], p.matrix) for p in placements]
    tree = shapely.STRtree(shapes)
    first, second = tree.query(shapes, predicate="dwithin", distance=max(gap_mm - MEASURED_MM, 0.0))
    out = []
    for a, b in zip(first.tolist(), second.tolist(), strict=True):
        if a < b:
            found = nearness(shapes[a], shapes[b], gap_mm)
            if found is not None:
                out.append(Clash(a, b, *found))
    return out


def nearness(one: shapely.Polygon, other: shapely.Polygon, gap_mm: float) -> tuple[float, bool] | None:
    """How far two outlines that are too near lie apart in mm, and whether they lie in each other; None where they may.

    Without a gap they may touch.
    """
    into = float(shapely.area(shapely.intersection(one, other))) > MEASURED_MM
    apart = float(shapely.distance(one, other))
    near = gap_mm > MEASURED_MM and apart <= gap_mm - MEASURED_MM
    return (round(apart, 3), into) if into or near else None


def _moved(shape: shapely.Polygon, matrix: Matrix) -> shapely.Polygon:
    a, b, c, d, e, f = matrix
    return affine_transform(shape, [a, c, b, d, e, f])
