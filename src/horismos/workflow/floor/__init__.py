"""The floor between release and the finished piece: what may follow what, for a print and for each sheet of it.

Queues and screens ask these tables, and know no order of their own.
"""

from horismos.workflow.floor.sheet import PrintedSheet, Wait
from horismos.workflow.floor.stages import PrintEvent, PrintStage, SheetEvent, SheetStage, print_after, sheet_after

__all__ = [
    "PrintEvent", "PrintStage", "PrintedSheet", "SheetEvent", "SheetStage", "Wait", "print_after", "sheet_after",
]
