"""An SVG drawing, a group an operation."""

from horismos.formats.svg import write_lines
from horismos.release.cut_formats.register import CutFormat, Cutting, off_by_layers, register
from horismos.release.reading_back import svg_polylines


def _write(cutting: Cutting) -> bytes:
    colours = {name: op.role.facts.colour for name, op in zip(cutting.names, cutting.operations, strict=True)}
    return write_lines(cutting.layers, cutting.plan.origin_mm, cutting.size_mm, colours)


def _off(data: bytes, cutting: Cutting) -> float:
    return off_by_layers(svg_polylines(data, cutting.plan.origin_mm), cutting)


register(CutFormat("svg", "SVG", _write, _off, lambda cutter: "svg"))
