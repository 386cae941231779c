"""The tools of a job: its own settings before the shop's, these before the shipped ones, with its lines' patterns."""

from collections.abc import Mapping
from dataclasses import replace

from horismos.cutting import CutSelection, Tool
from horismos.cutting.depth import tools_for
from horismos.making.note import note_on
from horismos.roles import LineRole
from horismos.sheet import Layout
from horismos.workflow.case import Case

__all__ = ["tools_of", "wanted_of"]


def wanted_of(layout: Layout) -> CutSelection:
    """What of a sheet is cut, when and how, as its layout says."""
    return CutSelection(layout.cut_order, layout.cut_only, layout.cut_copies, layout.aligning)


def tools_of(case: Case) -> Mapping[LineRole, Tool]:
    """The tool of every role as it is used for a job on its material.

    The patterns that lines were made with go before the shop's; what a person has set for the job before all.
    """
    out = {**tools_for(case.media), **case.shop_tools}
    for name, pattern in note_on(case.page).patterns.items():
        role = LineRole(name)
        out[role] = replace(
            out[role], cut_mm=float(pattern["cut_mm"]), tie_mm=float(pattern["tie_mm"]),
            least_ties=int(pattern["least_ties"]),
        )
    return {**out, **case.tools}
