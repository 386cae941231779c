"""What differs between two states of a thing, in words."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from horismos.shelf.kind import ShelfItem

__all__ = ["Difference", "differences"]

MOST = 200
SAID = {"um": "µm", "mm2": "mm²", "m2": "a m²", "deg": "°", "pct": "%"}
UNITS = ("mm2", "mm", "gf", "um", "h", "s", "m", "deg", "pct", "m2")


@dataclass(frozen=True)
class Difference:
    """One thing that differs: where, and what stood there before and after; empty where nothing did."""

    where: str
    before: str
    after: str


def differences(before: ShelfItem, after: ShelfItem) -> tuple[Difference, ...]:
    """All that differs, in the order of the fields; at most so many, of which the last says that there are more.

    >>> from horismos.shelf.kind import Kind
    >>> old = ShelfItem(kind=Kind.PRINTER, id="a", title="A", data={"margin_mm": 5.0})
    >>> differences(old, ShelfItem(kind=Kind.PRINTER, id="a", title="A", data={"margin_mm": 8.0}))
    (Difference(where='margin', before='5 mm', after='8 mm'),)
    """
    found = [] if before.title == after.title else [Difference("name", before.title, after.title)]
    if before.retired != after.retired:
        found.append(Difference("", *(("retired", "in use") if before.retired else ("in use", "retired"))))
    found += _of(before.data, after.data, ())
    if len(found) > MOST:
        found = [*found[:MOST], Difference("and more", "", "")]
    return tuple(found)


def _of(before: Any, after: Any, path: tuple[str, ...]) -> Iterator[Difference]:
    if before == after and isinstance(before, bool) == isinstance(after, bool):
        return
    if isinstance(before, Mapping) and isinstance(after, Mapping):
        for key in dict.fromkeys((*before, *after)):
            yield from _of(before.get(key), after.get(key), (*path, key))
    elif isinstance(before, list) and isinstance(after, list) and _deep(before) and _deep(after):
        for i in range(max(len(before), len(after))):
            old, new = (one[i] if i < len(one) else None for one in (before, after))
            yield from _of(old, new, (*path, str(i + 1)))
    else:
        yield Difference(" › ".join(map(_word, path)), _said(before, path), _said(after, path))


def _deep(value: list[Any]) -> bool:
    return any(isinstance(one, Mapping) for one in value)


def _word(key: str) -> str:
    parts = key.split("_")
    return " ".join(parts[:-1] if len(parts) > 1 and parts[-1] in UNITS else parts).replace("-", " ")


def _said(value: Any, path: tuple[str, ...]) -> str:
    if value is None or value == "" or value == []:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        unit = path[-1].split("_")[-1] if path and "_" in path[-1] else ""
        return f"{value:g} {SAID.get(unit, unit)}" if unit in UNITS else f"{value:g}"
    if isinstance(value, Mapping):
        return ", ".join(f"{_word(key)} {_said(one, (key,))}" for key, one in value.items() if _said(one, (key,)))
    if isinstance(value, list):
        return ", ".join(filter(None, (_said(one, ()) for one in value)))
    return str(value)
