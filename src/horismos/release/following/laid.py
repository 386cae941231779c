"""A released sheet where its first repeat lies: its copies, marks and zero, and the cut that is planned for them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from horismos.cutting import CutPlan, Operation, Tool
from horismos.cutting.operations import CutCopy, Run, also_cut, plan_operation
from horismos.errors import CannotRead
from horismos.paths import Contour, contour_from_points, rectangle
from horismos.paths.box import Bounds, placed, union_bounds
from horismos.paths.matrix import Matrix, multiply
from horismos.release.following.landing import Landing, zero_among
from horismos.release.following.released import AGAIN, Lines, Released
from horismos.release.following.rip_report import RipReport
from horismos.roles import LineRole
from horismos.sheet import Sheet
from horismos.sheet.sheet import flip

__all__ = ["Laid", "box_of", "cut_box", "planned_side"]


@dataclass(frozen=True, eq=False)
class Laid:
    """A released sheet where its first repeat lies."""

    released: Released
    report: RipReport
    landing: Landing
    sheet: Sheet

    @cached_property
    def over(self) -> Matrix:
        """The sheet turned over sideways."""
        return flip(self.released.material)

    @cached_property
    def scaled(self) -> list[Lines]:
        """The lines of each piece at the scale that it was printed at; only where that is one."""
        k = self.report.scale[0]
        if k == 1.0:
            return self.released.pieces
        larger = (k, 0.0, 0.0, k, 0.0, 0.0)
        return [
            {role: tuple(c.transformed(larger) for c in of) for role, of in lines.items()}
            for lines in self.released.pieces
        ]

    def copy(self, number: int, role: LineRole, back: bool) -> CutCopy:
        """The lines of a copy where they lie. Raises CannotRead where the print PDF has none of them."""
        placements = self.released.ticket["placements"]
        if not 0 <= number < len(placements) or not 0 <= placements[number]["piece"] < len(self.released.pieces):
            raise CannotRead(f"The ticket has no copy {number + 1}.", AGAIN)
        piece = placements[number]["piece"]
        onto = multiply(self.released.matrix(number), self.landing.matrix)
        if back:
            onto = multiply(onto, self.over)
        known = self.released.pieces[piece]
        if role not in known:
            raise CannotRead(f"The print PDF has no {role.words} where the ticket has one.", AGAIN)
        if not self.report.is_uniform:
            return CutCopy(number, tuple(c.transformed(onto) for c in known[role]))
        k = 1 / self.report.scale[0]
        return CutCopy(number, self.scaled[piece][role], multiply((k, 0.0, 0.0, k, 0.0, 0.0), onto))

    @cached_property
    def corners(self) -> list[tuple[float, float, float]]:
        """The corners of the aligning figure where there is the same room for them, and how long their sides are."""
        out = []
        for x, y, side in self.released.ticket["aligning"]:
            box = placed((x, y, x + side, y + side), self.landing.matrix)
            out.append((box[0], box[1], min(box[2] - box[0], box[3] - box[1])))
        return out

    def origin(self, back: bool) -> tuple[float, float]:
        """The zero of a side: the mark that lies lowest and leftmost; without marks the lower left of what is cut."""
        right = self.released.destination.cutter.dialect.right
        if self.sheet.marks:
            wide = self.released.material.width_mm
            turned = [replace(m, x_mm=wide - m.x_mm) for m in self.sheet.marks] if back else self.sheet.marks
            return zero_among(turned, right)
        onto = multiply(self.landing.matrix, self.over) if back else self.landing.matrix
        x0, y0, x1, _ = placed(cut_box(self.released), onto)
        return (x1 if right else x0), y0


def planned_side(laid: Laid, side: str) -> CutPlan:
    """The operations of a side, planned anew where they lie."""
    back = side == "back"
    origin, ticket = laid.origin(back), laid.released.ticket
    cutter = laid.released.destination.cutter
    out: list[Operation] = []
    for said in ticket["operations"]:
        if said["side"] != side:
            continue
        role = LineRole(said["role"])
        run = Run(laid.sheet.cutter, laid.sheet.length_mm, origin, back, bool(said["aligning"]))
        tool = Tool.kept(role, said["setting"])
        if said["aligning"]:
            figure = [
                CutCopy(-1, (contour_from_points([(x + s, y), (x, y), (x, y + s)], closed=False),))
                for x, y, s in laid.corners
            ]
            out.append(plan_operation(role, tool, figure, run))
            continue
        numbers = list(dict.fromkeys(int(copy) for copy, _ in said["copies"]))
        made = plan_operation(role, tool, [laid.copy(n, role, back) for n in numbers if n >= 0], run)
        if -1 in numbers:
            made = also_cut(made, _frame(laid, back), run)
        out.append(made)
    return CutPlan(tuple(out), origin, replace(laid.sheet.cutter, dialect=cutter.dialect))


def _frame(laid: Laid, back: bool) -> Contour:
    box = box_of(laid.released.ticket["sheet"]["frame_mm"])
    if box is None:
        raise CannotRead("The ticket does not say where the weeding frame lies.", AGAIN)
    onto = multiply(laid.landing.matrix, laid.over) if back else laid.landing.matrix
    return rectangle(*placed(box, onto))


def cut_box(released: Released) -> Bounds:
    """The bounds of all that is cut of a sheet as released: the weeding frame, where it has one. Raises CannotRead."""
    boxes = [box_of(placement["bounds"]) for placement in released.ticket["placements"]]
    found = box_of(released.ticket["sheet"]["frame_mm"]) or union_bounds(box for box in boxes if box)
    if found is None:
        raise CannotRead("The ticket has no copy.", AGAIN)
    return found


def box_of(said: Sequence[float] | None) -> Bounds | None:
    """A box as a ticket says it, or None."""
    if said is None:
        return None
    x0, y0, x1, y1 = map(float, said)
    return x0, y0, x1, y1
