"""Fabrics: how thick one is, how much it shrinks, and how far stitches pull it in."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.json_readers import Field, plain_fields
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register
from horismos.stitching.fabrics import FABRICS, FIELDS, READ, Fabric

__all__ = ["fabric_of"]

NAMED = ("id", "title")
OWN: Mapping[str, Field] = MappingProxyType({key: one for key, one in FIELDS.items() if key not in NAMED})


def _data(fabric: Fabric) -> dict[str, Any]:
    return {key: one for key, one in plain_fields(fabric).items() if key not in NAMED}


def fabric_of(item: ShelfItem, shelf: Shelf) -> Fabric:
    """The fabric that a thing is."""
    made: Fabric = READ(f"Fabric “{item.title}”", {**item.data, "id": item.id, "title": item.title})
    return made


_BEGINS = _data(next(iter(FABRICS.values())))
register(ShelfKind(
    kind=Kind.FABRIC, one="fabric", many="fabrics",
    says="A fabric for stacks: how thick it is with its adhesive, how much it shrinks and is pulled in.",
    read=by_table(OWN, _BEGINS), begins=_BEGINS, value=fabric_of,
    ships=lambda: [
        ShelfItem(kind=Kind.FABRIC, id=one.id, title=one.title, data=_data(one)) for one in FABRICS.values()
    ],
))
