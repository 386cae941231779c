"""Reads HP-GL and the plotting part of HP-GL/2 [standard, from memory].

IN DF SP VS FS, PU PD PA PR, AA AR AT RT CI, BZ BR, EA ER, IP SC, PE; labels and fills are passed over and
counted. The cutter's own files are read strictly, customers' files as plotters would: what cannot be
followed is left out and said.
"""

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from horismos.errors import CannotRead
from horismos.paths.contour import Floats
from horismos.units import PLOTTER_UNIT_MM

__all__ = ["Drawn", "Plot", "looks_like_hpgl", "read_hpgl", "read_plot"]

INSTRUCTION = re.compile(r"\s*([A-Za-z]{2})([^A-Za-z;]*);?")
LOOSE = re.compile(r"[\s;,\x00-\x1f]*([A-Za-z]{2})([^A-Za-z;]*)")
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)")
KNOWN = frozenset(re.findall("..", (
    "INDFSPPUPDPAPRAAARATRTCIBZBREAERIPIRSCPELBVSFSPWPCNPLTPTROIWSIDIDRSRSLSMPSFTFPEPWGEWRARRCOLODTCS"
    "CASSSAESTRWUCRMCBPCPDVTDULUCLAACADANPGCTPMTLXTYT"
)))
FILLS_AND_TEXT = frozenset(["FP", "EP", "WG", "EW", "RA", "RR", "PM", "RO"])
MOST_INSTRUCTIONS = 5_000_000
MOST_POINTS = 20_000_000
CHORD_MM = 0.01
"""[ours] how far the chords of an arc may lie from it."""
ESCAPE = re.compile(r"\x1b[%*&(][^A-Z@]*[A-Z@]|\x1b[.E][^:;]*[:;]?|\x1b%-?\d*[AB]")
DEFAULT_P1_P2 = (0.0, 0.0, 10_000.0, 10_000.0)


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


@dataclass(frozen=True, eq=False)
class Plot:
    """A plot as read. ``scaled`` says that the file scales without saying to what; ``left_out``
    counts instructions that draw and could not be followed.
    """

    drawn: list[Drawn]
    scaled: bool
    left_out: dict[str, int] = field(default_factory=dict)


def looks_like_hpgl(head: bytes) -> bool:
    """Whether the beginning of a file is HP-GL: two-letter instructions that are known."""
    text = ESCAPE.sub("", head[:2000].decode("latin-1")).lstrip()
    found = [match[1].upper() for match in LOOSE.finditer(_without_labels(text)[0])]
    return len(found) >= 3 and found[0] in KNOWN and sum(name in KNOWN for name in found) >= 0.9 * len(found)


def _without_labels(text: str) -> tuple[str, int]:
    """The text without labels and comments, and how many labels there were."""
    text, labels = re.subn(r"(?i)(?<![A-Za-z])LB[^\x03]*(?:\x03|$)", ";", text)
    return re.sub(r"(?i)(?<![A-Za-z])CO[^;\d][^;]*(?:;|$)", ";", text), labels


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


def read_plot(data: bytes) -> Plot:
    """A customer's plot file, escape sequences and labels passed over. Raises CannotRead."""
    text = ESCAPE.sub("", data.decode("latin-1"))
    if not looks_like_hpgl(data):
        raise CannotRead("This is not HP-GL.", "Ask for the lines as PDF, DXF or HP-GL.")
    reader = _Reader((0.0, 0.0))
    left_out: dict[str, int] = {}
    text, labels = _without_labels(text)
    if labels:
        left_out["LB"] = labels
    for part in re.split(r"(?i)((?<![A-Za-z])PE[^;]*;)", text):
        if re.match(r"(?i)PE", part):
            reader.polyline_encoded(part[2:-1])
            continue
        for name, numbers in _loose(part):
            if name in FILLS_AND_TEXT:
                left_out[name] = left_out.get(name, 0) + 1
            reader.take(name, numbers[: len(numbers) // 2 * 2] if name in MOVES else numbers)
    reader.lift()
    return Plot(reader.drawn, reader.scale_unsaid, left_out)


MOVES = frozenset(["PU", "PD", "PA", "PR"])


def _loose(text: str) -> Iterator[tuple[str, list[float]]]:
    for count, match in enumerate(LOOSE.finditer(text)):
        if count > MOST_INSTRUCTIONS:
            raise CannotRead("The HP-GL file holds more instructions than a file may.")
        yield match[1].upper(), [float(v) for v in NUMBER.findall(match[2])]


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
        self.corners = DEFAULT_P1_P2
        self.corners_said = False
        self.scale: tuple[float, float, float, float] = (1.0, 0.0, 1.0, 0.0)
        self.scale_unsaid = False
        self.points = 0

    def take(self, name: str, numbers: list[float]) -> None:
        """Carry out one instruction."""
        if name in ("IN", "DF"):
            self.lift()
            self.relative, self.scale = False, (1.0, 0.0, 1.0, 0.0)
            if name == "IN":
                self.at, self.corners, self.corners_said = (0.0, 0.0), DEFAULT_P1_P2, False
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
        elif name in ("AA", "AR") and len(numbers) >= 3:
            self._arc(numbers, name == "AR")
        elif name == "CI" and numbers:
            self._circle(numbers[0])
        elif name in ("AT", "RT") and len(numbers) >= 4:
            self._arc_through(numbers, name == "RT")
        elif name in ("BZ", "BR"):
            self._curves(numbers, name == "BR")
        elif name in ("EA", "ER") and len(numbers) >= 2:
            self._edge(numbers, name == "ER")
        elif name == "IP" and len(numbers) == 4:
            self.corners, self.corners_said = (numbers[0], numbers[1], numbers[2], numbers[3]), True
        elif name == "SC":
            self._scaling(numbers)

    def _scaling(self, numbers: list[float]) -> None:
        """User units from the scaling points P1 and P2; type 2 gives the factor itself."""
        if len(numbers) < 4:
            self.scale = (1.0, 0.0, 1.0, 0.0)
            return
        x0, x1, y0, y1 = numbers[:4]
        p1x, p1y, p2x, p2y = self.corners
        if len(numbers) > 4 and numbers[4] == 2:
            self.scale = (x1, p1x - x0 * x1, y1, p1y - y0 * y1)
            return
        if x1 == x0 or y1 == y0:
            raise CannotRead("The HP-GL file scales by nothing (SC with equal limits).")
        self.scale_unsaid |= not self.corners_said
        kx, ky = (p2x - p1x) / (x1 - x0), (p2y - p1y) / (y1 - y0)
        if len(numbers) > 4 and numbers[4] == 1:
            kx = ky = min(abs(kx), abs(ky))
        self.scale = (kx, p1x - x0 * kx, ky, p1y - y0 * ky)

    def _units(self, x: float, y: float) -> tuple[float, float]:
        kx, dx, ky, dy = self.scale
        return x * kx + dx, y * ky + dy

    def _to(self, at: tuple[float, float]) -> None:
        if self.down:
            if not self.run:
                self.run.append(self._units(*self.at))
            self.run.append(self._units(*at))
            self.points += 1
            if self.points > MOST_POINTS:
                raise CannotRead("The HP-GL file draws more points than a file may.")
        self.at = at

    def _move(self, numbers: list[float]) -> None:
        if len(numbers) % 2:
            raise CannotRead("An HP-GL move has a coordinate too few.")
        for x, y in zip(numbers[::2], numbers[1::2], strict=True):
            self._to((self.at[0] + x, self.at[1] + y) if self.relative else (x, y))

    def _steps(self, radius: float, sweep: float) -> int:
        mm = radius * abs(self.scale[0]) * PLOTTER_UNIT_MM
        chord = 2 * math.acos(max(1 - CHORD_MM / mm, 0.0)) if mm > CHORD_MM else math.pi / 4
        return min(max(2, math.ceil(sweep / chord)), 100_000)

    def _arc(self, numbers: list[float], relative: bool) -> None:
        cx, cy, degrees = numbers[:3]
        if relative:
            cx, cy = self.at[0] + cx, self.at[1] + cy
        radius = math.hypot(self.at[0] - cx, self.at[1] - cy)
        begin, sweep = math.atan2(self.at[1] - cy, self.at[0] - cx), math.radians(degrees)
        steps = self._steps(radius, abs(sweep))
        for i in range(1, steps + 1):
            angle = begin + sweep * i / steps
            self._to((cx + radius * math.cos(angle), cy + radius * math.sin(angle)))

    def _arc_through(self, numbers: list[float], relative: bool) -> None:
        """An arc from the pen through one point to another."""
        x0, y0 = self.at if relative else (0.0, 0.0)
        (ax, ay), (bx, by), (cx, cy) = self.at, (x0 + numbers[0], y0 + numbers[1]), (x0 + numbers[2], y0 + numbers[3])
        d = 2 * (ax * (by - cy) + bx * (cy - ay) + cx * (ay - by))
        if abs(d) < 1e-9:
            self._to((bx, by))
            self._to((cx, cy))
            return
        a2, b2, c2 = ax * ax + ay * ay, bx * bx + by * by, cx * cx + cy * cy
        ux = (a2 * (by - cy) + b2 * (cy - ay) + c2 * (ay - by)) / d
        uy = (a2 * (cx - bx) + b2 * (ax - cx) + c2 * (bx - ax)) / d
        begin, end = math.atan2(ay - uy, ax - ux), math.atan2(cy - uy, cx - ux)
        sweep = (end - begin) % (2 * math.pi) if d > 0 else -((begin - end) % (2 * math.pi))
        self._arc([ux, uy, math.degrees(sweep)], False)

    def _curves(self, numbers: list[float], relative: bool) -> None:
        """Cubic curves: two controls and an end each."""
        for i in range(0, len(numbers) - 5, 6):
            p0 = np.array(self.at)
            p = np.array(numbers[i : i + 6]).reshape(3, 2) + (p0 if relative else 0.0)
            reach = float(np.abs(np.diff(np.vstack([p0, p]), axis=0)).sum())
            steps = min(max(8, int(reach * abs(self.scale[0]) * PLOTTER_UNIT_MM * 4)), 2_000)
            t = (np.arange(1, steps + 1) / steps)[:, None]
            s = 1 - t
            points = s**3 * p0 + 3 * s * s * t * p[0] + 3 * s * t * t * p[1] + t**3 * p[2]
            for x, y in points.tolist():
                self._to((x, y))

    def _edge(self, numbers: list[float], relative: bool) -> None:
        """The outline of a rectangle between the pen and a corner; the pen comes back."""
        (x0, y0), was_down = self.at, self.down
        x1, y1 = (x0 + numbers[0], y0 + numbers[1]) if relative else (numbers[0], numbers[1])
        self.lift()
        self.at, self.down = (x0, y0), True
        for corner in ((x1, y0), (x1, y1), (x0, y1), (x0, y0)):
            self._to(corner)
        self.lift()
        self.at, self.down = (x0, y0), was_down

    def _circle(self, radius: float) -> None:
        """A circle round where the pen stands; the pen is put down for it and comes back."""
        centre, was_down = self.at, self.down
        self.lift()
        self.at, self.down = (centre[0] + radius, centre[1]), True
        steps = self._steps(abs(radius), 2 * math.pi)
        for i in range(1, steps + 1):
            angle = 2 * math.pi * i / steps
            self._to((centre[0] + radius * math.cos(angle), centre[1] + radius * math.sin(angle)))
        self.lift()
        self.at, self.down = centre, was_down

    def polyline_encoded(self, text: str) -> None:
        """HP-GL/2's PE: differences in base 64 or 32, with flags for pen up, pen and absolute."""
        base, fraction = 64, 0
        up = absolute = False
        values: list[float] = []
        pos = 0
        text = "".join(c for c in text if c > " ")
        while pos < len(text):
            flag = text[pos]
            if flag in "<=7:>":
                pos += 1
                if flag == "<":
                    up = True
                elif flag == "=":
                    absolute = True
                elif flag == "7":
                    base = 32
                else:
                    value, pos = _encoded(text, pos, base)
                    if flag == ":":
                        self.take("SP", [float(value)])
                    else:
                        fraction = value
                continue
            value, pos = _encoded(text, pos, base)
            values.append(value / 2**fraction)
            if len(values) == 2:
                x, y = values
                at = (x, y) if absolute else (self.at[0] + x, self.at[1] + y)
                if up:
                    self.lift()
                else:
                    self.down = True
                self._to(at)
                up = absolute = False
                values = []

    def lift(self) -> None:
        """End the stroke that is being drawn."""
        if len(self.run) > 1:
            points = np.array(self.run) * PLOTTER_UNIT_MM + self.origin
            self.drawn.append(Drawn(self.operation, self.tool, self.force, self.speed, points))
        self.run, self.down = [], False


def _encoded(text: str, pos: int, base: int) -> tuple[int, int]:
    """One number of an encoded polyline and the place behind it: low digits first, sign in the last bit."""
    low, high = (63, 191) if base == 64 else (63, 95)
    value, weight = 0, 1
    while pos < len(text):
        code = ord(text[pos])
        pos += 1
        if low <= code < low + base:
            value += (code - low) * weight
            weight *= base
        elif high <= code < high + base:
            value += (code - high) * weight
            return (-(value >> 1) if value & 1 else value >> 1), pos
        else:
            raise CannotRead("An encoded polyline of the HP-GL file is broken.")
    raise CannotRead("An encoded polyline of the HP-GL file ends in the middle.")
