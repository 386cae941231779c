"""What the server keeps. Measured things are kept as the core's own JSON."""

from jobs.models.analysis import Analysis
from jobs.models.job import Customer, Decision, Job, JobState, Order, Revision, ToolSetting
from jobs.models.release import Loading, PointerOffset, Release, RipState, StackPackage
from jobs.models.shared import LogEntry, Share, SharedSheet
from jobs.models.shelf import CheckSheet, CheckSheetVersion, Recipe, RecipeVersion
from jobs.models.shop import Destination, Machine, MachineKind, Material, Media, PerforationPattern, ShopTool
from jobs.models.work import Work, WorkKind, WorkState

__all__ = [
    "Analysis", "CheckSheet", "CheckSheetVersion", "Customer", "Decision", "Destination", "Job", "JobState",
    "Loading", "LogEntry", "Machine", "MachineKind", "Material", "Media", "Order", "PerforationPattern",
    "PointerOffset", "Recipe", "RecipeVersion", "Release", "Revision", "RipState", "Share", "SharedSheet",
    "ShopTool", "StackPackage", "ToolSetting", "Work", "WorkKind", "WorkState",
]
