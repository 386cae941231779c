"""What a shop says of the files that come in: how their names are read, and what goes for whose."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

from horismos.checking import CheckSheet, all_limits
from horismos.checking.engine.check_sheet import check_sheet_schema
from horismos.errors import BadValue
from horismos.intake import Answers
from horismos.intake.answers import BINDINGS
from horismos.intake.file_names import NamePattern, NameRead
from horismos.json_readers import Field, Reader, object_of, object_schema, plain, read_fields, schema_of, text
from horismos.making import Make
from horismos.making.spec import make_schema
from horismos.materials import MATERIALS
from horismos.mending import Step, step_from
from horismos.mending.engine.recipe import MOST_STEPS, recipe_schema
from horismos.orders import FIELDS as ORDER
from horismos.orders import Order, order_schema

__all__ = ["CustomerHabits", "PileFile", "PileShop", "pile_shop_schema"]

MOST_CUSTOMERS, MOST_NAME = 10_000, 200
_NO_NAME = NameRead()


@dataclass(frozen=True)
class CustomerHabits:
    """What goes for all files of a customer.

    ``order`` holds keys of an order as JSON; ``steps`` are mends that are done to each file, ``bind`` what layers and
    pens are, ``make`` the lines that are made where an ordered cut is missing.
    """

    order: Mapping[str, Any] = field(default_factory=dict)
    steps: tuple[Step, ...] = ()
    bind: Mapping[str, str] = field(default_factory=dict)
    make: Make | None = None


@dataclass(frozen=True)
class PileFile:
    """A file by its name and the folder that it lies in, with what these say: whose it is, its title, its order."""

    customer: str | None
    title: str
    order: Order
    habits: CustomerHabits


@dataclass(frozen=True)
class PileShop:
    """A shop as its pile is sorted by it. ``order`` holds keys of an order as JSON, which go for everybody."""

    name_pattern: NamePattern | None = None
    order: Mapping[str, Any] = field(default_factory=dict)
    check_sheet: CheckSheet = field(default_factory=CheckSheet)
    customers: Mapping[str, CustomerHabits] = field(default_factory=dict)

    @classmethod
    def from_json(cls, data: object) -> "PileShop":
        """A shop as somebody writes it; every key may be left out. Raises BadValue naming what is wrong."""
        said = read_fields("The shop", data, FIELDS)
        return cls(**said)

    def about(self, name: str, folder: str | None) -> PileFile:
        """What is known of a file by its name, and by the customer's folder that it lies in.

        What the name says goes before what the customer always has, and that before what the shop has.
        """
        titles = {id: one.title for id, one in MATERIALS.items()}
        said = (self.name_pattern.read(name, titles) if self.name_pattern else None) or _NO_NAME
        customer = self._called(said.customer or folder)
        habits = self.customers.get(customer or "", CustomerHabits())
        order = Order.from_json({**self.order, **habits.order, **said.order})
        return PileFile(customer, said.title or name.rpartition(".")[0] or name, order, habits)

    def _called(self, name: str | None) -> str | None:
        """A customer as the shop writes the name: a file's name may have it in capitals."""
        if not name or name in self.customers:
            return name or None
        return next((one for one in self.customers if one.casefold() == name.casefold()), name)


_PATTERN = text(200, least=1)


def _pattern(name: str, value: object) -> NamePattern:
    return NamePattern(_PATTERN(name, value))


def _order(name: str, value: object) -> dict[str, Any]:
    said: dict[str, Any] = plain(read_fields(name, value, ORDER))
    material = said.get("material")
    if material is not None and material not in MATERIALS:
        raise BadValue(f"{name}: there is no material “{material}”.", f"Known: {', '.join(MATERIALS)}.")
    return said


def _check_sheet(name: str, value: object) -> CheckSheet:
    object_of(value, name, check_sheet_schema(())["properties"])
    return CheckSheet.from_json(value, all_limits())


def _steps(name: str, value: object) -> tuple[Step, ...]:
    if not isinstance(value, list) or len(value) > MOST_STEPS:
        raise BadValue(f"{name} must be a list of at most {MOST_STEPS} mends.", 'Write [{"mend": …}, …].')
    try:
        return tuple(step_from(one) for one in value)
    except BadValue as why:
        raise BadValue(f"{name}: {why.message}", why.next_step) from None


def _bind(name: str, value: object) -> dict[str, str]:
    if not isinstance(value, Mapping) or not all(isinstance(one, str) for one in value.values()):
        raise BadValue(f"{name} is no object.", 'Write {"pen:1": "kiss-cut"}.')
    try:
        return dict(Answers(binding=value).binding)
    except BadValue as why:
        raise BadValue(f"{name}: {why.message}", why.next_step) from None


def _make(name: str, value: object) -> Make:
    try:
        return Make.from_json(value)
    except BadValue as why:
        raise BadValue(f"{name}: {why.message}", why.next_step) from None


def _bare(schema: Mapping[str, Any]) -> dict[str, Any]:
    """A schema as a part of another one."""
    return {key: one for key, one in schema.items() if key not in ("$schema", "title")}


def _order_part() -> dict[str, Any]:
    """What goes for orders: as an order, of a material that there is."""
    schema = _bare(order_schema())
    material = {**schema["properties"]["material"], "anyOf": [{"enum": list(MATERIALS)}, {"type": "null"}]}
    return {**schema, "properties": {**schema["properties"], "material": material}}


_ORDER = Reader(_order, _order_part())
HABITS: Mapping[str, Field] = MappingProxyType({
    "order": Field(_ORDER, "what goes for their orders"),
    "steps": Field(Reader(_steps, recipe_schema()["properties"]["steps"] | {"minItems": 0}), "mends for each file"),
    "bind": Field(
        Reader(_bind, {"type": "object", "additionalProperties": {"enum": sorted(BINDINGS)}}),
        "what layers, pens and colours are",
    ),
    "make": Field(
        Reader(_make, _bare(make_schema())),
        "the lines that are made where an ordered cut is missing",
    ),
})
"""What a shop says of a customer."""


def _customers(name: str, value: object) -> dict[str, CustomerHabits]:
    if not isinstance(value, Mapping) or len(value) > MOST_CUSTOMERS:
        raise BadValue(f"{name} is no object of at most {MOST_CUSTOMERS:,} customers.", "Give each by its name.")
    out: dict[str, CustomerHabits] = {}
    known: set[str] = set()
    for called, said in value.items():
        if not 0 < len(called) <= MOST_NAME or not called.isprintable() or called != called.strip():
            raise BadValue(f"{name}: “{called}” is no name of a customer.", f"Give 1 to {MOST_NAME} letters.")
        if called.casefold() in known:
            raise BadValue(f"{name}: “{called}” stands there twice.", "Names differ by more than capitals.")
        known.add(called.casefold())
        out[called] = CustomerHabits(**read_fields(f"{name}: {called}", said, HABITS))
    return out


FIELDS: Mapping[str, Field] = MappingProxyType({
    "name_pattern": Field(
        Reader(_pattern, _PATTERN.schema), "what names of files say, such as {customer}_{title}_{copies}x"
    ),
    "order": Field(_ORDER, "what goes for all orders"),
    "check_sheet": Field(
        Reader(_check_sheet, {**_bare(check_sheet_schema(all_limits())), "additionalProperties": False}),
        "limits and severities of the shop",
    ),
    "customers": Field(
        Reader(_customers, {
            "type": "object", "propertyNames": {"minLength": 1, "maxLength": MOST_NAME},
            "maxProperties": MOST_CUSTOMERS, "additionalProperties": object_schema(HABITS),
        }),
        "what goes for whose files, by the customer's name",
    ),
})
"""What a shop says of its pile: the one table that reader and schema are made from."""


def pile_shop_schema() -> dict[str, Any]:
    """What a shop may say of its pile, as JSON Schema 2020-12."""
    return schema_of("Pile", FIELDS)
