"""Cut files in every format: written, read back by a reader that knows nothing of the writer, and measured."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from horismos.cutting import MOST_OFF_MM, CutPlan, Operation, worst_distance
from horismos.cutting.proof import worst_of_lines
from horismos.destinations import Destination
from horismos.errors import CannotWrite
from horismos.formats.dxf_write import write_polylines
from horismos.formats.hpgl import read_hpgl, write_hpgl
from horismos.formats.svg import write_lines
from horismos.paths.contour import Floats
from horismos.release.lines_pdf import lines_pdf
from horismos.release.reading_back import dxf_polylines, pdf_polylines, svg_polylines
from horismos.sheet import Sheet

__all__ = ["CutFile", "CutFormat", "cut_files"]


class CutFormat(StrEnum):
    """What a cut file is written in."""

    HPGL = "hpgl"
    DXF = "dxf"
    SVG = "svg"
    PDF = "pdf"


@dataclass(frozen=True, eq=False)
class CutFile:
    """A cut file: its operations, and how far, in mm, what it cuts lies from what was meant."""

    name: str
    data: bytes
    format: CutFormat
    operations: tuple[Operation, ...]
    off_mm: float

    @property
    def roles(self) -> tuple[str, ...]:
        """The roles that it cuts, in their order."""
        return tuple(dict.fromkeys(op.role.value for op in self.operations))


def cut_files(
    base: str, plan: CutPlan, sheet: Sheet, destination: Destination, kind: CutFormat = CutFormat.HPGL
) -> list[CutFile]:
    """The cut file of a sheet, and one of its own for the turned sheet; zero is the plan's origin in both.

    Raises CannotWrite where what was written, read back, is not what was meant.
    """
    sides: dict[str, list[Operation]] = {}
    for operation in plan.operations:
        sides.setdefault(f"{base}-back-cut" if operation.mirrored else f"{base}-cut", []).append(operation)
    out = []
    for name, operations in sides.items():
        if kind is CutFormat.HPGL:
            data, off = _hpgl(operations, plan)
        else:
            data, off = _drawn(operations, plan, sheet, destination, kind)
        if off > MOST_OFF_MM:
            raise CannotWrite(
                f"The cut file lies {off:.3f} mm from what was meant; {MOST_OFF_MM} mm is the most.",
                "Nothing was released. Report this; it is a fault of the program.",
            )
        suffix = plan.cutter.dialect.suffix if kind is CutFormat.HPGL else kind.value
        out.append(CutFile(f"{name}.{suffix}", data, kind, tuple(operations), off))
    return out


def _hpgl(operations: Sequence[Operation], plan: CutPlan) -> tuple[bytes, float]:
    dialect = plan.cutter.dialect
    data = write_hpgl([operation.run for operation in operations], plan.origin_mm, dialect)
    return data, worst_distance(operations, read_hpgl(data, plan.origin_mm, dialect), dialect)


def _drawn(
    operations: Sequence[Operation], plan: CutPlan, sheet: Sheet, destination: Destination, kind: CutFormat
) -> tuple[bytes, float]:
    """A drawing of lines, a layer an operation, and how far it lies off."""
    names = _layer_names(operations, destination)
    layers = {name: [stroke.holder for stroke in op.strokes] for name, op in zip(names, operations, strict=True)}
    size = (sheet.material.width_mm, sheet.length_mm)
    read: Callable[[bytes, tuple[float, float]], Mapping[str, Sequence[Floats]]]
    if kind is CutFormat.DXF:
        data, read = write_polylines(layers, plan.origin_mm), dxf_polylines
    elif kind is CutFormat.SVG:
        looks = {name: op.role.facts.colour for name, op in zip(names, operations, strict=True)}
        data, read = write_lines(layers, plan.origin_mm, size, looks), svg_polylines
    else:
        roles = [operation.role for operation in operations]
        data, read = lines_pdf(layers, roles, plan.origin_mm, size, destination), pdf_polylines
    back = read(data, plan.origin_mm)
    if set(back) != {name for name, lines in layers.items() if lines}:
        raise CannotWrite(f"The {kind.value.upper()} file does not hold the operations that were meant.")
    found = [worst_of_lines(op, back[name]) for name, op in zip(names, operations, strict=True) if op.strokes]
    return data, max(found, default=0.0)


def _layer_names(operations: Sequence[Operation], destination: Destination) -> list[str]:
    """A name for each operation: the destination's exact ink name; a second tool's has a number behind it."""
    out: list[str] = []
    for operation in operations:
        name = "Aligning Figure" if operation.aligning else destination.name_of(operation.role)
        known = sum(other == name or other.startswith(f"{name} (") for other in out)
        out.append(f"{name} ({known + 1})" if known else name)
    return out
