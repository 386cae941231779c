"""Cut files in every format: written, read back by a reader that knows nothing of the writer, and measured."""

from dataclasses import dataclass

from horismos.cutting import MOST_OFF_MM, CutPlan, Operation
from horismos.cutting.file_names import cut_file
from horismos.destinations import Destination
from horismos.errors import CannotWrite
from horismos.release.cut_formats import Cutting, format_of
from horismos.sheet import Sheet

__all__ = ["CutFile", "cut_files"]


@dataclass(frozen=True, eq=False)
class CutFile:
    """A cut file: its operations, and how far, in mm, what it cuts lies from what was meant."""

    name: str
    data: bytes
    format: str
    operations: tuple[Operation, ...]
    off_mm: float

    @property
    def roles(self) -> tuple[str, ...]:
        """The roles that it cuts, in their order."""
        return tuple(dict.fromkeys(op.role.value for op in self.operations))


def cut_files(
    base: str, plan: CutPlan, sheet: Sheet, destination: Destination, kind: str = "hpgl"
) -> list[CutFile]:
    """The cut file of a sheet, and one of its own for the turned sheet; zero is the plan's origin in both.

    Raises BadValue for an unknown format, CannotWrite where what was written, read back, is not what was meant.
    """
    written = format_of(kind)
    sides: dict[str, list[Operation]] = {}
    for operation in plan.operations:
        sides.setdefault(cut_file(base, operation.mirrored), []).append(operation)
    out = []
    for name, operations in sides.items():
        cutting = Cutting(operations, plan, sheet, destination)
        data = written.write(cutting)
        off = written.off_mm(data, cutting)
        if off > MOST_OFF_MM:
            raise CannotWrite(
                f"The {written.words} file lies {off:.3f} mm from what was meant; {MOST_OFF_MM} mm is the most.",
                "Nothing was released. Report this; it is a fault of the program.",
            )
        out.append(CutFile(f"{name}.{written.suffix(plan.cutter)}", data, kind, tuple(operations), off))
    return out
