"""All of a Shelf as one JSON file, to be taken to another shop: written, read, compared with what is there, merged."""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Any, NoReturn

from horismos.errors import BadValue, HorismosError
from horismos.json_readers import Field, number, object_of, object_schema, optional, plain, read_fields, text, yes
from horismos.shelf import shop
from horismos.shelf.differences import Difference, differences
from horismos.shelf.kind import ID, TITLE, Kind, Shelf, ShelfItem, id_for, kind_of, referred, registered
from horismos.shelf.shop import ShopFacts

__all__ = [
    "MOST_BYTES", "Choice", "Compared", "Document", "Standing", "compared", "examples", "merged", "read_document",
    "shelf_schema", "write_document",
]

FORMAT, VERSION = "horismos shelf", 1
MOST_BYTES = 20_000_000
MOST_THINGS = 20_000
KEYS = ("format", "version", "shop", "things", "media")
_SIZE = number(10, 1_000_000)
MEDIA: Mapping[str, Field] = MappingProxyType({
    "material": Field(ID, "the material that it is of"),
    "title": Field(text(80, least=1), "what people call it"),
    "width_mm": Field(_SIZE, "how wide it is", "mm"),
    "length_mm": Field(optional(_SIZE), "how long a sheet is, or what is left on a roll; null: nobody knows", "mm"),
    "roll": Field(yes, "whether it is a roll"),
    "loaded": Field(yes, "whether it is loaded"),
    "left_by": Field(text(200), "of an offcut, which sheet left it"),
})
"""What is said of a roll, sheet or offcut that lies there."""
BEGINS: Mapping[str, Any] = MappingProxyType({"length_mm": None, "roll": True, "loaded": False, "left_by": ""})


@dataclass(frozen=True)
class Document:
    """What a file holds: the shop, its things in their order, and the media that lie there, as plain values."""

    facts: ShopFacts
    shelf: Shelf
    media: tuple[Mapping[str, Any], ...] = ()


class Standing(StrEnum):
    """How a thing of a file stands to what is there."""

    NEW = "new"
    CHANGED = "changed"
    SAME = "same"


class Choice(StrEnum):
    """What becomes of a thing that both have, and each otherwise."""

    TAKE = "take"
    KEEP = "keep"
    BOTH = "both"


@dataclass(frozen=True)
class Compared:
    """A thing of a file beside what is there under its id."""

    item: ShelfItem
    standing: Standing
    differences: tuple[Difference, ...] = ()


def write_document(document: Document) -> bytes:
    """The file: the same Shelf is always the same bytes."""
    order = list(Kind)
    things = sorted(document.shelf.values(), key=lambda item: order.index(item.kind))  # keeps the order within a kind
    media = sorted(document.media, key=lambda one: json.dumps(one, sort_keys=True))
    said = {
        "format": FORMAT, "version": VERSION, "shop": plain(document.facts), "things": [
            {
                "kind": item.kind.value, "id": item.id, "title": item.title, "retired": item.retired,
                "data": plain(item.data),
            }
            for item in things
        ],
        "media": [{key: one.get(key, BEGINS.get(key)) for key in MEDIA} for one in media],
    }
    return (json.dumps(said, indent=1, ensure_ascii=False, sort_keys=False, allow_nan=False) + "\n").encode()


def read_document(data: bytes, name: str = "The file") -> Document:
    """What a file holds. Raises BadValue, naming the thing that is wrong."""
    if len(data) > MOST_BYTES:
        raise BadValue(f"{name} is larger than {MOST_BYTES // 1_000_000} MB.", "That is no Shelf.")
    try:
        said = json.loads(data.decode("utf-8"), parse_constant=_no_number)
    except (ValueError, RecursionError) as error:
        raise BadValue(f"{name} is not JSON: {error}.", "Choose a file that was exported from a Shelf.") from None
    given = object_of(said, name, KEYS)
    if given.get("format") != FORMAT or given.get("version") is True or given.get("version") != VERSION:
        raise BadValue(f"{name} is no Shelf of version {VERSION}.", "Choose a file that was exported from a Shelf.")
    listed: Any = given.get("things", [])
    lying: Any = given.get("media", [])
    for what, one in (("things", listed), ("media", lying)):
        if not isinstance(one, list) or len(one) > MOST_THINGS:
            raise BadValue(f"{name}: {what} must be a list of at most {MOST_THINGS}.")
    items = [_item(f"{name}: thing {i}", one) for i, one in enumerate(listed, 1)]
    known: set[str] = set()
    for item in items:
        if item.id in known:
            raise BadValue(f"{name} has two things with the id “{item.id}”.", "Give each an id of its own.")
        known.add(item.id)
    media = [_media(f"{name}: media {i}", one) for i, one in enumerate(lying, 1)]
    return Document(shop.READ(f"{name}: shop", given.get("shop", {})), Shelf(items), tuple(media))


def _no_number(word: str) -> NoReturn:
    raise ValueError(f"{word} is no number")


def _item(name: str, data: object) -> ShelfItem:
    said = object_of(data, name, ("kind", "id", "title", "retired", "data"))
    if not isinstance(said.get("kind"), str) or said["kind"] not in set(Kind):
        raise BadValue(f"{name} is of no kind that there is.", f"Known: {', '.join(Kind)}.")
    return kind_of(str(said["kind"])).item(
        said.get("id"), said.get("title"), said.get("data"), yes(f"{name}: retired", said.get("retired", False))
    )


def _media(name: str, data: object) -> dict[str, Any]:
    said = {**BEGINS, **read_fields(name, data, MEDIA, ("material", "title", "width_mm"))}
    if not said["roll"] and said["length_mm"] is None:
        raise BadValue(f"{name}: the sheet “{said['title']}” has no length.", "Give it, or say that it is a roll.")
    return {key: said[key] for key in MEDIA}


def compared(ours: Shelf, theirs: Document) -> tuple[Compared, ...]:
    """How each thing of a file stands to what is there. Raises BadValue for an id that is another kind's there."""
    out = []
    for item in theirs.shelf.values():
        mine = ours.get(item.id)
        if mine is None:
            out.append(Compared(item, Standing.NEW))
        elif mine.kind is not item.kind:
            raise BadValue(
                f"“{item.id}” is a {kind_of(item.kind).one} in the file and a {kind_of(mine.kind).one} here.",
                "Give one of them another id in the file.",
            )
        else:
            found = differences(mine, item)
            out.append(Compared(item, Standing.CHANGED if found else Standing.SAME, found))
    return tuple(out)


def merged(ours: Shelf, theirs: Document, choices: Mapping[str, Choice]) -> tuple[Shelf, tuple[ShelfItem, ...]]:
    """The Shelf with a file's things on it, and those of them that are put there.

    ``choices`` says what becomes of each that is changed; without a word it is refused. With ``both`` the file's gets
    an id of its own, and what else comes along then means that. Raises BadValue or NotFound, naming the thing: then
    nothing is taken.
    """
    found = compared(ours, theirs)
    unsaid = [one.item.title for one in found if one.standing is Standing.CHANGED and one.item.id not in choices]
    if unsaid:
        raise BadValue(f"“{unsaid[0]}” is here already, and otherwise.", "Say whether to take it, keep yours, or both.")
    ids: dict[str, str] = {}
    for one in found:
        if one.standing is Standing.CHANGED and choices[one.item.id] is Choice.BOTH:
            ids[one.item.id] = id_for(one.item.id, {*ours, *theirs.shelf, *ids.values()})
    put = []
    for one in found:
        kept = one.standing is Standing.CHANGED and choices[one.item.id] is Choice.KEEP
        if one.standing is Standing.SAME or kept:
            continue
        title = f"{one.item.title} (from the file)"[:200] if one.item.id in ids else one.item.title
        put.append(replace(
            one.item, id=ids.get(one.item.id, one.item.id), title=title, data=_pointing(one.item, ids),
        ))
    shelf = Shelf({**ours, **{item.id: item for item in put}}.values())
    _check(put, shelf)
    for media in theirs.media:
        shelf.called(Kind.MATERIAL, ids.get(media["material"], media["material"]), f"Media “{media['title']}”")
    return shelf, tuple(put)


def _pointing(item: ShelfItem, ids: Mapping[str, str]) -> Mapping[str, Any]:
    """The data of a thing, with the ids of others as they are now."""
    data: dict[str, Any] = plain(item.data)
    for key in {key for key, _ in referred(item)}:
        *groups, last = key.split(".")
        group: dict[str, Any] = data
        for one in groups:
            group = group[one]
        said = group[last]
        group[last] = [ids.get(one, one) for one in said] if isinstance(said, list) else ids.get(said, said)
    return data


def _check(items: Sequence[ShelfItem], shelf: Shelf) -> None:
    for item in items:
        try:
            kind_of(item.kind).check(item, shelf)
        except HorismosError as error:
            raise BadValue(f"{error.message} Nothing was taken.", error.next_step) from None
        except ValueError as error:
            raise BadValue(f"{kind_of(item.kind).one} “{item.title}”: {error} Nothing was taken.") from None


def examples(kinds: Iterable[Kind] = tuple(Kind)) -> Shelf:
    """What ships: plain things of our own, of these kinds."""
    return Shelf(
        registered()[kind].item(item.id, item.title, item.data) for kind in kinds for item in registered()[kind].ships()
    )


def shelf_schema() -> dict[str, Any]:
    """What a file may be, as JSON Schema 2020-12."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Shelf", "type": "object",
        "additionalProperties": False, "required": ["format", "version"],
        "properties": {
            "format": {"const": FORMAT}, "version": {"const": VERSION},
            "shop": object_schema(shop.FIELDS, ShopFacts()),
            "things": {"type": "array", "maxItems": MOST_THINGS, "items": {"oneOf": [
                {
                    "title": kind.one, "description": kind.says, "type": "object", "additionalProperties": False,
                    "required": ["kind", "id", "title", "data"],
                    "properties": {
                        "kind": {"const": kind.kind.value}, "id": dict(ID.schema),
                        "title": {"description": "what people call it", **TITLE.schema, "pattern": r"\S"},
                        "retired": {"description": "whether it is offered no more", **yes.schema, "default": False},
                        "data": dict(kind.read.schema),
                    },
                }
                for kind in registered().values()
            ]}},
            "media": {"type": "array", "maxItems": MOST_THINGS,
                      "items": object_schema(MEDIA, BEGINS, ("material", "title", "width_mm"))},
        },
    }
