"""A second opinion on an SVG: resvg's picture of it."""

from collections.abc import Callable

import numpy as np

from horismos.rendering.composite import Pixels
from horismos.sandbox.aside import aside, seconds_for

__all__ = ["differing_share", "drawn_by_resvg"]

DPI = 96.0
"""[standard] CSS Values 3: a pixel is 1/96 inch."""
NEAR = 2
RIM = 3
"""Pixels at the rim of a picture are half outside it; what they show says nothing."""
TOLERANCE = 32
"""[ours] of 255: two renderers of one shape never agree on its rim to the bit."""


def drawn_by_resvg(svg: bytes, width: int, clear: bool = False) -> bytes:
    """A PNG of an SVG, so many pixels wide, on white or clear. Raises CannotRead, or LimitExceeded.

    The renderer cannot be stopped: it runs in a fork of this process.
    """
    import resvg_py

    def draw() -> bytes:
        return bytes(resvg_py.svg_to_bytes(
            svg_string=svg.decode("utf-8"), width=width, dpi=DPI, background=None if clear else "white"
        ))

    return aside(draw, seconds_for(len(svg)), "Drawing the SVG")


def differing_share(a: Pixels, b: Pixels) -> float:
    """The share of pixels, 0 to 1, that have no like within two pixels in the other picture.

    Both have the shape (height, width, 3). A rim that lies a pixel elsewhere is no difference.
    """
    unlike = np.zeros(a.shape[:2], dtype=bool)
    for one, other in ((a, b), (b, a)):
        low = _around(other, np.minimum).astype(np.int16) - TOLERANCE
        high = _around(other, np.maximum).astype(np.int16) + TOLERANCE
        unlike |= ((one < low) | (one > high)).any(axis=2)
    inner = unlike[RIM:-RIM, RIM:-RIM] if min(unlike.shape) > 8 * RIM else unlike
    return float(inner.mean())


def _around(pixels: Pixels, take: Callable[..., Pixels]) -> Pixels:
    """The least or greatest value within two pixels, along rows and then along columns."""
    out = pixels
    for axis in (0, 1):
        wide = np.pad(out, [(NEAR, NEAR) if i == axis else (0, 0) for i in range(3)], mode="edge")
        length = out.shape[axis]
        parts = [wide[i : i + length] if axis == 0 else wide[:, i : i + length] for i in range(2 * NEAR + 1)]
        out = parts[0].copy()
        for part in parts[1:]:
            take(out, part, out=out)
    return out
