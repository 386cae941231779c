"""How much two pages look alike as a whole: enough to ask whether one is a corrected file of the other."""

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from horismos.artwork.model import Artwork
from horismos.rendering.composite import PageView
from horismos.units import MM_PER_INCH

__all__ = ["likeness"]

SIDE = 64
"""[ours] pixels a side: what a person sees from across the room."""
PIXELS = 250_000
SIZE_APART = 0.05
"""[ours] pages whose sides differ by more are other pieces."""


def likeness(one: Artwork, other: Artwork, page: int = 1) -> float:
    """From 0 (nothing in common, or another size) to 1 (the same to the eye), lines included."""
    sides = [of.pages[page - 1].size_mm for of in (one, other) if len(of.pages) >= page]
    if len(sides) < 2 or any(abs(a - b) > SIZE_APART * max(a, b) for a, b in zip(*sides, strict=True)):
        return 0.0
    small, of_other = _small(one, page), _small(other, page)
    apart = float(np.abs(small - of_other).mean())
    spread = float(np.abs(small - small.mean()).mean() + np.abs(of_other - of_other.mean()).mean()) / 2
    return 1.0 if apart < 1e-4 else max(0.0, 1.0 - apart / max(spread, 1e-4))


def _small(artwork: Artwork, page: int) -> NDArray[np.float64]:
    found = artwork.pages[page - 1]
    with PageView(artwork.data, found.boxes, found.user_unit, page) as view:
        trim = found.boxes.trim
        area_in = (trim[2] - trim[0]) * (trim[3] - trim[1]) / MM_PER_INCH**2
        drawn = view.render(trim, min(150.0, (PIXELS / area_in) ** 0.5))
    grey = Image.fromarray(drawn).resize((SIDE, SIDE), Image.Resampling.BOX)
    return np.asarray(grey, float) / 255
