"""Pictures in the inks that are there: one in process inks, and one for each spot, which overprints."""

import zlib
from collections.abc import Sequence
from typing import Any

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Name

from horismos.artwork.model import PROCESS_INKS
from horismos.mending.lines.rename import colour_arrays, pdf_name
from horismos.paths.box import Bounds

__all__ = ["tint_pictures"]


def tint_pictures(pdf: pikepdf.Pdf, inks: Sequence[str], tints: NDArray[np.uint8], box: Bounds) -> tuple[bytes, Any]:
    """What draws tints, shape (height, width, inks), over a box in mm, and the resources that it names."""
    x0, y0, x1, y1 = box
    place = f"{x1 - x0:.6f} 0 0 {y1 - y0:.6f} {x0:.6f} {y0:.6f} cm"
    pictures: dict[str, Any] = {}
    spots = [i for i, ink in enumerate(inks) if ink not in PROCESS_INKS and tints[..., i].any()]
    process = np.zeros((*tints.shape[:2], 4), np.uint8)
    for i, ink in enumerate(inks):
        if ink in PROCESS_INKS:
            process[..., PROCESS_INKS.index(ink)] = tints[..., i]
    pictures["HzEdge"] = _picture(pdf, process, Name.DeviceCMYK)
    for k, i in enumerate(spots):
        space = next(
            (a for a in colour_arrays(pdf) if a[0] == Name.Separation and a[1] == pdf_name(inks[i])), None
        )
        if space is not None:
            pictures[f"HzEdge{k}"] = _picture(pdf, np.ascontiguousarray(tints[..., i : i + 1]), space)
    parts = [f"q {place} {'/HzEdgeOver gs ' if name != 'HzEdge' else ''}/{name} Do Q" for name in pictures]
    resources = Dictionary(
        XObject=Dictionary({"/" + name: picture for name, picture in pictures.items()}),
        ExtGState=Dictionary(HzEdgeOver=Dictionary(OP=True, op=True, OPM=1)),
    )
    return " ".join(parts).encode(), resources


def _picture(pdf: pikepdf.Pdf, samples: NDArray[np.uint8], space: Any) -> Any:
    made = pdf.make_stream(zlib.compress(samples.tobytes(), 1))
    made.Type, made.Subtype, made.Filter = Name.XObject, Name.Image, Name.FlateDecode
    made.Width, made.Height, made.BitsPerComponent = samples.shape[1], samples.shape[0], 8
    made.ColorSpace = space if isinstance(space, Array) else Name.DeviceCMYK
    return made
