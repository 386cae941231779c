"""Perforations under a name: cuts, ties, and what the blade does in these."""

from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType

from horismos.cutting.tools import DEFAULT_TOOLS, Tool
from horismos.json_readers import Field, number
from horismos.roles import LineRole
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register

__all__ = ["perforating"]

FIELDS: Mapping[str, Field] = MappingProxyType({
    "cut_mm": Field(number(0.2, 100), "how long a cut is", "mm"),
    "tie_mm": Field(number(0.05, 100), "how long a tie is", "mm"),
    "tie_force_gf": Field(number(0, 1000), "the force in a tie: 0 leaves it whole", "gf"),
})
_USUAL = DEFAULT_TOOLS[LineRole.PERFORATION]
BEGINS = MappingProxyType({"cut_mm": _USUAL.cut_mm, "tie_mm": _USUAL.tie_mm, "tie_force_gf": 0.0})


def perforating(item: ShelfItem, shelf: Shelf) -> Tool:
    """The usual perforating tool with this pattern. Raises BadValue for what no tool can have."""
    return replace(_USUAL, **item.data)


register(ShelfKind(
    kind=Kind.PERFORATION, one="perforation", many="perforations",
    says="Cuts and ties under a name: chosen wherever something is perforated.",
    read=by_table(FIELDS, BEGINS), begins=BEGINS, value=perforating,
    ships=lambda: (
        ShelfItem(kind=Kind.PERFORATION, id="pops-out", title="Pops out by hand", data=dict(BEGINS)),
        ShelfItem(
            kind=Kind.PERFORATION, id="holds-firmly", title="Holds firmly",
            data={"cut_mm": 3.0, "tie_mm": 1.0, "tie_force_gf": 0.0},
        ),
    ),
))
