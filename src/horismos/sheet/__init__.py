"""The sheet: copies of one or more jobs' pieces on the media, marks for the cutter's sensor, room for the machine."""

from horismos.sheet.assemble import sheet_of
from horismos.sheet.code import Code
from horismos.sheet.filling import Filled, Item
from horismos.sheet.layout import Layout, Makes, Placed
from horismos.sheet.marks import Mark, MarkKind, MarkPlan, MarksRound
from horismos.sheet.pieces import Piece, piece_of
from horismos.sheet.placing import lay_out
from horismos.sheet.sheet import Grid, Placement, Sheet
from horismos.sheet.turning import Turn

__all__ = [
    "Code", "Filled", "Grid", "Item", "Layout", "Makes", "Mark", "MarkKind", "MarkPlan", "MarksRound", "Piece",
    "Placed", "Placement", "Sheet", "Turn", "lay_out", "piece_of", "sheet_of",
]
