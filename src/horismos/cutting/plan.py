"""The cut plan: which role first, which contour next and from where, what each tool does, how far and how long."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from horismos.cutting.aligning import aligning_figure, aligning_tool
from horismos.cutting.blade import swing
from horismos.cutting.order import TourStops, in_order
from horismos.cutting.strokes import FLATTEN_MM, Prepared, Stroke
from horismos.cutting.timing import timed
from horismos.cutting.tools import DEFAULT_TOOLS, Tool
from horismos.errors import DoesNotFit
from horismos.formats.hpgl import ToolRun
from horismos.machines import Cutter
from horismos.paths import Contour, chain, rectangle
from horismos.paths.batch_measures import flatten_all
from horismos.paths.contour import Floats
from horismos.paths.matrix import IDENTITY, Matrix, multiply
from horismos.paths.measure import ROUGH_MM, nearest_around
from horismos.roles import CUT_ORDER, LineRole
from horismos.sheet import Piece, Sheet
from horismos.sheet.layout import Aligning
from horismos.sheet.sheet import flip

__all__ = ["CutPlan", "CutSelection", "Operation", "Pause", "plan_cut"]


@dataclass(frozen=True, eq=False)
class Operation:
    """One tool over the whole sheet.

    ``contours`` are the curves as meant, in sheet coordinates, in the order of cutting;
    ``strokes`` what the tool does, ``of`` to which contour each of them belongs. ``mirrored`` is true for a back cut:
    the sheet lies turned over sideways, its leading edge still in front. ``aligning`` says that it cuts only the figure
    by which the turned sheet is aligned. ``travel_mm`` counts from the zero. ``copies`` says to which copy each contour
    belongs, by its number on the sheet; -1: to none.
    """

    role: LineRole
    tool: Tool
    contours: tuple[Contour, ...]
    strokes: tuple[Stroke, ...]
    of: tuple[int, ...]
    mirrored: bool
    travel_mm: float
    time_s: float
    aligning: bool = False
    copies: tuple[int, ...] = ()

    @property
    def copy_runs(self) -> list[tuple[int, int]]:
        """Whose the strokes are, in their order: the number of a copy, or -1, and how many follow each other."""
        whose = np.array(self.copies, np.intp)[list(self.of)] if self.of else np.empty(0, np.intp)
        at = np.flatnonzero(np.diff(whose, prepend=-2))
        return list(zip(whose[at].tolist(), np.diff(at, append=len(whose)).tolist(), strict=True))

    @property
    def run(self) -> ToolRun:
        """What the tool draws and with which setting, as a cut file holds it."""
        strokes = [stroke.parts for stroke in self.strokes]
        return ToolRun(self.tool.number, self.tool.sent_gf, self.tool.speed_mm_s, strokes)

    @cached_property
    def cut_mm(self) -> float:
        """The length that the tip cuts, all passes."""
        return sum(float(np.hypot(*np.diff(s.tip, axis=0).T).sum()) for s in self.strokes)

    @property
    def words(self) -> str:
        """What it is, in words."""
        return "aligning figure" if self.aligning else self.role.words


@dataclass(frozen=True)
class CutSelection:
    """What of a sheet is cut, and when: roles in another order than is usual, only some, only some of the copies.

    ``copies`` are counted from 1 as they lie on the sheet; the weeding frame and the aligning figure belong to none.
    ``aligning`` is how that figure is cut.
    """

    order: tuple[LineRole, ...] = ()
    only: tuple[LineRole, ...] | None = None
    copies: tuple[int, ...] | None = None
    aligning: Aligning = field(default_factory=Aligning)

    def roles(self) -> list[LineRole]:
        """The roles in the order in which they are cut: those that are named first, the others as usual."""
        return [*self.order, *(role for role in CUT_ORDER if role not in self.order)]

    def cuts(self, role: LineRole) -> bool:
        """Whether a role is cut at all."""
        return self.only is None or role in self.only

    def takes(self, number: int) -> bool:
        """Whether a copy is cut, by its number from 0."""
        return self.copies is None or number + 1 in self.copies


@dataclass(frozen=True)
class Pause:
    """A pause before an operation, by its number from 0; ``words`` for the machine's panel where a person is needed."""

    before: int
    words: str
    time_s: float


@dataclass(frozen=True, eq=False)
class CutPlan:
    """Operations in order; ``origin_mm`` is the zero of all passes, the first mark; ``said`` is to be known."""

    operations: tuple[Operation, ...]
    origin_mm: tuple[float, float]
    cutter: Cutter
    said: tuple[str, ...] = ()

    @property
    def cut_mm(self) -> float:
        """The length with a tool down."""
        return sum(operation.cut_mm for operation in self.operations)

    @property
    def travel_mm(self) -> float:
        """The length with the tool up."""
        return sum(operation.travel_mm for operation in self.operations)

    @property
    def pauses(self) -> tuple[Pause, ...]:
        """Where another tool is taken, and where the sheet is turned: by the machine itself, or by a person."""
        out = []
        for i, (one, following) in enumerate(zip(self.operations, self.operations[1:], strict=False), 1):
            tool = following.tool.number
            if following.mirrored and not one.mirrored:
                words = (
                    f"Turn the sheet over sideways, its leading edge still in front. Put tool {tool} in. Align to the "
                    "three corners that were cut right through."
                )
                out.append(Pause(i, words, self.cutter.holder_change_s))
            elif tool != one.tool.number and tool > self.cutter.holders:
                words = f"Put tool {tool} into the holder, for the {following.words}. Do not set a new origin."
                out.append(Pause(i, words, self.cutter.holder_change_s))
            elif tool != one.tool.number:
                out.append(Pause(i, "", self.cutter.tool_change_s))
        return tuple(out)

    @property
    def changes_s(self) -> float:
        """The time of all pauses."""
        return sum(pause.time_s for pause in self.pauses)

    @property
    def time_s(self) -> float:
        """The time estimate, tool changes included."""
        return sum(operation.time_s for operation in self.operations) + self.changes_s


ALL = CutSelection()


def plan_cut(
    sheet: Sheet, tools: Callable[[Piece], Mapping[LineRole, Tool]] = lambda piece: DEFAULT_TOOLS,
    wanted: CutSelection = ALL, zero_mm: tuple[float, float] | None = None,
) -> CutPlan:
    """Plan the cut of a sheet as it is printed: roles in the order of cutting, inner contours before outer.

    ``tools`` gives those of each piece: pieces of several jobs keep their own. A sheet that is not cut has no
    operation. The zero is the first mark; without marks the lower left of what is cut, unless ``zero_mm`` says which
    place of the sheet it is.
    """
    sheet = sheet.printed
    origin = zero_mm or _zero(sheet)
    operations: list[Operation] = []
    for role in wanted.roles() if sheet.makes.cuts else ():
        having: dict[Tool, list[Piece]] = {}
        for piece in sheet.pieces if wanted.cuts(role) else ():
            if role in piece.lines:
                having.setdefault(tools(piece)[role], []).append(piece)
        for tool in having:
            _possible(tool, sheet.cutter)
        operations += [_operation(role, tool, pieces, sheet, origin, wanted) for tool, pieces in having.items()]
    operations = [operation for operation in operations if operation.contours]
    operations = _framed(operations, sheet, origin)
    operations = _aligned(
        operations, sheet, origin, aligning_tool(tools(sheet.pieces[0])[LineRole.THROUGH_CUT], wanted.aligning)
    )
    return CutPlan(tuple(operations), origin, sheet.cutter, _warned(operations))


def _possible(tool: Tool, cutter: Cutter) -> None:
    """Refuse a force that the cutter cannot be set to. Raises DoesNotFit."""
    for force, what in ((tool.sent_gf, "takes"), (tool.tie_force_gf or None, "takes in its ties")):
        if not cutter.gives(force):
            raise DoesNotFit(
                f"The {tool.role.words} {what} {force:g} gf, and {cutter.title} gives {cutter.least_gf:g} to "
                f"{cutter.most_gf:g} gf.", "Set a force between in the cut plan, or cut it in several passes.",
            )


def _zero(sheet: Sheet) -> tuple[float, float]:
    """The zero of all passes: the first mark, or the front one on the right where the cutter counts from there.

    Without marks the corner of what is cut: whoever loads it sets the zero there.
    """
    right = sheet.cutter.dialect.right
    if sheet.marks:
        front = [mark for mark in sheet.marks if mark.y_mm <= min(m.y_mm for m in sheet.marks) + 1.0]
        first = max(front, key=lambda mark: mark.x_mm) if right else sheet.marks[0]
        return first.x_mm, first.y_mm
    x0, y0, x1, _ = sheet.frame or sheet.cut_box
    return (x1 if right else x0), y0


def _operation(
    role: LineRole, tool: Tool, pieces: Sequence[Piece], sheet: Sheet, origin: tuple[float, float], wanted: CutSelection
) -> Operation:
    mirrored = role.facts.from_behind
    # [practice] turned over sideways: the leading edge stays in front, left and right change places
    over = flip(sheet.material) if mirrored else IDENTITY
    lying: list[tuple[Prepared, Matrix]] = []
    around: list[int] = []
    whose: list[int] = []
    ready = {
        id(piece): [Prepared(joined.contour, tool) for joined in chain(piece.lines.get(role, ()))] for piece in pieces
    }
    for made in ready.values():
        for fine_mm in (FLATTEN_MM, ROUGH_MM):
            flatten_all([one.contour for one in made], fine_mm)
    parents = {key: nearest_around([one.contour for one in made]) for key, made in ready.items()}
    for number, copy in enumerate(sheet.placements):
        if id(copy.piece) not in ready or not wanted.takes(number):
            continue
        matrix = multiply(copy.matrix, over) if mirrored else copy.matrix
        begin = len(lying)
        lying += [(one, matrix) for one in ready[id(copy.piece)]]
        whose += [number] * (len(lying) - begin)
        around += [begin + i if i >= 0 else -1 for i in parents[id(copy.piece)]]
    return _carried_out(role, tool, lying, whose, np.array(around, np.intp), mirrored, sheet, origin)


def _framed(operations: list[Operation], sheet: Sheet, origin: tuple[float, float]) -> list[Operation]:
    """The weeding frame behind all else of an operation: the kiss cut, where there is one."""
    if not sheet.frame or not operations:
        return operations
    at = next((i for i, op in enumerate(operations) if op.role is LineRole.KISS_CUT), 0)
    last, out = operations[at], list(operations)
    end = last.strokes[-1].holder[-1] if last.strokes else np.array(origin)
    frame = _carried_out(
        last.role, last.tool, [(Prepared(rectangle(*sheet.frame), last.tool), IDENTITY)], [-1],
        np.array([-1]),        last.mirrored, sheet, (float(end[0]), float(end[1])),
    )
    out[at] = Operation(
        last.role, last.tool, (*last.contours, *frame.contours), (*last.strokes, *frame.strokes),
        (*last.of, *(len(last.contours) + i for i in frame.of)), last.mirrored, last.travel_mm + frame.travel_mm,
        last.time_s + frame.time_s, copies=(*last.copies, -1),
    )
    return out


def _aligned(
    operations: list[Operation], sheet: Sheet, origin: tuple[float, float], tool: Tool
) -> list[Operation]:
    """The figure by which the turned sheet is aligned, cut right through behind all that is cut from the front."""
    front = [op for op in operations if not op.mirrored]
    if len(front) == len(operations):
        return operations
    lying = [(Prepared(contour, tool), IDENTITY) for contour in aligning_figure(sheet)]
    made = _carried_out(
        LineRole.THROUGH_CUT, tool, lying, [-1] * len(lying), np.full(len(lying), -1), False, sheet, origin,
        aligning=True,
    )
    return [*front, made, *(op for op in operations if op.mirrored)]


def _carried_out(
    role: LineRole, tool: Tool, lying: Sequence[tuple[Prepared, Matrix]], whose: Sequence[int], around: np.ndarray,
    mirrored: bool, sheet: Sheet, origin: tuple[float, float], aligning: bool = False,
) -> Operation:
    start = np.array(origin)
    order, chosen = in_order(_places(lying, around), start, sheet.length_mm)
    contours, strokes, of = [], [], []
    for number, i in enumerate(order.tolist()):
        one, matrix = lying[i]
        contours.append(one.contour.transformed(matrix))
        for _ in range(tool.passes):
            made = [stroke.moved(matrix) for stroke in one.strokes(int(chosen[i]))]
            strokes += made
            of += [number] * len(made)
    strokes = _turned_ahead(strokes, tool.trails_mm)
    holders = [stroke.holder for stroke in strokes]
    times = timed(holders, start, sheet.cutter, tool.speed_mm_s, tool.acceleration_mm_s2)
    travel = float(times.hops_mm.sum())
    return Operation(
        role, tool, tuple(contours), tuple(strokes), tuple(of), mirrored, travel, times.time_s, aligning,
        tuple(whose[i] for i in order.tolist()),
    )


def _places(lying: Sequence[tuple[Prepared, Matrix]], around: np.ndarray) -> TourStops:
    most = max((len(one.starts.begins) for one, _ in lying), default=1)
    which = {id(one): np.minimum(np.arange(most), len(one.starts.begins) - 1) for one, _ in lying}
    begins, ends = np.empty((len(lying), most, 2)), np.empty((len(lying), most, 2))
    for i, (one, (a, b, c, d, e, f)) in enumerate(lying):
        linear, chosen = np.array([[a, b], [c, d]]), which[id(one)]
        begins[i] = one.starts.begins[chosen] @ linear + (e, f)
        ends[i] = one.starts.ends[chosen] @ linear + (e, f)
    return TourStops(begins, ends, np.asarray(around, np.intp), np.zeros(len(lying), bool))


def _turned_ahead(strokes: list[Stroke], offset_mm: float) -> list[Stroke]:
    """Strokes at whose end a blade that trails is swung into the direction of the next one."""
    if not offset_mm:
        return strokes
    out = []
    for stroke, following in zip(strokes, [*strokes[1:], None], strict=True):
        if following is None:
            out.append(stroke)
            continue
        towards: Floats = (following.holder[0] - following.tip[0]) / offset_mm
        holder = swing(stroke.holder, stroke.tip, towards, offset_mm)
        out.append(Stroke(holder, stroke.tip, stroke.begins, stroke.forces))
    return out


def _warned(operations: Sequence[Operation]) -> tuple[str, ...]:
    """What an order by hand would destroy: a piece that is loose cannot be cut any more."""
    front = [op.role for op in operations if not op.mirrored and not op.aligning]
    out = []
    for i, role in enumerate(front):
        later = [other for other in front[i + 1 :] if other.facts.order < role.facts.order]
        if later and role in (LineRole.THROUGH_CUT, LineRole.PERFORATION):
            what = "loose" if role is LineRole.THROUGH_CUT else "held by its ties alone"
            out.append(
                f"The {role.words} comes before the {', '.join(dict.fromkeys(r.words for r in later))}: what is "
                f"{what} moves under the blade. Cut the {role.words} last."
            )
    return tuple(out)
