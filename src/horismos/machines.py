"""Machines: what a RIP prints, and what a cutter needs and can do."""

from dataclasses import dataclass, replace

__all__ = ["Cutter", "MarkStyle", "Rip"]


@dataclass(frozen=True)
class Rip:
    """A RIP with its printer.

    ``printing_inks`` are the spot inks that it prints beside the process inks and the named ones; ``margin_mm`` is what
    the printer leaves blank at every edge of the media.
    """

    id: str = "rip"
    title: str = "RIP"
    printing_inks: tuple[str, ...] = ()
    margin_mm: float = 5.0  # [ours]


@dataclass(frozen=True)
class MarkStyle:
    """The registration marks that a cutter's sensor finds; lengths in mm."""

    distance_mm: float = 10.0  # [ours] between the pieces and the marks
    arm_mm: float = 12.0  # [ours]
    weight_mm: float = 1.0  # [ours]


@dataclass(frozen=True)
class Cutter:
    """A contour cutter: the room in mm that it needs beside, before and behind the work, and how fast it is.

    Behind the last mark lie ``head_mm``, which the head needs to pass over it, then ``feed_mm``, which are fed out
    before the sheet is cut off: both within the trailer. A pinch roller, ``roller_mm`` wide, stands in the middle of
    each side margin.
    """

    id: str = "cutter"
    title: str = "Cutter"
    side_margin_mm: float = 25.0  # [practice] marks about 25 mm inside the media edge
    leader_mm: float = 100.0  # [practice] 100 mm leader or more
    trailer_mm: float = 50.0  # [ours]
    head_mm: float = 20.0  # [ours] [practice] a little room beside the last mark
    feed_mm: float = 30.0  # [ours]
    roller_mm: float = 16.0  # [ours]
    marks: MarkStyle = MarkStyle()
    spread_mm: float = 0.1  # [ours] standard deviation, along each axis, of where it reads a mark
    travel_speed_mm_s: float = 600.0  # [ours] with the blade up
    lift_s: float = 0.08  # [ours] to lower or raise the blade once
    tool_change_s: float = 15.0  # [ours] between two tools

    def beside(self, printer: Rip) -> "Cutter":
        """The room of both machines: where the printer prints nothing, no mark and no art may lie either."""
        return replace(
            self, side_margin_mm=max(self.side_margin_mm, printer.margin_mm),
            leader_mm=max(self.leader_mm, printer.margin_mm), trailer_mm=max(self.trailer_mm, printer.margin_mm),
        )

    @property
    def rollers_mm(self) -> tuple[float, float]:
        """How far from the side of the media a roller begins and ends."""
        middle, half = self.side_margin_mm / 2, min(self.roller_mm, self.side_margin_mm) / 2
        return middle - half, middle + half
