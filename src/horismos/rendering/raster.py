"""A page drawn once by Ghostscript and looked at in parts, for pages that would be drawn anew for each part.

PDFium decodes a picture of a hundred million pixels for every part that it draws. Ghostscript draws the
page in one go; the picture lies in a file and is mapped, not loaded. Where the heavy pictures are in process inks
it is drawn in these: turning each of their pixels into RGB takes longer than all else.
"""

import math
import mmap
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from types import TracebackType
from typing import Self

import numpy as np
from PIL import Image

from horismos.artwork.model import ImageObject, Page
from horismos.errors import LimitExceeded
from horismos.paths.box import Bounds
from horismos.rendering.composite import MAX_PIXELS, Pixels
from horismos.sandbox.programs import ghostscript
from horismos.units import MM_PER_INCH

__all__ = ["RasterView", "is_heavy"]

HEAVY_PIXELS = 24_000_000
"""[ours] from this many pixels in one picture on, decoding takes longer than drawing."""
PPI = 254.0
"""Ghostscript fills every pixel that a clipped picture touches: edges are right to a pixel, which is 0.1 mm."""
MOST_PIXELS = 70_000_000
"""[ours] of the whole picture; a larger page is drawn coarser."""
AT_ONCE_BYTES = 300_000_000
"""So much Ghostscript draws at once: in bands it takes nearly twice as long."""


def is_heavy(page: Page) -> bool:
    """Whether a page shows a picture that should be decoded once only."""
    return bool(_heavy(page))


def _heavy(page: Page) -> list[ImageObject]:
    return [o for o in page.objects if isinstance(o, ImageObject) and o.pixels[0] * o.pixels[1] > HEAVY_PIXELS]


class RasterView:
    """One page of a PDF in a file of pixels; to be asked as a PageView. Takes its file away at the end."""

    def __init__(
        self, data: bytes | Callable[[Path], None], page: Page, cancelled: Callable[[], bool] = lambda: False,
        most_ppi: float = PPI,
    ) -> None:
        """``data`` is the file, or what writes it to a path."""
        self.boxes = page.boxes
        x0, y0, x1, y1 = page.boxes.media
        whole = (x1 - x0) * (y1 - y0) / MM_PER_INCH**2
        ppi = min(most_ppi, math.sqrt(MOST_PIXELS / max(whole, 1e-6)))
        inks = not any(o.additive for o in _heavy(page))
        self._folder = tempfile.TemporaryDirectory()
        here = Path(self._folder.name)
        try:
            if callable(data):
                data(here / "in.pdf")
            else:
                (here / "in.pdf").write_bytes(data)
            ghostscript(
                [f"-sDEVICE={'pamcmyk32' if inks else 'ppmraw'}", f"-r{ppi:.4f}", f"-dMaxBitmap={AT_ONCE_BYTES}",
                 "-dGraphicsAlphaBits=4", "-dTextAlphaBits=4", "-sOutputFile=out", "in.pdf"],
                here, cancelled,
            )
            self._pixels = _mapped(here / "out")
        except BaseException:
            self._folder.cleanup()
            raise
        # What came out, not what was asked for: Ghostscript rounds to whole pixels.
        self.per_mm = self._pixels.shape[1] / (x1 - x0), self._pixels.shape[0] / (y1 - y0)

    @classmethod
    def of_file(cls, write: Callable[[Path], None], page: Page, ppi: float) -> "RasterView":
        """A view of a file that is only ever on the disk, no finer than a resolution."""
        return cls(write, page, most_ppi=ppi)

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def render(self, area: Bounds, ppi: float) -> Pixels:
        """The part of the page inside ``area`` (mm) at a resolution, on white; as PageView.render."""
        scale = ppi / MM_PER_INCH
        width = max(1, math.ceil((area[2] - area[0]) * scale - 1e-6))
        height = max(1, math.ceil((area[3] - area[1]) * scale - 1e-6))
        if width * height > MAX_PIXELS:
            raise LimitExceeded(f"A picture of {width} × {height} pixels is too large.")
        media = self.boxes.media
        # The part that is asked for, in pixels of the file; its edges lie between them.
        left, top = (area[0] - media[0]) * self.per_mm[0], (media[3] - area[3]) * self.per_mm[1]
        right, bottom = left + width / scale * self.per_mm[0], top + height / scale * self.per_mm[1]
        x0, y0 = math.floor(left) - 1, math.floor(top) - 1
        x1, y1 = math.ceil(right) + 1, math.ceil(bottom) + 1
        rows, columns, depth = self._pixels.shape
        part = np.full((y1 - y0, x1 - x0, depth), 0 if depth == 4 else 255, np.uint8)
        cx0, cy0, cx1, cy1 = max(x0, 0), max(y0, 0), min(x1, columns), min(y1, rows)
        if cx1 > cx0 and cy1 > cy0:
            part[cy0 - y0 : cy1 - y0, cx0 - x0 : cx1 - x0] = self._pixels[cy0:cy1, cx0:cx1]
        box = (left - x0, top - y0, right - x0, bottom - y0)
        made = Image.fromarray(part, "CMYK" if depth == 4 else "RGB")
        return np.asarray(made.resize((width, height), Image.Resampling.BILINEAR, box=box).convert("RGB"))

    def close(self) -> None:
        """Take the file away."""
        self._folder.cleanup()


def _mapped(path: Path) -> Pixels:
    """The pixels of a PPM or PAM file with eight bits a value, mapped."""
    with path.open("rb") as file:
        if file.readline(200) == b"P7\n":
            width, height, depth = _pam_size(iter(lambda: file.readline(200), b""))
        else:
            line = file.readline(200)
            while line.startswith(b"#"):
                line = file.readline(200)
            (width, height), depth = map(int, line.split()), 3
            file.readline(200)
        start = file.tell()
        mapped = mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ)
    return np.frombuffer(mapped, np.uint8, width * height * depth, start).reshape(height, width, depth)


def _pam_size(lines: Iterator[bytes]) -> tuple[int, int, int]:
    """Width, height and depth from the head of a PAM file."""
    head = dict(line.split(maxsplit=1) for line in iter(lines.__next__, b"ENDHDR\n") if b" " in line)
    return int(head[b"WIDTH"]), int(head[b"HEIGHT"]), int(head[b"DEPTH"])
