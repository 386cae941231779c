"""In what two revisions of an artwork differ: by facet, in figures, and in the picture of the art."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from horismos.artwork.lines import Line, line_objects, lines_by_role
from horismos.artwork.model import Artwork, Page
from horismos.artwork.parting import art_alone, write_art_alone
from horismos.colour import delta_e
from horismos.comparing.facets import Facet, touched
from horismos.destinations import Destination
from horismos.paths import flatten, length
from horismos.paths.box import Bounds
from horismos.paths.distance import farthest_from
from horismos.rendering.composite import PageView, Pixels
from horismos.rendering.page_process import PageProcess
from horismos.rendering.raster import RasterView

__all__ = ["LARGE_BYTES", "UNSEEN", "Difference", "compare", "picture_apart"]

STEP_MM = 0.5
UNSEEN = 2.5
"""[ours] ΔE that rounding in a renderer can make; about what an eye can tell side by side."""
MOST_PIXELS = 1_000_000
LARGE_BYTES = 64_000_000
"""[ours] a file that is not held in memory twice."""
RIM_MM = 0.3
"""[ours] and how far round a place that was named an edge drawn otherwise may show."""
Places = Mapping[int, Sequence[Bounds]]


@dataclass(frozen=True)
class Difference:
    """A comparison of two revisions, measured on the two files.

    ``facets`` are what differs; LOOK is among them where the pictures of the art do. ``art_max_delta_e`` and
    ``art_mean_delta_e`` are ΔE*ab between the two renderings of the art alone, ``outside_delta_e`` the greatest
    outside the places where a change was meant. ``plates_same`` says that the art is made of the same objects,
    so that its plates are the same bit for bit; then nothing was drawn. ``lines_moved_mm`` is the greatest
    distance between the lines of before and after. ``before`` and ``after`` count contours by role. ``later`` is the
    artwork as it is after it.
    """

    facets: frozenset[Facet]
    art_max_delta_e: float
    art_mean_delta_e: float
    outside_delta_e: float
    plates_same: bool
    lines_moved_mm: float
    before: dict[str, int]
    after: dict[str, int]
    length_before_mm: float
    length_after_mm: float
    later: Artwork = field(repr=False, compare=False)

    def to_json(self) -> dict[str, Any]:
        """The difference as plain values."""
        return {
            "facets": sorted(facet.value for facet in self.facets),
            "art_max_delta_e": round(self.art_max_delta_e, 2),
            "art_mean_delta_e": round(self.art_mean_delta_e, 3),
            "outside_delta_e": round(self.outside_delta_e, 2),
            "plates_same": self.plates_same,
            "lines_moved_mm": round(self.lines_moved_mm, 4),
            "before": self.before,
            "after": self.after,
            "length_before_mm": round(self.length_before_mm, 3),
            "length_after_mm": round(self.length_after_mm, 3),
        }


def _counts(lines: list[Line]) -> dict[str, int]:
    counts: Counter[str] = Counter()
    for role, listed in lines_by_role(lines).items():
        counts[role.value] += sum(len(line.contours) for line in listed)
    return dict(counts)


def compare(
    before: Artwork, after: Artwork, destination: Destination, places: Places | None = None, repacked: bool = True
) -> Difference:
    """Compare all pages of two revisions.

    ``places`` are where the art was meant to change, in mm by page number; None: anywhere. ``repacked`` as for
    ``touched``.
    """
    facets = touched(before, after, destination, repacked)
    same = not facets & {Facet.ART, Facet.BOXES}  # how an object is shown is a part of what it is
    most = mean = outside = moved = 0.0
    counts: list[Counter[str]] = [Counter(), Counter()]
    lengths = [0.0, 0.0]
    for old, new in zip(before.pages, after.pages, strict=True):
        both = [line_objects(before, old, destination), line_objects(after, new, destination)]
        if not same:
            apart = picture_apart((before, old, both[0]), (after, new, both[1]))
            most, mean = max(most, float(apart.max(initial=0))), max(mean, float(apart.mean()))
            if places is not None:
                beyond = apart[~_meant(places.get(old.number, ()), apart.shape, old)]
                outside = max(outside, float(beyond.max(initial=0)))
        drawn = [[flatten(c) for line in lines for c in line.contours] for lines in both]
        drawn[1] = [points + _shift(old, new) for points in drawn[1]]
        if drawn[0] and drawn[1]:  # where all lines come or go none has moved; the counts tell
            # what only went or only came has not moved either: all that stays lies where something lay, or the reverse
            ways = farthest_from(drawn[1], drawn[0], STEP_MM), farthest_from(drawn[0], drawn[1], STEP_MM)
            moved = max(moved, min(ways))
        for i, lines in enumerate(both):
            counts[i].update(_counts(lines))
            lengths[i] += sum(length(c) for line in lines for c in line.contours)
    facets |= frozenset([Facet.LOOK]) if most > UNSEEN else frozenset()
    return Difference(
        facets, most, mean, outside, same, moved, dict(counts[0]), dict(counts[1]), lengths[0], lengths[1],
        after,
    )


Seen = tuple[Artwork, Page, list[Line]]


def picture_apart(before: Seen, after: Seen) -> NDArray[np.float32]:
    """ΔE*ab between the pictures of the art of two pages, by pixel; the later one is fitted to the earlier."""
    x0, y0, x1, y1 = before[1].boxes.media
    dx, dy = _shift(before[1], after[1])
    ppi = PageView.overview_ppi(before[1].boxes, MOST_PIXELS)
    # One after the other: a heavy page takes room.
    one = _seen(before, (x0, y0, x1, y1), ppi)
    return delta_e(one, _seen(after, (x0 - dx, y0 - dy, x1 - dx, y1 - dy), ppi))


def _seen(seen: Seen, area: Bounds, ppi: float) -> Pixels:
    """The art of a page inside an area; of a large file drawn from the disk, by Ghostscript."""
    artwork, page, lines = seen
    if len(artwork.data) > LARGE_BYTES:
        with RasterView.of_file(lambda path: write_art_alone(artwork, page, lines, path), page, ppi) as view:
            return view.render(area, ppi)
    with PageProcess.of_art(art_alone(artwork, page, lines), page) as apart:
        return apart.render(area, ppi)


def _shift(old: Page, new: Page) -> tuple[float, float]:
    """How far the origin of mm, the trim box, has moved on a page whose media box is the same, in mm."""
    if old.boxes.raw["media"] != new.boxes.raw["media"] or old.rotate != new.rotate:
        return 0.0, 0.0
    return old.boxes.media[0] - new.boxes.media[0], old.boxes.media[1] - new.boxes.media[1]


def _meant(places: Sequence[Bounds], shape: tuple[int, ...], page: Page) -> NDArray[np.bool_]:
    """The pixels in which a change was meant."""
    out = np.zeros(shape[:2], bool)
    x0, _, x1, y1 = page.boxes.media
    per_mm = shape[1] / (x1 - x0)
    rim = RIM_MM + 1.5 / per_mm
    for left, low, right, high in places:
        columns = slice(max(int((left - rim - x0) * per_mm), 0), max(int((right + rim - x0) * per_mm) + 1, 0))
        rows = slice(max(int((y1 - high - rim) * per_mm), 0), max(int((y1 - low + rim) * per_mm) + 1, 0))
        out[rows, columns] = True
    return out
