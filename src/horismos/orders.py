"""Orders: what was asked for. Every field may be left open."""

from collections.abc import Mapping
from dataclasses import dataclass, fields
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from horismos.json_readers import (
    Field,
    choice,
    list_of,
    number,
    read_fields,
    schema_of,
    text,
    yes,
)
from horismos.roles import LineRole

__all__ = [
    "DEFAULT_BLEED_MM", "DEFAULT_BORDER_MM", "DEFAULT_TOLERANCE_MM", "FIELDS", "Edge", "Laminate", "Order", "Seen",
    "order_schema",
]

DEFAULT_BLEED_MM = 3.0  # [practice]
DEFAULT_BORDER_MM = 1.5  # [practice]
DEFAULT_TOLERANCE_MM = 0.5  # [practice] where a cut may land off


class Edge(StrEnum):
    """What is wanted along the cut: colour runs over it, a blank border stays, or either."""

    BLEED = "bleed"
    BORDER = "border"
    EITHER = "either"


class Seen(StrEnum):
    """From which side a piece is looked at: the front, or through clear media and glass."""

    FRONT = "front"
    THROUGH = "through"


class Laminate(StrEnum):
    """What is laminated over the print, before it is cut."""

    MATT = "matt"
    GLOSSY = "glossy"


_SIDE, _MARGIN = number(0, 100_000, above=True), number(0, 1_000)
FIELDS: Mapping[str, Field] = MappingProxyType({
    "width_mm": Field(_SIDE, "the finished width", "mm"),
    "height_mm": Field(_SIDE, "the finished height", "mm"),
    "quantity": Field(number(1, 1_000_000, whole=True), "how many pieces"),
    "material": Field(text(80), "what it is made of, by its id"),
    "roles": Field(list_of(choice(LineRole), "line roles"), "which cuts a piece has; an empty list: none"),
    "edge": Field(choice(Edge), "colour runs over the cut (bleed), a blank border stays (border), or either"),
    "bleed_mm": Field(_MARGIN, "how far colour runs over the cut", "mm"),
    "border_mm": Field(_MARGIN, "how wide the blank border is", "mm"),
    "tolerance_mm": Field(_MARGIN, "how far off the cut may land", "mm"),
    "viewing_distance_m": Field(number(0, 100_000, above=True), "from how far it is looked at", "m"),
    "seen": Field(choice(Seen), "from the front, or through clear media"),
    "white": Field(yes, "whether white ink is wanted; left out, the material says it"),
    "laminate": Field(choice(Laminate), "what is laminated over the print before it is cut; left out: nothing"),
    "holes": Field(number(0, 100_000, whole=True), "how many holes a piece has; left out, nobody counts"),
})
"""What an order may say: the one table that reader, schema, and page are made from."""


@dataclass(frozen=True, kw_only=True)
class Order:
    """What was asked for; lengths in mm, the viewing distance in metres.

    ``roles`` is None where the order does not say which cuts it wants. ``edge`` is ``bleed``
    (colour runs over the cut), ``border`` (a blank border stays) or ``either``. ``bleed_mm``, ``border_mm`` and
    ``tolerance_mm`` (how far off the cut may land) are None where the order does not say them: then the check
    sheet decides. ``white`` is None where the material says whether white ink is wanted, ``holes`` where
    nobody said how many a piece should have.
    """

    width_mm: float | None = None
    height_mm: float | None = None
    quantity: int = 1
    material: str | None = None
    roles: tuple[LineRole, ...] | None = None
    edge: Edge = Edge.EITHER
    bleed_mm: float | None = None
    border_mm: float | None = None
    tolerance_mm: float | None = None
    viewing_distance_m: float | None = None
    seen: Seen = Seen.FRONT
    white: bool | None = None
    holes: int | None = None
    laminate: Laminate | None = None

    def __post_init__(self) -> None:
        """Refuse what no order can mean, naming the field. Raises BadValue."""
        for name, asked in FIELDS.items():
            value = getattr(self, name)
            if value is not None:
                object.__setattr__(self, name, asked.read(f"Order: {name}", value))

    @classmethod
    def from_json(cls, data: object) -> "Order":
        """Make an order from its JSON form; every key is optional, an unknown one is refused.

        Raises BadValue naming the key.
        """
        return cls(**read_fields("Order", data, FIELDS))

    def to_json(self) -> dict[str, Any]:
        """The order as plain values, without what it leaves open."""
        out = {f.name: getattr(self, f.name) for f in fields(self)}
        out["edge"], out["seen"] = self.edge.value, self.seen.value
        out["laminate"] = self.laminate.value if self.laminate else None
        if self.roles is not None:
            out["roles"] = [role.value for role in self.roles]
        return {key: value for key, value in out.items() if value is not None}


def order_schema() -> dict[str, Any]:
    """What an order may be, as JSON Schema 2020-12."""
    return schema_of("Order", FIELDS, Order())
