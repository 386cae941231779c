"""Line presets: what lines are made of, under a name."""

from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import Reader
from horismos.making.spec import Make, make_schema
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, register

__all__ = ["make_of"]

OF_ONE_FILE = ("ground_at", "keep_at", "drop_at", "cut_out_at", "objects_at")
"""What lies at a place of one file, and so in no preset."""


def make_of(item: ShelfItem, shelf: Shelf) -> Make:
    """What a preset makes."""
    return Make.from_json(item.data)


def _read(name: str, value: object) -> dict[str, Any]:
    try:
        made = Make.from_json(value).to_json()
    except BadValue as why:
        raise BadValue(f"{name}: {why.message}", why.next_step) from None
    places = [key for key in OF_ONE_FILE if made.get(key)]
    if places or any(line.get("drawn") or line.get("edits") for line in made["lines"]):
        raise BadValue(f"{name} holds places or lines by hand, of one file.", "Keep it without these.")
    return made


_SCHEMA = {key: one for key, one in make_schema().items() if key not in ("$schema", "title")}
BEGINS = MappingProxyType({"lines": [{"role": "kiss-cut"}]})
register(ShelfKind(
    kind=Kind.LINES, one="line preset", many="line presets",
    says="What lines are made of, and how far from the art: chosen in the Lines of any job.",
    read=Reader(_read, _SCHEMA), begins=BEGINS, value=make_of,
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
