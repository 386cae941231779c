"""A picture's pixels as they came, ready to be put into a PDF; reading files is done in ``pictures`` and ``tiff``."""

import zlib
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import ExifTags, Image

from horismos.artwork.limits import MAX_PICTURE_SIDE, most_unpacked
from horismos.errors import CannotRead, LimitExceeded

__all__ = ["MOST_PIXELS", "Array", "Picture", "check_size", "deflated", "exif_said", "from_samples"]

MOST_PIXELS = 400_000_000
"""[ours] of one picture; a claim above it is refused unread."""
Array = NDArray[Any]
Image.MAX_IMAGE_PIXELS = None  # the limit above is checked first
ROWS_AT_ONCE = 256


@dataclass(frozen=True, eq=False, kw_only=True)
class Picture:
    """One picture. ``space`` is gray, rgb, cmyk, lab or indexed.

    ``packed`` are its samples under ``filter`` (FlateDecode or DCTDecode). ``alpha`` is a deflated
    mask of 8 or 16 bits. ``orientation`` is the EXIF and TIFF tag, 1 to 8. ``ppi`` is the stated
    resolution, or None.
    """

    pixels: tuple[int, int]
    bits: int
    space: str
    filter: str
    packed: bytes
    predictor: int = 1
    icc: bytes = b""
    palette: bytes = b""
    alpha: bytes = b""
    alpha_bits: int = 8
    inverted: bool = False
    orientation: int = 1
    ppi: tuple[float, float] | None = None
    notes: tuple[str, ...] = ()

    @property
    def shown_pixels(self) -> tuple[int, int]:
        """Width and height in pixels as the picture is meant to be seen."""
        w, h = self.pixels
        return (h, w) if self.orientation >= 5 else (w, h)


def check_size(width: int, height: int, stored: int, pixel_bytes: float) -> None:
    """Refuse a claim of no pixels, or of more than may be read from a file of ``stored`` bytes.

    Raises CannotRead or LimitExceeded.
    """
    if width < 1 or height < 1:
        raise CannotRead("The picture claims to have no pixels.", "Ask for it to be sent again.")
    if width * height > MOST_PIXELS:
        raise LimitExceeded(
            f"The picture claims {width:,} × {height:,} pixels; {MOST_PIXELS // 1_000_000} million are the most.",
            "Ask for a smaller one.",
        )
    if max(width, height) > MAX_PICTURE_SIDE:
        raise LimitExceeded(
            f"The picture claims {width:,} × {height:,} pixels; {MAX_PICTURE_SIDE:,} on a side are the most.",
            "Ask for a smaller one.",
        )
    if width * height * pixel_bytes > most_unpacked(stored):
        raise LimitExceeded(
            f"The picture unpacks to {width * height * pixel_bytes / 1e6:,.0f} MB out of {stored / 1e6:,.1f} MB; "
            f"{most_unpacked(stored) / 1e6:,.0f} MB are the most for a file of this size.",
            "Ask for one of fewer pixels.",
        )


def deflated(samples: Array, bits: int) -> bytes:
    """Samples, shape (height, width[, components]), packed row by row, most significant byte first."""
    packer, out = zlib.compressobj(6), []
    for top in range(0, len(samples), ROWS_AT_ONCE):  # a large picture is not there twice
        rows = samples[top : top + ROWS_AT_ONCE]
        if bits == 1:
            packed = np.packbits(rows.astype(bool), axis=1)
        else:
            packed = np.ascontiguousarray(rows, dtype=">u2" if bits == 16 else np.uint8)
        out.append(packer.compress(packed.data))
    return b"".join([*out, packer.flush()])


def exif_said(exif: Image.Exif) -> tuple[int, tuple[float, float] | None]:
    """Orientation and resolution of an EXIF block; 1 and None where it does not say."""
    orientation = int(exif.get(ExifTags.Base.Orientation, 1) or 1)
    try:
        x, y = float(exif[ExifTags.Base.XResolution]), float(exif[ExifTags.Base.YResolution])
        factor = {2: 1.0, 3: 2.54}.get(int(exif.get(ExifTags.Base.ResolutionUnit, 2)))
        ppi = (x * factor, y * factor) if factor and x > 1 and y > 1 else None
    except (KeyError, TypeError, ValueError, ZeroDivisionError):
        ppi = None
    return orientation if 1 <= orientation <= 8 else 1, ppi


def from_samples(samples: Array, has_alpha: bool, space: str = "") -> Picture:
    """A picture of decoded samples of 8 or 16 bits, the last component alpha where it says so."""
    if samples.ndim == 2:
        samples = samples[..., None]
    bits = 16 if samples.dtype.itemsize == 2 else 1 if samples.dtype == np.bool_ else 8
    alpha, alpha_bits = b"", 8
    if has_alpha:
        mask = samples[..., -1]
        samples = samples[..., :-1]
        full = 65535 if bits == 16 else 255
        if int(mask.min()) < full:
            alpha, alpha_bits = deflated(mask, bits), bits
    height, width, components = samples.shape
    name = space or {1: "gray", 3: "rgb", 4: "cmyk"}[components]
    packed = deflated(samples[..., 0] if bits == 1 else samples, bits)
    return Picture(
        pixels=(width, height), bits=bits, space=name, filter="FlateDecode", packed=packed, alpha=alpha,
        alpha_bits=alpha_bits,
    )
