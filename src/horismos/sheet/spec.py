"""How sheets are to be laid out: what is on them, how it is packed, which marks; read from JSON."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from horismos.destinations import SHIPPED, Destination, destination_from_json
from horismos.errors import BadValue, NotFound
from horismos.json_readers import Read, choice, number, object_of
from horismos.materials import MATERIALS, Material, material_from_json
from horismos.sheet.layout import READERS, Fill, Layout
from horismos.sheet.turning import Turn

__all__ = ["ItemWanted", "LayoutPlan"]

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
        given = object_of(data, "The layout", (*PLAN_READERS, *OWN))
        readers = {**PLAN_READERS, **{key: READERS[CUT.get(key, key)] for key in OWN}}
        values = {key: readers[key](f"Layout: {key}", value) for key, value in given.items() if value is not None}
        for key, sample in (("material", '"film-1370"'), ("items", '[{"file": "art.pdf"}]')):
            if not values.get(key):
                raise BadValue(f"Layout: {key} is missing.", f'Write "{key}": {sample}.')
        own = {CUT.get(key, key): values.pop(key) for key in OWN if key in values}
        layout = Layout(**{"code": False, **own})
        return cls(**values, layout=layout)


def _material(name: str, value: object) -> Material:
    if isinstance(value, str):
        if value not in MATERIALS:
            raise NotFound(f"There is no material “{value}”.", f"Known: {', '.join(MATERIALS)}.")
        return MATERIALS[value]
    if isinstance(value, Mapping) and not set(value) <= {"width_mm", "length_mm"}:
        return material_from_json(value)
    given = object_of(value, name, ("width_mm", "length_mm"))
    size = number(10, 100_000)
    if given.get("width_mm") is None:
        raise BadValue(f"{name}: width_mm is missing.", "Give the width of the media in mm.")
    wide = size(f"{name}: width_mm", given["width_mm"])
    long = None if given.get("length_mm") is None else size(f"{name}: length_mm", given["length_mm"])
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
PLAN_READERS: Mapping[str, Read] = {"material": _material, "destination": _destination, "items": _items}
OWN = (
    "how", "fill", "gap_mm", "length_mm", "seconds", "marks", "code", "mirror", "order", "only", "copies", "aligning",
)
"""What a plan says of the layout."""
CUT = {"order": "cut_order", "only": "cut_only", "copies": "cut_copies"}
"""How the layout calls what a plan says of the cut."""
