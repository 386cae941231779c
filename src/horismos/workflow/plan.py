"""Lays a job out on its material and plans the cut."""

from dataclasses import dataclass

from horismos.cutting import CutPlan, plan_cut
from horismos.sheet import Sheet, lay_out, piece_of
from horismos.workflow.case import Case

__all__ = ["Planned", "plan"]


@dataclass(frozen=True, eq=False)
class Planned:
    """A sheet and how it is cut."""

    sheet: Sheet
    cut: CutPlan


def plan(case: Case) -> Planned:
    """Lay the ordered copies out and plan their cut. Raises DoesNotFit where they do not fit."""
    piece = piece_of(case.artwork, case.page, case.order, case.destination, case.terms.edge.bleed, case.facts.name)
    sheet = lay_out(piece, case.order.quantity, case.media, case.destination, case.layout)
    return Planned(sheet, plan_cut(sheet, case.tools))
