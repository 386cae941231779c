"""The sheet and its cut on screen."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from horismos.cutting import DEFAULT_TOOLS, CutPlan, Tool
from horismos.formats.svg import svg_path
from horismos.roles import CUT_ORDER, LineRole
from horismos.sheet import Mark, Sheet
from horismos.sheet.misplacement import misplacement_map
from horismos.workflow.plan import Planned
from horismos.workflow.showing.page import DrawnLine

__all__ = [
    "CutShown", "MarkShown", "MisplacementShown", "OperationShown", "SheetShown", "ToolShown", "cut_shown",
    "sheet_shown", "tools_shown",
]


@dataclass(frozen=True)
class ToolShown:
    """A tool setting; ``cut_mm`` and ``tie_mm`` are the perforation's."""

    role: LineRole
    number: int
    force_gf: float
    speed_mm_s: float
    passes: int = 1
    cut_mm: float | None = None
    tie_mm: float | None = None

    @classmethod
    def of(cls, tool: Tool) -> "ToolShown":
        """A tool as it is shown."""
        return cls(
            tool.role, tool.number, tool.force_gf, tool.speed_mm_s, tool.passes, tool.cut_mm, tool.tie_mm
        )


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
            mark.number, mark.kind.value, mark.x_mm, mark.y_mm, mark.arm_mm, mark.weight_mm, svg_path(mark.strokes),
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
class SheetShown:
    """A sheet: its measures in mm, where the copies lie and what is cut; or why it cannot be laid out.

    ``placements`` are matrices from the artwork's mm to the sheet's. ``lines`` are those of one copy; only a
    sheet of one piece is shown so. ``clip`` is the part of the art that a copy shows,
    within it only what ``clip_path`` encloses where there is one, ``bar`` the box of the bar
    beside the first mark; empty where there is none. ``code`` is what the code says, ``code_path`` its dark modules;
    ``rows_mm`` what nested copies would take in rows and columns.
    """

    error: str = ""
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
    clip: tuple[float, ...] = ()
    clip_path: str = ""
    placements: tuple[tuple[float, ...], ...] = ()
    marks: tuple[MarkShown, ...] = ()
    lines: tuple[DrawnLine, ...] = ()
    bar: tuple[float, ...] = ()
    code: str = ""
    code_path: str = ""
    mirrored: bool = False
    rows_mm: float | None = None
    misplacement: MisplacementShown | None = None
    notes: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()


@dataclass(frozen=True)
class OperationShown:
    """One tool over the whole sheet; lengths in mm, time in seconds."""

    role: LineRole
    tool: ToolShown
    contours: int
    cut_mm: float
    travel_mm: float
    time_s: float
    mirrored: bool


@dataclass(frozen=True)
class CutShown:
    """The cut: its operations in order, and what they come to."""

    operations: tuple[OperationShown, ...] = ()
    cut_mm: float = 0.0
    travel_mm: float = 0.0
    time_s: float = 0.0


def sheet_shown(planned: Planned | None, refused: str = "") -> SheetShown:
    """A sheet on screen, or why there is none."""
    if planned is None:
        return SheetShown(error=refused)
    sheet: Sheet = planned.sheet
    piece, grid = sheet.pieces[0], sheet.grid
    return SheetShown(
        "", sheet.material.width_mm, sheet.length_mm, grid.columns if grid else 0, grid.rows if grid else 0,
        grid.gap_mm if grid else 0.0, grid.turned if grid else False, sheet.waste, sheet.cutter.side_margin_mm,
        sheet.cutter.leader_mm, sheet.cutter.trailer_mm, sheet.placements[0].shows,
        svg_path(sheet.placements[0].clip),
        tuple(copy.matrix for copy in sheet.placements), tuple(map(MarkShown.of, sheet.marks)),
        tuple(DrawnLine(role.value, svg_path(contours)) for role, contours in piece.lines.items()),
        sheet.bar or (), sheet.code.text if sheet.code else "", _code_path(sheet), sheet.mirrored, planned.rows_mm,
        _misplacement(planned), planned.notes, tuple(role.value for role in piece.left_out),
    )


def _code_path(sheet: Sheet) -> str:
    """The code as it is seen: printed the right way round, so the other way round where all else is mirrored."""
    printed, wide = sheet.printed.code, sheet.material.width_mm
    runs = printed.runs if printed else []
    if sheet.mirrored:
        runs = [(wide - x - w, y, w, h) for x, y, w, h in runs]
    return "".join(f"M{x:.3f} {y:.3f}h{w:.3f}v{h:.3f}h{-w:.3f}Z" for x, y, w, h in runs)


def _misplacement(planned: Planned) -> MisplacementShown | None:
    found, expected = misplacement_map(planned.sheet), planned.expected
    if found is None or expected is None:
        return None
    drawn, side = found
    cells = tuple(
        (round(x, 2), round(y, 2), round(mm, 3))
        for (x, y), mm in zip(drawn.places.tolist(), drawn.within_mm.tolist(), strict=True)
    )
    return MisplacementShown(
        expected.worst_mm, expected.mean_mm, expected.at, planned.tolerance_mm, side, cells,
    )


def cut_shown(planned: Planned | None) -> CutShown:
    """A cut plan on screen; an empty one where there is no sheet."""
    if planned is None:
        return CutShown()
    plan: CutPlan = planned.cut
    operations: Sequence[OperationShown] = [
        OperationShown(
            op.role, ToolShown.of(op.tool), len(op.contours), op.cut_mm, op.travel_mm, op.time_s, op.mirrored
        )
        for op in plan.operations
    ]
    return CutShown(tuple(operations), plan.cut_mm, plan.travel_mm, plan.time_s)


def tools_shown(own: Mapping[LineRole, Tool] | None = None) -> tuple[ToolShown, ...]:
    """The tool setting of every role, in the order of cutting; a job's own before the shipped."""
    return tuple(ToolShown.of({**DEFAULT_TOOLS, **(own or {})}[role]) for role in CUT_ORDER)
