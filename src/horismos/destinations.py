"""Destinations: a RIP and a cutter, and the exact ink names that they want."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from horismos.machines import Cutter, Rip
from horismos.roles import InkRole, LineRole, all_facts

__all__ = ["HOUSE", "ISO", "SHIPPED", "Destination"]


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

SHIPPED: dict[str, Destination] = {d.id: d for d in (HOUSE, ISO)}
"""The destinations that ship with the product; the first is the default."""
