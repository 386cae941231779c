"""The sheet: copies on the media, marks for the cutter's sensor, room for the machine."""

from horismos.materials import MATERIALS, Material, Stratum
from horismos.sheet.layout import Layout, Piece, Sheet, lay_out, piece_of
from horismos.sheet.marks import Mark

__all__ = ["MATERIALS", "Layout", "Mark", "Material", "Piece", "Sheet", "Stratum", "lay_out", "piece_of"]
