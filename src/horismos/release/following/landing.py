"""Where a printed sheet lies on the media after what the RIP did to it: pages, marks, and the zero of the cut."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from horismos.errors import DoesNotFit
from horismos.paths.box import Bounds, placed
from horismos.paths.matrix import Matrix, apply, move, multiply
from horismos.release.following.rip_report import RipReport
from horismos.sheet.mark_kinds import Mark, kind_of
from horismos.sheet.turning import lower_left

__all__ = ["Landing", "landing_of", "marks_of_ticket", "zero_among"]

ROW_MM = 1.0
"""[ours] marks that lie no further apart along the feed stand in one row."""
EDGE_MM = 1e-6


@dataclass(frozen=True)
class Landing:
    """Where the first repeat lies: ``matrix`` takes mm on the sheet as released to mm on the media.

    Every next one lies ``step_mm`` further along the feed; ``count`` in all. ``length_mm`` is how long one is.
    """

    matrix: Matrix
    step_mm: float
    count: int
    width_mm: float
    length_mm: float

    def of(self, repeat: int) -> Matrix:
        """The same for a repeat, counted from 1."""
        return multiply(self.matrix, move(0.0, (repeat - 1) * self.step_mm))

    def mark(self, mark: Mark) -> Mark:
        """A mark as it then lies: its arms go other ways, and are as much larger as it was scaled."""
        a, b, c, d, _, _ = self.matrix
        x, y = apply(self.matrix, mark.x_mm, mark.y_mm)
        ways = a * mark.along_x + c * mark.along_y, b * mark.along_x + d * mark.along_y
        size = abs(a * d - b * c) ** 0.5
        return replace(
            mark, x_mm=x, y_mm=y, along_x=_sign(ways[0]), along_y=_sign(ways[1]), arm_mm=mark.arm_mm * size,
            weight_mm=mark.weight_mm * size,
        )


def _sign(value: float) -> int:
    return (value > 1e-9) - (value < -1e-9)


def landing_of(report: RipReport, size_mm: tuple[float, float]) -> Landing:
    """Where a page of a size lies by a report."""
    across, along = report.scale
    wide, long = size_mm[0] * across, size_mm[1] * along
    matrix: Matrix = (across, 0.0, 0.0, along, 0.0, 0.0)
    if report.mirrored:
        matrix = multiply(matrix, (-1.0, 0.0, 0.0, 1.0, wide, 0.0))
    turn = lower_left((0.0, 0.0, wide, long), report.turn_deg)
    lies = placed((0.0, 0.0, wide, long), turn)
    page = lies[2] - lies[0], lies[3] - lies[1]
    matrix = multiply(multiply(matrix, turn), move(*report.moved_mm))
    return Landing(matrix, page[1] + report.gap_mm, report.copies, *page)


def marks_of_ticket(ticket: Mapping[str, Any]) -> tuple[Mark, ...]:
    """The marks of a released sheet."""
    return tuple(
        Mark(
            int(m["number"]), float(m["x_mm"]), float(m["y_mm"]), int(m["opens"][0]), int(m["opens"][1]),
            float(m["arm_mm"]), float(m["weight_mm"]), kind_of(m["kind"]),
        )
        for m in ticket["marks"]
    )


def zero_among(marks: Sequence[Mark], right: bool) -> tuple[float, float]:
    """The mark that lies lowest, and leftmost there; rightmost where the cutter counts from the right."""
    front = [mark for mark in marks if mark.y_mm <= min(m.y_mm for m in marks) + ROW_MM]
    first = (max if right else min)(front, key=lambda mark: mark.x_mm)
    return first.x_mm, first.y_mm


def refuse_what_is_cut_off(
    landing: Landing, marks: Mapping[int, Bounds], cuts: Bounds | None, media_mm: tuple[float, float | None]
) -> None:
    """Raise DoesNotFit, in words, where a mark or a cut lies beside the media: ``marks`` are their boxes by number.

    ``media_mm`` is how wide the media is, and how long, None for a roll.
    """
    wide, long = media_mm
    for repeat in range(1, landing.count + 1):
        of = f" of repeat {repeat}" if landing.count > 1 else ""
        lost = [number for number, box in marks.items() if _off(placed(box, landing.of(repeat)), wide, long)]
        if lost:
            numbers, several = ", ".join(map(str, lost)), len(lost) > 1
            raise DoesNotFit(
                f"Mark{'s' if several else ''} {numbers} of {len(marks)}{of} {'lie' if several else 'lies'} off the "
                f"media, which is {_size(media_mm)}: {'they are' if several else 'it is'} cut off, and the sheet "
                "cannot be aligned.", "Print it again where all of it is on the media.",
            )
        if cuts is not None and _off(placed(cuts, landing.of(repeat)), wide, long):
            box = placed(cuts, landing.of(repeat))
            raise DoesNotFit(
                f"What is cut{of} reaches from {box[0]:.1f} to {box[2]:.1f} mm across and from {box[1]:.1f} to "
                f"{box[3]:.1f} mm along; the media is {_size(media_mm)}.", "Print it again on wider media.",
            )


def _off(box: Bounds, wide: float, long: float | None) -> bool:
    over = long is not None and box[3] > long + EDGE_MM
    return box[0] < -EDGE_MM or box[1] < -EDGE_MM or box[2] > wide + EDGE_MM or over


def _size(media_mm: tuple[float, float | None]) -> str:
    wide, long = media_mm
    return f"{wide:g} mm wide" + ("" if long is None else f" and {long:g} mm long")
