"""Recipes: mends in a row, and what they are bound to."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.checking.engine.rules import registered as checks
from horismos.errors import BadValue
from horismos.json_readers import Field, Reader, list_of, text
from horismos.mending import Recipe
from horismos.mending.engine.recipe import recipe_schema
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register

__all__ = ["BOUND", "recipe_of"]

BOUND: Mapping[str, Kind] = MappingProxyType({
    "customers": Kind.CUSTOMER, "destinations": Kind.DESTINATION, "materials": Kind.MATERIAL,
})
_IDS = text(80, least=1)


def _steps(name: str, value: object) -> list[dict[str, Any]]:
    try:
        made = Recipe.from_json({"name": "-", "steps": value})
    except BadValue as why:
        raise BadValue(f"{name}: {why.message}", why.next_step) from None
    return [step.to_json() for step in made.steps]


def _check(name: str, value: object) -> str:
    if not isinstance(value, str) or value not in checks():
        raise BadValue(f"{name}: there is no check “{value}”.", f"Known: {', '.join(sorted(checks()))}.")
    return str(value)


FIELDS: Mapping[str, Field] = MappingProxyType({
    "steps": Field(Reader(_steps, recipe_schema()["properties"]["steps"]), "its mends, in their order"),
    "customers": Field(list_of(text(200, least=1), "customers by name"), "customers that it fits; empty: all"),
    "destinations": Field(list_of(_IDS, "destinations"), "the destinations that it fits; empty: all"),
    "materials": Field(list_of(_IDS, "materials"), "the materials that it fits; empty: all"),
    "findings": Field(
        list_of(Reader(_check, {"enum": sorted(checks())}), "checks"), "what has to be found for it to fit; empty: all"
    ),
})
BEGINS: Mapping[str, Any] = MappingProxyType({
    "steps": [{"mend": "overprint"}], "customers": [], "destinations": [], "materials": [], "findings": [],
})


def recipe_of(item: ShelfItem, shelf: Shelf, version: int = 1) -> Recipe:
    """The recipe that a thing is."""
    return Recipe.from_json({"name": item.title, "version": version, "steps": item.data["steps"]})


register(ShelfKind(
    kind=Kind.RECIPE, one="recipe", many="recipes",
    says="Mends in a row under a name, offered to the jobs that they fit, and run over many at once.",
    read=by_table(FIELDS, BEGINS, ("steps",)), begins=BEGINS,
    refers={"destinations": Kind.DESTINATION, "materials": Kind.MATERIAL}, value=recipe_of,
))
