"""What colours come to on the press profile: Lab of CMYK, and how far RGB has to move to be printed.

Not for changing artwork. Everything goes through LittleCMS (Pillow) in 8 bits, D50.
"""

from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

__all__ = ["PRESS", "PRESS_CONDITION", "delta_e_of_cmyk", "lab_of_cmyk", "shift_of_rgb"]

PRESS = Path(__file__).parent / "FOGRA39L.icc"
"""[standard] made from the characterisation data FOGRA39L; stands in for a wide-format printer's profile."""
PRESS_CONDITION = "FOGRA39"
"""[memory] how the registry of characterisation data names that printing condition."""
ABSOLUTE, RELATIVE = ImageCms.Intent.ABSOLUTE_COLORIMETRIC, ImageCms.Intent.RELATIVE_COLORIMETRIC


@cache
def _transform(source: str, target: str, intent: ImageCms.Intent) -> Any:
    profiles: dict[str, Any] = {"CMYK": str(PRESS), "RGB": ImageCms.createProfile("sRGB"),
                                "LAB": ImageCms.createProfile("LAB")}
    return ImageCms.buildTransform(profiles[source], profiles[target], source, target, renderingIntent=intent)


def _through(
    values: NDArray[np.uint8], source: str, target: str, intent: ImageCms.Intent
) -> NDArray[np.uint8]:
    image = Image.frombytes(source, (len(values), 1), np.ascontiguousarray(values, np.uint8).tobytes())
    out: NDArray[np.uint8] = np.asarray(ImageCms.applyTransform(image, _transform(source, target, intent)))[0]
    return out


def _lab(encoded: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Lab from its 8-bit form: L over 255 steps, a and b signed bytes."""
    signed = encoded[:, 1:].astype(np.int8).astype(float)
    return np.column_stack([encoded[:, 0] * (100 / 255), signed])


def lab_of_cmyk(percent: NDArray[np.float64]) -> NDArray[np.float64]:
    """Lab, shape (n, 3), of CMYK in %, shape (n, 4), absolute colorimetric."""
    tints = np.round(np.asarray(percent) * 2.55).astype(np.uint8)
    return _lab(_through(tints, "CMYK", "LAB", ABSOLUTE))


def shift_of_rgb(rgb: NDArray[np.float64]) -> NDArray[np.float64]:
    """How far sRGB colours, shape (n, 3) from 0 to 1, move when they are printed: ΔE*ab (CIE 1976), shape (n,).

    Media-relative colorimetric, so that white stays white.

    >>> shift_of_rgb(np.array([[1.0, 1.0, 1.0], [0.0, 0.0, 1.0]])).round().tolist()[0]
    0.0
    """
    values = np.round(np.clip(rgb, 0, 1) * 255).astype(np.uint8)
    wanted = _lab(_through(values, "RGB", "LAB", RELATIVE))
    printed = _lab(_through(_through(values, "RGB", "CMYK", RELATIVE), "CMYK", "LAB", RELATIVE))
    shift: NDArray[np.float64] = np.sqrt(((wanted - printed) ** 2).sum(axis=1))
    return shift


def delta_e_of_cmyk(a: NDArray[np.float64], b: NDArray[np.float64]) -> NDArray[np.float64]:
    """How far CMYK colours, shape (n, 4) from 0 to 1, are apart on the press: ΔE*ab (CIE 1976), shape (n,)."""
    apart: NDArray[np.float64] = np.sqrt(((lab_of_cmyk(a * 100) - lab_of_cmyk(b * 100)) ** 2).sum(axis=1))
    return apart
