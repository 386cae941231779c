"""Orders: what was asked for. Every field may be left open."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, fields
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue
from horismos.roles import LineRole

__all__ = ["DEFAULT_BLEED_MM", "DEFAULT_BORDER_MM", "DEFAULT_TOLERANCE_MM", "Edge", "Order", "Seen"]

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



@dataclass(frozen=True)
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

    def __post_init__(self) -> None:
        """Refuse what no order can mean, naming the field."""
        for name in ("width_mm", "height_mm", "viewing_distance_m"):
            value = getattr(self, name)
            if value is not None and not 0 < value < 100_000:
                raise BadValue(f"Order: {name} is {value}.", "Give a length above 0.")
        for name in ("bleed_mm", "border_mm", "tolerance_mm"):
            value = getattr(self, name)
            if value is not None and not 0 <= value <= 1000:
                raise BadValue(f"Order: {name} is {value}.", "Give 0 to 1000 mm.")
        if self.holes is not None and not 0 <= self.holes <= 100_000:
            raise BadValue(f"Order: holes is {self.holes}.", "Give 0 to 100,000.")
        if not 1 <= self.quantity <= 1_000_000:
            raise BadValue(f"Order: quantity is {self.quantity}.", "Give 1 to 1,000,000.")
        for name, kind in (("edge", Edge), ("seen", Seen)):
            value = getattr(self, name)
            if value not in set(kind):
                raise BadValue(f"Order: {name} is “{value}”.", f"Give one of {', '.join(kind)}.")
            object.__setattr__(self, name, kind(value))

    @classmethod
    def from_json(cls, data: object) -> "Order":
        """Make an order from its JSON form; every key is optional, an unknown one is refused.

        Raises BadValue naming the key.
        """
        if not isinstance(data, Mapping):
            raise BadValue("The order is not a JSON object.", "See docs/orders.md for its keys.")
        known = {f.name for f in fields(cls)}
        values: dict[str, Any] = {}
        for key, value in data.items():
            if key not in known:
                raise BadValue(f"Order: unknown key “{key}”.", f"Known: {', '.join(sorted(known))}.")
            if value is None:
                continue
            if key == "roles":
                value = cls._roles(value)
            elif key in ("material", "edge", "seen"):
                if not isinstance(value, str):
                    raise BadValue(f"Order: {key} must be a text.")
            elif key == "white":
                if not isinstance(value, bool):
                    raise BadValue("Order: white must be true or false.")
            elif isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
                raise BadValue(f"Order: {key} must be a number.")
            elif key in ("quantity", "holes"):
                if value != int(value):
                    raise BadValue(f"Order: {key} must be a whole number.")
                value = int(value)
            values[key] = value
        return cls(**values)

    @staticmethod
    def _roles(value: object) -> tuple[LineRole, ...]:
        known = ", ".join(LineRole)
        if not isinstance(value, list | tuple):
            raise BadValue("Order: roles must be a list.", f"Known roles: {known}.")
        try:
            return tuple(dict.fromkeys(LineRole(str(role)) for role in value))
        except ValueError as error:
            raise BadValue(f"Order: {error}.", f"Known roles: {known}.") from None

    def to_json(self) -> dict[str, Any]:
        """The order as plain values, without what it leaves open."""
        out = {f.name: getattr(self, f.name) for f in fields(self)}
        out["edge"], out["seen"] = self.edge.value, self.seen.value
        if self.roles is not None:
            out["roles"] = [role.value for role in self.roles]
        return {key: value for key, value in out.items() if value is not None}
