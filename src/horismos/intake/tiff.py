"""TIFF (TIFF 6.0): each full-size frame as a picture."""

import io
from collections.abc import Iterator
from itertools import islice

import numpy as np
import tifffile

from horismos.errors import CannotRead, LimitExceeded
from horismos.intake.picture import MOST_PIXELS, Array, Picture, check_size, from_samples

__all__ = ["tiff_pictures"]

MOST_FRAMES = 200
REDUCED = 1
"""[standard] TIFF 6.0, NewSubfileType: a smaller version of another picture."""
ASSOCIATED, UNASSOCIATED = 1, 2
"""[standard] TIFF 6.0, ExtraSamples."""
TO_INCH = {2: 1.0, 3: 2.54}


def tiff_pictures(data: bytes) -> list[Picture]:
    """The frames of a TIFF. Raises CannotRead, and what the codecs raise on broken data."""
    with tifffile.TiffFile(io.BytesIO(data)) as file:
        frames = [p for p in islice(_each(file), MOST_FRAMES + 1) if isinstance(p, tifffile.TiffPage)]
        if len(frames) > MOST_FRAMES:
            raise LimitExceeded(f"The TIFF holds more than {MOST_FRAMES} pictures.", "Ask for them in parts.")
        pages = [p for p in frames if not p.subfiletype & REDUCED]
        if not pages:
            raise CannotRead("The TIFF holds no picture.", "Ask for it to be sent again.")
        for page in pages:
            height, pixel = page.imagelength * max(page.imagedepth, 1), page.samplesperpixel * page.bitspersample / 8
            check_size(page.imagewidth, height, len(data), pixel)
        whole = sum(page.imagewidth * page.imagelength for page in pages)
        if whole > MOST_PIXELS:
            raise LimitExceeded(
                f"The TIFF's {len(pages)} pictures hold {whole / 1e6:,.0f} million pixels; "
                f"{MOST_PIXELS // 1_000_000} million are the most.", "Ask for them in parts.",
            )
        return [_picture(page) for page in pages]


def _each(file: tifffile.TiffFile) -> Iterator[object]:
    """One frame after the other; a file may hold a hundred thousand."""
    number = 0
    while True:
        try:
            yield file.pages[number]
        except IndexError:
            return
        number += 1


def _picture(page: tifffile.TiffPage) -> Picture:
    samples: Array = np.asarray(page.asarray())
    if page.planarconfig == 2 and samples.ndim == 3:
        samples = np.moveaxis(samples, 0, -1)
    if samples.dtype.kind == "f" or samples.dtype.itemsize > 2:
        raise CannotRead(f"The TIFF has samples of {page.bitspersample} bits.", "Ask for 8 or 16 bits.")
    photometric = int(page.photometric)
    space, colours = {
        0: ("gray", 1), 1: ("gray", 1), 2: ("rgb", 3), 3: ("indexed", 1), 5: ("cmyk", 4), 6: ("rgb", 3), 8: ("lab", 3),
        9: ("lab", 3),
    }.get(photometric, ("", 0))
    if not space:
        raise CannotRead("The TIFF's kind of colour is not known.", "Ask for grey, RGB or CMYK.")
    notes: list[str] = []
    if samples.ndim == 2:
        samples = samples[..., None]
    if photometric == 0:
        samples = ~samples
    if space == "indexed":
        assert page.colormap is not None
        samples, space = (page.colormap.T[samples[..., 0]] >> 8).astype(np.uint8), "rgb"
    extra = samples.shape[2] - colours if photometric != 3 else 0
    kinds = [int(kind) for kind in page.extrasamples]
    has_alpha = extra == 1 and kinds[:1] in ([ASSOCIATED], [UNASSOCIATED])
    if extra > 0 and not has_alpha:
        notes.append(f"The TIFF has {extra} more channels than its colours; they were left out.")
        samples = samples[..., :colours]
    if has_alpha and kinds[0] == ASSOCIATED:
        samples = _apart(samples)
    if photometric == 8:
        samples = samples.copy()
        samples[..., 1:] ^= np.array(1 << (8 * samples.dtype.itemsize - 1), samples.dtype)
    made = from_samples(samples, has_alpha, space)
    tag = page.tags.get("Orientation")
    orientation = int(tag.value) if tag is not None else 1
    return Picture(
        pixels=made.pixels, bits=made.bits, space=made.space, filter=made.filter, packed=made.packed,
        icc=page.iccprofile or b"", alpha=made.alpha, alpha_bits=made.alpha_bits,
        orientation=orientation if 1 <= orientation <= 8 else 1, ppi=_ppi(page), notes=tuple(notes),
    )


def _apart(samples: Array) -> Array:
    """Colour that was multiplied by its alpha, divided by it again."""
    full = 65535 if samples.dtype.itemsize == 2 else 255
    alpha = samples[..., -1:].astype(np.float32)
    with np.errstate(divide="ignore", invalid="ignore"):
        colour = np.where(alpha > 0, samples[..., :-1].astype(np.float32) * full / alpha, 0)
    return np.concatenate([np.clip(colour, 0, full).round().astype(samples.dtype), samples[..., -1:]], axis=2)


def _ppi(page: tifffile.TiffPage) -> tuple[float, float] | None:
    try:
        factor = TO_INCH[int(page.tags["ResolutionUnit"].value) if "ResolutionUnit" in page.tags else 2]
        x, y = (page.tags[name].value for name in ("XResolution", "YResolution"))
        ppi = x[0] / x[1] * factor, y[0] / y[1] * factor
    except (KeyError, TypeError, ZeroDivisionError, IndexError):
        return None
    return ppi if min(ppi) > 1 else None
