"""Line presets: what lines are made of, under a name."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import Field, Reader, list_of, object_schema, read_fields, text
from horismos.making.spec import Make, make_schema
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, register

__all__ = ["make_of"]

OF_ONE_FILE = ("ground_at", "keep_at", "drop_at", "cut_out_at", "objects_at")
"""What lies at a place of one file, and so in no preset."""


BOUND: Mapping[str, Field] = MappingProxyType({
    "customers": Field(list_of(text(200, least=1), "customers by name"), "customers whose jobs are offered it first"),
    "materials": Field(list_of(text(80, least=1), "materials"), "materials whose jobs are offered it first"),
})
"""For whom a preset was made; every job is offered it."""


def make_of(item: ShelfItem, shelf: Shelf) -> Make:
    """What a preset makes."""
    return Make.from_json({key: one for key, one in item.data.items() if key not in BOUND})


def _read(name: str, value: object) -> dict[str, Any]:
    said = dict(value) if isinstance(value, Mapping) else value
    bound = read_fields(name, {key: said.pop(key) for key in BOUND if key in said}, BOUND) if isinstance(
        said, dict) else {}
    try:
        made = Make.from_json(said).to_json()
    except BadValue as why:
        raise BadValue(f"{name}: {why.message}", why.next_step) from None
    places = [key for key in OF_ONE_FILE if made.get(key)]
    if places or any(line.get("drawn") or line.get("edits") for line in made["lines"]):
        raise BadValue(f"{name} holds places or lines by hand, of one file.", "Keep it without these.")
    return {**made, **{key: list(one) for key, one in bound.items() if one}}


_SCHEMA = {key: one for key, one in make_schema().items() if key not in ("$schema", "title")}
_SCHEMA["properties"] = {
    **_SCHEMA["properties"], **object_schema(BOUND, {"customers": [], "materials": []})["properties"],
}
BEGINS = MappingProxyType({"lines": [{"role": "kiss-cut"}]})
register(ShelfKind(
    kind=Kind.LINES, one="line preset", many="line presets",
    says="What lines are made of, and how far from the art: chosen in the Lines of any job.",
    read=Reader(_read, _SCHEMA), begins=BEGINS, refers={"materials": Kind.MATERIAL}, value=make_of,
    ships=lambda: (
        ShelfItem(kind=Kind.LINES, id="kiss-on-the-edge", title="Kiss cut on the edge", data=dict(BEGINS)),
        ShelfItem(
            kind=Kind.LINES, id="kiss-with-backing", title="Kiss cut with a border, through cut round it",
            data={"lines": [
                {"role": "kiss-cut", "offset_mm": 2.0},
                {"role": "through-cut", "offset_mm": 4.0, "along": "kiss-cut"},
            ]},
        ),
    ),
))
