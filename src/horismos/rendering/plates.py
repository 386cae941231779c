"""One plate per ink, spots included, from Ghostscript's separation device."""

import math
import tempfile
import urllib.parse
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from horismos.artwork.edit import save
from horismos.artwork.read import open_pdf, read_bytes
from horismos.artwork.views import named_at_length
from horismos.errors import CannotRead
from horismos.paths.box import Bounds
from horismos.rendering.composite import MAX_PIXELS, Pixels
from horismos.sandbox.programs import ghostscript
from horismos.units import MM_PER_INCH

__all__ = ["COMPOSITE", "Plate", "PlateSet", "blended", "fitting_ppi", "plates"]

COMPOSITE = ""
"""What stands for all inks together in place of a name."""
PLATE_PIXELS = 1_200_000
HEAVY_BYTES = 4_000_000
SMALL_BITMAP, LARGE_BITMAP = 30_000_000, 200_000_000
"""[ours] Ghostscript draws a page that fits into this at once: a heavy one in half the time that bands take, while a
small one waits longer for the memory to be cleared than for the drawing.
"""
DRAWING_S = 90.0
"""[ours] for the plates of a page."""
MOST_PPI = 300.0
"""[ours] plates are as fine as so many pixels allow, and no finer than this."""

Image.MAX_IMAGE_PIXELS = MAX_PIXELS * 4


@dataclass(frozen=True, eq=False)
class Plate:
    """What one ink lays down: ``tint`` has the shape (height, width), 0 none to 255 full."""

    ink: str
    tint: Pixels

    @property
    def coverage(self) -> float:
        """The mean tint of the plate, 0 to 1."""
        return float(self.tint.mean() / 255) if self.tint.size else 0.0


@dataclass(frozen=True, eq=False)
class PlateSet:
    """The plates of a page: all of one shape, at ``ppi``, over the box in mm (its media box)."""

    plates: tuple[Plate, ...]
    ppi: float
    box: Bounds

    def at(self, row: float, column: float) -> tuple[float, float]:
        """The middle of a pixel in mm on the page."""
        mm = MM_PER_INCH / self.ppi
        return self.box[0] + (column + 0.5) * mm, self.box[3] - (row + 0.5) * mm


def fitting_ppi(box: Bounds) -> float:
    """The resolution for the plates of a page of this size (mm)."""
    x0, y0, x1, y1 = box
    return min(MOST_PPI, math.sqrt(PLATE_PIXELS / max((x1 - x0) * (y1 - y0), 1e-6)) * MM_PER_INCH)


def plates(
    pdf: bytes, ppi: float, page: int | None = 1, cancelled: Callable[[], bool] = lambda: False,
    inks: Collection[str] = (), composite: bool = False,
) -> list[Plate]:
    """The plates of a page, process inks first, then the spots in the order of their names.

    ``page`` is None for a file that holds just the one. Where one of ``inks`` got no plate, since Ghostscript took
    its space for another one by its name, the plates are made again with that called otherwise. With ``composite``
    one more is the last, whose tint has the shape (height, width, 4): all inks in CMYK, spots as the file says them.

    Raises CannotRead, LimitExceeded or Cancelled as the child process does.
    """
    alone = pdf if page is None else _page_alone(pdf, page)
    made = _made(alone, ppi, cancelled, composite)
    if set(inks) - {"All"} - {plate.ink for plate in made}:
        artwork = read_bytes(alone)
        other = named_at_length(artwork, artwork.pages[0])
        made = _made(other, ppi, cancelled, composite) if other is not None else made
    order = {"Cyan": 0, "Magenta": 1, "Yellow": 2, "Black": 3, COMPOSITE: 5}
    return sorted(made, key=lambda p: (order.get(p.ink, 4), p.ink))


def _made(pdf: bytes, ppi: float, cancelled: Callable[[], bool], composite: bool) -> list[Plate]:
    bitmap = LARGE_BITMAP if len(pdf) > HEAVY_BYTES else SMALL_BITMAP
    with tempfile.TemporaryDirectory() as folder:
        here = Path(folder)
        (here / "in.pdf").write_bytes(pdf)
        ghostscript(
            [
                "-sDEVICE=tiffsep", f"-r{ppi:.4f}", f"-dMaxBitmap={bitmap}", "-sCompression=none",
                "-sOutputFile=plate.tif", "in.pdf",
            ],
            here, cancelled, DRAWING_S,
        )
        made = [_plate(path) for path in here.glob("plate(*).tif")]
        if composite:
            with Image.open(here / "plate.tif") as image:
                made.append(Plate(COMPOSITE, np.asarray(image.convert("CMYK"))))
    if not made:
        raise CannotRead("No plate was made of the page.")
    return made


def blended(tints: Sequence[NDArray[np.uint8]], colours: Sequence[str]) -> NDArray[np.uint8]:
    """Plates laid over each other as their colours on screen (#rrggbb), shape (height, width, 3).

    One plate alone comes in greys, black where the ink is full.
    """
    if len(tints) == 1:
        return np.repeat(255 - tints[0][..., None], 3, axis=2)
    out = np.full((*tints[0].shape, 3), 255, np.float32)
    for tint, colour in zip(tints, colours, strict=True):
        absorbs = 1 - np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)], np.float32) / 255
        out *= 1 - tint[..., None].astype(np.float32) / 255 * absorbs
    return out.round().astype(np.uint8)


def _page_alone(pdf: bytes, number: int) -> bytes:
    """The file with one page only.

    Ghostscript 10.0 can leave spot plates empty when it is told to choose pages itself.
    """
    with open_pdf(pdf) as opened:
        if len(opened.pages) == 1:
            return pdf
        for index in reversed(range(len(opened.pages))):
            if index != number - 1:
                del opened.pages[index]
        return save(opened)


def _plate(path: Path) -> Plate:
    """A plate file of the separation device: white is no ink, the name stands in brackets."""
    name = urllib.parse.unquote(path.name[len("plate(") : -len(").tif")])
    with Image.open(path) as image:
        return Plate(name, 255 - np.asarray(image.convert("L")))
