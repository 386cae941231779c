"""Colours and pictures in the inks that are there: process inks and spots together, each on its own plate."""

import itertools
from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Name

from horismos.artwork.functions import run_function
from horismos.artwork.model import PROCESS_INKS
from horismos.artwork.pixels import packed
from horismos.artwork.spaces import space_of
from horismos.colour.convert import cmyk_of
from horismos.errors import CannotRead, CannotWrite
from horismos.mending.lines.rename import colour_arrays, pdf_name
from horismos.paths.box import Bounds

__all__ = ["Spaces", "in_order", "picture", "tint_pictures"]

UNKNOWN_SPOT = (0.0, 0.0, 0.0, 0.3)
"""[ours] how a spot is shown whose own colour cannot be told."""
MOST_SPOTS = 8
"""[ours] in one space: the table of how they look doubles with each."""


class Spaces:
    """Colour spaces of a file for inks in any mixture; each is made once."""

    def __init__(self, pdf: pikepdf.Pdf) -> None:
        self._pdf = pdf
        self._own = {str(a[1])[1:]: a for a in colour_arrays(pdf) if a[0] == Name.Separation}
        self._made: dict[tuple[str, ...], Any] = {}

    def of(self, inks: Iterable[str]) -> tuple[tuple[str, ...], Any]:
        """The inks in the order of its components, and a space that lays all of these down and leaves other plates.

        Process inks alone make DeviceCMYK, which has all four. Raises CannotWrite for more spots than are mixed.
        """
        wanted = set(inks)
        spots = tuple(sorted(wanted - set(PROCESS_INKS)))
        if not spots:
            return PROCESS_INKS, Name.DeviceCMYK
        if len(spots) > MOST_SPOTS:
            raise CannotWrite(f"There are {len(spots)} spot inks on each other.", "Leave it to the RIP.")
        process = tuple(ink for ink in PROCESS_INKS if ink in wanted)
        order = process + spots
        if order not in self._made:
            own = self._own.get(spots[0]) if not process and len(spots) == 1 else None
            self._made[order] = own if own is not None else self._pdf.make_indirect(self._mixed(order))
        return order, self._made[order]

    def _mixed(self, inks: tuple[str, ...]) -> Any:
        """A DeviceN space that shows on screen as its inks in transparent layers (ISO 32000-1, 8.6.6.5)."""
        shown = np.array([self._shown(ink) for ink in inks])
        corners = np.array(list(itertools.product((0, 1), repeat=len(inks))))[:, ::-1]  # the first ink runs fastest
        mixed = 1 - np.prod(1 - corners[:, :, None] * shown[None], axis=1)
        tint = self._pdf.make_stream(np.round(mixed * 255).astype(np.uint8).tobytes())
        tint.FunctionType, tint.BitsPerSample = 0, 8
        tint.Domain, tint.Range = Array([0, 1] * len(inks)), Array([0, 1] * 4)
        tint.Size = Array([2] * len(inks))
        kind = Name.Separation if len(inks) == 1 else Name.DeviceN
        named = pdf_name(inks[0]) if len(inks) == 1 else Array([pdf_name(ink) for ink in inks])
        return Array([kind, named, Name.DeviceCMYK, tint])

    def _shown(self, ink: str) -> NDArray[np.float64]:
        """How an ink in full looks, in CMYK."""
        if ink in PROCESS_INKS:
            return np.asarray(np.eye(4)[PROCESS_INKS.index(ink)])
        array = self._own.get(ink)
        values = run_function(array[3], np.array([1.0])) if array is not None else None
        if array is None or values is None:
            return np.array(UNKNOWN_SPOT)
        space = space_of(array[2], lambda name: None)
        if space.inks == PROCESS_INKS:
            return np.asarray(values[0], float)
        if space.inks == ("Black",):
            return np.array([0.0, 0.0, 0.0, 1 - float(values[0, 0])])
        try:
            return np.asarray(cmyk_of(values, space.family, b"", "relative")[0], float)
        except (CannotRead, ValueError):
            return np.array(UNKNOWN_SPOT)


def picture(pdf: pikepdf.Pdf, samples: NDArray[np.uint8], space: Any) -> Any:
    """A picture of samples, shape (height, width, components), 0 to 255."""
    made = pdf.make_stream(packed(samples))
    made.Type, made.Subtype, made.Filter = Name.XObject, Name.Image, Name.FlateDecode
    made.Width, made.Height, made.BitsPerComponent = samples.shape[1], samples.shape[0], 8
    made.ColorSpace = space
    return made


def tint_pictures(pdf: pikepdf.Pdf, inks: Sequence[str], tints: NDArray[np.uint8], box: Bounds) -> tuple[bytes, Any]:
    """What draws tints, shape (height, width, inks), over a box in mm, and the resources that it names."""
    x0, y0, x1, y1 = box
    used = [ink for i, ink in enumerate(inks) if ink in PROCESS_INKS or tints[..., i].any()]
    order, space = Spaces(pdf).of(used)
    resources = Dictionary(
        XObject=Dictionary(HzEdge=picture(pdf, in_order(inks, tints, order), space)),
        ExtGState=Dictionary(HzEdgeOver=Dictionary(OP=True, op=True, OPM=1)),
    )
    place = f"{x1 - x0:.6f} 0 0 {y1 - y0:.6f} {x0:.6f} {y0:.6f} cm"
    return f"q {place} /HzEdgeOver gs /HzEdge Do Q".encode(), resources


def in_order(inks: Sequence[str], tints: NDArray[np.uint8], order: Sequence[str]) -> NDArray[np.uint8]:
    """The planes of tints, shape (height, width, inks), in another order; a plane that there is none of is blank."""
    out = np.zeros((*tints.shape[:2], len(order)), np.uint8)
    for k, ink in enumerate(order):
        if ink in inks:
            out[..., k] = tints[..., list(inks).index(ink)]
    return out
