"""Checks of pictures: sharp enough for the distance, not far too fine, no box of ground round the subject."""

import math
from collections.abc import Iterator

import numpy as np

from horismos.artwork.extent import bounds_of
from horismos.artwork.limits import MAX_PICTURE_SIDE
from horismos.artwork.model import ImageObject
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Hit
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet
from horismos.paths import bounds
from horismos.paths.box import Bounds
from horismos.units import MM_PER_INCH
from horismos.words import are, plural

EYE_PPI_AT_1_M = 87.0
"""[standard] 1 arc minute (acuity 20/20): ppi = 3438 / distance in inches, 87 at a metre."""
DEFAULT_DISTANCE_M = 1.0
"""[ours] from where a piece is looked at when the order does not say."""
LEAST_CM2 = 1.0
"""[ours] a smaller picture is no picture that anybody looks at from there."""
GROUND_PIXELS = 240
"""[ours] along the longer side, to look for a plain ground."""
SAME = 4
"""[ours] of 255: colours that differ less are one ground."""
GROUND_SHARE = 0.97
"""[ours] of the frame that has to be of one colour."""


def effective_ppi(image: ImageObject) -> float:
    """The resolution in place, in the direction in which it is lowest, under the full matrix.

    The matrix takes a pixel to a parallelogram; the longest stretch in it is its larger singular value.
    """
    a, b, c, d, _, _ = image.state.ctm
    w, h = image.pixels
    if not w or not h:
        return 0.0
    a, b, c, d = a / w, b / w, c / h, d / h
    total, det = a * a + b * b + c * c + d * d, a * d - b * c
    longest = math.sqrt((total + math.sqrt(max(total * total - 4 * det * det, 0.0))) / 2)
    return MM_PER_INCH / longest if longest else 0.0


def _shown(c: Context) -> list[tuple[ImageObject, Bounds]]:
    found = ((o, bounds_of(c.page, o)) for o in c.printed if isinstance(o, ImageObject))
    return [(o, box) for o, box in found if box and (box[2] - box[0]) * (box[3] - box[1]) / 100 >= LEAST_CM2]


@rule("image.undrawn", "stop", Facet.ART, limit=float(MAX_PICTURE_SIDE), unit="px")
def undrawn(c: Context) -> Iterator[Hit]:
    """Pictures that are drawn neither here nor in any measurement, since a side of theirs is too long.

    What they show is not known; a RIP may print them.
    """
    found = sorted(
        ((max(o.pixels), o) for o in c.printed if isinstance(o, ImageObject) and max(o.pixels) > c.limit),
        key=lambda one: -one[0],
    )
    if found:
        worst, count = found[0][1], len(found)
        yield Hit(
            f"{plural(count, 'picture')} {are(count, 'is', 'are')} not drawn here and not measured: "
            f"{worst.pixels[0]:,} × {worst.pixels[1]:,} pixels, and {c.limit:,.0f} on a side are the most. "
            f"What {are(count, 'it shows', 'they show')} is not known.",
            measured=found[0][0], count=count, where=[c.place(o) for _, o in found[:MOST_PLACES]],
        )


@rule("image.resolution", "look", Facet.ART, limit=EYE_PPI_AT_1_M, unit="ppi")
def resolution(c: Context) -> Iterator[Hit]:
    """Pixels per inch at finished size, against what the eye resolves at the viewing distance.

    The limit is for a metre; it goes with one over the distance.
    """
    said = c.order.viewing_distance_m
    distance = said or DEFAULT_DISTANCE_M
    needed = c.limit / distance
    found = [(effective_ppi(o), o, box) for o, box in _shown(c) if not (o.stencil and o.pixels == (1, 1))]
    low = sorted(((ppi, o, box) for ppi, o, box in found if ppi < needed - 0.05), key=lambda item: item[0])
    if low:
        ppi, worst, _ = low[0]
        count = len(low)
        assumed = "" if said else " (the order does not say from where it is seen)"
        yield Hit(
            f"{plural(count, 'picture')} {are(count, 'has', 'have')} too few pixels: {ppi:.0f} ppi at finished size; "
            f"at {distance:g} m{assumed} the eye sees {needed:.0f} ppi. It will look soft or stepped.",
            measured=ppi, count=count, where=[box for *_, box in low[:MOST_PLACES]], limit=round(needed, 1),
            detail=f"The worst is {worst.pixels[0]} × {worst.pixels[1]} pixels on "
            f"{worst.size_mm[0]:.0f} × {worst.size_mm[1]:.0f} mm.",
        )


@rule("image.excess", "note", Facet.ART, limit=450.0, unit="ppi")
def excess(c: Context) -> Iterator[Hit]:
    """Far more pixels than can be printed."""
    found = sorted(((effective_ppi(o), o, box) for o, box in _shown(c)), key=lambda item: -item[0])
    fine = [item for item in found if item[0] > c.limit + 0.05]
    if fine:
        count = len(fine)
        spare = sum(o.pixels[0] * o.pixels[1] * (1 - (c.limit / ppi) ** 2) for ppi, o, _ in fine) / 1e6
        yield Hit(
            f"{plural(count, 'picture')} {are(count, 'has', 'have')} more pixels than can be printed, up to "
            f"{fine[0][0]:.0f} ppi. {spare:.1f} million pixels could go without being missed.",
            measured=fine[0][0], count=count, where=[box for *_, box in fine[:MOST_PLACES]],
        )


@rule("image.ground", "look", Facet.ART, Facet.NAMES, Facet.GEOMETRY, unit="pictures", scope="piece")
def ground(c: Context) -> Iterator[Hit]:
    """An opaque plain ground round the subject that would be printed or traced as a box.

    Only where no cut is drawn through the picture: there the ground is cut off or wanted as bleed.
    """
    cuts = [bounds(contour) for contour in c.shape.faces]
    found = []
    for image, box in _shown(c):
        if image.masked or image.stencil or any(_common(cut, box) for cut in cuts):
            continue
        colour = _plain_frame(c, box)
        if colour is not None:
            found.append((box, colour))
    if found:
        r, g, b = found[0][1]
        white = min(r, g, b) >= 255 - SAME
        count = len(found)
        yield Hit(
            f"{plural(count, 'picture')} {are(count, 'stands', 'stand')} on an opaque "
            f"{'white' if white else 'plain'} ground. "
            "A cut line made from it would follow the box, not the subject.",
            measured=count, count=count, where=[box for box, _ in found],
            detail=f"The ground is RGB {r}, {g}, {b} as drawn on screen.",
        )


def _common(a: Bounds, b: Bounds) -> bool:
    return a[0] < b[2] and a[2] > b[0] and a[1] < b[3] and a[3] > b[1]


def _plain_frame(c: Context, box: Bounds) -> tuple[int, int, int] | None:
    """The colour of the frame of a picture where it is one colour all round and the inside is not."""
    longer = max(box[2] - box[0], box[3] - box[1])
    pixels = c.view.render(box, GROUND_PIXELS / longer * MM_PER_INCH)
    inner = pixels[2:-2, 2:-2].astype(int)
    if min(inner.shape[:2]) < 8:
        return None
    frame = np.concatenate([inner[0], inner[-1], inner[:, 0], inner[:, -1]])
    colour = np.median(frame, axis=0).astype(int)
    plain = (np.abs(frame - colour).max(axis=1) <= SAME).mean()
    subject = (np.abs(inner - colour).max(axis=2) > 4 * SAME).mean()
    if plain < GROUND_SHARE or subject < 0.02:
        return None
    r, g, b = (int(v) for v in colour)
    return r, g, b
