"""HP-GL in the dialect of the cutter."""

from horismos.cutting import worst_distance
from horismos.formats.hpgl import read_hpgl, write_hpgl
from horismos.release.cut_formats.register import CutFormat, Cutting, register


def _write(cutting: Cutting) -> bytes:
    plan = cutting.plan
    return write_hpgl([operation.run for operation in cutting.operations], plan.origin_mm, plan.cutter.dialect)


def _off(data: bytes, cutting: Cutting) -> float:
    dialect = cutting.plan.cutter.dialect
    return worst_distance(cutting.operations, read_hpgl(data, cutting.plan.origin_mm, dialect), dialect)


register(CutFormat("hpgl", "HP-GL", _write, _off, lambda cutter: cutter.dialect.suffix))
