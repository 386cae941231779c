"""The sheet: copies of one or more jobs' pieces on the media, marks for the cutter's sensor, room for the machine."""

from horismos.sheet.layout import Grid, Layout, Placement, Sheet, lay_out, sheet_of
from horismos.sheet.marks import Mark
from horismos.sheet.pieces import Piece, piece_of

__all__ = ["Grid", "Layout", "Mark", "Piece", "Placement", "Sheet", "lay_out", "piece_of", "sheet_of"]
