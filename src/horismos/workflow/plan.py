"""Lays a job out on its material and plans the cut."""

from dataclasses import dataclass, replace

from horismos.cutting import DEFAULT_TOOLS, CutPlan, Tool, plan_cut
from horismos.making.note import note_on
from horismos.roles import LineRole
from horismos.sheet import Sheet, lay_out, piece_of
from horismos.sheet.misplacement import Misplacement, advice, misplacement_on
from horismos.workflow.case import Case

__all__ = ["Planned", "plan"]


@dataclass(frozen=True, eq=False)
class Planned:
    """A sheet and how it is cut; how far off it is expected to be cut, and how far off its edge stands, in mm.

    ``rows_mm`` is what nested copies would take in rows and columns.
    """

    sheet: Sheet
    cut: CutPlan
    expected: Misplacement | None
    tolerance_mm: float
    rows_mm: float | None = None

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the sheet and its marks."""
        name = self.sheet.pieces[0].job
        return (*self.sheet.notes, *advice(self.sheet, self.expected, self.tolerance_mm, name))


def plan(case: Case) -> Planned:
    """Lay the ordered copies out and plan their cut. Raises DoesNotFit where they do not fit."""
    piece = piece_of(case.artwork, case.page, case.order, case.destination, case.terms.edge.bleed, case.facts.name)
    sheet = lay_out(piece, case.order.quantity, case.media, case.destination, case.layout)
    cut = plan_cut(sheet, {**_noted(case), **case.tools})
    return Planned(sheet, cut, misplacement_on(sheet), case.terms.edge.tolerance, case.layout.rows_mm)


def _noted(case: Case) -> dict[LineRole, Tool]:
    """The shipped tools with the patterns that lines were made with; what a person has set for the job goes before."""
    out = {}
    for name, pattern in note_on(case.page).patterns.items():
        role = LineRole(name)
        out[role] = replace(
            DEFAULT_TOOLS[role], cut_mm=float(pattern["cut_mm"]), tie_mm=float(pattern["tie_mm"]),
            least_ties=int(pattern["least_ties"]),
        )
    return out
