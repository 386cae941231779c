"""A second opinion on an SVG: resvg's picture of it, from a child process under limits."""

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image, ImageFilter

from horismos.confined.programs import run_limited
from horismos.rendering.composite import Pixels

__all__ = ["differing_share", "drawn_by_resvg"]

DPI = 96.0
"""[standard] CSS Values 3: a pixel is 1/96 inch."""
TIME_S = 60.0
NEAR_PIXELS = 5
RIM = 3
"""Pixels at the rim of a picture are half outside it; what they show says nothing."""
TOLERANCE = 32
"""[ours] of 255: two renderers of one shape never agree on its rim to the bit."""


DRAW = """
import sys, resvg_py
width, dpi, ground = int(sys.argv[1]), float(sys.argv[2]), sys.argv[3] or None
svg = open("in.svg", encoding="utf-8").read()
open("out.png", "wb").write(bytes(resvg_py.svg_to_bytes(svg_string=svg, width=width, dpi=dpi, background=ground)))
"""
"""What the child runs: nothing but the renderer is loaded there."""


def drawn_by_resvg(
    svg: bytes, width: int, clear: bool = False, cancelled: Callable[[], bool] = lambda: False
) -> bytes:
    """A PNG of an SVG, so many pixels wide, on white or clear. Raises as run_limited."""
    with tempfile.TemporaryDirectory() as folder:
        here = Path(folder)
        (here / "in.svg").write_bytes(svg)
        command = [sys.executable, "-c", DRAW, str(width), str(DPI), "" if clear else "white"]
        run_limited(command, here, TIME_S, cancelled)
        return (here / "out.png").read_bytes()


def differing_share(a: Pixels, b: Pixels) -> float:
    """The share of pixels, 0 to 1, that have no like within two pixels in the other picture.

    Both have the shape (height, width, 3). A rim that lies a pixel elsewhere is no difference.
    """
    unlike = np.zeros(a.shape[:2], dtype=bool)
    for one, other in ((a, b), (b, a)):
        image = Image.fromarray(other)
        low = np.asarray(image.filter(ImageFilter.MinFilter(NEAR_PIXELS))).astype(int) - TOLERANCE
        high = np.asarray(image.filter(ImageFilter.MaxFilter(NEAR_PIXELS))).astype(int) + TOLERANCE
        unlike |= ((one < low) | (one > high)).any(axis=2)
    inner = unlike[RIM:-RIM, RIM:-RIM] if min(unlike.shape) > 8 * RIM else unlike
    return float(inner.mean())
