"""ISO 6983 code for flat tables: straight and circular moves with feed, tools and pauses. In mm, absolute.

[standard, from memory] ISO 6983-1: G0 travels, G1 cuts straight, G2 clockwise and G3 counter-clockwise round I and J,
which count from where the arc begins; G21 mm, G90 absolute, F mm a minute, T with M6 changes the tool, M0 waits for a
person, M30 ends. [ours] The tool is down at Z0, which the table sets for its depth, and up at Z5; no force can be told,
so that it is only said, and what is tied with less force is tied by lifting the tool.
"""

import math
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from horismos.cutting import Operation
from horismos.cutting.proof import worst_of_lines
from horismos.errors import CannotRead, CannotWrite
from horismos.machines import Dialect
from horismos.paths import greatest_distance
from horismos.paths.contour import Floats
from horismos.release.cut_formats.register import CutFormat, Cutting, register

__all__ = ["TableStroke", "read_gcode"]

UP_MM = 5.0
ROUND_MM = 0.003
"""[ours] points that lie on a circle within so much are cut as an arc."""
LEAST_ON_ARC, MOST_RADIUS_MM, MOST_SWEEP = 5, 5_000.0, math.radians(170)
DRAWN_MM = 0.002
"""How finely arcs are drawn when they are read."""
SAME_FEED = 0.01


def _to_table(points: Floats, origin_mm: tuple[float, float], dialect: Dialect) -> Floats:
    """Places as the table counts them, with the zero and the axes that the cutter has in HP-GL."""
    placed = (points - origin_mm) * (-1 if dialect.right else 1, 1)
    return placed[:, ::-1] if dialect.turned else placed


def _to_sheet(points: Floats, origin_mm: tuple[float, float], dialect: Dialect) -> Floats:
    placed = points[:, ::-1] if dialect.turned else points
    return placed * (-1 if dialect.right else 1, 1) + origin_mm


# -- writing ---------------------------------------------------------------------------------------------------------


def _write(cutting: Cutting) -> bytes:
    plan, holders = cutting.plan, cutting.plan.cutter.holders
    words = {pause.before: pause.words for pause in plan.pauses}
    numbers = {id(operation): i for i, operation in enumerate(plan.operations)}
    out = ["G21", "G90", f"G0 Z{UP_MM:g}"]
    tool: int | None = None
    for operation in cutting.operations:
        own = operation.tool
        if own.number != tool:
            said = words.get(numbers[id(operation)], "")
            if said or (tool is None and own.number > holders):
                out.append(f"M0 ({_comment(said or f'Put tool {own.number} in.')})")
            out.append(f"T{own.number} M6")
            tool = own.number
        force = "" if own.sent_gf is None else f", {own.sent_gf:g} gf"
        out.append(f"({_comment(operation.words + force)})")
        feed = "" if own.speed_mm_s is None else f" F{own.speed_mm_s * 60:g}"
        for line in _cut_lines(operation):
            out += _stroke(_to_table(line, plan.origin_mm, plan.cutter.dialect), feed)
    return "\n".join([*out, "M30", ""]).encode("ascii")


def _comment(text: str) -> str:
    """What a control shows: plain letters, and none of the brackets that would end it."""
    return re.sub(r"[^ -~]|[()]", "", text)


def _cut_lines(operation: Operation) -> list[Floats]:
    """What is cut with the tool down, in mm on the sheet: ties of less force are left out."""
    own = operation.tool
    if not (own.perforates and own.tie_force_gf):
        return [stroke.holder for stroke in operation.strokes]
    parts = [part for stroke in operation.strokes for part in stroke.parts]
    return [part.points for part in parts if part.force_gf != own.tie_force_gf and len(part.points) > 1]


def _stroke(points: Floats, feed: str) -> list[str]:
    """One stroke: a travel to its begin, the tool down, its moves, the tool up."""
    points = points.round(4)
    points = points[np.concatenate([[True], np.any(np.diff(points, axis=0) != 0, axis=1)])]
    if len(points) < 2:
        return []  # shorter than the table can tell
    out = [f"G0 X{_mm(points[0, 0])} Y{_mm(points[0, 1])}", f"G1 Z0{feed}"]
    at = 0
    while at < len(points) - 1:
        arc = _arc_from(points, at)
        if arc is None:
            at += 1
            out.append(f"G1 X{_mm(points[at, 0])} Y{_mm(points[at, 1])}{feed}")
            continue
        end, middle, left = arc
        i, j = middle - points[at]
        at = end
        word = "G3" if left else "G2"
        out.append(f"{word} X{_mm(points[at, 0])} Y{_mm(points[at, 1])} I{_mm(i)} J{_mm(j)}{feed}")
    return [*out, f"G0 Z{UP_MM:g}"]


def _mm(value: float) -> str:
    """A length to a ten-thousandth, without a point that nothing follows.

    >>> _mm(-0.00001), _mm(12.5), _mm(3.0)
    ('0', '12.5', '3')
    """
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _arc_from(points: Floats, at: int) -> tuple[int, Floats, bool] | None:
    """The longest arc that goes along points from one of them: its last point, its middle, whether it turns left."""
    best, size = None, LEAST_ON_ARC
    while at + size <= len(points):
        found = _circle(points[at : at + size])
        if found is None:
            break
        best = (at + size - 1, *found)
        if at + size == len(points):
            break
        size = min(size * 2, len(points) - at)
    if best is None:
        return None
    low, high = best[0] - at + 1, min(size, len(points) - at)
    while low < high:  # between the last that is one and the first that is none
        middle = (low + high + 1) // 2
        found = _circle(points[at : at + middle])
        if found is None:
            high = middle - 1
        else:
            low, best = middle, (at + middle - 1, *found)
    return best


def _circle(points: Floats) -> tuple[Floats, bool] | None:
    """The middle of the circle through the first, middle and last of points that all lie along it, and its sense."""
    a, b, c = points[0], points[len(points) // 2], points[-1]
    u, v = b - a, c - a
    cross = float(u[0] * v[1] - u[1] * v[0])
    if abs(cross) < 1e-9:
        return None
    uu, vv = float(u @ u), float(v @ v)
    middle = a + np.array([v[1] * uu - u[1] * vv, u[0] * vv - v[0] * uu]) / (2 * cross)
    # the end is written, and the radius has to be the same there
    radius = float(np.hypot(*(a - middle)))
    if radius > MOST_RADIUS_MM or np.abs(np.hypot(*(points - middle).T) - radius).max() > ROUND_MM:
        return None
    turns = np.unwrap(np.arctan2(*(points - middle).T[::-1]))
    steps = np.diff(turns)
    left = bool(steps[0] > 0)
    if not ((steps > 0) == left).all() or abs(float(turns[-1] - turns[0])) > MOST_SWEEP:
        return None
    # between two points an arc leaves their chord: further than points that follow a bend would be apart
    bulge = radius * (1 - np.cos(np.abs(steps).max() / 2))
    return None if bulge > 10 * ROUND_MM else (middle, left)


# -- reading ---------------------------------------------------------------------------------------------------------


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


def _off(data: bytes, cutting: Cutting) -> float:
    plan = cutting.plan
    strokes = read_gcode(data)
    worst, at = 0.0, 0
    for operation in cutting.operations:
        planned = [line for line in _cut_lines(operation) if len(np.unique(line.round(4), axis=0)) > 1]
        own = strokes[at : at + len(planned)]
        at += len(planned)
        if len(own) != len(planned) or any(not _as_set(one, operation) for one in own):
            raise CannotWrite(f"The code has other strokes, another tool or feed for the {operation.words}.")
        written = [_to_sheet(one.points, plan.origin_mm, plan.cutter.dialect) for one in own]
        worst = max(worst, _worst(operation, planned, written))
    if at != len(strokes):
        raise CannotWrite("The code has another number of strokes than the plan.")
    return worst


def _as_set(stroke: TableStroke, operation: Operation) -> bool:
    own = operation.tool
    feed = None if own.speed_mm_s is None else own.speed_mm_s * 60
    return stroke.tool == own.number and (feed is None or abs((stroke.feed_mm_min or 0.0) - feed) < SAME_FEED)


def _worst(operation: Operation, planned: Sequence[Floats], written: Sequence[Floats]) -> float:
    if not planned:
        return 0.0
    if operation.tool.perforates and operation.tool.tie_force_gf:
        return greatest_distance(planned, written)
    return worst_of_lines(operation, written)


register(CutFormat("gcode", "ISO 6983 code", _write, _off, lambda cutter: "nc"))
