"""Destinations: a RIP and a cutter, the exact ink names they want and the room they need."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from horismos.roles import InkRole, LineRole

__all__ = ["HOUSE", "ISO", "SHIPPED", "Destination"]


@dataclass(frozen=True)
class Destination:
    """A RIP and cutter pair.

    ``names`` holds the exact ink name per role, letter for letter. ``printing_inks`` are the spot
    inks that the RIP prints beside the process inks and the ones in ``names``. The margins are
    the room in mm that the machine needs beside, before and behind the work.
    """

    id: str
    title: str
    names: Mapping[LineRole | InkRole, str]
    printing_inks: tuple[str, ...] = ()
    side_margin_mm: float = 25.0  # [practice] marks about 25 mm inside the media edge
    leader_mm: float = 100.0  # [practice] 100 mm leader or more
    trailer_mm: float = 50.0  # [ours]
    mark_distance_mm: float = 10.0  # [ours] between the pieces and the marks
    mark_arm_mm: float = 12.0  # [ours]
    mark_weight_mm: float = 1.0  # [ours]
    travel_speed_mm_s: float = 600.0  # [ours] with the blade up
    lift_s: float = 0.08  # [ours] to lower or raise the blade once
    blade_changes_s: float = field(default=15.0)  # [ours] between two tools

    def __post_init__(self) -> None:
        """Refuse a name table in which one name stands for two roles."""
        if len(set(self.names.values())) != len(self.names):
            raise ValueError(f"Destination {self.id}: two roles share one ink name.")

    def name_of(self, role: LineRole | InkRole) -> str:
        """The exact ink name wanted for a role. Raises KeyError where the destination has none."""
        return self.names[role]

    def role_named(self, name: str) -> LineRole | InkRole | None:
        """The role whose exact name this is, letter for letter, or None."""
        return next((role for role, exact in self.names.items() if exact == name), None)


HOUSE = Destination(
    id="house",
    title="House table and roll",
    names={
        LineRole.KISS_CUT: "Kiss Cut",
        LineRole.THROUGH_CUT: "Through Cut",
        LineRole.PERFORATION: "Perforation",
        LineRole.BACK_CUT: "Back Cut",
        LineRole.CREASE: "Crease",
        InkRole.WHITE: "White",
        InkRole.VARNISH: "Varnish",
    },
)

ISO = Destination(
    id="iso",
    title="ISO 19593-1 names",
    names={
        LineRole.KISS_CUT: "PartialCutting",
        LineRole.THROUGH_CUT: "Cutting",
        LineRole.PERFORATION: "Perforating",
        LineRole.BACK_CUT: "ReversePartialCutting",
        LineRole.CREASE: "Creasing",
        InkRole.WHITE: "White",
        InkRole.VARNISH: "Varnish",
    },
)

SHIPPED: dict[str, Destination] = {d.id: d for d in (HOUSE, ISO)}
"""The destinations that ship with the product; the first is the default."""
