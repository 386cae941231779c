"""The sheet and its cut on screen."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass

import numpy as np

from horismos.cutting import Blade, CutPlan, Operation, Tool
from horismos.cutting.timing import timed
from horismos.formats.svg import svg_path
from horismos.paths.contour import Floats
from horismos.roles import CUT_ORDER, LineRole
from horismos.sheet import Item, Mark, Sheet
from horismos.sheet.misplacement import misplacement_map
from horismos.sheet.nest import outline_of, shown_round
from horismos.sheet.placing import media_for
from horismos.sheet.room import usable_box
from horismos.workflow.case import Case
from horismos.workflow.plan import Planned, PlannedSheet
from horismos.workflow.showing.page import DrawnLine

__all__ = [
    "CutShown", "ItemShown", "MarkShown", "MisplacementShown", "OperationShown", "PauseShown", "SheetShown",
    "ToolShown", "cuts_shown", "sheets_shown", "tools_shown",
]


PLACES = 9
"""[ours] places that are told of each stroke, so that the head can be shown at any time."""
MOST_STROKES, MOST_POINTS = 600, 60_000
"""[ours] strokes whose ways are drawn; of more the figures alone are told."""


@dataclass(frozen=True, kw_only=True)
class ToolShown:
    """A tool setting as ``cutting.Tool`` has it; None for force and speed where they are left to the machine."""

    role: LineRole
    number: int
    force_gf: float | None
    speed_mm_s: float | None
    passes: int = 1
    cut_mm: float | None = None
    tie_mm: float | None = None
    least_ties: int = 0
    tie_force_gf: float = 0.0
    blade: Blade | None = None
    offset_mm: float = 0.0
    overcut_mm: float = 0.0
    acceleration_mm_s2: float | None = None
    age_m: float = 0.0
    wear_gf_km: float = 0.0

    @classmethod
    def of(cls, tool: Tool) -> "ToolShown":
        """A tool as it is shown."""
        return cls(**{key: value for key, value in asdict(tool).items() if key != "passed"})


@dataclass(frozen=True)
class MarkShown:
    """A registration mark: its place and measures in mm, path data of its strokes, as wide as its weight, and fills."""

    number: int
    kind: str
    x_mm: float
    y_mm: float
    arm_mm: float
    weight_mm: float
    stroke: str
    fill: str

    @classmethod
    def of(cls, mark: Mark) -> "MarkShown":
        """A mark as it is shown."""
        return cls(
            mark.number, mark.kind.id, mark.x_mm, mark.y_mm, mark.arm_mm, mark.weight_mm, svg_path(mark.strokes),
            svg_path(mark.fills),
        )


@dataclass(frozen=True)
class MisplacementShown:
    """How far off cuts are expected to land in mm: what 95 of 100 loads keep within, at worst, where, on average.

    ``allowed_mm`` is what the edge can stand. ``cells`` are rows of x, y of the middle and mm, squares of ``side_mm``.
    """

    worst_mm: float
    mean_mm: float
    at: tuple[float, ...]
    allowed_mm: float
    side_mm: float
    cells: tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class ItemShown:
    """What lies on a sheet of one job: the lines of one copy, and the part of its art that a copy shows.

    ``clip`` is that part, within it only what ``clip_path`` encloses where there is one; ``round_path`` is what a copy
    shows that lies by its outline, as while copies are nested or moved. ``outline`` are rows of x, y in
    mm round all that is cut. ``copies`` are on this sheet.
    """

    name: str
    copies: int
    lines: tuple[DrawnLine, ...] = ()
    clip: tuple[float, ...] = ()
    clip_path: str = ""
    round_path: str = ""
    outline: tuple[tuple[float, ...], ...] = ()
    left_out: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class SheetShown:
    """A sheet: its measures in mm, where the copies lie and what is cut; or why it cannot be laid out.

    ``placements`` are matrices from the artwork's mm to the sheet's, ``item_of`` says which of the ``items`` each is;
    empty where there is but one. ``bar`` is the box of the bar beside the first mark; empty where there is none.
    ``code`` is what the code says, ``code_path`` its dark modules; ``rows_mm`` what nested copies would take in rows
    and columns. ``room`` is where cuts may lie. ``roller`` is from where to where a roller stands, from either side.
    ``clashes`` are the numbers of copies that lie too near
    to others, from 0. ``left`` copies of the order are on no sheet.
    """

    error: str = ""
    number: int = 1
    count: int = 1
    width_mm: float = 0.0
    length_mm: float = 0.0
    columns: int = 0
    rows: int = 0
    gap_mm: float = 0.0
    turned: bool = False
    waste: float = 0.0
    side_margin_mm: float = 0.0
    leader_mm: float = 0.0
    trailer_mm: float = 0.0
    head_mm: float = 0.0
    feed_mm: float = 0.0
    roller: tuple[float, ...] = ()
    room: tuple[float, ...] = ()
    endless: bool = True
    items: tuple[ItemShown, ...] = ()
    placements: tuple[tuple[float, ...], ...] = ()
    item_of: tuple[int, ...] = ()
    marks: tuple[MarkShown, ...] = ()
    bar: tuple[float, ...] = ()
    code: str = ""
    code_path: str = ""
    mirrored: bool = False
    makes: str = "both"
    inks: tuple[str, ...] = ()
    frame: tuple[float, ...] = ()
    clashes: tuple[int, ...] = ()
    placed_of: str = ""
    rows_mm: float | None = None
    misplacement: MisplacementShown | None = None
    notes: tuple[str, ...] = ()
    left: int = 0


@dataclass(frozen=True, kw_only=True)
class OperationShown:
    """One tool over the whole sheet; lengths in mm, time in seconds.

    ``holder`` is path data of where the middle of the tool's holder goes with the tool down, empty where that is what
    the tip cuts or there is too much of it; ``tip`` of what that cuts, overcut, cuts and ties as they are; ``begins``
    where each contour begins, rows of x, y. ``times`` says of each stroke when the tool is lowered and lifted, in
    seconds of the operation, and then where it is on the way: x, y, x, y at even distances along it; empty where there
    are too many.
    """

    role: LineRole
    tool: ToolShown
    contours: int
    strokes: int
    cut_mm: float
    travel_mm: float
    time_s: float
    mirrored: bool
    aligning: bool = False
    words: str = ""
    holder: str = ""
    tip: str = ""
    begins: tuple[tuple[float, ...], ...] = ()
    times: tuple[tuple[float, ...], ...] = ()


@dataclass(frozen=True)
class PauseShown:
    """A pause before an operation, by its number from 0: what a person has to do, and for how long in seconds."""

    before: int
    words: str
    time_s: float


@dataclass(frozen=True)
class CutShown:
    """The cut: its operations in order, the pauses between them, what they come to, what is to be said of it.

    ``roles`` are all that could be cut, in the order in which they are or would be.
    """

    operations: tuple[OperationShown, ...] = ()
    pauses: tuple[PauseShown, ...] = ()
    cut_mm: float = 0.0
    travel_mm: float = 0.0
    time_s: float = 0.0
    origin_mm: tuple[float, ...] = ()
    dialect: str = ""
    said: tuple[str, ...] = ()
    roles: tuple[LineRole, ...] = ()


def sheets_shown(planned: Planned | None, refused: str = "", case: Case | None = None) -> tuple[SheetShown, ...]:
    """The sheets on screen; or why there is none, with the bare media that a ``case`` was to lie on."""
    if planned is None:
        return (_bare(case, refused) if case else SheetShown(error=refused),)
    return tuple(_sheet(planned, one) for one in planned.sheets)


BARE_ROLL_MM = 1000.0
"""[ours] so much of a roll is shown where nothing lies on it."""


def _bare(case: Case, refused: str) -> SheetShown:
    """The media with what the machine keeps of it, and nothing on it."""
    on, cutter = media_for(case.media, case.layout), case.destination.room
    length = on.length_mm if on.length_mm is not None else BARE_ROLL_MM
    x0, y0, x1, _ = usable_box(on, cutter)
    return SheetShown(
        error=refused, width_mm=on.width_mm, length_mm=length, side_margin_mm=cutter.side_margin_mm,
        leader_mm=cutter.leader_mm, trailer_mm=cutter.trailer_mm, head_mm=cutter.head_mm, feed_mm=cutter.feed_mm,
        roller=cutter.rollers_mm, room=(x0, y0, x1, length - cutter.trailer_mm), endless=on.length_mm is None,
        makes=case.layout.makes.value, count=0,
    )


def _sheet(planned: Planned, one: PlannedSheet) -> SheetShown:
    sheet, grid, cutter = one.sheet, one.sheet.grid, one.sheet.cutter
    numbers = {id(item.piece): i for i, item in enumerate(planned.items)}
    top = sheet.length_mm - cutter.trailer_mm
    return SheetShown(
        error="", number=one.number, count=one.count, width_mm=sheet.material.width_mm, length_mm=sheet.length_mm,
        columns=grid.columns if grid else 0, rows=grid.rows if grid else 0, gap_mm=sheet.gap_mm,
        turned=grid.turned if grid else False, waste=sheet.waste, side_margin_mm=cutter.side_margin_mm,
        leader_mm=cutter.leader_mm, trailer_mm=cutter.trailer_mm, head_mm=cutter.head_mm, feed_mm=cutter.feed_mm,
        roller=cutter.rollers_mm, room=(*planned.room[:3], min(planned.room[3], top)),
        endless=sheet.material.length_mm is None, items=tuple(_item(sheet, item) for item in planned.items),
        placements=tuple(copy.matrix for copy in sheet.placements),
        item_of=tuple(numbers[id(copy.piece)] for copy in sheet.placements) if len(planned.items) > 1 else (),
        marks=tuple(map(MarkShown.of, sheet.marks)), bar=sheet.bar or (), code=sheet.code.text if sheet.code else "",
        code_path=_code_path(sheet), mirrored=sheet.mirrored, makes=sheet.makes.value,
        inks=tuple(layer.value for layer in sheet.inks), frame=sheet.frame or (),
        clashes=tuple(sorted({n for c in sheet.clashes for n in (c.first, c.second)})), placed_of=planned.placed_of,
        rows_mm=planned.rows_mm, misplacement=_misplacement(one), notes=one.notes, left=sum(planned.left)
    )


def _item(sheet: Sheet, item: Item) -> ItemShown:
    piece, copies = item.piece, sheet.copies_of(item.piece)
    outline = tuple((round(x, 2), round(y, 2)) for x, y in outline_of(piece).exterior.coords)
    left_out = tuple(role.value for role in piece.left_out)
    lines = tuple(DrawnLine(role.value, svg_path(contours)) for role, contours in piece.lines.items())
    if not copies:
        return ItemShown(piece.job, 0, lines, outline=outline, left_out=left_out)
    first = copies[0]
    shown = piece.bounds[0] - first.shows[0]
    return ItemShown(
        piece.job, len(copies), lines, first.shows, svg_path(first.clip),
        svg_path(first.clip or shown_round(piece, shown)), outline, left_out,
    )


def _code_path(sheet: Sheet) -> str:
    """The code as it is seen: printed the right way round, so the other way round where all else is mirrored."""
    printed, wide = sheet.printed.code, sheet.material.width_mm
    runs = printed.runs if printed else []
    if sheet.mirrored:
        runs = [(wide - x - w, y, w, h) for x, y, w, h in runs]
    return "".join(f"M{x:.3f} {y:.3f}h{w:.3f}v{h:.3f}h{-w:.3f}Z" for x, y, w, h in runs)


def _misplacement(one: PlannedSheet) -> MisplacementShown | None:
    found, expected = misplacement_map(one.sheet), one.expected
    if found is None or expected is None:
        return None
    drawn, side = found
    cells = tuple(
        (round(x, 2), round(y, 2), round(mm, 3))
        for (x, y), mm in zip(drawn.places.tolist(), drawn.within_mm.tolist(), strict=True)
    )
    return MisplacementShown(
        expected.worst_mm, expected.mean_mm, expected.at, one.tolerance_mm, side, cells,
    )


def cuts_shown(planned: Planned | None) -> tuple[CutShown, ...]:
    """The cut plan of each sheet on screen; one that is empty where there is no sheet."""
    return tuple(_cut(one.cut, one.sheet) for one in planned.sheets) if planned else (CutShown(),)


def _cut(plan: CutPlan, sheet: Sheet) -> CutShown:
    pauses = [PauseShown(p.before, p.words, p.time_s) for p in plan.pauses]
    present = {role for piece in sheet.pieces for role in piece.lines} if sheet.makes.cuts else set()
    now = [op.role for op in plan.operations if not op.aligning]
    roles = [*dict.fromkeys(now), *(role for role in CUT_ORDER if role in present and role not in now)]
    return CutShown(
        tuple(_operation(op, plan) for op in plan.operations), tuple(pauses), plan.cut_mm, plan.travel_mm, plan.time_s,
        plan.origin_mm, plan.cutter.dialect.words, plan.said, tuple(roles),
    )


def _operation(op: Operation, plan: CutPlan) -> OperationShown:
    few = len(op.strokes) <= MOST_STROKES
    drawn = few and sum(len(stroke.tip) for stroke in op.strokes) <= MOST_POINTS
    path = "".join(_polyline(stroke.holder) for stroke in op.strokes) if drawn and op.tool.trails_mm else ""
    tip = "".join(_polyline(stroke.tip) for stroke in op.strokes) if drawn else ""
    firsts = {number: stroke for number, stroke in reversed(list(zip(op.of, op.strokes, strict=True)))}
    begins = [tuple(firsts[n].tip[0].round(2).tolist()) for n in sorted(firsts)] if few else []
    return OperationShown(
        role=op.role, tool=ToolShown.of(op.tool), contours=len(op.contours), strokes=len(op.strokes), cut_mm=op.cut_mm,
        travel_mm=op.travel_mm, time_s=op.time_s, mirrored=op.mirrored, aligning=op.aligning, words=op.words,
        holder=path, tip=tip, begins=tuple(begins), times=_times(op, plan) if few else ()
    )


def _times(op: Operation, plan: CutPlan) -> tuple[tuple[float, ...], ...]:
    """When each stroke begins and ends, and where the tool is on the way."""
    paths = [stroke.holder for stroke in op.strokes]
    times = timed(paths, np.array(plan.origin_mm), plan.cutter, op.tool.speed_mm_s, op.tool.acceleration_mm_s2)
    return tuple(
        (round(begin, 2), round(end, 2), *_on_the_way(path))
        for begin, end, path in zip(times.lowered.tolist(), times.lifted.tolist(), paths, strict=True)
    )


def _on_the_way(path: Floats) -> list[float]:
    gone = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
    at = np.linspace(0, gone[-1], PLACES)
    places = np.column_stack([np.interp(at, gone, path[:, i]) for i in (0, 1)])
    return [float(v) for v in places.round(2).ravel()]


def _polyline(points: Floats) -> str:
    return "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points.tolist())


def tools_shown(tools: Mapping[LineRole, Tool]) -> tuple[ToolShown, ...]:
    """The tool settings of all roles, in the order of cutting."""
    return tuple(ToolShown.of(tools[role]) for role in CUT_ORDER)
