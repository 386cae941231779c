"""Stages of a print at the RIP and of a printed sheet, and what takes one to the next: the whole order in two tables.

    >>> sheet_after(SheetStage.PRINTED, SheetEvent.LOADED)
    <SheetStage.LOADED: 'loaded'>
"""

from collections.abc import Mapping
from enum import StrEnum
from types import MappingProxyType
from typing import TypeVar

from horismos.errors import NotReady

__all__ = [
    "OF_PRINTS", "OF_SHEETS", "PrintEvent", "PrintStage", "SheetEvent", "SheetStage", "print_after", "sheet_after",
]


class PrintStage(StrEnum):
    """Where a print stands in the queue of the RIP."""

    WAITING = "waiting"
    PRINTING = "printing"
    DONE = "done"
    REFUSED = "refused"
    FAILED = "failed"
    CANCELLED = "cancelled"

    @property
    def is_open(self) -> bool:
        """Whether something may still come of it without a person."""
        return self in (PrintStage.WAITING, PrintStage.PRINTING)


class PrintEvent(StrEnum):
    """What happens to a print."""

    STARTED = "started"
    REPORTED = "reported"
    REFUSED = "refused"
    FAILED = "failed"
    CANCELLED = "cancelled"
    AGAIN = "again"


class SheetStage(StrEnum):
    """How far a sheet has come on its way to the finished piece."""

    UNPRINTED = "unprinted"
    PRINTED = "printed"
    LAMINATED = "laminated"
    LOADED = "loaded"
    CUTTING = "cutting"
    STOPPED = "stopped"
    HALF_CUT = "half-cut"
    CUT = "cut"
    CANCELLED = "cancelled"

    @property
    def is_over(self) -> bool:
        """Whether nothing more is done to it."""
        return self in (SheetStage.CUT, SheetStage.CANCELLED)

    @property
    def on_cutter(self) -> bool:
        """Whether it lies in the cutter."""
        return self in (SheetStage.LOADED, SheetStage.CUTTING, SheetStage.STOPPED)


class SheetEvent(StrEnum):
    """What happens to a sheet."""

    PRINTED = "printed"
    LAMINATED = "laminated"
    LOADED = "loaded"
    TAKEN_OFF = "taken-off"
    BEGUN = "begun"
    STOPPED = "stopped"
    ENDED = "ended"
    CANCELLED = "cancelled"


_P, _PE, _S, _SE = PrintStage, PrintEvent, SheetStage, SheetEvent
Stage = TypeVar("Stage")
OF_PRINTS: Mapping[tuple[PrintStage, PrintEvent], PrintStage] = MappingProxyType({
    (_P.WAITING, _PE.STARTED): _P.PRINTING,
    (_P.WAITING, _PE.CANCELLED): _P.CANCELLED,
    (_P.PRINTING, _PE.REPORTED): _P.DONE,
    (_P.PRINTING, _PE.REFUSED): _P.REFUSED,
    (_P.PRINTING, _PE.FAILED): _P.FAILED,
    (_P.PRINTING, _PE.CANCELLED): _P.CANCELLED,
    (_P.REFUSED, _PE.AGAIN): _P.WAITING,
    (_P.FAILED, _PE.AGAIN): _P.WAITING,
    (_P.CANCELLED, _PE.AGAIN): _P.WAITING,
    (_P.DONE, _PE.AGAIN): _P.WAITING,
})
OF_SHEETS: Mapping[tuple[SheetStage, SheetEvent], SheetStage] = MappingProxyType({
    (_S.UNPRINTED, _SE.PRINTED): _S.PRINTED,
    (_S.UNPRINTED, _SE.CANCELLED): _S.CANCELLED,
    (_S.PRINTED, _SE.LAMINATED): _S.LAMINATED,
    (_S.PRINTED, _SE.LOADED): _S.LOADED,
    (_S.PRINTED, _SE.CANCELLED): _S.CANCELLED,
    (_S.LAMINATED, _SE.LOADED): _S.LOADED,
    (_S.LAMINATED, _SE.CANCELLED): _S.CANCELLED,
    (_S.LOADED, _SE.BEGUN): _S.CUTTING,
    (_S.LOADED, _SE.CANCELLED): _S.CANCELLED,
    (_S.CUTTING, _SE.STOPPED): _S.STOPPED,
    (_S.CUTTING, _SE.ENDED): _S.CUT,
    (_S.STOPPED, _SE.BEGUN): _S.CUTTING,
    (_S.STOPPED, _SE.LOADED): _S.STOPPED,
    (_S.STOPPED, _SE.TAKEN_OFF): _S.HALF_CUT,
    (_S.STOPPED, _SE.CANCELLED): _S.CANCELLED,
    (_S.HALF_CUT, _SE.LOADED): _S.STOPPED,
    (_S.HALF_CUT, _SE.CANCELLED): _S.CANCELLED,
})
"""Loaded is a sheet of which nothing is cut; one that was cut in part lies there as stopped, also when laid in anew.

A sheet that is taken off before anything of it was cut goes back to where it was before it was loaded: not here.
"""

STANDS: Mapping[StrEnum, str] = MappingProxyType({
    _P.WAITING: "it waits for the RIP", _P.PRINTING: "it is being printed", _P.DONE: "it is printed",
    _P.REFUSED: "the RIP has refused it", _P.FAILED: "its print has failed", _P.CANCELLED: "its print was cancelled",
    _S.UNPRINTED: "it is not printed yet", _S.PRINTED: "it is printed", _S.LAMINATED: "it is laminated",
    _S.LOADED: "it lies in the cutter", _S.CUTTING: "it is being cut", _S.STOPPED: "its cut has stopped",
    _S.HALF_CUT: "a part of it is cut", _S.CUT: "it is cut", _S.CANCELLED: "its cut was cancelled",
})
_WANTED: Mapping[StrEnum, str] = MappingProxyType({
    _PE.STARTED: "be printed", _PE.REPORTED: "be reported as printed", _PE.REFUSED: "be refused", _PE.FAILED: "fail",
    _PE.CANCELLED: "be cancelled", _PE.AGAIN: "be printed again",
    _SE.PRINTED: "be printed", _SE.LAMINATED: "be laminated", _SE.LOADED: "be loaded", _SE.TAKEN_OFF: "be taken off",
    _SE.BEGUN: "be cut", _SE.STOPPED: "be stopped", _SE.ENDED: "be finished", _SE.CANCELLED: "be cancelled",
})
_NEXT: Mapping[StrEnum, str] = MappingProxyType({
    _P.PRINTING: "Wait for the RIP, or cancel it.", _P.REFUSED: "Print it again.", _P.FAILED: "Print it again.",
    _P.CANCELLED: "Print it again.", _S.UNPRINTED: "Print it first.", _S.LOADED: "Cut it, or take it off.",
    _S.CUTTING: "Wait until it is cut, or stop it.", _S.STOPPED: "Go on with it, or take it off.",
    _S.PRINTED: "Load it first.", _S.LAMINATED: "Load it first.", _S.HALF_CUT: "Load it again.",
    _S.CANCELLED: "Print it again.", _S.CUT: "Order again what is missing.",
})


def print_after(stage: PrintStage, event: PrintEvent) -> PrintStage:
    """Where a print stands after an event. Raises NotReady, in words, where that cannot happen there."""
    return _after(OF_PRINTS.get((stage, event)), stage, event)


def sheet_after(stage: SheetStage, event: SheetEvent) -> SheetStage:
    """Where a sheet stands after an event. Raises NotReady, in words, where that cannot happen there."""
    return _after(OF_SHEETS.get((stage, event)), stage, event)


def _after(found: Stage | None, stage: StrEnum, event: StrEnum) -> Stage:
    if found is None:
        raise NotReady(f"It cannot {_WANTED[event]}: {STANDS[stage]}.", _NEXT.get(stage, ""))
    return found
