"""The cut plan: which role first, which contour next and from where, what each tool does, how far and how long."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from horismos.cutting.aligning import aligning_figure, aligning_tool
from horismos.cutting.operations import CutCopy, Operation, Run, also_cut, plan_operation
from horismos.cutting.tools import DEFAULT_TOOLS, Tool
from horismos.errors import DoesNotFit
from horismos.machines import Cutter
from horismos.paths import rectangle
from horismos.paths.matrix import IDENTITY, multiply
from horismos.roles import CUT_ORDER, LineRole
from horismos.sheet import Piece, Sheet
from horismos.sheet.layout import Aligning
from horismos.sheet.sheet import flip

__all__ = ["CutPlan", "CutSelection", "Pause", "plan_cut"]


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
    lines = {id(piece): tuple(piece.lines.get(role, ())) for piece in pieces}
    copies = [
        CutCopy(number, lines[id(copy.piece)], multiply(copy.matrix, over) if mirrored else copy.matrix)
        for number, copy in enumerate(sheet.placements) if id(copy.piece) in lines and wanted.takes(number)
    ]
    return plan_operation(role, tool, copies, Run(sheet.cutter, sheet.length_mm, origin, mirrored))


def _framed(operations: list[Operation], sheet: Sheet, origin: tuple[float, float]) -> list[Operation]:
    """The weeding frame behind all else of an operation: the kiss cut, where there is one."""
    if not sheet.frame or not operations:
        return operations
    at = next((i for i, op in enumerate(operations) if op.role is LineRole.KISS_CUT), 0)
    out = list(operations)
    out[at] = also_cut(out[at], rectangle(*sheet.frame), Run(sheet.cutter, sheet.length_mm, origin))
    return out


def _aligned(
    operations: list[Operation], sheet: Sheet, origin: tuple[float, float], tool: Tool
) -> list[Operation]:
    """The figure by which the turned sheet is aligned, cut right through behind all that is cut from the front."""
    front = [op for op in operations if not op.mirrored]
    if len(front) == len(operations):
        return operations
    copies = [CutCopy(-1, (contour,)) for contour in aligning_figure(sheet)]
    run = Run(sheet.cutter, sheet.length_mm, origin, aligning=True)
    made = plan_operation(LineRole.THROUGH_CUT, tool, copies, run)
    return [*front, made, *(op for op in operations if op.mirrored)]


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
