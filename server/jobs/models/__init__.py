"""What the server keeps. Measured things are kept as the core's own JSON."""

from jobs.models.analysis import Analysis
from jobs.models.job import Customer, Decision, Fault, Job, JobState, Order, Revision, ToolSetting
from jobs.models.letter import Letter, LetterAnswer, LetterKind
from jobs.models.log import LogEntry, LogTopic
from jobs.models.release import Loading, PointerOffset, Release, RipState, Sheet, StackPackage
from jobs.models.shared import Share, SharedSheet
from jobs.models.shelf import Media, ShelfItem, ShelfVersion, Shop
from jobs.models.work import Weight, Work, WorkKind, WorkState
from jobs.models.workers import StepTime, Worker

__all__ = [
    "Analysis", "Customer", "Decision", "Fault", "Job", "JobState", "Letter", "LetterAnswer", "LetterKind", "Loading",
    "LogEntry", "LogTopic", "Media", "Order", "PointerOffset", "Release", "Revision", "RipState", "Share",
    "SharedSheet", "Sheet", "ShelfItem", "ShelfVersion", "Shop", "StackPackage", "StepTime", "ToolSetting", "Weight",
    "Work", "WorkKind", "WorkState", "Worker",
]
