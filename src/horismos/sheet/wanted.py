"""How sheets are to be laid out: what is on them, how it is packed, which marks; read from JSON."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from horismos.destinations import SHIPPED, Destination
from horismos.errors import BadValue, NotFound
from horismos.given import Read, choice, number, object_of, yes
from horismos.materials import FILM, MATERIALS, Material
from horismos.sheet.marks import MarkPlan
from horismos.sheet.turning import Turn

__all__ = ["Fill", "How", "ItemWanted", "LayoutPlan"]

MOST_ITEMS = 500
MOST_COPIES = 100_000


class How(StrEnum):
    """How copies are packed: in rows and columns, or nested by their outline."""

    ROWS = "rows"
    NEST = "nest"


class Fill(StrEnum):
    """How many: as ordered on as many sheets as it takes, or one sheet filled: a length of the roll, or all of it."""

    QUANTITY = "quantity"
    LENGTH = "length"
    SHEET = "sheet"


@dataclass(frozen=True)
class ItemWanted:
    """One file on the sheets. ``order`` is an object, or a path to one; ``quantity`` goes before the order's."""

    file: str
    order: Mapping[str, Any] | str | None = None
    quantity: int | None = None
    turn: Turn = Turn.QUARTER


@dataclass(frozen=True)
class LayoutPlan:
    """What is laid out, on what and how. Lengths in mm.

    ``gap_mm`` lies between cut outlines, None: twice the bleed. ``length_mm`` bounds each sheet. ``seconds`` is how
    long nesting may take. ``mirror``: printed the other way round, to be seen through.
    """

    material: Material
    items: tuple[ItemWanted, ...]
    destination: Destination = field(default_factory=lambda: next(iter(SHIPPED.values())))
    how: How = How.ROWS
    gap_mm: float | None = None
    fill: Fill = Fill.QUANTITY
    length_mm: float | None = None
    seconds: float = 10.0
    marks: MarkPlan = field(default_factory=MarkPlan)
    code: bool = False
    mirror: bool = False

    def __post_init__(self) -> None:
        """Refuse to fill what has no end. Raises BadValue."""
        if self.fill is Fill.LENGTH and self.length_mm is None:
            raise BadValue("Layout: a length is to be filled, and none is given.", 'Say "length_mm".')
        if self.fill is Fill.SHEET and self.length_mm is None and self.material.length_mm is None:
            raise BadValue("Layout: a roll has no end to be filled to.", 'Say "length_mm", or take a sheet.')

    @property
    def bound_mm(self) -> float | None:
        """How long a sheet may be, as the material or the plan bounds it."""
        known = [length for length in (self.material.length_mm, self.length_mm) if length is not None]
        return min(known, default=None)

    @classmethod
    def from_json(cls, data: object) -> "LayoutPlan":
        """Read a plan; unknown keys, at any depth, and figures out of range are refused. Raises BadValue, NotFound."""
        given = object_of(data, "The layout", READERS)
        values = {key: READERS[key](f"Layout: {key}", value) for key, value in given.items() if value is not None}
        for key, sample in (("material", '"film-1370"'), ("items", '[{"file": "art.pdf"}]')):
            if not values.get(key):
                raise BadValue(f"Layout: {key} is missing.", f'Write "{key}": {sample}.')
        return cls(**values)


def _material(name: str, value: object) -> Material:
    if isinstance(value, str):
        if value not in MATERIALS:
            raise NotFound(f"There is no material “{value}”.", f"Known: {', '.join(MATERIALS)}.")
        return MATERIALS[value]
    given = object_of(value, name, ("width_mm", "length_mm"))
    size = number(10, 100_000)
    if given.get("width_mm") is None:
        raise BadValue(f"{name}: width_mm is missing.", "Give the width of the media in mm.")
    wide = size(f"{name}: width_mm", given["width_mm"])
    long = None if given.get("length_mm") is None else size(f"{name}: length_mm", given["length_mm"])
    title = f"Roll {wide:g} mm" if long is None else f"Sheet {wide:g} × {long:g} mm"
    return Material("free", title, wide, long, FILM)


def _destination(name: str, value: object) -> Destination:
    if not isinstance(value, str) or value not in SHIPPED:
        raise NotFound(f"There is no destination “{value}”.", f"Known: {', '.join(SHIPPED)}.")
    return SHIPPED[value]


def _file(name: str, value: object) -> str:
    if not isinstance(value, str) or not value:
        raise BadValue(f"{name} must be a path.")
    return value


def _order(name: str, value: object) -> Mapping[str, Any] | str:
    if not isinstance(value, str | Mapping):
        raise BadValue(f"{name} must be an order or a path to one.")
    return value


def _items(name: str, value: object) -> tuple[ItemWanted, ...]:
    if not isinstance(value, list | tuple) or len(value) > MOST_ITEMS:
        raise BadValue(f"{name} must be a list of at most {MOST_ITEMS} files.")
    out = []
    for i, one in enumerate(value, 1):
        given = object_of(one, f"{name} {i}", ITEM_READERS)
        if given.get("file") is None:
            raise BadValue(f"{name} {i}: file is missing.")
        out.append(ItemWanted(**{
            key: ITEM_READERS[key](f"{name} {i}: {key}", v) for key, v in given.items() if v is not None
        }))
    return tuple(out)


ITEM_READERS: Mapping[str, Read] = {
    "file": _file, "order": _order, "quantity": number(1, MOST_COPIES, whole=True), "turn": choice(Turn),
}
READERS: Mapping[str, Read] = {
    "material": _material, "destination": _destination, "items": _items, "how": choice(How), "fill": choice(Fill),
    "gap_mm": number(0, 1000), "length_mm": number(10, 1_000_000), "seconds": number(0, 3600),
    "marks": MarkPlan.from_json, "code": yes, "mirror": yes,
}
