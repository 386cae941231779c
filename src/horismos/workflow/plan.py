"""Lays a job out on its material, or several on the same sheets, and plans the cut."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from horismos.cutting import CutPlan, plan_cut
from horismos.destinations import Destination
from horismos.errors import BadValue
from horismos.materials import Material
from horismos.orders import Seen
from horismos.paths.box import Bounds
from horismos.sheet import Item, Layout, Sheet, Turn, lay_out, piece_of
from horismos.sheet.assemble import marks_for
from horismos.sheet.inks import said_of_order
from horismos.sheet.misplacement import Misplacement, advice, misplacement_on
from horismos.sheet.placing import print_of_all, room_of
from horismos.workflow.case import Case
from horismos.workflow.tools import tools_of, wanted_of

__all__ = ["Planned", "PlannedSheet", "SheetJob", "item_of_case", "plan", "plan_together", "seen_from"]


@dataclass(frozen=True, eq=False)
class SheetJob:
    """What a job has on sheets that it shares with others: so many copies, which may be turned so."""

    case: Case
    quantity: int
    turn: Turn = Turn.QUARTER


@dataclass(frozen=True, eq=False)
class PlannedSheet:
    """One sheet and how it is cut; how far off it is expected to be cut, and how far off its edges stand, in mm.

    ``number`` counts from 1, of ``count`` sheets in all. ``strictest`` is the job whose edge stands least.
    """

    sheet: Sheet
    cut: CutPlan
    expected: Misplacement | None
    tolerance_mm: float
    strictest: str
    number: int = 1
    count: int = 1
    said: tuple[str, ...] = ()

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the sheet and its marks."""
        return (*self.sheet.notes, *self.said, *advice(self.sheet, self.expected, self.tolerance_mm, self.strictest))


@dataclass(frozen=True, eq=False)
class Planned:
    """The sheets of a job, or of several, in their order.

    ``items`` are what lies on them; ``left`` how many copies of each are on none; ``room`` is where cuts may lie on a
    sheet. ``placed_of`` tells the outlines that copies are placed by. ``rows_mm`` is what nested copies would take in
    rows and columns.
    """

    sheets: tuple[PlannedSheet, ...]
    items: tuple[Item, ...]
    left: tuple[int, ...]
    room: Bounds
    placed_of: str
    rows_mm: float | None = None

    @property
    def sheet(self) -> Sheet:
        """The first sheet."""
        return self.sheets[0].sheet

    @property
    def cut(self) -> CutPlan:
        """How the first sheet is cut."""
        return self.sheets[0].cut

    @property
    def expected(self) -> Misplacement | None:
        """How far off the first sheet is expected to be cut."""
        return self.sheets[0].expected

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the first sheet."""
        return self.sheets[0].notes


def plan(case: Case) -> Planned:
    """Lay the ordered copies out and plan their cut. Raises DoesNotFit where they do not fit."""
    return plan_together([SheetJob(case, case.order.quantity)], case.media, case.destination, case.layout)


def plan_together(
    shares: Sequence[SheetJob], material: Material, destination: Destination, layout: Layout
) -> Planned:
    """Lay several jobs out on the same sheets. Raises DoesNotFit; BadValue for none, or one of another destination."""
    if not shares:
        raise BadValue("There is no job on the sheet.", "Put one on it.")
    items = tuple(item_of_case(share, destination, layout.makes.prints) for share in shares)
    layout = seen_from([share.case for share in shares], layout)
    filled = lay_out(items, material, destination, layout)
    tools = {
        id(item.piece): tools_of(replace(share.case, material=material))
        for item, share in zip(items, shares, strict=True)
    }
    wanted = wanted_of(layout)
    sheets = []
    for number, sheet in enumerate(filled.sheets, 1):
        on = {id(piece) for piece in sheet.pieces}
        strict = min((item for item in items if id(item.piece) in on), key=lambda item: item.tolerance_mm)
        sheets.append(PlannedSheet(
            sheet, plan_cut(sheet, lambda piece: tools[id(piece)], wanted), misplacement_on(sheet), strict.tolerance_mm,
            strict.piece.job, number, len(filled.sheets), _said(shares, sheet, destination),
        ))
    standing = replace(layout, marks=marks_for(layout.marks, filled.sheets))
    room = room_of(items, material, destination, standing)
    return Planned(tuple(sheets), items, filled.left, room, print_of_all(items), layout.rows_mm)


def seen_from(cases: Sequence[Case], layout: Layout) -> Layout:
    """A layout that says which way round it is printed: where nobody did, mirrored when all are seen through."""
    if layout.mirror is not None:
        return layout
    return replace(layout, mirror=all(case.order.seen is Seen.THROUGH for case in cases))


def item_of_case(share: SheetJob, destination: Destination, prints: bool = True) -> Item:
    """What lies on a sheet of a job, without bleed where nothing ``prints``. Raises BadValue where it goes elsewhere.
    """
    case = share.case
    if case.destination.id != destination.id:
        raise BadValue(f"“{case.facts.name}” goes to {case.destination.title}.", "Take it off the sheet.")
    edge = case.terms.edge
    piece = piece_of(case.artwork, case.page, case.order, destination, edge.bleed if prints else 0.0, case.facts.name)
    return Item(piece, share.quantity, share.turn, edge.tolerance)


def _said(shares: Sequence[SheetJob], sheet: Sheet, destination: Destination) -> tuple[str, ...]:
    """What else is to be said of a sheet: which way round it is printed, and the order of its inks."""
    out = []
    if sheet.makes.prints:
        for share in shares:
            through = share.case.order.seen is Seen.THROUGH
            if through != sheet.mirrored:
                way = "through clear media, and printed as it is seen" if through else "from the front, and mirrored"
                out.append(f"“{share.case.facts.name}” is looked at {way}.")
        inks = [ink for piece in sheet.pieces for ink in piece.page.ink_names]
        out.append(said_of_order(sheet.inks, sheet.mirrored, inks, destination))
    return tuple(filter(None, out))
