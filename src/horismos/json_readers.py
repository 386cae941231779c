"""Reads what people give as JSON: each value by its name, what is not known or out of range refused in words."""

import math
import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, fields, is_dataclass, replace
from enum import StrEnum
from typing import Any, TypeVar

from horismos.errors import BadValue

__all__ = [
    "COLOUR", "Field", "Read", "Reader", "changed", "choice", "fixed_schema", "list_of", "number", "object_of",
    "object_schema", "one_of", "optional", "place", "places", "plain", "plain_fields", "read_fields", "record",
    "schema_of", "sequence_of", "text", "yes",
]

Read = Callable[[str, object], Any]
"""Takes a value's name, for what is said, and the value; gives it as it is meant. Raises BadValue."""
MOST_PLACES = 2_000
_UNPRINTABLE = "[\\u0000-\\u001f\\u007f-\\u009f\\u2028\\u2029]"


@dataclass(frozen=True)
class Reader:
    """What reads a value, with what it takes as JSON Schema (2020-12) says it.

    ``nullable`` says that null is a value of its own; elsewhere it stands for what is left out.
    """

    read: Read
    schema: Mapping[str, Any] = field(default_factory=dict)
    nullable: bool = False

    def __call__(self, name: str, value: object) -> Any:
        """The value as it is meant. Raises BadValue."""
        return self.read(name, value)


@dataclass(frozen=True)
class Field:
    """One thing that a value may say: how it is read, with its range, what it is in words, and its unit."""

    read: Reader
    words: str
    unit: str = ""


Value = TypeVar("Value")


def object_of(value: object, name: str, known: Iterable[str]) -> Mapping[str, object]:
    """An object that has no other keys than these. Raises BadValue."""
    if not isinstance(value, Mapping):
        raise BadValue(f"{name} is not a JSON object.", "See the pages in docs for its keys.")
    keys = set(known)
    for key in value:
        if key not in keys:
            raise BadValue(f"{name}: unknown key “{key}”.", f"Known: {', '.join(sorted(keys))}.")
    return value


def number(least: float, most: float, whole: bool = False, above: bool = False) -> Reader:
    """A number from one to another; ``above`` says that the least itself is too little.

    >>> number(1, 9, whole=True)("Copies", 3)
    3
    """

    def read(name: str, value: object) -> float | int:
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise BadValue(f"{name} must be a number.")
        if not least <= value <= most or (above and value == least) or (whole and value != int(value)):
            kind = "a whole number from " if whole else "more than " if above else ""
            raise BadValue(f"{name} is {value:g}.", f"Give {kind}{least:g} {'up ' if above else ''}to {most:g}.")
        return int(value) if whole else float(value)

    low = "exclusiveMinimum" if above else "minimum"
    return Reader(read, {"type": "integer" if whole else "number", low: least, "maximum": most})


def choice(kind: type[StrEnum]) -> Reader:
    """One of some words."""

    def read(name: str, value: object) -> StrEnum:
        if not isinstance(value, str) or value not in set(kind):
            raise BadValue(f"{name} is “{value}”.", f"Give one of {', '.join(kind)}.")
        return kind(str(value))

    return Reader(read, {"enum": [one.value for one in kind]})


def list_of(read_one: Reader, words: str) -> Reader:
    """A list, each thing in it once, in the order in which they are given; ``words`` name them."""

    def read(name: str, value: object) -> tuple[Any, ...]:
        if not isinstance(value, list | tuple):
            raise BadValue(f"{name} must be a list of {words}.")
        return tuple(dict.fromkeys(read_one(name, one) for one in value))

    return Reader(read, {"type": "array", "items": read_one.schema})


def sequence_of(read_one: Reader, least: int, most: int, words: str) -> Reader:
    """A list of so many things, in their order; ``words`` name them."""

    def read(name: str, value: object) -> tuple[Any, ...]:
        if not isinstance(value, list | tuple) or not least <= len(value) <= most:
            raise BadValue(f"{name} must be a list of {least} to {most} {words}.")
        return tuple(read_one(f"{name} {i}", one) for i, one in enumerate(value, 1))

    return Reader(read, {"type": "array", "items": read_one.schema, "minItems": least, "maxItems": most})


def read_fields(
    name: str, data: object, table: Mapping[str, Field], needs: Iterable[str] = ()
) -> dict[str, Any]:
    """What an object says by its table, by its keys; null stands for what is left out. Raises BadValue."""
    given = object_of(data, name, table)
    said = {key: value for key, value in given.items() if value is not None or table[key].read.nullable}
    for key in needs:
        if key not in said:
            words = table[key].read.schema.get("enum", ())
            raise BadValue(f"{name}: {key} is missing.", f"Give one of {', '.join(words)}." if words else "Give it.")
    return {key: table[key].read(f"{name}: {key}", value) for key, value in said.items()}


def changed(name: str, base: Value, data: object, table: Mapping[str, Field]) -> Value:
    """A value with what its JSON says of it; what it leaves out is as in ``base``. Raises BadValue."""
    made: Value = replace(base, **read_fields(name, data, table))  # type: ignore[type-var]
    return made


def record(table: Mapping[str, Field], base: Value, needs: Iterable[str] = ()) -> Reader:
    """A value by its fields; those that it ``needs`` have to be said, the others are as in ``base`` left out."""
    wanted = tuple(needs)

    def read(name: str, value: object) -> Value:
        made: Value = replace(base, **read_fields(name, value, table, wanted))  # type: ignore[type-var]
        return made

    return Reader(read, object_schema(table, base, wanted))


def optional(reader: Reader) -> Reader:
    """Read by another reader, or null, which is a value of its own."""
    return Reader(lambda name, value: None if value is None else reader(name, value), _or_null(reader), nullable=True)


def _or_null(reader: Reader) -> dict[str, Any]:
    return dict(reader.schema) if reader.nullable else {"anyOf": [dict(reader.schema), {"type": "null"}]}


def one_of(read: Read, *schemas: Mapping[str, Any]) -> Reader:
    """What can be said in several ways."""
    return Reader(read, {"anyOf": [dict(schema) for schema in schemas]})


def plain(value: Any) -> Any:
    """A value of the core as JSON has it: as it says itself, else its fields by their names; words for choices."""
    if hasattr(value, "to_json"):
        return value.to_json()
    if is_dataclass(value) and not isinstance(value, type):
        return plain_fields(value)
    if isinstance(value, StrEnum):
        return value.value
    if isinstance(value, Mapping):
        return {plain(key): plain(one) for key, one in value.items()}
    return [plain(one) for one in value] if isinstance(value, tuple | list) else value


def plain_fields(value: Any) -> dict[str, Any]:
    """All fields of a value by their names, as JSON has them."""
    return {one.name: plain(getattr(value, one.name)) for one in fields(value)}


def object_schema(table: Mapping[str, Field], base: object = None, needs: Iterable[str] = ()) -> dict[str, Any]:
    """What an object may be, as JSON Schema has it; ``base`` has its defaults. Null is as left out where it may be."""
    defaults = plain_fields(base) if is_dataclass(base) else base if isinstance(base, Mapping) else {}
    wanted = tuple(needs)
    properties = {
        name: {
            "description": " ".join([one.words, f"({one.unit})" if one.unit else ""]).strip(),
            **(one.read.schema if name in wanted else _or_null(one.read)),
            **({"default": defaults[name]} if name in defaults and name not in wanted else {}),
        }
        for name, one in table.items()
    }
    return {
        "type": "object", "additionalProperties": False, "properties": properties,
        **({"required": list(wanted)} if wanted else {}),
    }


def schema_of(
    title: str, table: Mapping[str, Field], base: object = None, needs: Iterable[str] = ()
) -> dict[str, Any]:
    """What a value may be, as JSON Schema 2020-12; ``base`` has its defaults."""
    schema = object_schema(table, base, needs)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": title, **schema}


def fixed_schema(item: Mapping[str, Any], count: int) -> dict[str, Any]:
    """A list of just so many, as JSON Schema has it."""
    return {"type": "array", "prefixItems": [dict(item)] * count, "minItems": count, "maxItems": count}


def text(most: int, least: int = 0) -> Reader:
    """A line of text of so many letters."""

    def read(name: str, value: object) -> str:
        if not isinstance(value, str) or len(value) > most or not value.isprintable():
            raise BadValue(f"{name} must be a text of one line, of at most {most} letters.")
        if len(value) < least:
            raise BadValue(f"{name} is empty.", "Give a text.")
        return value

    lengths = {**({"minLength": least} if least else {}), "maxLength": most}
    return Reader(read, {"type": "string", **lengths, "not": {"pattern": _UNPRINTABLE}})


def _colour(name: str, value: object) -> str:
    if not isinstance(value, str) or not re.fullmatch(r"#[0-9A-Fa-f]{6}", value):
        raise BadValue(f"{name} must be a colour as #rrggbb.")
    return value


COLOUR = Reader(_colour, {"type": "string", "pattern": "^#[0-9A-Fa-f]{6}$", "minLength": 7, "maxLength": 7})
"""A colour as #rrggbb."""


def _yes(name: str, value: object) -> bool:
    if not isinstance(value, bool):
        raise BadValue(f"{name} must be true or false.")
    return value


yes = Reader(_yes, {"type": "boolean"})
"""True or false."""


def _places(name: str, value: object) -> tuple[tuple[float, float], ...]:
    read = number(-1e5, 1e5)
    pairs: list[Any] = list(value) if isinstance(value, list | tuple) else [None]
    if len(pairs) > MOST_PLACES or not all(isinstance(p, list | tuple) and len(p) == 2 for p in pairs):
        raise BadValue(f"{name} must be a list of places [x, y] in mm.")
    return tuple((read(name, p[0]), read(name, p[1])) for p in pairs)


_PLACE = fixed_schema({"type": "number", "minimum": -1e5, "maximum": 1e5}, 2)
places = Reader(_places, {"type": "array", "items": _PLACE, "maxItems": MOST_PLACES})
"""Places [x, y] in mm."""
place = Reader(lambda name, value: _places(name, [value])[0], _PLACE)
"""A place [x, y] in mm."""
