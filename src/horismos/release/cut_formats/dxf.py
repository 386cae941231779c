"""A DXF drawing, a layer an operation."""

from horismos.formats.dxf_write import write_polylines
from horismos.release.cut_formats.register import CutFormat, Cutting, off_by_layers, register
from horismos.release.reading_back import dxf_polylines


def _write(cutting: Cutting) -> bytes:
    return write_polylines(cutting.layers, cutting.plan.origin_mm)


def _off(data: bytes, cutting: Cutting) -> float:
    return off_by_layers(dxf_polylines(data, cutting.plan.origin_mm), cutting)


register(CutFormat("dxf", "DXF", _write, _off, lambda cutter: "dxf"))
