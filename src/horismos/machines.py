"""Machines: what a RIP prints, and what a cutter needs and can do."""

from dataclasses import dataclass

__all__ = ["Cutter", "MarkStyle", "Rip"]


@dataclass(frozen=True)
class Rip:
    """A RIP. ``printing_inks`` are the spot inks that it prints beside the process inks and the named ones."""

    id: str = "rip"
    title: str = "RIP"
    printing_inks: tuple[str, ...] = ()


@dataclass(frozen=True)
class MarkStyle:
    """The registration marks that a cutter's sensor finds; lengths in mm."""

    distance_mm: float = 10.0  # [ours] between the pieces and the marks
    arm_mm: float = 12.0  # [ours]
    weight_mm: float = 1.0  # [ours]


@dataclass(frozen=True)
class Cutter:
    """A contour cutter: the room in mm that it needs beside, before and behind the work, and how fast it is."""

    id: str = "cutter"
    title: str = "Cutter"
    side_margin_mm: float = 25.0  # [practice] marks about 25 mm inside the media edge
    leader_mm: float = 100.0  # [practice] 100 mm leader or more
    trailer_mm: float = 50.0  # [ours]
    marks: MarkStyle = MarkStyle()
    spread_mm: float = 0.1  # [ours] standard deviation, along each axis, of where it reads a mark
    travel_speed_mm_s: float = 600.0  # [ours] with the blade up
    lift_s: float = 0.08  # [ours] to lower or raise the blade once
    tool_change_s: float = 15.0  # [ours] between two tools
