"""Pixels: composites from PDFium, one plate per ink from Ghostscript."""

from horismos.rendering.composite import PageView, difference
from horismos.rendering.load import DEFAULT_LIMIT, InkLoad, heat, ink_load, total
from horismos.rendering.plates import Plate, blended, plates

__all__ = [
    "DEFAULT_LIMIT",
    "InkLoad",
    "PageView",
    "Plate",
    "blended",
    "difference",
    "heat",
    "ink_load",
    "plates",
    "total",
]
