"""The cut: operations in order, tools, blades, perforation, time, and the proof of what was written."""

from horismos.cutting.operations import Operation
from horismos.cutting.plan import CutPlan, CutSelection, plan_cut
from horismos.cutting.proof import MOST_OFF_MM, worst_distance
from horismos.cutting.strokes import Stroke
from horismos.cutting.tools import DEFAULT_TOOLS, Blade, Tool, tools_from_json

__all__ = [
    "DEFAULT_TOOLS",
    "MOST_OFF_MM",
    "Blade",
    "CutPlan",
    "CutSelection",
    "Operation",
    "Stroke",
    "Tool",
    "plan_cut",
    "tools_from_json",
    "worst_distance",
]
