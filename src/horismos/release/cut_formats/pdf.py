"""A PDF of lines alone, a layer an operation."""

from horismos.release.cut_formats.register import CutFormat, Cutting, off_by_layers, register
from horismos.release.lines_pdf import lines_pdf
from horismos.release.reading_back import pdf_polylines


def _write(cutting: Cutting) -> bytes:
    roles = [operation.role for operation in cutting.operations]
    return lines_pdf(cutting.layers, roles, cutting.plan.origin_mm, cutting.size_mm, cutting.destination)


def _off(data: bytes, cutting: Cutting) -> float:
    return off_by_layers(pdf_polylines(data, cutting.plan.origin_mm), cutting)


register(CutFormat("pdf", "PDF", _write, _off, lambda cutter: "pdf"))
