"""The layers of a stack as areas: each moved outwards from the one above, and cut larger by what it shrinks."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import shapely
from shapely import affinity

from horismos.errors import NothingToDo
from horismos.paths import Contour
from horismos.paths.areas import rims_of, straight_round
from horismos.paths.offset import buffered
from horismos.stitching.stack import Inner, Join, Layer, Stack

__all__ = ["FINE_MM", "LaidLayer", "lay_layers", "moved"]

FINE_MM = 0.005
"""[ours] arcs of offsets lie no further off."""
WITHIN_MM = 0.004
"""[ours] how far the straight pieces that are cut may lie from the area's edge."""
MITRE_LIMIT = 5.0
"""A mitre no longer than so many offsets, as GEOS has it when nobody says otherwise (GEOS, BufferParameters)."""
NOTHING: Mapping[str, shapely.Geometry] = {}
SPECK_MM2 = 0.05
"""[ours] what is smaller is no piece of fabric."""


@dataclass(frozen=True, eq=False)
class LaidLayer:
    """A layer where it lies: ``area`` is its fabric as it is when it is sewn, ``cut_area`` as it is cut, in mm.

    They are the same unless it shrinks when it is heated. ``number`` is its place from the top, from 0.
    """

    number: int
    layer: Layer
    area: shapely.Geometry
    cut_area: shapely.Geometry

    @cached_property
    def contours(self) -> tuple[Contour, ...]:
        """What is cut: straight pieces, as cutters take them, outer ones counter-clockwise, holes clockwise."""
        return tuple(straight_round(rims_of(self.cut_area, SPECK_MM2), WITHIN_MM))


def lay_layers(
    outline: shapely.Geometry, stack: Stack, drawn: Mapping[str, shapely.Geometry] = NOTHING
) -> tuple[LaidLayer, ...]:
    """The layers of a stack on the outline of its art, or as they are ``drawn``, by key, from the top down.

    What shrinks is cut larger about the middle of the lowest layer, so that all is in place again when it has shrunk.
    Raises NothingToDo where nothing is left of a layer.
    """
    areas = []
    area = outline
    for layer in stack.layers:
        if layer.drawn and layer.drawn not in drawn:
            what = layer.drawn.partition(":")[2]
            raise NothingToDo(f"The file draws no area as “{what}”.", f"Say what “{layer.name}” is drawn as.")
        area = moved(drawn[layer.drawn] if layer.drawn else area, layer.offset_mm, layer.join)
        if layer.inner is Inner.CLOSE:
            area = shapely.union_all([shapely.Polygon(part.exterior) for part in shapely.get_parts(area)])
        area = _without_specks(area)
        if area.is_empty:
            raise NothingToDo(f"Nothing is left of “{layer.name}”.", "Give it an offset that leaves some of the art.")
        areas.append(area)
    x0, y0, x1, y1 = areas[-1].bounds
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    return tuple(
        LaidLayer(i, layer, area, _grown(area, layer.shrinks, middle))
        for i, (layer, area) in enumerate(zip(stack.layers, areas, strict=True))
    )


def moved(area: shapely.Geometry, by_mm: float, join: Join) -> shapely.Geometry:
    """An area moved outwards or inwards, its arcs no further off than ``FINE_MM``."""
    return buffered(area, by_mm, join.value, FINE_MM, MITRE_LIMIT)


def _grown(area: shapely.Geometry, shrinks: float, middle: tuple[float, float]) -> shapely.Geometry:
    if not shrinks:
        return area
    by = 1 / (1 - shrinks)
    out: shapely.Geometry = affinity.scale(area, by, by, origin=middle)
    return out


def _without_specks(area: shapely.Geometry) -> shapely.Geometry:
    parts: Sequence[shapely.Geometry] = [p for p in shapely.get_parts(area) if p.area >= SPECK_MM2]
    return shapely.orient_polygons(shapely.MultiPolygon(parts))
