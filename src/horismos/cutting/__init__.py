"""The cut: operations in order, tools, perforation, and the proof of what was written."""

from horismos.cutting.plan import CutPlan, Operation, plan_cut
from horismos.cutting.proof import MOST_OFF_MM, worst_distance
from horismos.cutting.tools import DEFAULT_TOOLS, Tool

__all__ = ["DEFAULT_TOOLS", "MOST_OFF_MM", "CutPlan", "Operation", "Tool", "plan_cut", "worst_distance"]
