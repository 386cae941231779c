"""Operations: one tool over the whole sheet, its contours in their order and what it does along each."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from horismos.cutting.blade import swing
from horismos.cutting.order import TourStops, in_order
from horismos.cutting.strokes import FLATTEN_MM, Prepared, Stroke
from horismos.cutting.timing import timed
from horismos.cutting.tools import Tool
from horismos.formats.hpgl import ToolRun
from horismos.machines import Cutter
from horismos.paths import Contour, chain
from horismos.paths.batch_measures import flatten_all
from horismos.paths.contour import Floats
from horismos.paths.matrix import IDENTITY, Matrix
from horismos.paths.measure import ROUGH_MM, nearest_around
from horismos.roles import LineRole

__all__ = ["CutCopy", "Operation", "Run", "also_cut", "plan_operation"]


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
class Run:
    """What an operation is carried out on: the cutter, how long the sheet is, and the zero, in mm on the sheet.

    ``mirrored``: the sheet lies turned over sideways. ``aligning``: only the aligning figure is cut.
    """

    cutter: Cutter
    length_mm: float
    origin_mm: tuple[float, float]
    mirrored: bool = False
    aligning: bool = False


@dataclass(frozen=True, eq=False)
class CutCopy:
    """The lines of a copy, and the matrix that lays them on the sheet; ``number`` is the copy's, -1: it is of none.

    Copies of one piece hold the same ``lines``, which are then made ready for the tool once.
    """

    number: int
    lines: tuple[Contour, ...]
    matrix: Matrix = IDENTITY


def plan_operation(role: LineRole, tool: Tool, copies: Sequence[CutCopy], run: Run) -> Operation:
    """What a tool does along the lines of copies: which contour next, from where, inner ones before outer."""
    lines = {id(copy.lines): copy.lines for copy in copies}
    ready = {key: [Prepared(joined.contour, tool) for joined in chain(of)] for key, of in lines.items()}
    for made in ready.values():
        for fine_mm in (FLATTEN_MM, ROUGH_MM):
            flatten_all([one.contour for one in made], fine_mm)
    parents = {key: nearest_around([one.contour for one in made]) for key, made in ready.items()}
    lying: list[tuple[Prepared, Matrix]] = []
    around: list[int] = []
    whose: list[int] = []
    for copy in copies:
        begin, key = len(lying), id(copy.lines)
        lying += [(one, copy.matrix) for one in ready[key]]
        whose += [copy.number] * (len(lying) - begin)
        around += [begin + i if i >= 0 else -1 for i in parents[key]]
    return _carried_out(role, tool, lying, whose, np.array(around, np.intp), run)


def also_cut(operation: Operation, contour: Contour, run: Run) -> Operation:
    """An operation that cuts a line of no copy behind all else: the weeding frame."""
    end = operation.strokes[-1].holder[-1] if operation.strokes else np.array(run.origin_mm)
    at_end = replace(run, origin_mm=(float(end[0]), float(end[1])), mirrored=operation.mirrored)
    more = plan_operation(operation.role, operation.tool, [CutCopy(-1, (contour,))], at_end)
    return replace(
        operation, contours=(*operation.contours, *more.contours), strokes=(*operation.strokes, *more.strokes),
        of=(*operation.of, *(len(operation.contours) + i for i in more.of)),
        travel_mm=operation.travel_mm + more.travel_mm, time_s=operation.time_s + more.time_s,
        copies=(*operation.copies, -1),
    )


def _carried_out(
    role: LineRole, tool: Tool, lying: Sequence[tuple[Prepared, Matrix]], whose: Sequence[int], around: np.ndarray,
    run: Run,
) -> Operation:
    """What a tool does along contours that lie somewhere each; ``around``: the number of the one round each, or -1."""
    start = np.array(run.origin_mm)
    order, chosen = in_order(_places(lying, around), start, run.length_mm)
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
    times = timed(holders, start, run.cutter, tool.speed_mm_s, tool.acceleration_mm_s2)
    travel = float(times.hops_mm.sum())
    return Operation(
        role, tool, tuple(contours), tuple(strokes), tuple(of), run.mirrored, travel, times.time_s, run.aligning,
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
