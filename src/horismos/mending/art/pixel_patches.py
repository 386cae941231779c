"""Pixels for what is see-through and can be drawn in no other way: drawn by Ghostscript as it is, plate by plate.

The page is drawn with it and without it, up to the last one that is drawn together; where the two differ a pixel is
taken over. So what lies below stays vectors where nothing see-through shows, and what lies above stays vectors too.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from horismos.artwork.edit import Edit, edit_page, reopened, save
from horismos.artwork.model import ImageObject, Page, PaintedObject, PathObject, TextObject
from horismos.artwork.outline_text import outlined
from horismos.artwork.parting import edits_without, leave_out, show_whole
from horismos.mending.art.blending import shapes_of
from horismos.mending.art.see_through import SeeThrough, Unit
from horismos.mending.engine.registry import MendContext
from horismos.paths import Contour
from horismos.paths.box import Bounds, union_bounds
from horismos.paths.contour import rectangle
from horismos.rendering.areas import Drawn, drawn_area, snapped
from horismos.units import MM_PER_INCH

__all__ = ["Patch", "patches"]

MOST_DRAWINGS = 6
"""[ours] times that a page is drawn; more that lie between each other are drawn together."""
MOST_PIXELS = 60_000_000
RUN_ON_PX = 2
"""[ours] so that a vector edge never shows where the pixels end."""


@dataclass(frozen=True, eq=False)
class Patch:
    """Pixels that take the place of an object: as they are drawn, and in which of them it shows.

    ``spots`` says of each ink whether there is any. ``edge`` is what the object covers, where that is known: so its
    edge stays a vector, and the pixels run on beyond it.
    """

    index: int
    drawn: Drawn
    mask: NDArray[np.bool_]
    spots: tuple[bool, ...]
    edge: tuple[tuple[Sequence[Contour], bool], ...]


def patches(before: MendContext, page: Page, units: Sequence[Unit], found: SeeThrough, ppi: float) -> Iterator[Patch]:
    """The patches of a page, in the order in which it is painted."""
    for together in _together(page, units, found):
        area = union_bounds(unit.box for unit in together)
        assert area is not None
        size = (area[2] - area[0]) * (area[3] - area[1]) / MM_PER_INCH**2
        fine = min(ppi, math.sqrt(MOST_PIXELS / max(size, 1e-6)))
        area = snapped(page, area, fine)
        if area[2] <= area[0] or area[3] <= area[1]:
            continue
        inks = set(page.ink_names) - {line.ink for line in before.lines if line.page is page}
        shown = drawn_area(_up_to(before, page, together, False), page, area, fine, inks, found.additive)
        bare = drawn_area(_up_to(before, page, together, True), page, area, fine, inks, found.additive)
        differs = _differs(shown, bare)
        for unit in together:
            yield _patch(page, unit, shown, differs)


def _together(page: Page, units: Sequence[Unit], found: SeeThrough) -> list[list[Unit]]:
    """Units that are drawn in one go: nothing that is painted between two of them meets the first."""
    out: list[list[Unit]] = []
    meant = {unit.index for unit in units}
    for unit in units:
        if out and (len(out) == MOST_DRAWINGS or not _between(out[-1], unit, found, meant)):
            out[-1].append(unit)
        else:
            out.append([unit])
    return out


def _between(earlier: Sequence[Unit], unit: Unit, found: SeeThrough, meant: set[int]) -> bool:
    last = earlier[-1].index
    others = [found.boxes[j] for j in range(last + 1, unit.index) if j in found.boxes and j not in meant]
    return any(_meet(box, one.box) for box in others for one in earlier)


def _meet(a: Bounds, b: Bounds) -> bool:
    return a[0] < b[2] and a[2] > b[0] and a[1] < b[3] and a[3] > b[1]


def _up_to(before: MendContext, page: Page, together: Sequence[Unit], without: bool) -> bytes:
    """The art up to the last of these, or the same without them, as a file of one page."""
    lines = [line for line in before.lines if line.page is page]
    taken = {line.index for line in lines}
    last = max(unit.index for unit in together)
    out = set(range(last + 1, len(page.objects))) | ({unit.index for unit in together} if without else set())
    edits: dict[int, list[Edit]] = edits_without(lines)
    with reopened(before.artwork) as pdf:
        texts = {i: () for i in out if isinstance(page.objects[i], TextObject) and i not in taken and i < last + 1}
        leave_out(page, (i for i in out if i not in taken and i not in texts), edits)
        for stream, more in outlined(pdf, page, texts).items() if texts else ():
            edits.setdefault(stream, []).extend(more)
        edit_page(pdf, page, edits, {})
        show_whole(pdf, page)
        return save(pdf, compress=False)


def _differs(shown: Drawn, bare: Drawn) -> NDArray[np.bool_]:
    """Where two drawings differ, on any plate; one that only one of them has is blank in the other."""
    out = np.zeros(shown.tints.shape[:2], bool)
    for ink in {*shown.inks, *bare.inks}:
        planes = [d.tints[..., d.inks.index(ink)] if ink in d.inks else 0 for d in (shown, bare)]
        out |= np.not_equal(planes[0], planes[1])
    return out


def _patch(page: Page, unit: Unit, shown: Drawn, differs: NDArray[np.bool_]) -> Patch:
    """The part of a drawing that one unit needs."""
    x0, _, _, y1 = shown.box
    per_mm = shown.tints.shape[1] / (shown.box[2] - x0), shown.tints.shape[0] / (y1 - shown.box[1])
    left, right = max(math.floor((unit.box[0] - x0) * per_mm[0]) - 1, 0), math.ceil((unit.box[2] - x0) * per_mm[0]) + 1
    top, low = max(math.floor((y1 - unit.box[3]) * per_mm[1]) - 1, 0), math.ceil((y1 - unit.box[1]) * per_mm[1]) + 1
    tints = np.ascontiguousarray(shown.tints[top:low, left:right])
    height, width = tints.shape[:2]
    box = (
        x0 + left / per_mm[0], y1 - (top + height) / per_mm[1], x0 + (left + width) / per_mm[0], y1 - top / per_mm[1]
    )
    mask, edge = differs[top:low, left:right], _edge(page, page.objects[unit.index])
    if edge and mask.any():
        nearest = scipy.ndimage.distance_transform_edt(~mask, return_distances=False, return_indices=True)
        mask = scipy.ndimage.binary_dilation(mask, iterations=RUN_ON_PX)
        tints = tints[nearest[0], nearest[1]]
    spots = tuple(bool(tints[..., k].any()) for k in range(tints.shape[2]))
    return Patch(unit.index, Drawn(tints, shown.inks, box), mask, spots, edge)


def _edge(page: Page, obj: PaintedObject) -> tuple[tuple[Sequence[Contour], bool], ...]:
    """What an object covers, as a clip; nothing where it is a text, a shading or both stroke and fill."""
    if isinstance(obj, ImageObject):
        return (([rectangle(0, 0, 1, 1).transformed(obj.state.ctm)], False),)
    shapes = shapes_of(page, obj) if isinstance(obj, PathObject) else None
    return ((shapes[0][0].contours, shapes[0][0].even_odd),) if shapes and len(shapes) == 1 else ()
