"""Makes the opaque plain ground round the subject of a picture clear, with a soft edge and without a fringe.

The ground is what is like the picture's frame and joined to it. Where subject and ground mix, the share of each is
taken from the colours on either side; the subject's own colour stays, its share becomes the alpha.
"""

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
import pikepdf
import scipy
from numpy.typing import NDArray
from pikepdf import Name, Stream

from horismos.artwork.edit import reopened
from horismos.artwork.model import ImageObject, Page
from horismos.artwork.pixels import edit_pages, inline_pictures, packed, put_samples, samples_of
from horismos.artwork.spaces import Space
from horismos.colour import lab_of_srgb
from horismos.comparing.facets import Facet
from horismos.errors import CannotRead, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register, where
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.words import plural

TOLERANCE = Setting("tolerance", SettingKind.NUMBER, "How far the ground may be from one colour", 8.0, "ΔE", 0.0, 100.0)
PLAIN_SHARE = 0.9
"""[ours] of the frame that has to be the ground's colour."""
LEAST_SUBJECT = 0.02
MIXED_PX = 2
"""[ours] so far into the subject colours are mixed with the ground, by scaling and by JPEG."""
REACH_PX = 6
"""[ours] and so far further in the subject's own colour is looked for."""
TILE_PX = 1024
Mask = NDArray[np.bool_]
Samples = NDArray[np.uint8]


@dataclass(frozen=True, eq=False)
class Cleared:
    """A picture without its ground: the samples, and how much of each pixel is subject, 0 to 255."""

    samples: Samples
    alpha: NDArray[np.uint8]


def _on_screen(samples: Samples, space: Space) -> Samples:
    """About the sRGB of samples, for telling colours apart."""
    if samples.shape[2] == 3:
        return samples
    if samples.shape[2] == 1:
        grey = samples if space.family != "Separation" else 255 - samples
        return np.repeat(grey, 3, axis=2)
    light = (255 - samples[..., :3].astype(np.uint16)) * (255 - samples[..., 3:4].astype(np.uint16)) // 255
    return light.astype(np.uint8)


def cleared(samples: Samples, space: Space, tolerance: float) -> Cleared | None:
    """The picture without the plain ground round its subject; None where its frame is not one colour, or all is."""
    height, width, depth = samples.shape
    if min(height, width) < 8 or depth not in (1, 3, 4):
        return None
    frame = np.concatenate([samples[0], samples[-1], samples[:, 0], samples[:, -1]])
    colour = np.median(frame, axis=0).astype(np.uint8)
    alike = _alike(samples, colour, space, tolerance)
    if np.concatenate([alike[0], alike[-1], alike[:, 0], alike[:, -1]]).mean() < PLAIN_SHARE:
        return None
    labels, _ = scipy.ndimage.label(alike)
    rim = np.unique(np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]]))
    ground: Mask = np.isin(labels, rim[rim > 0])
    if not LEAST_SUBJECT < 1 - ground.mean() < 1:
        return None
    out, alpha = samples.copy(), np.where(ground, 0, 255).astype(np.uint8)
    for rows, columns, inner in _tiles(height, width):
        _unmix(samples, ground, colour, out, alpha, rows, columns, inner)
    return Cleared(out, alpha)


def _alike(samples: Samples, colour: Samples, space: Space, tolerance: float) -> Mask:
    """Which pixels are within a ΔE of a colour; row by row, since Lab takes room."""
    wanted = lab_of_srgb(_on_screen(colour[None, None], space))[0, 0]
    out: Mask = np.empty(samples.shape[:2], bool)
    for start in range(0, len(out), 256):
        lab = lab_of_srgb(_on_screen(samples[start : start + 256], space))
        out[start : start + 256] = ((lab - wanted) ** 2).sum(axis=2) <= max(tolerance, 0.5) ** 2
    return out


def _tiles(height: int, width: int) -> Iterator[tuple[slice, slice, tuple[slice, slice]]]:
    """Parts of a picture with a rim round them, and which part of each is its own."""
    rim = MIXED_PX + REACH_PX + 1
    for y in range(0, height, TILE_PX):
        for x in range(0, width, TILE_PX):
            top, left = max(y - rim, 0), max(x - rim, 0)
            rows = slice(top, min(y + TILE_PX + rim, height))
            columns = slice(left, min(x + TILE_PX + rim, width))
            yield rows, columns, (slice(y - top, y - top + TILE_PX), slice(x - left, x - left + TILE_PX))


def _unmix(
    samples: Samples, ground: Mask, colour: Samples, out: Samples, alpha: Samples, rows: slice, columns: slice,
    inner: tuple[slice, slice],
) -> None:
    """Part the pixels at the edge of the subject into its colour and its share, within one tile."""
    bare = ground[rows, columns]
    if not bare.any() or bare.all():
        return
    sure = scipy.ndimage.binary_erosion(~bare, iterations=MIXED_PX, border_value=1)
    if not sure.any():
        return
    far, nearest = scipy.ndimage.distance_transform_edt(~sure, return_indices=True)
    # The ground's own rim is looked at too: a faint trace of the subject lies within the tolerance.
    edge = scipy.ndimage.binary_dilation(bare, iterations=MIXED_PX) & scipy.ndimage.binary_dilation(~bare, iterations=1)
    edge &= ~sure & (far <= MIXED_PX + REACH_PX)
    at = np.nonzero(edge)
    own = samples[rows, columns][nearest[0][at], nearest[1][at]].astype(np.float32)
    mixed = samples[rows, columns][at].astype(np.float32) - colour
    way = own - colour
    share = np.clip((mixed * way).sum(axis=1) / np.maximum((way**2).sum(axis=1), 1.0), 0, 1)
    mine = np.zeros(edge.shape, bool)
    mine[inner] = True
    keep = mine[at]
    out[rows, columns][at[0][keep], at[1][keep]] = own[keep].astype(np.uint8)
    alpha[rows, columns][at[0][keep], at[1][keep]] = np.round(share[keep] * 255).astype(np.uint8)


# -- the mend --------------------------------------------------------------------------------------


def _pictures(before: MendContext) -> list[tuple[Page, ImageObject]]:
    return [
        (page, o) for page in before.artwork.pages for o in page.objects
        if isinstance(o, ImageObject) and not o.masked and not o.stencil
    ]


def _of_file(pdf: pikepdf.Pdf) -> list[Any]:
    """The pictures of a file that nothing masks, and that mask none."""
    streams = [o for o in pdf.objects if isinstance(o, Stream) and o.get("/Subtype") == Name.Image]
    masks = {o["/SMask"].objgen for o in streams if "/SMask" in o}
    return [o for o in streams if "/ColorSpace" in o and o.objgen not in masks and not {"/SMask", "/Mask"} & o.keys()]


def _cleared(picture: Any, tolerance: float) -> Cleared | None:
    """What a picture of the file becomes; None where it has no plain ground, or cannot be read here."""
    with contextlib.suppress(CannotRead):
        samples, space, _ = samples_of(picture)
        return cleared(samples, space, tolerance) if space.family != "Lab" else None
    return None


def _sizes(before: MendContext) -> dict[tuple[int, int], float]:
    """The pictures with a plain ground, by their pixels, with the share of it in per cent."""
    if not _pictures(before):
        return {}
    found: dict[tuple[int, int], float] = {}
    with reopened(before.artwork) as pdf:
        inline = [made for page in before.artwork.pages for _, made in inline_pictures(pdf, page)]
        for one in [*_of_file(pdf), *inline]:
            made = _cleared(one, float(before.step["tolerance"]))
            if made is not None:
                found[(made.alpha.shape[1], made.alpha.shape[0])] = float((made.alpha == 0).mean() * 100)
    return found


def _found(before: MendContext) -> list[tuple[Page, ImageObject]]:
    sizes = before.cached("grounds", lambda: _sizes(before))
    found = [(page, o) for page, o in _pictures(before) if o.pixels in sizes]
    if not found:
        raise NothingToDo("No picture stands on an opaque plain ground.")
    return found


def _say(before: MendContext) -> MendSummary:
    found = _found(before)
    sizes = before.cached("grounds", lambda: _sizes(before))
    count = len(found)
    share = max(sizes[o.pixels] for _, o in found)
    return MendSummary(
        f"Makes the plain ground round the subject of {plural(count, 'picture')} clear, up to {share:.0f} % of it. "
        "Enclosed places of that colour stay. The edge is soft, in the subject's own colours.",
        {"pictures": count, "ground_percent": round(share, 1)}, lambda: where(found),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    tolerance = float(before.step["tolerance"])
    for obj in _of_file(pdf):
        _clear(pdf, obj, tolerance)
    edit_pages(pdf, before.artwork.pages, lambda _, picture: _clear(pdf, picture, tolerance))


def _clear(pdf: pikepdf.Pdf, picture: Any, tolerance: float) -> bool:
    """Give a picture of the file its alpha; whether it had a ground."""
    made = _cleared(picture, tolerance)
    if made is None:
        return False
    put_samples(picture, made.samples, samples_of(picture)[2])
    alpha = pdf.make_stream(packed(made.alpha))
    alpha.Type, alpha.Subtype, alpha.Filter = Name.XObject, Name.Image, Name.FlateDecode
    alpha.Height, alpha.Width = made.alpha.shape
    alpha.ColorSpace, alpha.BitsPerComponent = Name.DeviceGray, 8
    picture.SMask = alpha
    return True


register(Mend(
    id="clear-ground", label="Make the plain ground clear", answers=("image.ground",),
    touches=frozenset([Facet.ART, Facet.LOOK]), settings=(TOLERANCE,), say=_say, do=_do, safe=False, order=107
))
