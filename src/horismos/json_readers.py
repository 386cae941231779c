"""Reads what people give as JSON: each value by its name, what is not known or out of range refused in words."""

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue

__all__ = ["Read", "Reader", "choice", "list_of", "number", "object_of", "place", "places", "text", "yes"]

Read = Callable[[str, object], Any]
"""Takes a value's name, for what is said, and the value; gives it as it is meant. Raises BadValue."""
MOST_PLACES = 2_000


@dataclass(frozen=True)
class Reader:
    """What reads a value, with what it takes as JSON Schema (2020-12) says it."""

    read: Read
    schema: Mapping[str, Any] = field(default_factory=dict)

    def __call__(self, name: str, value: object) -> Any:
        """The value as it is meant. Raises BadValue."""
        return self.read(name, value)


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


def text(most: int) -> Reader:
    """A line of text that is no longer than so many letters."""

    def read(name: str, value: object) -> str:
        if not isinstance(value, str) or len(value) > most or not value.isprintable():
            raise BadValue(f"{name} must be a text of one line, of at most {most} letters.")
        return value

    return Reader(read, {"type": "string", "maxLength": most})


def _yes(name: str, value: object) -> bool:
    if not isinstance(value, bool):
        raise BadValue(f"{name} must be true or false.")
    return value


yes = Reader(_yes, {"type": "boolean"})
"""True or false."""


def places(name: str, value: object) -> tuple[tuple[float, float], ...]:
    """Places [x, y] in mm."""
    read = number(-1e5, 1e5)
    pairs: list[Any] = list(value) if isinstance(value, list | tuple) else [None]
    if len(pairs) > MOST_PLACES or not all(isinstance(p, list | tuple) and len(p) == 2 for p in pairs):
        raise BadValue(f"{name} must be a list of places [x, y] in mm.")
    return tuple((read(name, p[0]), read(name, p[1])) for p in pairs)


def place(name: str, value: object) -> tuple[float, float]:
    """A place [x, y] in mm."""
    return places(name, [value])[0]
