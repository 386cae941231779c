"""A picture with a soft mask, mixed with what lies below it, on its own pixels."""

from dataclasses import dataclass
from typing import Any

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Name
from PIL import Image

from horismos.artwork.model import PROCESS_INKS
from horismos.artwork.pixels import put_samples, samples_of, stencil
from horismos.artwork.spaces import DEVICE_SPACES, Space
from horismos.mending.art.blending import Flat
from horismos.mending.art.see_through import Unit
from horismos.mending.tints import Spaces, in_order

__all__ = ["Mixed"]

LIGHTS = ("red", "green", "blue")
AT_ONCE = 256


@dataclass(frozen=True, eq=False)
class Mixed:
    """A picture that is see-through by its mask and its opacity.

    ``samples`` are 0 to 255 in their space as the file has it, ``alpha`` the mask with the opacity in it.
    """

    pdf: pikepdf.Pdf
    spaces: Spaces
    samples: NDArray[np.uint8]
    space: Space
    written: Any
    alpha: NDArray[np.uint8]
    matte: tuple[float, ...]
    blend: str
    hard: bool

    @classmethod
    def of(cls, pdf: pikepdf.Pdf, spaces: Spaces, image: Any, unit: Unit, additive: bool) -> "Mixed | None":
        """The picture of a unit; None where it mixes with what is not flat, or in a way not done here.

        On a page that is mixed in RGB (``additive``) a grey picture is taken as one in RGB.

        Raises CannotRead.
        """
        if "/SMaskInData" in image or ("/SMask" not in image and "/Mask" in image):
            return None
        samples, space, written = samples_of(image)
        alpha = _alpha(image, samples.shape[:2])
        if additive and space.family == "DeviceGray" and not ((alpha == 0) | (alpha == 255)).all():
            samples, space, written = np.repeat(samples, 3, axis=2), DEVICE_SPACES["DeviceRGB"], Name.DeviceRGB
        mask = image.get("/SMask")
        matte = tuple(float(v) for v in mask.get("/Matte", [])) if mask is not None else ()
        hard = bool(((alpha == 0) | (alpha == 255)).all()) and unit.alpha >= 1 and unit.blend == "Normal"
        if not hard and (not unit.known or _names(space) is None or (matte and len(matte) != samples.shape[2])):
            return None
        whole = alpha if unit.alpha >= 1 else np.round(alpha * unit.alpha).astype(np.uint8)
        return cls(pdf, spaces, samples, space, written, whole, matte, unit.blend, hard)

    def stencilled(self) -> Any:
        """The picture with a mask that knows only all and nothing."""
        made = self._stream()
        put_samples(made, self.samples, self.written)
        made.Mask = stencil(self.pdf, self.alpha < 128)
        return made

    def on(self, below: Flat | None) -> Any:
        """The picture as it comes out over a flat colour, or over paper, without a mask."""
        names = _names(self.space)
        assert names is not None
        lower = dict(below.tints) if below else {}
        inks = (*names, *(ink for ink in lower if ink not in names and lower[ink] > 0))
        out = np.empty((*self.samples.shape[:2], len(inks)), np.uint8)
        for start in range(0, len(out), AT_ONCE):
            rows = slice(start, start + AT_ONCE)
            share = self.alpha[rows].astype(np.float32) / np.float32(255)
            tints = self._tints(rows, share)
            for k, ink in enumerate(inks):
                b, s = np.float32(lower.get(ink, 0.0)), tints[k] if k < len(names) else np.float32(0)
                mixed = (1 - share) * b + share * (s if below is None else _blended(b, s, self.blend))
                out[rows, :, k] = np.clip(np.round(mixed * 255), 0, 255).astype(np.uint8)
        return self._written(inks, out)

    def _tints(self, rows: slice, share: NDArray[np.float32]) -> list[NDArray[np.float32]]:
        """The tints, 1 no light, of some rows; freed of a matte that they are mixed with (ISO 32000-1, 11.6.5.3)."""
        part = self.samples[rows].astype(np.float32) / np.float32(255)
        if self.matte:
            m = np.array(self.matte, np.float32)
            part = np.clip(m + (part - m) / np.maximum(share, np.float32(1 / 255))[..., None], 0, 1)
        return [1 - part[..., k] if self._is_light else part[..., k] for k in range(part.shape[2])]

    @property
    def _is_light(self) -> bool:
        return self.space.additive or (self.space.inks == ("Black",) and self.space.family != "Separation")

    def _written(self, inks: tuple[str, ...], tints: NDArray[np.uint8]) -> Any:
        made = self._stream()
        if inks == _names(self.space):
            put_samples(made, 255 - tints if self._is_light else tints, self.written)
        else:
            order, space = self.spaces.of(inks)
            put_samples(made, in_order(inks, tints, order), space)
        return made

    def _stream(self) -> Any:
        made = self.pdf.make_stream(b"")
        made.Type, made.Subtype = Name.XObject, Name.Image
        return made


def _names(space: Space) -> tuple[str, ...] | None:
    """What the components of a space lay down, RGB by the light that is missing; None for another kind."""
    if space.additive:
        return LIGHTS if space.components == 3 and space.family != "Lab" else None
    known = space.inks in (PROCESS_INKS, ("Black",)) or space.family in ("Separation", "DeviceN")
    return space.inks if known and "None" not in space.inks and "All" not in space.inks else None


def _blended(below: np.float32, above: Any, blend: str) -> Any:
    if blend == "Multiply":
        return 1 - (1 - below) * (1 - above)
    return np.maximum(below, above) if blend == "Darken" else above


def _alpha(image: Any, shape: tuple[int, ...]) -> NDArray[np.uint8]:
    """The soft mask of a picture at the picture's own size; 255 where it has none."""
    if "/SMask" not in image:
        return np.full(shape[:2], 255, np.uint8)
    mask: NDArray[np.uint8] = samples_of(image["/SMask"])[0][..., 0]
    if mask.shape != shape[:2]:
        mask = np.asarray(Image.fromarray(mask).resize((shape[1], shape[0]), Image.Resampling.BILINEAR))
    return mask
