"""Check sheets: limits and severities of the shop, of a destination, a material or a customer."""

from collections.abc import Mapping
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from horismos.checking import CheckSheet, all_limits
from horismos.checking.engine.check_sheet import check_sheet_schema
from horismos.errors import BadValue
from horismos.json_readers import Field, Reader, choice, optional, text
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register

__all__ = ["Scope", "check_sheet_of"]


class Scope(StrEnum):
    """What a sheet is for; a later one goes before an earlier one."""

    SHOP = "shop"
    DESTINATION = "destination"
    MATERIAL = "material"
    CUSTOMER = "customer"


def _part(key: str) -> Reader:
    """Reads limits or severities, as a check sheet of the core does."""

    def read(name: str, value: object) -> dict[str, Any]:
        made = CheckSheet.from_json({key: value}, all_limits()).to_json()
        found: dict[str, Any] = made[key]
        return found

    return Reader(read, check_sheet_schema(all_limits())["properties"][key])


_ID = optional(text(80))
FIELDS: Mapping[str, Field] = MappingProxyType({
    "scope": Field(choice(Scope), "what it is for"),
    "destination": Field(_ID, "the destination that it is for; null: none"),
    "material": Field(_ID, "the material that it is for; null: none"),
    "customer": Field(optional(text(200)), "the customer that it is for, by name; null: none"),
    "limits": Field(_part("limits"), "limits where they differ from the shipped ones"),
    "severities": Field(_part("severities"), "how grave a check is where that differs"),
})
BEGINS: Mapping[str, Any] = MappingProxyType({
    "scope": Scope.SHOP.value, "destination": None, "material": None, "customer": None, "limits": {}, "severities": {},
})


def check_sheet_of(item: ShelfItem, shelf: Shelf, version: str = "") -> CheckSheet:
    """The check sheet that a thing is. Raises BadValue where it does not say what it is for."""
    name, data = f"Check sheet “{item.title}”", item.data
    subjects = {key: data[key] for key in list(Scope)[1:] if data[key]}
    if set(subjects) != {data["scope"]} - {Scope.SHOP.value}:
        named = ", ".join(subjects) or "none"
        raise BadValue(f"{name} is for “{data['scope']}”, and names {named}.", "Name just that.")
    return CheckSheet.from_json(
        {"name": item.title, "limits": data["limits"], "severities": data["severities"], "version": version or "kept"}
    )


register(ShelfKind(
    kind=Kind.CHECK_SHEET, one="check sheet", many="check sheets",
    says="The limits and severities that the shop checks by, or that go for one destination, material or customer.",
    read=by_table(FIELDS, BEGINS), begins=BEGINS,
    refers={"destination": Kind.DESTINATION, "material": Kind.MATERIAL}, value=check_sheet_of,
    alone=lambda item: tuple(item.data[key] for key in ("scope", *list(Scope)[1:])),
))
