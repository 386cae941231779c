"""Colours and pictures into CMYK by ICC profiles, through LittleCMS (Pillow)."""

import io
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

from horismos.colour.press import PRESS
from horismos.errors import CannotRead

__all__ = ["INTENTS", "cmyk_of", "picture_in_cmyk"]

INTENTS = {
    "relative": ImageCms.Intent.RELATIVE_COLORIMETRIC, "perceptual": ImageCms.Intent.PERCEPTUAL,
    "saturation": ImageCms.Intent.SATURATION, "absolute": ImageCms.Intent.ABSOLUTE_COLORIMETRIC,
}
"""[standard] ISO 32000-1, 8.6.5.8; the relative one with black point compensation."""


@cache
def _transform(profile: bytes, mode: str, intent: str) -> Any:
    """From a source profile (none: sRGB, or Lab for the mode LAB) to the press."""
    try:
        source: Any = ImageCms.ImageCmsProfile(io.BytesIO(profile)) if profile else ImageCms.createProfile(
            "LAB" if mode == "LAB" else "sRGB"
        )
        flags = ImageCms.Flags.BLACKPOINTCOMPENSATION if intent == "relative" else ImageCms.Flags.NONE
        return ImageCms.buildTransform(source, str(PRESS), mode, "CMYK", INTENTS[intent], flags)
    except (ImageCms.PyCMSError, OSError, ValueError) as error:
        raise CannotRead(f"A colour profile in the file cannot be used ({error}).", "Ask for another file.") from None


def picture_in_cmyk(image: Image.Image, profile: bytes, intent: str) -> Image.Image:
    """A picture in RGB, L or LAB mode as CMYK; ``profile`` is its own, empty for sRGB. Raises CannotRead."""
    if image.mode == "L":
        image = image.convert("RGB")
    made = ImageCms.applyTransform(image, _transform(profile, image.mode, intent))
    assert made is not None
    return made


def cmyk_of(values: NDArray[np.float64], family: str, profile: bytes, intent: str) -> NDArray[np.float64]:
    """CMYK, shape (n, 4), each 0 to 1, of additive colours as a PDF gives them, shape (n, 3 or 1).

    Raises CannotRead.
    """
    given = np.atleast_2d(values)
    if family == "Lab":
        mode = "LAB"
        encoded = np.column_stack([given[:, 0] * 2.55, given[:, 1], given[:, 2]]).round().astype(np.int16)
        encoded = np.column_stack([np.clip(encoded[:, :1], 0, 255), np.clip(encoded[:, 1:], -128, 127) & 255])
    else:
        mode = "RGB"
        encoded = np.clip(given * 255, 0, 255).round().astype(np.int16)
        encoded = np.repeat(encoded, 3, axis=1) if encoded.shape[1] == 1 else encoded
    image = Image.frombytes(mode, (len(encoded), 1), np.ascontiguousarray(encoded.astype(np.uint8)).tobytes())
    out: NDArray[np.float64] = np.asarray(picture_in_cmyk(image, profile, intent))[0] / 255
    return out
