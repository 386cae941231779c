"""The camera over the cutter: it sees the sheet as it lies, and nothing of the ticket.

A picture is sharp to a twentieth of a millimetre, blurred a little, noisy, and mirrored by gloss.
"""

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.random import Generator
from numpy.typing import NDArray

from horismos.paths.contour import Floats
from horismos.simulation.loading import Load
from horismos.simulation.printer import Back, Print

__all__ = ["Camera", "Picture"]

PER_MM = 20.0
GLARE = 0.85
"""[ours] how much of what it sees is the lamp's mirror image where the laminate is glossy."""


@dataclass(frozen=True, eq=False)
class Picture:
    """What the camera sees: ``bright`` 0 to 255, rows from the top, round a place before the cutter in mm."""

    bright: NDArray[np.float32]
    at: tuple[float, float]
    per_mm: float = PER_MM

    def place_of(self, column: float, row: float) -> tuple[float, float]:
        """Where a pixel's middle lies before the cutter, in mm."""
        high, wide = self.bright.shape
        return (
            self.at[0] + (column + 0.5 - wide / 2) / self.per_mm, self.at[1] - (row + 0.5 - high / 2) / self.per_mm,
        )

    def pixel_of(self, x: float, y: float) -> tuple[float, float]:
        """The column and row of a place before the cutter."""
        high, wide = self.bright.shape
        return (x - self.at[0]) * self.per_mm + wide / 2 - 0.5, (self.at[1] - y) * self.per_mm + high / 2 - 0.5


@dataclass(frozen=True, eq=False)
class Camera:
    """A camera over a sheet that was loaded; ``noise`` in steps of brightness, ``blur_mm`` a standard deviation."""

    sheet: Print | Back
    load: Load
    noise: float = 2.0
    blur_mm: float = 0.03
    glare: float = GLARE

    def looks(self, at: tuple[float, float], side_mm: float, random: Generator) -> Picture:
        """What it sees of a square round a place before the cutter, in mm."""
        count = round(side_mm * PER_MM)
        half = side_mm / 2
        corners = np.array([[at[0] + x * half, at[1] + y * half] for y in (1, -1) for x in (-1, 1)])
        # over a few centimetres the load is as good as bilinear between the corners
        a, b, c, d = self._on_print(corners)
        share = (np.arange(count) + 0.5) / count
        u, v = share[None, :, None], share[:, None, None]
        places = (1 - v) * ((1 - u) * a + u * b) + v * ((1 - u) * c + u * d)
        seen = self.sheet.at(places)
        wide, long = self.sheet.size_mm
        xs, ys = places[..., 0], places[..., 1]
        beside = (xs < 0) | (ys < 0) | (xs > wide) | (ys > long)
        seen = np.where(beside, np.float32(90.0), seen)
        pixels = scipy.ndimage.gaussian_filter(seen, self.blur_mm * PER_MM)
        if self.sheet.glossy:
            pixels = pixels * (1 - self.glare) + self.glare * 250
        noisy = pixels + random.normal(size=pixels.shape) * self.noise
        return Picture(np.clip(noisy, 0, 255).astype(np.float32), at)

    def _on_print(self, places: Floats) -> Floats:
        """Where on the sheet as it was meant places before the cutter lie: the load turned round, step by step."""
        origin, axes = self.load.origin_and_axes
        back = np.linalg.inv(axes)
        out = (places - origin) @ back
        for _ in range(3):
            out = out + (places - self.load.landed(out)) @ back
        return np.asarray(out)
