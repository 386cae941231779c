"""Pixels: composites from PDFium, one plate per ink from Ghostscript."""

from horismos.rendering.composite import PageView, difference
from horismos.rendering.plates import Plate, plates

__all__ = ["PageView", "Plate", "difference", "plates"]
