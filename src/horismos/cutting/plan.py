"""The cut plan: which role first, which contour next, how far and how long."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from horismos.cutting.perforate import begun_near, cuts_along
from horismos.cutting.tools import DEFAULT_TOOLS, Tool
from horismos.formats.hpgl import ToolRun
from horismos.machines import Cutter
from horismos.paths import Contour, chain, enclosing_counts, flatten, rectangle
from horismos.paths.box import Bounds
from horismos.paths.contour import Floats
from horismos.roles import CUT_ORDER, LineRole
from horismos.sheet import Piece, Placement, Sheet
from horismos.sheet.sheet import flip

__all__ = ["CutPlan", "Operation", "plan_cut"]

FLATTEN_MM = 0.01
"""[ours] how far a flattened line may leave its curve: less than half a plotter unit."""


@dataclass(frozen=True, eq=False)
class Operation:
    """One tool over the whole sheet.

    ``contours`` are the curves as meant, in sheet coordinates and in the order of cutting;
    ``strokes`` what the tool does, polylines of shape (n, 2), once for each pass.
    ``mirrored`` is true for a back cut: the sheet lies turned over sideways, its leading edge still in front.
    """

    role: LineRole
    tool: Tool
    contours: tuple[Contour, ...]
    strokes: tuple[Floats, ...]
    mirrored: bool
    travel_mm: float
    time_s: float

    @property
    def run(self) -> ToolRun:
        """What the tool draws and with which setting, as a cut file holds it."""
        return ToolRun(self.tool.number, self.tool.force_gf, self.tool.speed_mm_s, self.strokes)

    @property
    def cut_mm(self) -> float:
        """The length with the tool down, all passes."""
        return sum(float(np.hypot(*np.diff(s, axis=0).T).sum()) for s in self.strokes)


@dataclass(frozen=True, eq=False)
class CutPlan:
    """Operations in order; ``origin_mm`` is the first mark's corner, the zero of all passes."""

    operations: tuple[Operation, ...]
    origin_mm: tuple[float, float]
    changes_s: float

    @property
    def cut_mm(self) -> float:
        """The length with a tool down."""
        return sum(operation.cut_mm for operation in self.operations)

    @property
    def travel_mm(self) -> float:
        """The length with the tool up."""
        return sum(operation.travel_mm for operation in self.operations)

    @property
    def time_s(self) -> float:
        """The time estimate, tool changes included; acceleration is not counted."""
        return sum(operation.time_s for operation in self.operations) + self.changes_s


def plan_cut(
    sheet: Sheet, tools: Callable[[Piece], Mapping[LineRole, Tool]] = lambda piece: DEFAULT_TOOLS
) -> CutPlan:
    """Plan the cut of a sheet as it is printed: roles in the order of cutting, inner contours before outer.

    ``tools`` gives those of each piece: pieces of several jobs keep their own. A sheet that is not cut has no
    operation. The zero is the first mark; without marks, where the machine can begin.
    """
    sheet = sheet.printed
    if sheet.marks:
        origin = (sheet.marks[0].x_mm, sheet.marks[0].y_mm)
    else:
        origin = (sheet.cutter.side_margin_mm, sheet.cutter.leader_mm)
    operations = []
    for role in CUT_ORDER if sheet.makes.cuts else ():
        having: dict[Tool, list[Piece]] = {}
        for piece in sheet.pieces:
            if role in piece.lines:
                having.setdefault(tools(piece)[role], []).append(piece)
        operations += [_operation(role, tool, pieces, sheet, origin) for tool, pieces in having.items()]
    if sheet.frame and operations:
        weeded = next((i for i, op in enumerate(operations) if op.role is LineRole.KISS_CUT), 0)
        operations[weeded] = _framed(operations[weeded], sheet.frame, origin, sheet)
    changes = max(0, len({op.tool.number for op in operations}) - 1) * sheet.cutter.tool_change_s
    return CutPlan(tuple(operations), origin, changes)


def _operation(
    role: LineRole, tool: Tool, pieces: Sequence[Piece], sheet: Sheet, origin: tuple[float, float]
) -> Operation:
    of_piece = {
        id(piece): _in_order([joined.contour for joined in chain(piece.lines.get(role, ()))]) for piece in pieces
    }
    mirrored = role.facts.from_behind
    contours = []
    for copy in _serpentine([copy for copy in sheet.placements if id(copy.piece) in of_piece]):
        moved = [contour.transformed(copy.matrix) for contour in of_piece[id(copy.piece)]]
        # [practice] turned over sideways: the leading edge stays in front, left and right change places
        contours += [c.transformed(flip(sheet.material)) for c in moved] if mirrored else moved
    return _carried_out(role, tool, contours, mirrored, sheet.cutter, origin)


def _framed(last: Operation, frame: Bounds, origin: tuple[float, float], sheet: Sheet) -> Operation:
    """An operation with the weeding frame behind all else: the kiss cut, where there is one."""
    return _carried_out(
        last.role, last.tool, [*last.contours, rectangle(*frame)], last.mirrored, sheet.cutter, origin
    )


def _carried_out(
    role: LineRole, tool: Tool, contours: Sequence[Contour], mirrored: bool, cutter: Cutter,
    origin: tuple[float, float],
) -> Operation:
    strokes: list[Floats] = []
    for _ in range(tool.passes):
        at = strokes[-1][-1] if strokes else np.array(origin)
        for contour in contours:
            if tool.cut_mm is not None and tool.tie_mm is not None:
                parts = begun_near(cuts_along(contour, tool, FLATTEN_MM), contour.loops, at)
            else:
                parts = [flatten(_begun_near(contour, at), FLATTEN_MM)]
            strokes += parts
            at = parts[-1][-1]
    ends = [np.array(origin), *(s[-1] for s in strokes)]
    travel = float(sum(np.hypot(*(s[0] - e)) for s, e in zip(strokes, ends, strict=False)))
    cut = sum(float(np.hypot(*np.diff(s, axis=0).T).sum()) for s in strokes)
    time = cut / tool.speed_mm_s + travel / cutter.travel_speed_mm_s + 2 * len(strokes) * cutter.lift_s
    return Operation(role, tool, tuple(contours), tuple(strokes), mirrored, travel, time)


def _serpentine(placements: Sequence[Placement]) -> list[Placement]:
    """The copies row by row along the feed, every second row backwards, so that the head travels less."""
    rows: list[list[Placement]] = []
    for copy in sorted(placements, key=lambda p: (round(p.bounds[1], 3), p.bounds[0])):
        middle = (copy.bounds[1] + copy.bounds[3]) / 2
        if rows and rows[-1][0].bounds[1] <= middle <= rows[-1][0].bounds[3]:
            rows[-1].append(copy)
        else:
            rows.append([copy])
    ordered = [sorted(row, key=lambda p: p.bounds[0], reverse=i % 2 == 1) for i, row in enumerate(rows)]
    return [copy for row in ordered for copy in row]


def _in_order(contours: list[Contour]) -> list[Contour]:
    """Inner contours before outer; among equals the nearest next."""
    depths = enclosing_counts(contours)
    out: list[Contour] = []
    at = np.zeros(2)
    for depth in sorted(set(depths), reverse=True):
        left = [c for c, d in zip(contours, depths, strict=True) if d == depth]
        starts = np.array([c.start for c in left])
        free = np.ones(len(left), dtype=bool)
        for _ in left:
            distance = np.where(free, np.hypot(*(starts - at).T), np.inf)
            nearest = int(distance.argmin())
            free[nearest] = False
            out.append(left[nearest])
            at = left[nearest].end
    return out


def _begun_near(contour: Contour, at: Floats) -> Contour:
    """The contour begun at the node nearest to where the tool is."""
    nodes = contour.segments[:, 0]
    if contour.closed:
        return contour.started_at(int(np.hypot(*(nodes - at).T).argmin()))
    back = float(np.hypot(*(contour.end - at))) < float(np.hypot(*(contour.start - at)))
    return contour.reversed() if back else contour
