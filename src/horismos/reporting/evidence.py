"""Pictures of findings: the worst place, the art below, the lines over it, a frame round what is meant."""

from collections.abc import Sequence
from types import TracebackType
from typing import Self

import numpy as np
from PIL import Image, ImageDraw

from horismos.artwork.lines import line_objects
from horismos.artwork.model import Artwork, Page
from horismos.artwork.sorting import colour_on_white
from horismos.destinations import Destination
from horismos.looks import INK, LOOK, NOTE, STOP, rgb
from horismos.paths import flatten
from horismos.paths.box import Bounds
from horismos.rendering.apart import PageApart
from horismos.rendering.composite import Pixels
from horismos.units import MM_PER_INCH

__all__ = ["Evidence"]

FRAMES = {"stop": rgb(STOP), "look": rgb(LOOK), "note": rgb(NOTE)}
LEAST_MM = 14.0
"""[ours] a picture shows at least so much, so that one sees where it is."""
SHARP = 2
"""Pictures are drawn so many times as large and made smaller, so that lines come out smooth."""
ROUND = 1.8
"""[ours] times the place itself."""


class Evidence:
    """The pictures of one page. Opened once, asked as often as there are findings; closes its view at the end."""

    def __init__(self, artwork: Artwork, page: Page, destination: Destination) -> None:
        lines = line_objects(artwork, page, destination)
        self.page = page
        self._view = PageApart.of_art(colour_on_white(artwork, page, lines, destination), page)
        self._drawn = [(line.role, flatten(c, 0.05)) for line in lines for c in line.contours]

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

    def picture(self, places: Sequence[Bounds], severity: str = "note", size: tuple[int, int] = (352, 176)) -> Pixels:
        """The first of the places, framed, with the others as far as they are in view; the whole page for none."""
        media = self.page.boxes.media
        area = self.area(places[0] if places else media, size)
        per_mm = size[0] / (area[2] - area[0])
        wide, high = SHARP * size[0], SHARP * size[1]
        per_mm *= SHARP
        image = Image.fromarray(self._view.render(area, per_mm * MM_PER_INCH)).crop((0, 0, wide, high))
        draw = ImageDraw.Draw(image)

        def at(points: np.ndarray) -> list[tuple[float, float]]:
            moved = (points - (area[0], area[3])) * (per_mm, -per_mm)
            return [(float(x), float(y)) for x, y in moved]

        for role, ring in self._drawn:
            low, high = ring.min(axis=0), ring.max(axis=0)
            if low[0] < area[2] and high[0] > area[0] and low[1] < area[3] and high[1] > area[1]:
                draw.line(at(ring), fill=(255, 255, 255), width=5 * SHARP, joint="curve")
                draw.line(at(ring), fill=rgb(role.facts.colour if role else INK), width=2 * SHARP, joint="curve")
        for place in reversed(places[:40]):
            (x0, y0), (x1, y1) = at(np.array([[place[0], place[3]], [place[2], place[1]]]))
            for grow, colour, width in ((7, (255, 255, 255), 4), (6, FRAMES[severity], 2)):
                by = grow * SHARP
                draw.rectangle((x0 - by, y0 - by, x1 + by, y1 + by), outline=colour, width=width * SHARP)
        return np.asarray(image.resize(size, Image.Resampling.BOX))
