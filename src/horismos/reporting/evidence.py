"""Pictures of findings: the worst place, the art below, the lines over it, a frame round what is meant."""

from collections.abc import Sequence
from types import TracebackType
from typing import Self

import numpy as np
from PIL import Image, ImageDraw

from horismos.artwork.lines import line_objects
from horismos.artwork.model import Artwork, Page
from horismos.artwork.sorting import colour_on_white
from horismos.checking import Finding
from horismos.destinations import Destination
from horismos.palette import INK, LOOK, NOTE, STOP, rgb
from horismos.paths import box, flatten
from horismos.paths.box import Bounds
from horismos.rendering.composite import Pixels
from horismos.rendering.page_process import PageProcess
from horismos.units import MM_PER_INCH

__all__ = ["Evidence"]

FRAMES = {"stop": rgb(STOP), "look": rgb(LOOK), "note": rgb(NOTE)}
LEAST_MM = 14.0
"""[ours] a picture shows at least so much, so that one sees where it is."""
SHARP = 2
"""Pictures are drawn so many times as large and made smaller, so that lines come out smooth."""
ROUND = 1.8
"""[ours] times the place itself."""
WHOLE_MM = 40.0
"""[ours] of a line that is longer or wider a stretch is shown: all of it would show none of it."""
STRETCH_MM = 24.0
PICTURE_MM = 60.0
"""[ours] of a place that is larger so much is shown round its middle, where pixels or ink are what is wrong."""
CLOSE = ("image.",)
"""The checks that are about what only shows from near."""


class Evidence:
    """The pictures of one page. Opened once, asked as often as there are findings; closes its view at the end."""

    def __init__(self, artwork: Artwork, page: Page, destination: Destination) -> None:
        lines = line_objects(artwork, page, destination)
        self.page = page
        self._view = PageProcess.of_art(colour_on_white(artwork, page, lines, destination), page)
        self._drawn = [(line.role, line.width_mm, flatten(c, 0.05)) for line in lines for c in line.contours]

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def close(self) -> None:
        """Give the page back."""
        self._view.close()

    def area(self, place: Bounds, size: tuple[int, int]) -> Bounds:
        """What a picture of a place shows, in mm: the place with room round it, in the shape of the picture."""
        x, y = (place[0] + place[2]) / 2, (place[1] + place[3]) / 2
        w, h = (max(LEAST_MM, ROUND * (place[i + 2] - place[i])) for i in (0, 1))
        h = max(h, w * size[1] / size[0])
        w = h * size[0] / size[1]
        return x - w / 2, y - h / 2, x + w / 2, y + h / 2

    def of(self, finding: Finding, size: tuple[int, int]) -> Pixels:
        """The worst place of a finding: a stretch of a line that it is about as a whole, the place itself else."""
        places = finding.where
        near = self._stretch(places[0], finding.subject) if places else None
        if near is None and places and finding.id.startswith(CLOSE):
            near = _middle(places[0], PICTURE_MM)
        return self.picture(places, finding.severity, size, near, "" if near is None else finding.subject)

    def _stretch(self, place: Bounds, subject: str) -> Bounds | None:
        """A stretch of the line that fills a place: round the point that is nearest to the upper left of it."""
        if max(place[2] - place[0], place[3] - place[1]) <= WHOLE_MM:
            return None
        around = box.grow(place, 0.1)
        rings = [
            ring for role, _, ring in self._drawn
            if (role.value if role else "") == subject and box.holds(around, (*ring.min(axis=0), *ring.max(axis=0)))
        ]
        if not rings:
            return None
        points = np.concatenate(rings)
        if not np.allclose((*points.min(axis=0), *points.max(axis=0)), place, atol=0.2):
            return None
        x, y = points[np.argmin(np.hypot(points[:, 0] - place[0], points[:, 1] - place[3]))]
        half = STRETCH_MM / 2 / ROUND
        return float(x) - half, float(y) - half, float(x) + half, float(y) + half

    def picture(
        self, places: Sequence[Bounds], severity: str = "note", size: tuple[int, int] = (352, 176),
        near: Bounds | None = None, meant: str = "",
    ) -> Pixels:
        """The first of the places, framed, with the others as far as they are in view; the whole page for none.

        ``near`` is what is shown of it where that is not all, in mm; where the lines of one role are ``meant``, the
        others are paler.
        """
        media = self.page.boxes.media
        area = self.area(near or (places[0] if places else media), size)
        per_mm = size[0] / (area[2] - area[0])
        wide, high = SHARP * size[0], SHARP * size[1]
        per_mm *= SHARP
        image = Image.fromarray(self._view.render(area, per_mm * MM_PER_INCH)).crop((0, 0, wide, high))
        draw = ImageDraw.Draw(image)

        def at(points: np.ndarray) -> list[tuple[float, float]]:
            moved = (points - (area[0], area[3])) * (per_mm, -per_mm)
            return [(float(x), float(y)) for x, y in moved]

        for role, width, ring in self._drawn:
            low, high = ring.min(axis=0), ring.max(axis=0)
            if low[0] < area[2] and high[0] > area[0] and low[1] < area[3] and high[1] > area[1]:
                colour = rgb(role.facts.colour if role else INK)
                wide = round(width * per_mm)
                if meant and meant != (role.value if role else ""):
                    colour = _paler(colour)
                as_drawn = wide > 2 * SHARP
                casing = (_paler(colour), wide) if as_drawn else ((255, 255, 255), 5 * SHARP)
                draw.line(at(ring), fill=casing[0], width=casing[1], joint="curve")
                draw.line(at(ring), fill=colour, width=SHARP if as_drawn else 2 * SHARP, joint="curve")
        for place in reversed(places[:40]):
            (x0, y0), (x1, y1) = at(np.array([[place[0], place[3]], [place[2], place[1]]]))
            for grow, colour, width in ((7, (255, 255, 255), 4), (6, FRAMES[severity], 2)):
                by = grow * SHARP
                draw.rectangle((x0 - by, y0 - by, x1 + by, y1 + by), outline=colour, width=width * SHARP)
        return np.asarray(image.resize(size, Image.Resampling.BOX))


def _middle(place: Bounds, most: float) -> Bounds:
    """The middle of a place, at most so wide and high, in mm."""
    x, y = (place[0] + place[2]) / 2, (place[1] + place[3]) / 2
    w, h = (min(place[i + 2] - place[i], most) / 2 for i in (0, 1))
    return x - w, y - h, x + w, y + h


def _paler(colour: tuple[int, int, int]) -> tuple[int, int, int]:
    red, green, blue = (round(v + (255 - v) * 0.6) for v in colour)
    return red, green, blue
