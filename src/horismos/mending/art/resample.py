"""Takes pixels out of pictures that have far more of them than can be printed."""

import zlib
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Array, Name, Stream
from PIL import Image

from horismos.artwork.edit import is_inline
from horismos.artwork.model import ImageObject
from horismos.artwork.spaces import space_of
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Before, Mend, Said, register, where
from horismos.mending.engine.settings import Kind, Setting
from horismos.words import plural

PPI = Setting("ppi", Kind.NUMBER, "The resolution that is left", 300.0, "ppi", 36.0, 2400.0)
SPARE = 1.2
"""[ours] a picture with no more than so many times the pixels is left: every resampling softens."""


def _sizes(before: Before) -> dict[tuple[int, int], float]:
    """Pictures, by their pixels, with the least resolution at which the file shows one of that size."""
    least: dict[tuple[int, int], float] = {}
    for page in before.artwork.pages:
        for o in page.objects:
            if isinstance(o, ImageObject) and min(o.ppi) > 0 and not is_inline(page, o):
                least[o.pixels] = min(least.get(o.pixels, float("inf")), *o.ppi)
    wanted = float(before.step["ppi"])
    found = {pixels: ppi for pixels, ppi in least.items() if ppi > SPARE * wanted}
    if not found:
        raise NothingToDo(f"No picture has far more than {wanted:g} ppi.")
    return found


def _say(before: Before) -> Said:
    found = _sizes(before)
    wanted = float(before.step["ppi"])
    count, before_px, after_px = 0, 0.0, 0.0
    for page in before.artwork.pages:
        for o in page.objects:
            if isinstance(o, ImageObject) and o.pixels in found and not is_inline(page, o):
                count += 1
                before_px += o.pixels[0] * o.pixels[1]
                after_px += o.pixels[0] * o.pixels[1] * (wanted / found[o.pixels]) ** 2
    return Said(
        f"Leaves {wanted:g} ppi of {plural(count, 'picture')} that {'has' if count == 1 else 'have'} up to "
        f"{max(found.values()):.0f}: {after_px / 1e6:.1f} million pixels instead of {before_px / 1e6:.1f}.",
        {"pictures": count, "pixels_before": int(before_px), "pixels_after": int(after_px)},
        lambda: where(
            (page, o) for page in before.artwork.pages for o in page.objects
            if isinstance(o, ImageObject) and o.pixels in found
        ),
    )


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    found, wanted = _sizes(before), float(before.step["ppi"])
    for obj in pdf.objects:
        if isinstance(obj, Stream) and obj.get("/Subtype") == Name.Image and "/ColorSpace" in obj:
            pixels = int(obj["/Width"]), int(obj["/Height"])
            if pixels in found:
                _reduce(obj, wanted / found[pixels])


def _reduce(obj: Any, share: float) -> None:
    """A picture of eight bits with fewer pixels, each the mean of those that it stands for; others stay."""
    space = space_of(obj["/ColorSpace"], lambda name: None)
    plain = int(obj.get("/BitsPerComponent", 8)) == 8 and space.family != "Indexed" and "/Decode" not in obj
    if not plain or isinstance(obj.get("/Mask"), Array):
        return
    width, height, depth = int(obj["/Width"]), int(obj["/Height"]), space.components
    try:
        raw = _samples(obj, width, height, depth)
    except (pikepdf.PdfError, ValueError, NotImplementedError, OSError):
        return
    size = max(1, round(width * share)), max(1, round(height * share))
    planes = [Image.fromarray(raw[..., i]).resize(size, Image.Resampling.BOX) for i in range(depth)]
    made = np.stack([np.asarray(plane) for plane in planes], axis=2)
    obj.write(zlib.compress(made.tobytes(), 1), filter=Name.FlateDecode)
    obj.Width, obj.Height = size
    if "/DecodeParms" in obj:
        del obj["/DecodeParms"]
    mask = obj.get("/SMask")
    if isinstance(mask, Stream) and int(mask["/Width"]) == width:
        _reduce(mask, share)


def _samples(obj: Any, width: int, height: int, depth: int) -> Any:
    """The samples of a picture, shape (height, width, depth), as they stand in the file once it is unpacked."""
    filters = obj.get("/Filter")
    last = filters[-1] if isinstance(filters, Array) and len(filters) else filters
    if last == Name.DCTDecode:
        image = pikepdf.PdfImage(obj).as_pil_image()
        found = np.asarray(image)
        found = found[..., None] if found.ndim == 2 else found
        if found.shape != (height, width, depth):
            raise ValueError("The picture is not what its dictionary says.")
        return found
    return np.frombuffer(obj.read_bytes(), np.uint8)[: width * height * depth].reshape(height, width, depth)


register(Mend(
    "resample", "Leave {ppi:g} ppi of pictures", ("image.excess",), frozenset([Facet.ART, Facet.LOOK]), (PPI,), _say,
    _do, safe=False, order=130,
))
