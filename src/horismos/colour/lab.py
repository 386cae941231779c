"""CIELAB of screen colours, and how far two pictures are apart in it."""

import numpy as np
from numpy.typing import NDArray

__all__ = ["delta_e", "lab_of_srgb"]

TO_XYZ = np.array([
    [0.4360747, 0.3850649, 0.1430804], [0.2225045, 0.7168786, 0.0606169], [0.0139322, 0.0971045, 0.7141733],
])
"""[standard, from memory] sRGB (IEC 61966-2-1) to XYZ, adapted to D50."""
WHITE = np.array([0.96422, 1.0, 0.82521])
"""[standard] D50, the white of the profile connection space (ICC.1)."""
_LEVELS = np.arange(256) / 255
LINEAR = np.where(_LEVELS <= 0.04045, _LEVELS / 12.92, ((_LEVELS + 0.055) / 1.055) ** 2.4).astype(np.float32)


def lab_of_srgb(pixels: NDArray[np.uint8]) -> NDArray[np.float32]:
    """The CIELAB values, shape (…, 3), of sRGB values 0 to 255 of the same shape."""
    xyz = LINEAR[pixels] @ (TO_XYZ / WHITE[:, None]).T.astype(np.float32)
    f = np.where(xyz > 216 / 24389, np.cbrt(xyz), (24389 / 27 * xyz + 16) / 116)
    out: NDArray[np.float32] = np.empty(xyz.shape, np.float32)
    out[..., 0] = 116 * f[..., 1] - 16
    out[..., 1] = 500 * (f[..., 0] - f[..., 1])
    out[..., 2] = 200 * (f[..., 1] - f[..., 2])
    return out


def delta_e(a: NDArray[np.uint8], b: NDArray[np.uint8]) -> NDArray[np.float32]:
    """ΔE*ab (CIE 1976) between two pictures of sRGB values of one shape (height, width, 3), by pixel."""
    out: NDArray[np.float32] = np.zeros(a.shape[:2], np.float32)
    unlike = (a != b).any(axis=2)
    apart = lab_of_srgb(a[unlike]) - lab_of_srgb(b[unlike])
    out[unlike] = np.sqrt((apart**2).sum(axis=-1))
    return out
