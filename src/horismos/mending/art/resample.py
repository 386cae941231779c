"""Takes pixels out of pictures that have far more of them than can be printed."""

import contextlib
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Array, Name, Stream
from PIL import Image

from horismos.artwork.edit import is_inline
from horismos.artwork.model import ImageObject
from horismos.artwork.pixels import put_samples, samples_of
from horismos.comparing.facets import Facet
from horismos.errors import CannotRead, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register, where
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.words import plural

PPI = Setting("ppi", SettingKind.NUMBER, "The resolution that is left", 300.0, "ppi", 36.0, 2400.0)
SPARE = 1.2
"""[ours] a picture with no more than so many times the pixels is left: every resampling softens."""


def _sizes(before: MendContext) -> dict[tuple[int, int], float]:
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


def _say(before: MendContext) -> MendSummary:
    found = _sizes(before)
    wanted = float(before.step["ppi"])
    count, before_px, after_px = 0, 0.0, 0.0
    for page in before.artwork.pages:
        for o in page.objects:
            if isinstance(o, ImageObject) and o.pixels in found and not is_inline(page, o):
                count += 1
                before_px += o.pixels[0] * o.pixels[1]
                after_px += o.pixels[0] * o.pixels[1] * (wanted / found[o.pixels]) ** 2
    return MendSummary(
        f"Leaves {wanted:g} ppi of {plural(count, 'picture')} that {'has' if count == 1 else 'have'} up to "
        f"{max(found.values()):.0f}: {after_px / 1e6:.1f} million pixels instead of {before_px / 1e6:.1f}.",
        {"pictures": count, "pixels_before": int(before_px), "pixels_after": int(after_px)},
        lambda: where(
            (page, o) for page in before.artwork.pages for o in page.objects
            if isinstance(o, ImageObject) and o.pixels in found
        ),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    found, wanted, count = _sizes(before), float(before.step["ppi"]), 0
    for obj in pdf.objects:
        if isinstance(obj, Stream) and obj.get("/Subtype") == Name.Image and "/ColorSpace" in obj:
            pixels = int(obj["/Width"]), int(obj["/Height"])
            if pixels in found:
                count += _reduce(pdf, obj, wanted / found[pixels])
    if not count:
        raise NothingToDo("The pictures with more pixels are packed in a way that is not unpacked here; they stay.")


def _reduce(pdf: pikepdf.Pdf, obj: Any, share: float) -> bool:
    """A picture with fewer pixels, each the mean of those that it stands for; False for one that cannot be read."""
    with contextlib.suppress(CannotRead):
        samples, space, written = samples_of(obj)
        if space.family == "Lab" or isinstance(obj.get("/Mask"), Array):
            return False
        height, width, depth = samples.shape
        size = max(1, round(width * share)), max(1, round(height * share))
        planes = [Image.fromarray(samples[..., i]).resize(size, Image.Resampling.BOX) for i in range(depth)]
        put_samples(obj, np.stack([np.asarray(plane) for plane in planes], axis=2), written)
        mask = obj.get("/SMask")
        if isinstance(mask, Stream) and int(mask["/Width"]) == width:
            _reduce(pdf, mask, share)
        return True
    return False


register(Mend(
    id="resample", label="Leave {ppi:g} ppi of pictures", answers=("image.excess",),
    touches=frozenset([Facet.ART, Facet.LOOK]), settings=(PPI,), say=_say, do=_do, safe=False, order=130
))
