"""How sheets are to be laid out: what is on them, how it is packed, which marks; read from JSON."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from typing import Any

from horismos.destinations import SHIPPED, Destination, destination_from_json, destination_schema
from horismos.errors import BadValue, NotFound
from horismos.json_readers import (
    Field,
    Reader,
    choice,
    number,
    object_schema,
    one_of,
    read_fields,
    record,
    schema_of,
    sequence_of,
)
from horismos.materials import MATERIALS, Material, material_from_json, material_schema
from horismos.sheet.layout import FIELDS as LAYOUT_FIELDS
from horismos.sheet.layout import Fill, Layout
from horismos.sheet.turning import Turn

__all__ = ["FIELDS", "ItemWanted", "LayoutPlan", "plan_schema"]

MOST_ITEMS = 500
MOST_COPIES = 100_000


@dataclass(frozen=True)
class ItemWanted:
    """One file on the sheets. ``order`` is an object, or a path to one; ``quantity`` goes before the order's."""

    file: str
    order: Mapping[str, Any] | str | None = None
    quantity: int | None = None
    turn: Turn = Turn.QUARTER


@dataclass(frozen=True)
class LayoutPlan:
    """What is laid out, on what and how. Lengths in mm."""

    material: Material
    items: tuple[ItemWanted, ...]
    destination: Destination = field(default_factory=lambda: next(iter(SHIPPED.values())))
    layout: Layout = field(default_factory=lambda: Layout(code=False))

    def __post_init__(self) -> None:
        """Refuse to fill what has no end. Raises BadValue."""
        endless = self.layout.bound_mm is None and self.material.length_mm is None
        if self.layout.fill is Fill.SHEET and endless:
            raise BadValue("Layout: a roll has no end to be filled to.", 'Say "length_mm", or take a sheet.')

    @classmethod
    def from_json(cls, data: object) -> "LayoutPlan":
        """Read a plan; unknown keys, at any depth, and figures out of range are refused. Raises BadValue, NotFound."""
        said = read_fields("Layout", data, FIELDS)
        for key, sample in (("material", '"film-1370"'), ("items", '[{"file": "art.pdf"}]')):
            if not said.get(key):
                raise BadValue(f"Layout: {key} is missing.", f'Write "{key}": {sample}.')
        own = {CUT.get(key, key): said.pop(key) for key in OWN if key in said}
        return cls(**said, layout=Layout(**{"code": False, **own}))


def _material(name: str, value: object) -> Material:
    if isinstance(value, str):
        if value not in MATERIALS:
            raise NotFound(f"There is no material “{value}”.", f"Known: {', '.join(MATERIALS)}.")
        return MATERIALS[value]
    if isinstance(value, Mapping) and not set(value) <= {"width_mm", "length_mm"}:
        return material_from_json(value)
    size: Mapping[str, Any] = read_fields(name, value, FREE, ("width_mm",))
    wide, long = size["width_mm"], size.get("length_mm")
    title = f"Roll {wide:g} mm" if long is None else f"Sheet {wide:g} × {long:g} mm"
    return replace(next(iter(MATERIALS.values())), id="free", title=title, width_mm=wide, length_mm=long)


def _destination(name: str, value: object) -> Destination:
    if isinstance(value, Mapping):
        return destination_from_json(value)
    if not isinstance(value, str) or value not in SHIPPED:
        raise NotFound(f"There is no destination “{value}”.", f"Known: {', '.join(SHIPPED)}.")
    return SHIPPED[value]


def _file(name: str, value: object) -> str:
    if not isinstance(value, str) or not value:
        raise BadValue(f"{name} must be a path.")
    return value


def _order(name: str, value: object) -> Mapping[str, Any] | str:
    if value == "" or not isinstance(value, str | Mapping):
        raise BadValue(f"{name} must be an order or a path to one.")
    return value


_PATH = {"type": "string", "minLength": 1}
ITEM: Mapping[str, Field] = MappingProxyType({
    "file": Field(Reader(_file, _PATH), "the path of the artwork, from the plan's folder"),
    "order": Field(one_of(_order, _PATH, {"type": "object"}), "its order, or the path of one"),
    "quantity": Field(number(1, MOST_COPIES, whole=True), "how many; it goes before the order's"),
    "turn": Field(choice(Turn), "how copies may be turned"),
})
FREE: Mapping[str, Field] = MappingProxyType({
    "width_mm": Field(number(10, 100_000), "how wide it is", "mm"),
    "length_mm": Field(number(10, 100_000), "how long a sheet is; left out: a roll", "mm"),
})
"""Media of which nothing is known but its size."""
_OF_SHOP = material_schema()
_OWN_MATERIAL = {
    **_OF_SHOP, "anyOf": [{"required": [key]} for key in _OF_SHOP["properties"] if key not in FREE],
}
OWN = (
    "how", "fill", "gap_mm", "length_mm", "seconds", "marks", "code", "mirror", "order", "only", "copies", "aligning",
)
"""What a plan says of the layout."""
CUT = {"order": "cut_order", "only": "cut_only", "copies": "cut_copies"}
"""How the layout calls what a plan says of the cut."""
_ITEMS = sequence_of(record(ITEM, ItemWanted(""), ("file",)), 0, MOST_ITEMS, "files")
FIELDS: Mapping[str, Field] = MappingProxyType({
    "material": Field(
        one_of(_material, {"enum": list(MATERIALS)}, object_schema(FREE, None, ("width_mm",)), _OWN_MATERIAL),
        "what it is printed on: an id, a size, or a shop's own",
    ),
    "destination": Field(
        one_of(_destination, {"enum": list(SHIPPED)}, destination_schema()), "whom it is for: an id, or a shop's own"
    ),
    "items": Field(Reader(_ITEMS.read, {**_ITEMS.schema, "minItems": 1}), "what lies on it"),
    **{key: LAYOUT_FIELDS[CUT.get(key, key)] for key in OWN},
})
"""What a plan may say; of the tools another room reads."""


def plan_schema(more: Mapping[str, Mapping[str, Any]]) -> dict[str, Any]:
    """What a plan may be, as JSON Schema 2020-12, with ``more`` keys."""
    schema = schema_of("Layout", FIELDS, Layout(code=False), ("material", "items"))
    return {**schema, "properties": {**schema["properties"], **more}}
