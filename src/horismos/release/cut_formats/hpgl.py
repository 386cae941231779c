"""HP-GL in the dialect of the cutter."""

from dataclasses import replace

from horismos.cutting import worst_distance
from horismos.formats.hpgl import read_hpgl, write_hpgl
from horismos.release.cut_formats.register import CutFormat, Cutting, register


def _write(cutting: Cutting) -> bytes:
    plan = cutting.plan
    waits = {id(plan.operations[pause.before]) for pause in plan.pauses if pause.words}
    runs = [
        replace(operation.run, pause=i > 0 and id(operation) in waits) for i, operation in enumerate(cutting.operations)
    ]
    return write_hpgl(runs, plan.origin_mm, plan.cutter.dialect)


def _off(data: bytes, cutting: Cutting) -> float:
    dialect = cutting.plan.cutter.dialect
    return worst_distance(cutting.operations, read_hpgl(data, cutting.plan.origin_mm, dialect), dialect)


register(CutFormat("hpgl", "HP-GL", _write, _off, lambda cutter: cutter.dialect.suffix))
