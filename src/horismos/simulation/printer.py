"""The simulated printer: a picture of the sheet as it comes out, at its resolution.

The picture is what the camera of the cutter looks at; nobody else needs it. Line inks are not printed.
"""

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from horismos.artwork import Page, line_objects, read_bytes
from horismos.artwork.parting import art_alone
from horismos.destinations import Destination
from horismos.materials import Ground, Material
from horismos.paths.box import Bounds
from horismos.paths.contour import Floats
from horismos.rendering.composite import PageView
from horismos.units import MM_PER_INCH

__all__ = ["SLIT_MM", "Back", "Print", "printed"]

GROUNDS = {Ground.WHITE: 245, Ground.CLEAR: 225, Ground.DARK: 45, Ground.PATTERNED: 190}
"""[ours] how bright the bare media is to a camera, 0 to 255."""
PPI = 600.0
LINER, SHADE = 235, 30
SLIT_MM = 0.3
"""[ours] how bright a liner is and a slit in it, and how wide a slit gapes where it was cut right through."""


@dataclass(frozen=True, eq=False)
class Print:
    """A printed sheet: its art, drawn part by part when it is looked at.

    ``ground`` is how bright the bare media is. How much longer it came out along the feed is a matter of how it lies.
    """

    art: bytes
    page: Page
    ground: int
    patterned: bool
    glossy: bool
    ppi: float = PPI

    @property
    def size_mm(self) -> tuple[float, float]:
        """The sheet as it was meant."""
        return self.page.size_mm

    def part(self, box: Bounds) -> NDArray[np.float32]:
        """How bright a part of the sheet as it was meant is, in mm, 0 to 255, rows from the top."""
        with PageView.of_art(self.art, self.page) as view:
            drawn = view.render(box, self.ppi).astype(np.float32)
        bright = drawn @ np.array([0.3, 0.59, 0.11], np.float32)
        media: NDArray[np.float32] = bright * (self.ground / 255)
        if self.patterned:
            media = media * (0.75 + 0.25 * _pattern(box, media.shape, self.ppi))
        return media

    def at(self, places: Floats) -> NDArray[np.float32]:
        """How bright the sheet is at places as they were meant, shape (..., 2) in mm."""
        flat = places.reshape(-1, 2)
        margin = 2 * MM_PER_INCH / self.ppi
        xs, ys = flat[:, 0], flat[:, 1]
        box = (xs.min() - margin, ys.min() - margin, xs.max() + margin, ys.max() + margin)
        drawn = self.part((float(box[0]), float(box[1]), float(box[2]), float(box[3])))
        k = self.ppi / MM_PER_INCH
        rows, columns = (box[3] - flat[:, 1]) * k - 0.5, (flat[:, 0] - box[0]) * k - 0.5
        found: NDArray[np.float32] = scipy.ndimage.map_coordinates(drawn, [rows, columns], order=1, mode="nearest")
        return found.reshape(places.shape[:-1])


@dataclass(frozen=True, eq=False)
class Back:
    """A sheet face down: a bare liner, and the slits of what was cut right through it as they truly lie.

    ``corners`` are those of the aligning figure, shape (n, 2), with the ways in which their sides go, and how long
    those are, in mm, all on the sheet as it lies turned over.
    """

    size_mm: tuple[float, float]
    corners: Floats
    ways: Floats
    sides: Floats
    glossy: bool = False

    def at(self, places: Floats) -> NDArray[np.float32]:
        """How bright the back is at places, shape (..., 2) in mm."""
        bright = np.full(places.shape[:-1], LINER, np.float32)
        for corner, way, side in zip(self.corners, self.ways, self.sides, strict=True):
            own = (places - corner) * way
            inside = (own >= 0) & (own <= side)
            narrow = (own >= 0) & (own <= SLIT_MM)
            bright[(inside[..., 0] & narrow[..., 1]) | (inside[..., 1] & narrow[..., 0])] = SHADE
        return bright


def _pattern(box: Bounds, shape: tuple[int, ...], ppi: float) -> NDArray[np.float32]:
    """A woven ground: threads of 2 mm, from -1 to 1."""
    k = ppi / MM_PER_INCH
    x = box[0] + np.arange(shape[1]) / k
    y = box[3] - np.arange(shape[0]) / k
    woven: NDArray[np.float32] = (np.sin(np.pi * x / 2)[None] * np.sin(np.pi * y / 2)[:, None]).astype(np.float32)
    return woven


def printed(pdf: bytes, destination: Destination, material: Material, ppi: float = PPI) -> Print:
    """Print a sheet at a resolution. Raises CannotRead."""
    artwork = read_bytes(pdf)
    page = artwork.pages[0]
    art = art_alone(artwork, page, line_objects(artwork, page, destination))
    return Print(
        art, page, GROUNDS[material.ground], material.ground is Ground.PATTERNED, material.glossy, ppi
    )
