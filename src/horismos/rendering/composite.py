"""Composite pictures of any part of a page, from PDFium, in the core's coordinates."""

import math
import threading
from types import TracebackType
from typing import Self

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as raw
from numpy.typing import NDArray

from horismos.artwork.model import Boxes, Page
from horismos.errors import CannotRead, LimitExceeded
from horismos.paths.box import Bounds
from horismos.units import MM_PER_INCH, MM_PER_POINT

__all__ = ["ENGINE", "MAX_PIXELS", "PageView", "Pixels", "difference"]

ENGINE = threading.RLock()
"""PDFium may be used by one thread of a process at a time."""

Pixels = NDArray[np.uint8]
"""Shape (height, width, 3), RGB on white paper, first row at the top."""

MAX_PIXELS = 40_000_000
"""[ours] of one picture; a larger page is looked at in parts."""


class PageView:
    """One page of a PDF, opened once and rendered as often as asked. Closes its file at the end.

    ``boxes`` are those of the artwork's page: the picture's coordinates are mm with the trim
    box's lower left at the origin. The PDF must show its whole media box, as the art alone does.
    """

    def __init__(self, data: bytes, boxes: Boxes, user_unit: float = 1.0, number: int = 1) -> None:
        with ENGINE:
            try:
                self._document = pdfium.PdfDocument(data)
                self._page = self._document[number - 1]
            except (pdfium.PdfiumError, IndexError) as error:
                raise CannotRead(f"The page cannot be drawn ({error}).") from None
        self.boxes = boxes
        self._mm_per_unit = MM_PER_POINT * user_unit

    @classmethod
    def of_art(cls, art: bytes, page: Page) -> "PageView":
        """The view of the art alone of a page."""
        return cls(art, page.boxes, page.user_unit)

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

    def close(self) -> None:
        """Give the document back."""
        with ENGINE:
            self._page.close()
            self._document.close()

    def render(self, area: Bounds, ppi: float) -> Pixels:
        """The part of the page inside ``area`` (mm) at a resolution, on white.

        The picture covers the area from its upper left corner in whole pixels. What lies outside
        the media box is white. Raises LimitExceeded above MAX_PIXELS.
        """
        return self._drawn(area, ppi, raw.FPDFBitmap_BGRx, (255, 255, 255, 255))[..., :3]

    def covered(self, area: Bounds, ppi: float) -> NDArray[np.uint8]:
        """The same on clear ground: how opaque each pixel becomes, shape (height, width), 0 to 255."""
        return self._drawn(area, ppi, raw.FPDFBitmap_BGRA, (0, 0, 0, 0))[..., 3]

    def _drawn(self, area: Bounds, ppi: float, form: int, ground: tuple[int, int, int, int]) -> NDArray[np.uint8]:
        per_mm = ppi / MM_PER_INCH
        width = max(1, math.ceil((area[2] - area[0]) * per_mm - 1e-6))
        height = max(1, math.ceil((area[3] - area[1]) * per_mm - 1e-6))
        if width * height > MAX_PIXELS:
            raise LimitExceeded(f"A picture of {width} × {height} pixels is too large.")
        media, unit = self.boxes.media, self._mm_per_unit
        scale = per_mm * unit
        # PDFium's page space: user units of the turned page, from its upper left, y downwards.
        left = (area[0] - media[0]) / unit
        top = (media[3] - area[3]) / unit
        matrix = raw.FS_MATRIX(scale, 0, 0, scale, -left * scale, -top * scale)
        clip = raw.FS_RECTF(0, 0, width, height)
        with ENGINE:
            bitmap = pdfium.PdfBitmap.new_native(width, height, form)
            bitmap.fill_rect(ground, 0, 0, width, height)
            flags = raw.FPDF_REVERSE_BYTE_ORDER
            raw.FPDF_RenderPageBitmapWithMatrix(bitmap, self._page, matrix, clip, flags)
            drawn: NDArray[np.uint8] = bitmap.to_numpy().copy()
            bitmap.close()
        return drawn

    def overview(self, most_pixels: int = 1_000_000) -> tuple[Pixels, float]:
        """The whole media box within a number of pixels, and the ppi it came out at."""
        ppi = self.overview_ppi(self.boxes, most_pixels)
        return self.render(self.boxes.media, ppi), ppi

    @staticmethod
    def overview_ppi(boxes: Boxes, most_pixels: int) -> float:
        """The resolution at which the whole media box comes to so many pixels."""
        x0, y0, x1, y1 = boxes.media
        area_in = (x1 - x0) * (y1 - y0) / MM_PER_INCH**2
        return min(300.0, math.sqrt(most_pixels / area_in))


def difference(a: Pixels, b: Pixels) -> int:
    """The greatest difference of a channel between two pictures of one size; 255 if they differ
    in size.
    """
    if a.shape != b.shape:
        return 255
    return int(np.abs(a.astype(np.int16) - b).max(initial=0))
