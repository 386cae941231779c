"""Destinations: a RIP and a cutter, and the exact ink names that they want."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from horismos.machines import Cutter, Dialect, MarkStyle, Rip
from horismos.roles import InkRole, LineRole, all_facts

__all__ = ["HOUSE", "ISO", "SHIPPED", "SMALL", "TABLE", "Destination"]


@dataclass(frozen=True)
class Destination:
    """A RIP and cutter pair. ``names`` holds the exact ink name per role, letter for letter."""

    id: str
    title: str
    names: Mapping[LineRole | InkRole, str]
    rip: Rip = field(default_factory=Rip)
    cutter: Cutter = field(default_factory=Cutter)

    def __post_init__(self) -> None:
        """Refuse a name table in which one name stands for two roles."""
        if len(set(self.names.values())) != len(self.names):
            raise ValueError(f"Destination {self.id}: two roles share one ink name.")

    @property
    def room(self) -> Cutter:
        """The cutter with the room that it and the printer need: the media is the same for both."""
        return self.cutter.beside(self.rip)

    def name_of(self, role: LineRole | InkRole) -> str:
        """The exact ink name wanted for a role. Raises KeyError where the destination has none."""
        return self.names[role]

    def role_named(self, name: str) -> LineRole | InkRole | None:
        """The role whose exact name this is, letter for letter, or None."""
        return next((role for role, exact in self.names.items() if exact == name), None)


HOUSE = Destination(
    id="house",
    title="House table and roll",
    names={role: facts.words.title() for role, facts in all_facts()},
)

ISO = Destination(
    id="iso",
    title="ISO 19593-1 names",
    names={role: facts.step[1] or facts.step[0] for role, facts in all_facts()},
)

SMALL = Destination(
    id="small",
    title="Small printer and cutter",
    names=HOUSE.names,
    rip=Rip("small-rip", "Small printer", margin_mm=4.0),
    cutter=Cutter(
        "small-cutter", "Small cutter", side_margin_mm=8.0, leader_mm=12.0, trailer_mm=20.0,
        marks=MarkStyle(4.0, 8.0, 0.7), head_mm=8.0, feed_mm=12.0, roller_mm=6.0, holders=1, camera=False,
    ),
)
"""[ours] sheets up to A3: narrow margins, small marks; one holder, and marks are jogged to by hand."""

TABLE = Destination(
    id="table",
    title="Flat table",
    names=HOUSE.names,
    rip=Rip("table-rip", "Flatbed printer", margin_mm=8.0),
    cutter=Cutter(
        "table-cutter", "Flat table cutter", holders=3, holder_change_s=60.0, travel_speed_mm_s=900.0,
        acceleration_mm_s2=6000.0, spread_mm=0.06, repeats_mm=0.01,
        dialect=Dialect(0.01, turned=True, right=True, header="IN;PA;", force="", suffix="hpgl"),
    ),
)
"""[ours] a table with units of 0.01 mm, X along the feed, its zero on the right; its forces are set at its panel."""

SHIPPED: dict[str, Destination] = {d.id: d for d in (HOUSE, ISO, SMALL, TABLE)}
"""The destinations that ship with the product; the first is the default."""
