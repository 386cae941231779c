"""Where the art of two pages differs, trim on trim: by colour on the press, and ink by ink."""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from horismos.artwork.lines import Line
from horismos.artwork.model import PROCESS_INKS, Artwork, Page
from horismos.artwork.parting import art_alone
from horismos.colour.press import delta_e_of_cmyk
from horismos.comparing.difference import UNSEEN
from horismos.paths.box import Bounds, common, union_bounds
from horismos.rendering.areas import drawn_inks
from horismos.units import MM_PER_INCH

__all__ = ["ArtAreas", "art_areas"]

FINE_PPI, LEAST_PPI = 300.0, 36.0
TILE_PIXELS, MOST_PIXELS = 12_000_000, 160_000_000
"""[ours] what is drawn at a time, and for a page in all; a larger one is drawn less finely."""
TINT = 0.03
"""[ours] a difference of the tint of one ink that no rounding makes."""
ROUND, FLAT, FEWEST = 2, 2, 4
"""[ours] pixels round a place in which nothing of its picture varies by more than so much of 255, and how many such
places side by side are no dot.
"""
TOGETHER = tuple(f"{ink} of all" for ink in PROCESS_INKS)
"""What stands for the process inks of the composite, in which spots are as the file says them."""
Tints = NDArray[np.uint8]
Flags = NDArray[np.bool_]


@dataclass(frozen=True)
class ArtAreas:
    """Boxes round each connected change, in mm from the lower left of the trim, and the greatest ΔE*ab in them."""

    areas_mm: tuple[Bounds, ...] = ()
    delta_e_max: float = 0.0


Side = tuple[Artwork, Page, list[Line]]


def art_areas(old: Side, new: Side) -> ArtAreas:
    """Where the art of two pages differs.

    A pixel differs where its colour on the press does by more than rounding makes, or any one ink. What is narrower
    than two pixels is how an edge was drawn, unless no edge lies there in one of them: a hairline came or went.
    Raises CannotRead or LimitExceeded as drawing does.
    """
    whole = union_bounds([old[1].boxes.media, new[1].boxes.media])
    assert whole is not None
    ppi = _ppi(whole)
    step = MM_PER_INCH / ppi
    columns, rows = (math.ceil((high - low) / step) for low, high in ((whole[0], whole[2]), (whole[1], whole[3])))
    apart, alone, most = np.zeros((rows, columns), bool), np.zeros((rows, columns), bool), 0.0
    for top, left, height, width in _tiles(rows, columns):
        y1, x0 = whole[3] - top * step, whole[0] + left * step
        area = (x0, y1 - height * step, x0 + width * step, y1)
        one, other = (_plates(side, area, ppi, (height, width)) for side in (old, new))
        differs, thin, delta = _apart(one, other, (height, width))
        here = np.s_[top : top + height, left : left + width]
        apart[here], alone[here] = differs, thin
        most = max(most, float(delta[_without_edges(differs, thin)].max(initial=0.0)))
    boxes = [
        (whole[0] + left * step, whole[3] - bottom * step, whole[0] + right * step, whole[3] - top * step)
        for top, left, bottom, right in _regions(_without_edges(apart, alone))
    ]
    return ArtAreas(tuple(sorted(boxes)), most)


def _regions(apart: Flags) -> list[tuple[int, int, int, int]]:
    """The box of each connected part, in pixels: top, left, bottom, right."""
    rows, columns = (np.flatnonzero(apart.any(axis=axis)) for axis in (1, 0))
    if not len(rows):
        return []
    top, left = int(rows[0]), int(columns[0])
    marked, _ = ndimage.label(apart[top : rows[-1] + 1, left : columns[-1] + 1], np.ones((3, 3), int))
    return [
        (top + y.start, left + x.start, top + y.stop, left + x.stop) for y, x in ndimage.find_objects(marked)
    ]


def _ppi(whole: Bounds) -> float:
    area = (whole[2] - whole[0]) * (whole[3] - whole[1]) / MM_PER_INCH**2
    return max(min(FINE_PPI, math.sqrt(MOST_PIXELS / max(area, 1e-6))), LEAST_PPI)


def _tiles(rows: int, columns: int) -> Iterator[tuple[int, int, int, int]]:
    """Parts of a picture that are small enough to be drawn at once: top, left, height, width."""
    side = int(math.sqrt(TILE_PIXELS))
    high = min(rows, max(side, TILE_PIXELS // max(columns, 1)))
    wide = min(columns, max(side, TILE_PIXELS // max(high, 1)))
    for top in range(0, rows, high):
        for left in range(0, columns, wide):
            yield top, left, min(high, rows - top), min(wide, columns - left)


def _plates(side: Side, area: Bounds, ppi: float, shape: tuple[int, int]) -> Mapping[str, Tints]:
    """The plates of the art in an area, by ink, and all inks together; nothing on what lies beyond the page."""
    artwork, page, lines = side
    seen = common(page.boxes.media, area)
    if seen is None:
        return {}
    drawn, together = drawn_inks(art_alone(artwork, page, lines), page, area, ppi)
    step = MM_PER_INCH / ppi
    x = area[0] + (np.arange(shape[1]) + 0.5) * step
    y = area[3] - (np.arange(shape[0]) + 0.5) * step
    here = ((y >= seen[1]) & (y <= seen[3]))[:, None] & ((x >= seen[0]) & (x <= seen[2]))[None]
    made = np.concatenate([drawn.tints, together], axis=2)
    tints = np.zeros((*shape, made.shape[2]), np.uint8)
    high, wide = (min(a, b) for a, b in zip(shape, made.shape[:2], strict=True))
    tints[:high, :wide] = made[:high, :wide]
    tints[~here] = 0
    return {ink: tints[..., i] for i, ink in enumerate([*drawn.inks, *TOGETHER])}


def _apart(
    old: Mapping[str, Tints], new: Mapping[str, Tints], shape: tuple[int, int]
) -> tuple[Flags, Flags, NDArray[np.float32]]:
    """Which pixels differ, which of them where one picture is flat, and by how much in ΔE*ab.

    That is of the process inks, or with the spots as the file says them.
    """
    none = np.zeros(shape, np.uint8)
    inks = [*PROCESS_INKS, *TOGETHER, *sorted((set(old) | set(new)) - {*PROCESS_INKS, *TOGETHER})]
    both = [np.stack([plates.get(ink, none) for ink in inks], axis=2) for plates in (old, new)]
    unlike = np.abs(both[0].astype(np.int16) - both[1]).max(axis=2)
    apart, how_far = np.zeros(shape, bool), np.zeros(shape, np.float32)
    places = np.nonzero(unlike)
    if len(places[0]):
        pairs = np.concatenate([tints[places] for tints in both], axis=1)
        kinds, which = np.unique(pairs, axis=0, return_inverse=True)
        count = len(inks)
        one, other = kinds[:, :count] / 255, kinds[:, count:] / 255
        delta = np.maximum(*(delta_e_of_cmyk(one[:, part], other[:, part]) for part in (np.s_[:4], np.s_[4:8])))
        by_ink = np.abs(one[:, 8:] - other[:, 8:]).max(axis=1, initial=0.0) > TINT
        how_far[places] = delta[which.ravel()]
        apart[places] = ((delta > UNSEEN) | by_ink)[which.ravel()]
    return apart, _alone(apart, *both), how_far


def _alone(apart: Flags, *pictures: Tints) -> Flags:
    """What differs where one of the pictures is flat all round: no edge lies there that was only rounded otherwise."""
    found = np.zeros(apart.shape, bool)
    y, x = np.nonzero(apart & ~_wide(apart))
    if not len(y):
        return found
    flat = np.zeros(len(y), bool)
    for tints in pictures:
        padded = np.pad(tints, ((ROUND, ROUND), (ROUND, ROUND), (0, 0)), mode="edge")
        low = high = tints[y, x]
        for down in range(2 * ROUND + 1):
            for right in range(2 * ROUND + 1):
                near = padded[y + down, x + right]
                low, high = np.minimum(low, near), np.maximum(high, near)
        flat |= (high - low).max(axis=1) <= FLAT
    found[y, x] = flat
    marked, _ = ndimage.label(found, np.ones((3, 3), int))
    large = np.bincount(marked.ravel()) >= FEWEST
    large[0] = False
    of_size: Flags = large[marked]
    return of_size


def _wide(apart: Flags) -> Flags:
    wide: Flags = ndimage.binary_opening(apart, np.ones((2, 2), bool))
    return wide


def _without_edges(apart: Flags, alone: Flags) -> Flags:
    """What differs over two pixels each way somewhere: an edge that was rounded otherwise flips single ones.

    A thin line that came or went does too; it is ``alone``, with nothing at its place in one of the pictures.
    """
    kept = _wide(apart) | alone
    whole: Flags = ndimage.binary_propagation(kept, np.ones((3, 3), bool), mask=apart) if kept.any() else kept
    return whole
