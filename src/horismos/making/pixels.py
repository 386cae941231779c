"""How much of each pixel is art: by the alpha of a picture, against a plain ground, or by what the page draws."""

import math
from dataclasses import dataclass

import numpy as np
import pikepdf
import scipy
from numpy.typing import NDArray

from horismos.artwork.edit import reopened
from horismos.artwork.model import Artwork, ImageObject, Page
from horismos.artwork.pixels import picture_drawn, samples_of
from horismos.errors import CannotRead
from horismos.making.spec import Where
from horismos.making.tracing import Field, is_hard
from horismos.paths.box import Bounds
from horismos.paths.matrix import Matrix
from horismos.rendering.composite import MAX_PIXELS, PageView
from horismos.units import MM_PER_INCH

__all__ = [
    "Colours", "Ground", "by_alpha_of", "by_ground", "drawn_alpha", "drawn_colours", "frame_colour", "own_picture",
    "sharpest_tolerance", "whole",
]

DRAWN_PPI = 600.0
"""[ours] what has no pixels of its own is drawn this fine."""
BESIDE_PX = 2
"""[ours] so far from the ground a pixel may be a mixture of it and the art."""
WINDOW_PX = 2 * BESIDE_PX + 1
FRAME_SHARE = 0.9
"""[ours] of the frame of a picture that has to be one colour for this to be its ground."""
ROWS = 512
TOLERANCES = range(8, 132, 4)
SHARP_SHARE = 0.75
SMOOTH_PX = 0.6
"""[ours] noise of JPEG along an edge is smoothed by so much."""

Grey = NDArray[np.uint8]
Colours = NDArray[np.uint8]


def own_picture(page: Page, objects: list[int]) -> ImageObject | None:
    """The one picture that a page's art is; None where it is more, or something else, or where a clip cuts into it."""
    if len(objects) != 1:
        return None
    only = page.objects[objects[0]]
    plain = isinstance(only, ImageObject) and not only.stencil and not only.state.transparent
    return only if plain and isinstance(only, ImageObject) and only.state.clip < 0 else None


def whole(picture: ImageObject) -> Field:
    """A picture that covers all of its place."""
    width, height = picture.pixels
    return Field(np.full((height, width), 255, np.uint8), 255.0, _unit_square(picture.state.ctm, (height, width)))


def by_alpha_of(artwork: Artwork, page: Page, picture: ImageObject) -> Field | None:
    """The soft mask of a picture as it is in the file, pixel for pixel; None where it is not read here."""
    try:
        with reopened(artwork) as pdf:
            drawn = picture_drawn(pdf, page, picture)
            mask = drawn.get("/SMask") if drawn is not None else None
            if mask is None:
                return None
            samples, _, _ = samples_of(mask)
    except (CannotRead, KeyError, pikepdf.PdfError):
        return None
    return Field(samples[:, :, 0], 255.0, _unit_square(picture.state.ctm, samples.shape), graded=True)


def _unit_square(ctm: Matrix, shape: tuple[int, ...]) -> Matrix:
    """Pixels, from the upper left and y downwards, to mm, for a picture that fills the unit square (8.9.5.1)."""
    height, width = shape[:2]
    a, b, c, d, e, f = ctm
    return a / width, b / width, -c / height, -d / height, e + c, f + d


def _fine(page: Page, own_ppi: float) -> float:
    x0, y0, x1, y1 = page.boxes.media
    most = math.sqrt(MAX_PIXELS * 0.9 / max((x1 - x0) * (y1 - y0), 1e-6)) * MM_PER_INCH
    return min(own_ppi, most)


def _on_page(box: Bounds, ppi: float) -> Matrix:
    step = MM_PER_INCH / ppi
    return step, 0.0, 0.0, -step, box[0], box[3]


def drawn_alpha(art: bytes, page: Page, ppi: float = DRAWN_PPI) -> Field:
    """What the page covers, as it is drawn: how opaque each pixel becomes on clear ground."""
    fine = _fine(page, ppi)
    with PageView.of_art(art, page) as view:
        covered = view.covered(page.boxes.media, fine)
    return Field(covered, 255.0, _on_page(page.boxes.media, fine), graded=True)


def drawn_colours(art: bytes, page: Page, ppi: float = DRAWN_PPI) -> tuple[Colours, Matrix]:
    """What the page looks like on white, shape (height, width, 3), and where its pixels lie in mm."""
    fine = _fine(page, ppi)
    with PageView.of_art(art, page) as view:
        return view.render(page.boxes.media, fine), _on_page(page.boxes.media, fine)


def frame_colour(colours: Colours, tolerance: float) -> tuple[int, int, int] | None:
    """The colour of a picture's frame, where this is one colour within the tolerance."""
    frame = np.concatenate([colours[0], colours[-1], colours[:, 0], colours[:, -1]])
    colour = np.median(frame, axis=0)
    alike = (np.abs(frame - colour).max(axis=1) <= max(tolerance, 2)).mean()
    return (int(colour[0]), int(colour[1]), int(colour[2])) if alike >= FRAME_SHARE else None


@dataclass(frozen=True)
class Ground:
    """A colour, how far from it (greatest difference of a channel, 0 to 255) is still ground, and where."""

    colour: tuple[int, int, int]
    tolerance: float
    joined: Where


def sharpest_tolerance(colours: Colours, colour: tuple[int, int, int]) -> float:
    """The tolerance at which the edge of what is not ground is sharp: above noise and soft shadows, below the art.

    The edge at each tolerance is where the distance from the ground passes it; there it is looked how steeply.
    """
    every = max(1, colours.shape[0] * colours.shape[1] // 4_000_000)
    part = colours[(np.arange(len(colours)) // 64) % every == 0]  # bands of rows tell as much of a large picture
    far = np.abs(part.astype(np.int16) - colour).max(axis=2).astype(np.float32)
    across, other = np.abs(np.diff(far, axis=1))[:-1], np.abs(np.diff(far, axis=0))[:, :-1]
    steep = np.maximum(across, other)
    low = np.minimum(np.minimum(far[:-1, :-1], far[1:, :-1]), far[:-1, 1:])
    high = np.maximum(np.maximum(far[:-1, :-1], far[1:, :-1]), far[:-1, 1:])
    found = []
    for tolerance in TOLERANCES:
        passed = steep[(low <= tolerance) & (high > tolerance)]
        # the tenth part that is softest: a shadow lies along a part of the edge only
        found.append(float(np.percentile(passed, 10)) if len(passed) else 0.0)
    best = max(found)
    return float(next(t for t, s in zip(TOLERANCES, found, strict=True) if s >= SHARP_SHARE * best))


def by_ground(colours: Colours, matrix: Matrix, ground: Ground) -> Field:
    """How much of each pixel is not ground.

    A pixel beside the ground is a mixture of it, shadow and all, and of what lies behind it: its share is how far it
    is from the ground there, beside how far its neighbours go. So an edge lies where it is half way, whatever the
    colours are.
    """
    height, width = colours.shape[:2]
    out = np.zeros((height, width), np.uint8)
    tolerance = max(ground.tolerance, 1.0)
    for top in range(0, height, ROWS):
        low, high = max(top - 4, 0), min(top + ROWS + 4, height)
        part = colours[low:high]
        far = np.abs(part.astype(np.int16) - ground.colour).max(axis=2).astype(np.float32)
        clear = far <= tolerance
        if clear.all():
            continue
        near, least = scipy.ndimage.maximum_filter(far, WINDOW_PX), scipy.ndimage.minimum_filter(far, WINDOW_PX)
        shade = np.minimum(least, tolerance)
        beside = scipy.ndimage.binary_dilation(clear, np.ones((3, 3), bool), iterations=BESIDE_PX)
        share = np.where(near > tolerance, np.clip((far - shade) / np.maximum(near - shade, 1), 0, 1), 0.0)
        # inside the art a pixel counts whole, however near its colour comes to the ground
        share = np.where(beside, share, 1.0)
        out[top : min(top + ROWS, height)] = np.rint(share * 255)[top - low :][: min(ROWS, height - top)]
    if ground.joined is Where.EDGE:
        bare = out < 128
        # what is padded round is met first, and all that is joined to it is ground
        labels, _ = scipy.ndimage.label(np.pad(bare, 1, constant_values=True))
        out[bare & (labels[1:-1, 1:-1] != 1)] = 255
    hard = is_hard(Field(out, 255.0, matrix), 0.5)
    return Field(scipy.ndimage.gaussian_filter(out, SMOOTH_PX), 255.0, matrix, hard=hard)
