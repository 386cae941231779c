"""Tool settings: blade, force, speed, passes and perforation for one role on one material."""

from dataclasses import dataclass

from horismos.errors import BadValue
from horismos.roles import LineRole

__all__ = ["DEFAULT_TOOLS", "Tool"]


@dataclass(frozen=True)
class Tool:
    """A tool setting. ``cut_mm`` and ``tie_mm`` are the perforation's, None for a whole cut, with at least
    ``least_ties`` ties a piece."""

    role: LineRole
    number: int
    force_gf: float
    speed_mm_s: float
    passes: int = 1
    cut_mm: float | None = None
    tie_mm: float | None = None
    least_ties: int = 0

    def __post_init__(self) -> None:
        """Refuse what no cutter can do, naming the value."""
        checks = {
            "tool number": 1 <= self.number <= 8,
            "force": 0 < self.force_gf <= 1000,
            "speed": 0 < self.speed_mm_s <= 2000,
            "number of passes": 1 <= self.passes <= 10,
            "cut length": self.cut_mm is None or 0.2 <= self.cut_mm <= 500,
            "number of ties": 0 <= self.least_ties <= 10_000,
            "tie length": self.tie_mm is None or 0.05 <= self.tie_mm <= 100,
        }
        for what, fine in checks.items():
            if not fine:
                raise BadValue(f"The {what} for the {self.role.words} is out of range.")


DEFAULT_TOOLS: dict[LineRole, Tool] = {
    tool.role: tool
    for tool in (
        # [practice] kiss about 90 gf, perforation or through about 200 gf on a 100 µm film;
        # [ours] tool numbers, speeds and the perforation's lengths. Always test-cut.
        Tool(LineRole.KISS_CUT, 1, 90, 400),
        Tool(LineRole.PERFORATION, 2, 200, 250, cut_mm=4.0, tie_mm=0.5),
        Tool(LineRole.THROUGH_CUT, 3, 200, 200),
        Tool(LineRole.CREASE, 4, 250, 200),
        Tool(LineRole.BACK_CUT, 5, 90, 300),
    )
}
