"""Holders: what is in a slot of a cutter, and how worn it is."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.cutting.tools import FIELDS as TOOL
from horismos.errors import BadValue
from horismos.json_readers import Field, text
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register
from horismos.shelf.kinds.cutter import cutter_of

__all__ = ["IN_IT", "in_holder"]

IN_IT = ("number", "blade", "offset_mm", "overcut_mm", "age_m", "wear_gf_km")
"""What a holder settles of every tool that is in it."""
FIELDS: Mapping[str, Field] = MappingProxyType({
    "cutter": Field(text(80, least=1), "the cutter that it is in"), **{key: TOOL[key] for key in IN_IT},
})
BEGINS: Mapping[str, Any] = MappingProxyType({
    "number": 1, "blade": "drag", "offset_mm": 0.25, "overcut_mm": 0.0, "age_m": 0.0, "wear_gf_km": 0.0,
})
"""[ours] a drag blade, its tip a quarter of a mm behind the middle."""


def in_holder(item: ShelfItem, shelf: Shelf) -> dict[str, Any]:
    """What a holder settles of its tools, as plain values. Raises BadValue where its cutter has no such slot."""
    name = f"Holder “{item.title}”"
    cutter_of(shelf.called(Kind.CUTTER, item.data["cutter"], name), shelf)
    if item.data["offset_mm"] and item.data["blade"] not in (None, "drag"):
        raise BadValue(f"{name} has a blade offset, and a blade that is turned.", "Give one.")
    return {key: item.data[key] for key in IN_IT}


register(ShelfKind(
    kind=Kind.HOLDER, one="holder", many="holders",
    says="What is in a slot of a cutter: which blade, how far its tip trails, and how much it has cut.",
    read=by_table(FIELDS, BEGINS, ("cutter",)), begins=BEGINS, refers={"cutter": Kind.CUTTER}, value=in_holder,
))
