"""A stack cut open along a line: which fabric stands where, each cut through one fabric only, and the thread on top."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from horismos.stitching.columns import band_area
from horismos.stitching.layers import LaidLayer
from horismos.stitching.stack import StitchKind

__all__ = ["SectionLayer", "Span", "StackSection", "stack_section"]

Point = tuple[float, float]
Span = tuple[float, float]


@dataclass(frozen=True)
class SectionLayer:
    """A layer in a section: where its fabric stands, is cut, and is covered by satin, in mm along the line.

    ``deep_um`` is how deep its cuts go from its own face, of ``thick_um`` that are its own.
    """

    number: int
    fabric: tuple[Span, ...]
    cuts_mm: tuple[float, ...]
    sewn: tuple[Span, ...]
    thick_um: float
    deep_um: float


@dataclass(frozen=True)
class StackSection:
    """A section ``length_mm`` long, its layers from the top down."""

    length_mm: float
    layers: tuple[SectionLayer, ...]


def stack_section(
    layers: Sequence[LaidLayer], deep_um: Sequence[float], start: Point, end: Point
) -> StackSection:
    """Cut a stack open between two points in mm; ``deep_um`` says how deep the blade goes for each layer.

    The line has to have a length.
    """
    line = shapely.LineString([start, end])
    found = []
    for laid, deep in zip(layers, deep_um, strict=True):
        spans = _spans(line, laid.area)
        cuts = sorted({round(at, 4) for span in spans for at in span if 1e-6 < at < line.length - 1e-6})
        found.append(SectionLayer(laid.number, spans, tuple(cuts), _sewn(line, laid), laid.layer.cloth.thick_um, deep))
    return StackSection(float(line.length), tuple(found))


def _sewn(line: shapely.LineString, laid: LaidLayer) -> tuple[Span, ...]:
    spans: list[Span] = []
    for sewing in laid.layer.stitches:
        if sewing.kind is StitchKind.SATIN:
            spans += _spans(line, band_area(laid.area, laid.layer, sewing))
    return tuple(sorted(spans))


def _spans(line: shapely.LineString, area: shapely.Geometry) -> tuple[Span, ...]:
    """Between which ways along a line an area lies."""
    start = np.array(line.coords[0])
    out = []
    for part in shapely.get_parts(shapely.intersection(line, area)):
        if part.geom_type == "LineString" and part.length > 1e-6:
            a, b = np.hypot(*(np.asarray(part.coords)[[0, -1]] - start).T).tolist()
            out.append((min(a, b), max(a, b)))
    return tuple(sorted(out))
