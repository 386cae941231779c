"""The register of cut formats. A format is one file in this room: it registers what it is, and all else follows."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from pathlib import Path
from types import MappingProxyType

from horismos.cutting import CutPlan, Operation
from horismos.cutting.file_names import cut_file_among
from horismos.cutting.proof import worst_of_lines
from horismos.destinations import Destination
from horismos.errors import BadValue, CannotWrite
from horismos.machines import Cutter
from horismos.paths.contour import Floats
from horismos.sheet import Sheet

__all__ = ["CutFormat", "Cutting", "Polylines", "cut_names", "format_of", "off_by_layers", "register", "registered"]

Polylines = Mapping[str, Sequence[Floats]]


@dataclass(frozen=True, eq=False)
class Cutting:
    """What one file holds: operations of one side of a sheet, in their order; zero is the plan's origin."""

    operations: Sequence[Operation]
    plan: CutPlan
    sheet: Sheet
    destination: Destination

    @property
    def names(self) -> list[str]:
        """A name for each operation: the destination's exact ink name; a second tool's has a number behind it."""
        out: list[str] = []
        for operation in self.operations:
            name = "Aligning Figure" if operation.aligning else self.destination.name_of(operation.role)
            known = sum(other == name or other.startswith(f"{name} (") for other in out)
            out.append(f"{name} ({known + 1})" if known else name)
        return out

    @property
    def layers(self) -> dict[str, list[Floats]]:
        """Where the holder goes, in mm on the sheet, by the names of the operations."""
        pairs = zip(self.names, self.operations, strict=True)
        return {name: [stroke.holder for stroke in op.strokes] for name, op in pairs}

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and length of the sheet."""
        return self.sheet.material.width_mm, self.sheet.length_mm


@dataclass(frozen=True)
class CutFormat:
    """A format: ``write`` gives the file, ``off_mm`` how far what it cuts, read back, lies from what was meant.

    Both raise CannotWrite. ``suffix`` is what a cutter wants its files to end in.
    """

    id: str
    words: str
    write: Callable[[Cutting], bytes]
    off_mm: Callable[[bytes, Cutting], float]
    suffix: Callable[[Cutter], str]


_formats: dict[str, CutFormat] = {}


def register(made: CutFormat) -> None:
    """Take a format into the register."""
    _formats[made.id] = made


@cache
def registered() -> Mapping[str, CutFormat]:
    """All formats by their ids; HP-GL, which every package has, first."""
    for path in sorted(Path(__file__).parent.glob("[a-z]*.py")):
        import_module(f"{__package__}.{path.stem}")
    first = {"hpgl": _formats["hpgl"]}
    return MappingProxyType({**first, **dict(sorted(_formats.items()))})


def format_of(id: str) -> CutFormat:
    """The format of an id. Raises BadValue."""
    if id not in registered():
        raise BadValue(f"There is no cut format “{id}”.", f"Known: {', '.join(registered())}.")
    return registered()[id]


def cut_names(names: Iterable[str], cutter: Cutter, back: bool) -> dict[str, str]:
    """The cut files of a side among the names of a package, by the ids of their formats, HP-GL first."""
    known = list(names)
    found = {id: cut_file_among(known, format.suffix(cutter), back) for id, format in registered().items()}
    return {id: name for id, name in found.items() if name}


def off_by_layers(back: Polylines, cutting: Cutting) -> float:
    """How far polylines that were read back by the names of their layers lie from what was meant, in mm.

    Raises CannotWrite where they are not those of the operations.
    """
    meant = {name for name, lines in cutting.layers.items() if lines}
    if set(back) != meant:
        raise CannotWrite("The cut file does not hold the operations that were meant.")
    pairs = zip(cutting.names, cutting.operations, strict=True)
    return max((worst_of_lines(op, back[name]) for name, op in pairs if op.strokes), default=0.0)
