"""Materials: strata, width, what a print on them does, and what they cost."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.json_readers import Field, number, optional, plain, text
from horismos.materials import FIELDS as KNOWN
from horismos.materials import MATERIALS, READ, Material
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register

__all__ = ["material_of"]

NAMED = ("id", "title")
FIELDS: Mapping[str, Field] = MappingProxyType({
    **{key: one for key, one in KNOWN.items() if key not in NAMED},
    "price_m2": Field(optional(number(0, 100_000)), "what a square metre costs the shop; null: nobody said"),
    "kept_at": Field(text(80), "where its rolls or sheets are kept in the shop; empty: nobody said"),
})
"""What a shop says of a material."""


def _data(material: Material) -> dict[str, Any]:
    return {**{key: one for key, one in plain(material).items() if key not in NAMED}, "price_m2": None, "kept_at": ""}


BEGINS: Mapping[str, Any] = MappingProxyType(_data(next(iter(MATERIALS.values()))))


def material_of(item: ShelfItem, shelf: Shelf) -> Material:
    """The material that a thing is."""
    said = {key: one for key, one in item.data.items() if key in KNOWN}
    made: Material = READ(f"Material “{item.title}”", {**said, "id": item.id, "title": item.title})
    return made


register(ShelfKind(
    kind=Kind.MATERIAL, one="material", many="materials",
    says="A film, paper, board or fabric by its strata: how thick each is, what the ink lies on, how wide it comes.",
    read=by_table(FIELDS, BEGINS, ("width_mm", "strata")), begins=BEGINS, value=material_of,
    ships=lambda: [
        ShelfItem(kind=Kind.MATERIAL, id=one.id, title=one.title, data=_data(one)) for one in MATERIALS.values()
    ],
))
