"""Reads ISO 6983 code as a flat table follows it, line by line: its units, its ways of counting, moves and tools.

[standard, from memory] ISO 6983-1: G0 travels, G1 cuts straight, G2 and G3 round I and J, which count from where the
arc begins; G20 inches, G21 mm, G90 absolute, G91 from place to place, F a minute, T with M6, M0 waits, M2 and M30 end.
"""

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from horismos.errors import CannotRead

__all__ = ["TableStroke", "read_gcode"]

Floats = NDArray[np.float64]
DRAWN_MM = 0.002
"""How finely arcs are drawn when they are read."""


@dataclass(frozen=True, eq=False)
class TableStroke:
    """What a table cuts from where the tool goes down to where it is lifted: points, shape (n, 2), in mm."""

    tool: int
    feed_mm_min: float | None
    points: Floats


WORD = re.compile(r"([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+))")
UNITS = {20: 25.4, 21: 1.0}


class _Table:
    """A table that follows code line by line."""

    def __init__(self) -> None:
        self.at, self.height = np.zeros(2), 0.0
        self.unit: float | None = None
        self.absolute: bool | None = None
        self.move, self.down, self.tool, self.ended = 0, False, 0, False
        self.feed: float | None = None
        self.path: list[Floats] = []
        self.strokes: list[TableStroke] = []

    def line(self, words: dict[str, float], codes: set[int], ms: set[int]) -> None:
        """Carry out one line: units and ways first, then tool and pause, then the move."""
        for code in codes:
            self.unit = UNITS.get(code, self.unit)
            self.absolute = {90: True, 91: False}.get(code, self.absolute)
            self.move = code if code in (0, 1, 2, 3) else self.move
        self.feed = words["F"] * (self.unit or 1.0) if "F" in words else self.feed
        if ms & {0, 2, 6, 30} and self.down:
            raise CannotRead("The code waits, changes the tool or ends while the tool is down.")
        self.tool = int(words["T"]) if "T" in words else self.tool
        self.ended = self.ended or bool(ms & {2, 30})
        if {"X", "Y", "Z"} & set(words):
            if self.unit is None or self.absolute is None:
                raise CannotRead("The code moves before it says its unit, and how it counts.")
            self._moved(words, self.unit)

    def _moved(self, words: dict[str, float], unit: float) -> None:
        to = np.array([words[k] * unit if k in words else math.nan for k in "XY"])
        to = np.where(np.isnan(to), self.at, to if self.absolute else self.at + to)
        if self.move in (2, 3):
            middle = self.at + np.array([words.get("I", 0.0), words.get("J", 0.0)]) * unit
            way = _along(self.at, to, middle, self.move == 3)
        else:
            way = to[None]
        if self.down and {"X", "Y"} & set(words):
            if self.move == 0:
                raise CannotRead("The code travels while the tool is down.")
            self.path.append(way)
        self.at = to
        if "Z" in words:
            self.height = words["Z"] * unit + (0.0 if self.absolute else self.height)
            self._lift() if self.height > 0 else self._lower()

    def _lower(self) -> None:
        if not self.down:
            self.down, self.path = True, [self.at[None]]

    def _lift(self) -> None:
        if self.down:
            self.down = False
            self.strokes.append(TableStroke(self.tool, self.feed, np.concatenate(self.path)))


def _along(start: Floats, end: Floats, middle: Floats, left: bool) -> Floats:
    """Points along an arc, without its begin."""
    radius = float(np.hypot(*(start - middle)))
    first, last = (math.atan2(p[1] - middle[1], p[0] - middle[0]) for p in (start, end))
    sweep = (last - first) % (2 * math.pi) if left else -((first - last) % (2 * math.pi))
    step = 2 * math.acos(max(1 - DRAWN_MM / max(radius, DRAWN_MM), 0.0))
    count = max(math.ceil(abs(sweep) / step), 1)
    turn = first + sweep * np.arange(1, count + 1) / count
    out: Floats = middle + radius * np.column_stack([np.cos(turn), np.sin(turn)])
    out[-1] = end
    return out


def _lines(text: str) -> Iterator[tuple[dict[str, float], set[int], set[int]]]:
    for number, line in enumerate(re.sub(r"\([^()]*\)|;.*", "", text).upper().splitlines(), 1):
        bare = line.strip().lstrip("/%")
        words = [(letter, float(value)) for letter, value in WORD.findall(bare)]
        if WORD.sub("", bare).strip():
            raise CannotRead(f"Line {number} of the code cannot be understood: {bare[:40]}.")
        codes = {int(value) for letter, value in words if letter == "G"}
        ms = {int(value) for letter, value in words if letter == "M"}
        yield {letter: value for letter, value in words if letter not in "GMN"}, codes, ms


def read_gcode(data: bytes) -> list[TableStroke]:
    """What a table cuts, in its own mm. Raises CannotRead for what no table could follow, naming it."""
    table = _Table()
    for line in _lines(data.decode("ascii", "replace")):
        if table.ended:
            break
        table.line(*line)
    if table.down or not table.ended:
        raise CannotRead("The code does not end with the tool up.")
    return table.strokes
