"""The cut: operations in order, tools, perforation, and HP-GL and DXF."""

from horismos.cutting.dxf import Drawing, read_dxf
from horismos.cutting.hpgl import write_hpgl
from horismos.cutting.plan import CutPlan, Operation, plan_cut
from horismos.cutting.plot import Drawn, read_hpgl
from horismos.cutting.proof import MOST_OFF_MM, worst_distance
from horismos.cutting.tools import DEFAULT_TOOLS, Tool

__all__ = [
    "DEFAULT_TOOLS",
    "MOST_OFF_MM",
    "CutPlan",
    "Drawing",
    "Drawn",
    "Operation",
    "Tool",
    "plan_cut",
    "read_dxf",
    "read_hpgl",
    "worst_distance",
    "write_hpgl",
]
