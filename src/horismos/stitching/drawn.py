"""What a file draws that a layer of fabric can be: its layers, inks, colours and lines that close round an area."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from horismos.artwork.lines import Line
from horismos.artwork.model import Artwork, Page, PathObject
from horismos.artwork.paints import paints_of
from horismos.checking.engine.findings import Candidate
from horismos.checking.inks.colours import colour_of
from horismos.paths import Contour, chain, contour_from_points, flatten
from horismos.paths.areas import area_of

__all__ = ["Drawn", "drawn_areas"]

FINE_MM = 0.002
LEAST_MM2 = 1.0
"""[ours] what is smaller is no piece of fabric."""


@dataclass(frozen=True, eq=False)
class Drawn:
    """Something that a file draws, by its key (``layer:NAME``, ``ink:NAME``, ``colour:C M Y K``, ``line:ROLE``).

    ``area`` is what it closes round, in mm.
    """

    key: str
    words: str
    area: shapely.Geometry

    @property
    def by(self) -> str:
        """What it is told by: layer, ink, colour or line."""
        return self.key.partition(":")[0]


def drawn_areas(artwork: Artwork, page: Page, lines: Sequence[Line]) -> tuple[Drawn, ...]:
    """What a page draws that closes round an area, each kind of it from the smallest area up."""
    taken = {line.index for line in lines if line.takes_all}
    words: dict[str, str] = {}
    strands: dict[str, list[PathObject]] = {}
    for i, obj in enumerate(page.objects):
        if i in taken or not isinstance(obj, PathObject) or not obj.state.visible:
            continue
        for key, said in _keys(artwork, obj):
            words.setdefault(key, said)
            strands.setdefault(key, []).append(obj)
    areas = {key: _area(page, of) for key, of in strands.items()}
    for line in lines:
        if line.role is not None:
            key = f"line:{line.role.value}"
            words.setdefault(key, f"the {line.role.words}")
    for role in {line.role for line in lines if line.role is not None}:
        contours = [c for line in lines if line.role is role for c in line.contours]
        areas[f"line:{role.value}"] = area_of(_closed(contours), FINE_MM)
    found = [Drawn(key, words[key], area) for key, area in areas.items() if area.area >= LEAST_MM2]
    return tuple(sorted(found, key=lambda one: (one.by, float(one.area.area))))


def _keys(artwork: Artwork, obj: PathObject) -> list[tuple[str, str]]:
    """What an object is told by, with its words: its layer, and the ink or colour of what it is painted with."""
    found = [Candidate("layer", artwork.layers[layer].name, ()) for layer in obj.state.layers[-1:]]
    found += [colour for paint, _ in paints_of(obj) if not paint.white and (colour := colour_of(paint)) is not None]
    return list(dict.fromkeys((one.key, one.words) for one in found))


def _area(page: Page, objects: Sequence[PathObject]) -> shapely.Geometry:
    """What objects cover that are filled, and what the strokes of all of them close round together."""
    filled = [area_of(_filled(page.contours(obj)), FINE_MM) for obj in objects if obj.fills]
    stroked = [c for obj in objects if not obj.fills for c in page.contours(obj)]
    around = area_of(_closed(stroked), FINE_MM) if stroked else None
    return shapely.union_all([one for one in (*filled, around) if one is not None and not one.is_empty])


def _filled(contours: Sequence[Contour]) -> list[Contour]:
    """Contours as a fill closes them (ISO 32000-1, 8.5.3.3)."""
    return [
        c if c.loops else contour_from_points(np.vstack([flatten(c, FINE_MM), c.start]), True)
        for c in contours if len(c.segments)
    ]


def _closed(contours: Sequence[Contour]) -> list[Contour]:
    """The contours that loop, alone or end to end."""
    return [joined.contour for joined in chain(contours) if joined.contour.loops]

