"""A part of a page drawn once by Ghostscript without smoothing: its plates, or its light, pixel for pixel."""

import tempfile
from collections.abc import Collection, Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pikepdf
from numpy.typing import NDArray
from PIL import Image

from horismos.artwork.edit import save
from horismos.artwork.model import Page
from horismos.artwork.read import open_pdf
from horismos.paths.box import Bounds, placed
from horismos.paths.matrix import inverse
from horismos.rendering.plates import Plate, plates
from horismos.sandbox.programs import ghostscript
from horismos.units import MM_PER_INCH

__all__ = ["Drawn", "drawn_area", "drawn_inks", "snapped"]

DRAWING_S = 120.0
LIGHTS = ("red", "green", "blue")


class Drawn(NamedTuple):
    """Tints, shape (height, width, inks), 0 to 255, over a box in mm; with ``inks`` red, green, blue it is light."""

    tints: NDArray[np.uint8]
    inks: tuple[str, ...]
    box: Bounds


def snapped(page: Page, area: Bounds, ppi: float) -> Bounds:
    """An area in mm, as far as it lies on the page, grown to whole pixels.

    They are counted from the corner of the media box, half of one off: so whoever draws half as fine looks at the
    middle of one, and not between two.
    """
    x0, y0, x1, y1 = page.boxes.media
    step = 2 * MM_PER_INCH / ppi
    off = step / 4
    left, low = (
        start + np.floor((max(a, start) - start) / step) * step - off
        for a, start in zip(area[:2], (x0, y0), strict=True)
    )
    right, high = (
        start + np.ceil((min(a, most) - start) / step) * step + off
        for a, start, most in zip(area[2:], (x0, y0), (x1, y1), strict=True)
    )
    return float(left), float(low), float(right), float(high)


def drawn_area(
    pdf: bytes, page: Page, area: Bounds, ppi: float, inks: Collection[str] = (), light: bool = False,
) -> Drawn:
    """What a page of its own file shows of an area that was snapped, on its plates or as light.

    Raises CannotRead, LimitExceeded or Cancelled as the child process does.
    """
    cut = _cut(pdf, page, area)
    return Drawn(_light(cut, ppi), LIGHTS, area) if light else _stacked(plates(cut, ppi, None, inks=inks), area)


def drawn_inks(pdf: bytes, page: Page, area: Bounds, ppi: float) -> tuple[Drawn, NDArray[np.uint8]]:
    """The plates of an area, and all inks together in CMYK, shape (height, width, 4). Raises as ``drawn_area``."""
    *made, composite = plates(_cut(pdf, page, area), ppi, None, composite=True)
    return _stacked(made, area), composite.tint


def _stacked(made: Sequence[Plate], area: Bounds) -> Drawn:
    return Drawn(np.stack([plate.tint for plate in made], axis=2), tuple(plate.ink for plate in made), area)


def _cut(pdf: bytes, page: Page, area: Bounds) -> bytes:
    """The page with an area as all of its boxes."""
    with open_pdf(pdf) as opened:
        target = opened.pages[0].obj
        x0, y0, x1, y1 = placed(area, inverse(page.matrix))
        for key in ("/MediaBox", "/CropBox", "/TrimBox", "/BleedBox", "/ArtBox"):
            target[key] = pikepdf.Array([x0, y0, x1, y1])
        return save(opened, compress=False)


def _light(pdf: bytes, ppi: float) -> NDArray[np.uint8]:
    with tempfile.TemporaryDirectory() as folder:
        here = Path(folder)
        (here / "in.pdf").write_bytes(pdf)
        wanted = ["-sDEVICE=ppmraw", f"-r{ppi:.4f}", "-sOutputFile=out.ppm", "in.pdf"]
        ghostscript(wanted, here, lambda: False, DRAWING_S)
        with Image.open(here / "out.ppm") as image:
            return np.asarray(image.convert("RGB"))
