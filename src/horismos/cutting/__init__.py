"""The cut: operations in order, tools, perforation, and HP-GL in and out."""

from horismos.cutting.hpgl import Drawn, read_hpgl, write_hpgl
from horismos.cutting.plan import CutPlan, Operation, plan_cut
from horismos.cutting.proof import MOST_OFF_MM, worst_distance
from horismos.cutting.tools import DEFAULT_TOOLS, Tool

__all__ = [
    "DEFAULT_TOOLS",
    "MOST_OFF_MM",
    "CutPlan",
    "Drawn",
    "Operation",
    "Tool",
    "plan_cut",
    "read_hpgl",
    "worst_distance",
    "write_hpgl",
]
