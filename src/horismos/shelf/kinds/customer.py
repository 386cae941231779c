"""Customers: what goes for all of their orders, where letters go, and in which words."""

import re
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import Field, Reader, list_of, optional, plain, read_fields, text
from horismos.orders import FIELDS as ORDER
from horismos.orders import order_schema
from horismos.shelf.kind import Kind, ShelfKind, by_table, register

__all__ = ["DEFAULTS"]

_ADDRESS = re.compile(r"[^@\s]+@[^@\s.]+(\.[^@\s.]+)+")
DEFAULTS: Mapping[str, Field] = MappingProxyType({
    key: one for key, one in ORDER.items() if key not in ("width_mm", "height_mm", "quantity")
})
"""What of an order can go for all orders of a customer."""


def _order(name: str, value: object) -> dict[str, Any]:
    said: dict[str, Any] = plain(read_fields(name, value, DEFAULTS))
    return said


def _address(name: str, value: object) -> str:
    said: str = text(200)(name, value)
    if not _ADDRESS.fullmatch(said):
        raise BadValue(f"{name} is no address of a mailbox.", "Write it as name@place.")
    return said


_ORDER_SCHEMA = {
    "type": "object", "additionalProperties": False,
    "properties": {
        key: {k: v for k, v in one.items() if k != "default"}
        for key, one in order_schema()["properties"].items() if key in DEFAULTS
    },
}
_ID = optional(text(80))
FIELDS: Mapping[str, Field] = MappingProxyType({
    "order": Field(Reader(_order, _ORDER_SCHEMA), "what goes for their orders where nothing else is said"),
    "destination": Field(_ID, "where their jobs go; null: the usual destination"),
    "write_to": Field(
        optional(Reader(_address, {**text(200).schema, "pattern": f"^{_ADDRESS.pattern}$"})),
        "where letters go; null: nobody said",
    ),
    "letter": Field(_ID, "in which words letters are written; null: the shop's"),
    "recipes": Field(list_of(text(80, least=1), "recipes"), "recipes that are always done to what comes in"),
    "lines": Field(_ID, "the line preset by which an ordered cut is made that is missing; null: none"),
    "note": Field(text(500), "what everybody should know who works on their jobs"),
})
BEGINS: Mapping[str, Any] = MappingProxyType({
    "order": {}, "destination": None, "write_to": None, "letter": None, "recipes": [], "lines": None, "note": "",
})


register(ShelfKind(
    kind=Kind.CUSTOMER, one="customer", many="customers",
    says="What goes for all orders of a customer, where letters to them go, and what everybody should know.",
    read=by_table(FIELDS, BEGINS), begins=BEGINS,
    refers={
        "destination": Kind.DESTINATION, "letter": Kind.LETTER, "order.material": Kind.MATERIAL,
        "recipes": Kind.RECIPE, "lines": Kind.LINES,
    },
))
