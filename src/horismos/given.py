"""Reads what people give as JSON: each value by its name, what is not known or out of range refused in words."""

import math
from collections.abc import Callable, Iterable, Mapping
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue

__all__ = ["Read", "choice", "number", "object_of", "place", "places", "text", "yes"]

Read = Callable[[str, object], Any]
"""Takes a value's name, for what is said, and the value; gives it as it is meant. Raises BadValue."""
MOST_PLACES = 2_000


def object_of(value: object, name: str, known: Iterable[str]) -> Mapping[str, object]:
    """An object that has no other keys than these. Raises BadValue."""
    if not isinstance(value, Mapping):
        raise BadValue(f"{name} is not a JSON object.", "See the pages in docs for its keys.")
    keys = set(known)
    for key in value:
        if key not in keys:
            raise BadValue(f"{name}: unknown key “{key}”.", f"Known: {', '.join(sorted(keys))}.")
    return value


def number(least: float, most: float, whole: bool = False) -> Read:
    """A number from one to another.

    >>> number(1, 9, whole=True)("Copies", 3)
    3
    """

    def read(name: str, value: object) -> float | int:
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise BadValue(f"{name} must be a number.")
        if not least <= value <= most or (whole and value != int(value)):
            kind = "a whole number from " if whole else ""
            raise BadValue(f"{name} is {value:g}.", f"Give {kind}{least:g} to {most:g}.")
        return int(value) if whole else float(value)

    return read


def choice(kind: type[StrEnum]) -> Read:
    """One of some words."""

    def read(name: str, value: object) -> StrEnum:
        if value not in set(kind):
            raise BadValue(f"{name} is “{value}”.", f"Give one of {', '.join(kind)}.")
        return kind(str(value))

    return read


def text(most: int) -> Read:
    """A line of text that is no longer than so many letters."""

    def read(name: str, value: object) -> str:
        if not isinstance(value, str) or len(value) > most or not value.isprintable():
            raise BadValue(f"{name} must be a text of one line, of at most {most} letters.")
        return value

    return read


def yes(name: str, value: object) -> bool:
    """True or false."""
    if not isinstance(value, bool):
        raise BadValue(f"{name} must be true or false.")
    return value


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
