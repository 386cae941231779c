"""Carries out HP-GL instructions: one table, an instruction each."""

import math
from collections.abc import Callable, Iterable

import numpy as np

from horismos.errors import CannotRead
from horismos.formats.hpgl.encoded import encoded_moves
from horismos.formats.hpgl.plotter import Plotter, PlotterStroke
from horismos.formats.hpgl.tokens import Instruction
from horismos.machines import Dialect
from horismos.paths.matrix import IDENTITY

__all__ = ["PlotInterpreter"]

DEFAULT_P1_P2 = (0.0, 0.0, 10_000.0, 10_000.0)
NOT_FOLLOWED = frozenset(["LB", "FP", "EP", "WG", "EW", "RA", "RR", "PM", "RO"])
"""Fills, labels and turns: they draw, or change what is drawn, and are left out."""
FEW = 16
"""Coordinates that are taken one by one; more go quicker together."""
Numbers = tuple[float, ...]
PLAIN = Dialect()


class PlotInterpreter:
    """Runs instructions. After ``run`` it has the strokes, and what it could not follow."""

    def __init__(self, origin_mm: tuple[float, float] = (0.0, 0.0), dialect: Dialect = PLAIN) -> None:
        self.plotter = Plotter(origin_mm, dialect)
        self.relative = False
        self.corners = DEFAULT_P1_P2
        self.corners_said = False
        self.scale_unsaid = False
        self.left_out: dict[str, int] = {}

    def run(self, instructions: Iterable[Instruction]) -> list[PlotterStroke]:
        """Carry out instructions; gives the strokes. Raises CannotRead for what no plotter could follow."""
        for instruction in instructions:
            if instruction.name in NOT_FOLLOWED:
                self.left_out[instruction.name] = self.left_out.get(instruction.name, 0) + 1
            elif instruction.name == "PE":
                self._encoded(instruction.text)
            elif instruction.name in OPERATORS:
                OPERATORS[instruction.name](self, instruction.numbers)
        self.plotter.lift()
        return self.plotter.strokes

    # -- settings ----------------------------------------------------------------------------------

    def initialise(self, numbers: Numbers) -> None:
        """IN: everything as at the beginning."""
        self.defaults(numbers)
        self.plotter.at = (0.0, 0.0)
        self.corners, self.corners_said = DEFAULT_P1_P2, False

    def defaults(self, numbers: Numbers) -> None:
        """DF: absolute coordinates, not scaled."""
        self.plotter.lift()
        self.relative, self.plotter.to_units = False, IDENTITY

    def select_pen(self, numbers: Numbers) -> None:
        """SP: a tool; 0 puts it away. Each has its own speed and force, the machine's until others are set."""
        self.plotter.lift()
        self.plotter.speed_mm_s = self.plotter.force_gf = 0.0
        self.plotter.tool = int(numbers[0]) if numbers else 0
        self.plotter.operation += self.plotter.tool > 0

    def speed(self, numbers: Numbers) -> None:
        """VS: in cm/s."""
        if numbers:
            self.plotter.lift()
            self.plotter.speed_mm_s = numbers[0] * 10

    def force(self, numbers: Numbers) -> None:
        """FS: in grams-force, as the cutter of this shop takes it [ours]."""
        if numbers:
            self.plotter.lift()
            self.plotter.force_gf = numbers[0]

    def scaling_points(self, numbers: Numbers) -> None:
        """IP: the points P1 and P2 in plotter units."""
        if len(numbers) == 4:
            self.corners, self.corners_said = (numbers[0], numbers[1], numbers[2], numbers[3]), True

    def scaling(self, numbers: Numbers) -> None:
        """SC: user units from P1 and P2; type 1 keeps their ratio, type 2 gives the factor itself."""
        if len(numbers) < 4:
            self.plotter.to_units = IDENTITY
            return
        x0, x1, y0, y1 = numbers[:4]
        kind = numbers[4] if len(numbers) > 4 else 0
        p1x, p1y, p2x, p2y = self.corners
        if kind == 2:
            self.plotter.to_units = (x1, 0.0, 0.0, y1, p1x - x0 * x1, p1y - y0 * y1)
            return
        if x1 == x0 or y1 == y0:
            raise CannotRead("The HP-GL file scales by nothing (SC with equal limits).")
        self.scale_unsaid |= not self.corners_said
        kx, ky = (p2x - p1x) / (x1 - x0), (p2y - p1y) / (y1 - y0)
        if kind == 1:
            kx = ky = min(abs(kx), abs(ky))
        self.plotter.to_units = (kx, 0.0, 0.0, ky, p1x - x0 * kx, p1y - y0 * ky)

    # -- moves -------------------------------------------------------------------------------------

    def pen_up(self, numbers: Numbers) -> None:
        """PU: lift the pen, and move."""
        self.plotter.lift()
        self._move(numbers)

    def pen_down(self, numbers: Numbers) -> None:
        """PD: lower the pen, and move."""
        self.plotter.down = True
        self._move(numbers)

    def absolute(self, numbers: Numbers) -> None:
        """PA: coordinates from the origin, and move."""
        self.relative = False
        self._move(numbers)

    def relatively(self, numbers: Numbers) -> None:
        """PR: coordinates from where the pen is, and move."""
        self.relative = True
        self._move(numbers)

    def _move(self, numbers: Numbers) -> None:
        if len(numbers) % 2:
            raise CannotRead("An HP-GL move has a coordinate too few.")
        if len(numbers) > FEW and not self.relative:
            self.plotter.lines_to(np.reshape(numbers, (-1, 2)))
            return
        for x, y in zip(numbers[::2], numbers[1::2], strict=True):
            ox, oy = self.plotter.at if self.relative else (0.0, 0.0)
            self.plotter.line_to(ox + x, oy + y)

    def _encoded(self, text: str) -> None:
        for step in encoded_moves(text):
            if step.pen is not None:
                self.select_pen((step.pen,))
                continue
            ox, oy = (0.0, 0.0) if step.absolute else self.plotter.at
            if step.up:
                self.plotter.lift()
            else:
                self.plotter.down = True
            self.plotter.line_to(ox + step.x, oy + step.y)

    # -- curves ------------------------------------------------------------------------------------

    def arc(self, numbers: Numbers, relative: bool) -> None:
        """AA, AR: round a point by so many degrees."""
        if len(numbers) >= 3:
            ox, oy = self.plotter.at if relative else (0.0, 0.0)
            self.plotter.arc_to(ox + numbers[0], oy + numbers[1], math.radians(numbers[2]))

    def arc_through(self, numbers: Numbers, relative: bool) -> None:
        """AT, RT: an arc from the pen through one point to another."""
        if len(numbers) < 4:
            return
        ox, oy = self.plotter.at if relative else (0.0, 0.0)
        (ax, ay), (bx, by) = self.plotter.at, (ox + numbers[0], oy + numbers[1])
        cx, cy = ox + numbers[2], oy + numbers[3]
        d = 2 * (ax * (by - cy) + bx * (cy - ay) + cx * (ay - by))
        if abs(d) < 1e-9:
            self.plotter.line_to(bx, by)
            self.plotter.line_to(cx, cy)
            return
        a2, b2, c2 = ax * ax + ay * ay, bx * bx + by * by, cx * cx + cy * cy
        ux = (a2 * (by - cy) + b2 * (cy - ay) + c2 * (ay - by)) / d
        uy = (a2 * (cx - bx) + b2 * (ax - cx) + c2 * (bx - ax)) / d
        begin, end = math.atan2(ay - uy, ax - ux), math.atan2(cy - uy, cx - ux)
        sweep = (end - begin) % (2 * math.pi) if d > 0 else -((begin - end) % (2 * math.pi))
        self.plotter.arc_to(ux, uy, sweep)

    def curves(self, numbers: Numbers, relative: bool) -> None:
        """BZ, BR: cubics, two controls and an end each; relative ones count from where each begins."""
        for i in range(0, len(numbers) - 5, 6):
            ox, oy = self.plotter.at if relative else (0.0, 0.0)
            x1, y1, x2, y2, x3, y3 = numbers[i : i + 6]
            self.plotter.curve_to(ox + x1, oy + y1, ox + x2, oy + y2, ox + x3, oy + y3)

    def circle(self, numbers: Numbers) -> None:
        """CI: round where the pen stands; the pen is put down for it and comes back."""
        if numbers and numbers[0]:
            (cx, cy), was_down = self.plotter.at, self.plotter.down
            self._apart((cx + numbers[0], cy))
            self.plotter.arc_to(cx, cy, 2 * math.pi)
            self._back((cx, cy), was_down)

    def edge(self, numbers: Numbers, relative: bool) -> None:
        """EA, ER: the outline of a rectangle between the pen and a corner; the pen comes back."""
        if len(numbers) >= 2:
            (x0, y0), was_down = self.plotter.at, self.plotter.down
            x1, y1 = (x0 + numbers[0], y0 + numbers[1]) if relative else (numbers[0], numbers[1])
            self._apart((x0, y0))
            for corner in ((x1, y0), (x1, y1), (x0, y1), (x0, y0)):
                self.plotter.line_to(*corner)
            self._back((x0, y0), was_down)

    def _apart(self, at: tuple[float, float]) -> None:
        self.plotter.lift()
        self.plotter.at, self.plotter.down = at, True

    def _back(self, at: tuple[float, float], down: bool) -> None:
        self.plotter.lift()
        self.plotter.at, self.plotter.down = at, down


OPERATORS: dict[str, Callable[[PlotInterpreter, Numbers], None]] = {
    "IN": PlotInterpreter.initialise, "DF": PlotInterpreter.defaults, "SP": PlotInterpreter.select_pen,
    "VS": PlotInterpreter.speed, "FS": PlotInterpreter.force, "IP": PlotInterpreter.scaling_points,
    "SC": PlotInterpreter.scaling, "PU": PlotInterpreter.pen_up, "PD": PlotInterpreter.pen_down,
    "PA": PlotInterpreter.absolute, "PR": PlotInterpreter.relatively,
    "AA": lambda run, numbers: run.arc(numbers, False), "AR": lambda run, numbers: run.arc(numbers, True),
    "AT": lambda run, numbers: run.arc_through(numbers, False),
    "RT": lambda run, numbers: run.arc_through(numbers, True),
    "BZ": lambda run, numbers: run.curves(numbers, False), "BR": lambda run, numbers: run.curves(numbers, True),
    "CI": PlotInterpreter.circle,
    "EA": lambda run, numbers: run.edge(numbers, False), "ER": lambda run, numbers: run.edge(numbers, True),
}
