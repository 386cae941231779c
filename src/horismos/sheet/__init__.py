"""The sheet: copies on the media, marks for the cutter's sensor, room for the machine."""

from horismos.sheet.layout import Layout, Piece, Sheet, lay_out, piece_of
from horismos.sheet.marks import Mark
from horismos.sheet.material import MATERIALS, Material, Stratum

__all__ = ["MATERIALS", "Layout", "Mark", "Material", "Piece", "Sheet", "Stratum", "lay_out", "piece_of"]
