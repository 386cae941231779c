"""HP-GL in and out [standard, from memory]: IN SP VS FS PU PD PA PR.

Coordinates are plotter units of 0.025 mm from the origin, x across the media and y along the
feed. Lengths beyond 32767 units need HP-GL/2, which keeps these instructions. ``VS`` is in cm/s;
``FS`` is given in grams-force, as the cutter of this shop takes it [ours].
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from horismos.cutting.plan import Operation
from horismos.errors import CannotRead
from horismos.paths.contour import Floats
from horismos.units import PLOTTER_UNIT_MM

__all__ = ["Drawn", "read_hpgl", "write_hpgl"]

INSTRUCTION = re.compile(r"\s*([A-Za-z]{2})([^A-Za-z;]*);?")
MOST_INSTRUCTIONS = 5_000_000


@dataclass(frozen=True, eq=False)
class Drawn:
    """One stroke as read: tool, settings and a polyline in mm on the sheet, shape (n, 2).

    ``operation`` counts the tool selections of the file from 0.
    """

    operation: int
    tool: int
    force_gf: float
    speed_mm_s: float
    points: Floats


def _units(points: Floats, origin_mm: tuple[float, float]) -> np.ndarray:
    return np.rint((points - origin_mm) / PLOTTER_UNIT_MM).astype(int)


def write_hpgl(operations: Sequence[Operation], origin_mm: tuple[float, float]) -> bytes:
    """The HP-GL of operations; every stroke is a move with the tool up and a draw with it down."""
    parts = ["IN;", "PA;"]
    for operation in operations:
        tool = operation.tool
        parts.append(f"SP{tool.number};VS{tool.speed_mm_s / 10:g};FS{tool.force_gf:g};")
        for stroke in operation.strokes:
            units = _units(stroke, origin_mm)
            keep = np.concatenate([[True], np.any(np.diff(units, axis=0) != 0, axis=1)])
            units = units[keep]
            if len(units) < 2:
                continue  # shorter than a plotter unit: nothing that a blade could cut
            drawn = ",".join(map(str, units[1:].ravel().tolist()))
            parts.append(f"PU{units[0, 0]},{units[0, 1]};PD{drawn};")
    parts.append("PU;SP0;")
    return "\n".join(parts).encode("ascii") + b"\n"


def read_hpgl(data: bytes, origin_mm: tuple[float, float] = (0.0, 0.0)) -> list[Drawn]:
    """The strokes of an HP-GL file, in order.

    Raises CannotRead for what is not HP-GL, naming the place. Instructions that neither move nor
    choose a tool are passed over.
    """
    try:
        text = data.decode("ascii")
    except UnicodeDecodeError as error:
        raise CannotRead(f"This is not HP-GL (byte {error.start} is not ASCII).") from None
    reader = _Reader(origin_mm)
    for name, numbers in _instructions(text):
        reader.take(name, numbers)
    reader.lift()
    return reader.drawn


def _instructions(text: str) -> Iterator[tuple[str, list[float]]]:
    pos, count = 0, 0
    text = text.rstrip()
    while pos < len(text):
        match = INSTRUCTION.match(text, pos)
        count += 1
        if not match or count > MOST_INSTRUCTIONS:
            raise CannotRead(f"This is not HP-GL (at character {pos}: “{text[pos : pos + 12]}”).")
        try:
            numbers = [float(v) for v in re.split(r"[,\s]+", match[2].strip()) if v]
        except ValueError:
            raise CannotRead(f"HP-GL instruction {match[1]} has a broken number.") from None
        yield match[1].upper(), numbers
        pos = match.end()


class _Reader:
    def __init__(self, origin_mm: tuple[float, float]) -> None:
        self.origin = np.array(origin_mm)
        self.drawn: list[Drawn] = []
        self.run: list[tuple[float, float]] = []
        self.at = (0.0, 0.0)
        self.down = self.relative = False
        self.tool, self.force, self.speed, self.operation = 0, 0.0, 0.0, -1

    def take(self, name: str, numbers: list[float]) -> None:
        """Carry out one instruction."""
        if name == "IN":
            self.lift()
            self.at, self.relative = (0.0, 0.0), False
        elif name == "SP":
            self.lift()
            self.tool = int(numbers[0]) if numbers else 0
            self.operation += self.tool > 0
        elif name in ("VS", "FS") and numbers:
            self.lift()
            if name == "VS":
                self.speed = numbers[0] * 10
            else:
                self.force = numbers[0]
        elif name in ("PU", "PD", "PA", "PR"):
            if name == "PU":
                self.lift()
            elif name == "PD":
                self.down = True
            else:
                self.relative = name == "PR"
            self._move(numbers)

    def _move(self, numbers: list[float]) -> None:
        if len(numbers) % 2:
            raise CannotRead("An HP-GL move has a coordinate too few.")
        for x, y in zip(numbers[::2], numbers[1::2], strict=True):
            before = self.at
            self.at = (before[0] + x, before[1] + y) if self.relative else (x, y)
            if self.down:
                if not self.run:
                    self.run.append(before)
                self.run.append(self.at)

    def lift(self) -> None:
        """End the stroke that is being drawn."""
        if len(self.run) > 1:
            points = np.array(self.run) * PLOTTER_UNIT_MM + self.origin
            self.drawn.append(Drawn(self.operation, self.tool, self.force, self.speed, points))
        self.run, self.down = [], False
