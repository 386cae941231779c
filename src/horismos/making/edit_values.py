"""What a hand can change on a line, as values: what is done, and where, by places in mm."""

from collections.abc import Mapping
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from horismos.json_readers import Field, Reader, choice, object_schema, place, read_fields

__all__ = ["READ", "Do", "Handle"]


class Do(StrEnum):
    """What a hand does."""

    MOVE = "move"
    HANDLE = "handle"
    ADD = "add"
    DELETE = "delete"
    CORNER = "corner"
    CURVE = "curve"
    OPEN = "open"
    JOIN = "join"
    TAKE = "take"


class Handle(StrEnum):
    """Which handle of a node: the one before it or behind it."""

    IN = "in"
    OUT = "out"


_DO, _AT = Field(choice(Do), "what is done"), Field(place, "the node it is done to, by where it is", "mm")
_TO, _SIDE = Field(place, "where it goes, or what it is joined to", "mm"), Field(choice(Handle), "which handle")
_PLAIN: Mapping[str, Field] = MappingProxyType({"do": _DO, "at": _AT})
_TABLES: Mapping[Do, Mapping[str, Field]] = MappingProxyType({
    **dict.fromkeys(Do, _PLAIN), Do.MOVE: {**_PLAIN, "to": _TO}, Do.JOIN: {**_PLAIN, "to": _TO},
    Do.HANDLE: {**_PLAIN, "side": _SIDE, "to": _TO},
})
"""What each says; all of it has to be said."""


def _read(name: str, value: object) -> Mapping[str, Any]:
    """An edit, as the plain values by which it is kept."""
    do: Do = _DO.read(f"{name}: do", value.get("do") if isinstance(value, Mapping) else None)
    said = read_fields(f"{name}: {do.value}", value, _TABLES[do], _TABLES[do])
    return {**said, "do": do.value, **({"side": said["side"].value} if "side" in said else {})}


def _schemas() -> list[dict[str, Any]]:
    """One for each set of keys."""
    sets = {tuple(table): table for table in _TABLES.values()}
    out = []
    for keys, table in sets.items():
        schema = object_schema(table, None, keys)
        does = [do.value for do in Do if tuple(_TABLES[do]) == keys]
        out.append({**schema, "properties": {**schema["properties"], "do": {"enum": does}}})
    return out


READ = Reader(_read, {"anyOf": _schemas()})
"""Reads an edit."""
