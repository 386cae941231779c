"""What a shop keeps on its Shelf: the kinds of things, a thing of one, and the Shelf as it stands at one moment."""

import re
import unicodedata
from collections.abc import Callable, Hashable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cache
from importlib import import_module
from pathlib import Path
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue, NotFound
from horismos.json_readers import Field, Reader, object_schema, plain, read_fields, text

__all__ = [
    "ID", "TITLE", "Kind", "Shelf", "ShelfItem", "ShelfKind", "by_table", "id_for", "kind_of", "referred", "register",
    "registered",
]


class Kind(StrEnum):
    """The kinds, as they stand on the Shelf: what comes first is what others are made of."""

    PRINTER = "printer"
    CUTTER = "cutter"
    MARKS = "marks"
    DESTINATION = "destination"
    MATERIAL = "material"
    HOLDER = "holder"
    TOOL = "tool"
    PERFORATION = "perforation"
    LINES = "lines"
    RECIPE = "recipe"
    CHECK_SHEET = "check-sheet"
    CUSTOMER = "customer"
    LETTER = "letter"
    FILE_NAMES = "file-names"
    WATCHED = "watched"
    FABRIC = "fabric"
    THREAD = "thread"


MOST_ID = 80
_ID = re.compile(r"[a-z0-9]+(?:-[a-z0-9]+)*")
TITLE = text(200, least=1)


def _id(name: str, value: object) -> str:
    if not isinstance(value, str) or len(value) > MOST_ID or not _ID.fullmatch(value):
        raise BadValue(f"{name} is no id.", f"Give small letters and figures with hyphens between, at most {MOST_ID}.")
    return value


ID = Reader(_id, {"type": "string", "maxLength": MOST_ID, "pattern": f"^{_ID.pattern}$"})
"""The name of a thing in files: it never changes, and no two things of a Shelf have the same."""


@dataclass(frozen=True, kw_only=True)
class ShelfItem:
    """A thing on the Shelf. ``data`` is what its kind makes of it, as plain values; ``retired`` offers it no more."""

    kind: Kind
    id: str
    title: str
    data: Mapping[str, Any] = field(default_factory=dict)
    retired: bool = False


class Shelf(Mapping[str, ShelfItem]):
    """All things by their ids, in their order; those of a kind that come first are the usual ones."""

    def __init__(self, items: Iterable[ShelfItem] = ()) -> None:
        self._items = {item.id: item for item in items}

    def __getitem__(self, id: str) -> ShelfItem:
        return self._items[id]

    def __iter__(self) -> Iterator[str]:
        return iter(self._items)

    def __len__(self) -> int:
        return len(self._items)

    def called(self, kind: Kind, id: object, about: str) -> ShelfItem:
        """The thing of a kind with an id. Raises NotFound, saying ``about`` what it was asked for."""
        found = self._items.get(str(id))
        if found is None or found.kind is not kind:
            one = kind_of(kind).one
            raise NotFound(f"{about}: there is no {one} “{id}”.", "Put it on the Shelf first, or choose another.")
        return found

    def of(self, kind: Kind) -> tuple[ShelfItem, ...]:
        """All things of a kind."""
        return tuple(item for item in self._items.values() if item.kind is kind)

    def with_item(self, item: ShelfItem) -> "Shelf":
        """The Shelf with a thing put on it, in the place of the one of its id."""
        return Shelf({**self._items, item.id: item}.values())

    def referring(self, id: str) -> tuple[ShelfItem, ...]:
        """What is made of a thing, or says it by its id."""
        return tuple(item for item in self._items.values() if any(one == id for _, one in referred(item)))


def _nothing(item: ShelfItem, shelf: Shelf) -> None:
    return None


def _by_name(item: ShelfItem) -> Hashable:
    return item.title.casefold()


@dataclass(frozen=True, kw_only=True)
class ShelfKind:
    """A kind of thing.

    ``read`` takes what people write of one and gives it whole, as plain values, and always the same ones. ``begins`` is
    what a new one says before anybody has. ``refers`` names the fields that hold ids of other things, of which kind;
    a field of a group with a dot between.
    ``value`` makes of a thing what the other rooms work with, and so refuses what does not fit to the rest of the
    Shelf. Of what is not retired no two have the same ``alone``: their name, or what they are for. ``ships`` are
    examples of our own.
    """

    kind: Kind
    one: str
    many: str
    says: str
    read: Reader
    begins: Mapping[str, Any]
    refers: Mapping[str, Kind] = field(default_factory=dict)
    value: Callable[[ShelfItem, Shelf], Any] = _nothing
    alone: Callable[[ShelfItem], Hashable] = _by_name
    ships: Callable[[], Iterable[ShelfItem]] = tuple

    def item(self, id: object, title: object, data: object, retired: bool = False) -> ShelfItem:
        """A thing as somebody writes it. Raises BadValue naming what is wrong of it."""
        called = TITLE("The name", title).strip()
        if not called:
            raise BadValue("The name is empty.", "Give a text.")
        name = f"{self.one[:1].upper()}{self.one[1:]} “{called}”"
        said = self.read(name, data)
        return ShelfItem(kind=self.kind, id=ID(f"{name}: id", id), title=called, data=said, retired=retired)

    def check(self, item: ShelfItem, shelf: Shelf) -> None:
        """Raise BadValue where a thing does not fit to the rest of the Shelf."""
        try:
            self._check(item, shelf)
        except NotFound as error:
            raise BadValue(error.message, error.next_step) from None

    def _check(self, item: ShelfItem, shelf: Shelf) -> None:
        name = f"{self.one[:1].upper()}{self.one[1:]} “{item.title}”"
        for key, id in referred(item):
            shelf.called(self.refers[key], id, f"{name}: {key.replace('_', ' ').replace('.', ': ')}")
        others = () if item.retired else shelf.of(self.kind)
        same = (one for one in others if one.id != item.id and not one.retired and self.alone(one) == self.alone(item))
        if (other := next(same, None)) is not None:
            raise BadValue(
                f"{name} is what “{other.title}” is already.", "Change that one, retire it, or say this one otherwise."
            )
        self.value(item, shelf)


def by_table(fields: Mapping[str, Field], begins: Mapping[str, Any], needs: Iterable[str] = ()) -> Reader:
    """Reads a thing whose data are the fields of a table; what is not said is as in ``begins``."""
    wanted = tuple(needs)

    def read(name: str, value: object) -> dict[str, Any]:
        said = plain(read_fields(name, value, fields, wanted))
        return {key: said.get(key, begins.get(key)) for key in fields if key in said or key in begins}

    return Reader(read, object_schema(fields, begins, wanted))


def referred(item: ShelfItem) -> tuple[tuple[str, str], ...]:
    """The fields of a thing that name others, each with an id."""
    out: list[tuple[str, str]] = []
    for key in kind_of(item.kind).refers:
        said: Any = item.data
        for part in key.split("."):
            said = said.get(part) if isinstance(said, Mapping) else None
        out += [(key, one) for one in (said if isinstance(said, list | tuple) else [said]) if one]
    return tuple(out)


def id_for(title: str, taken: Iterable[str]) -> str:
    """An id for a thing that is called so, which no other has.

    >>> id_for("Kiss Cut, 80 gf", ["kiss-cut-80-gf"]), id_for("字", [])
    ('kiss-cut-80-gf-2', 'thing')
    """
    known = set(taken)
    ascii = unicodedata.normalize("NFKD", title).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", ascii).strip("-")[: MOST_ID - 6].strip("-") or "thing"
    if base not in known:
        return base
    return next(one for i in range(2, len(known) + 3) if (one := f"{base}-{i}") not in known)


_kinds: dict[Kind, ShelfKind] = {}


def register(kind: ShelfKind) -> ShelfKind:
    """Take a kind into the register."""
    _kinds[kind.kind] = replace(kind, refers=MappingProxyType(dict(kind.refers)))
    return kind


@cache
def registered() -> Mapping[Kind, ShelfKind]:
    """All kinds, in the order in which they stand on the Shelf."""
    for path in sorted((Path(__file__).parent / "kinds").glob("[a-z]*.py")):
        import_module(f"horismos.shelf.kinds.{path.stem}")
    return MappingProxyType({kind: _kinds[kind] for kind in Kind})


def kind_of(kind: Kind | str) -> ShelfKind:
    """The kind of a name. Raises NotFound."""
    if kind not in set(Kind):
        raise NotFound(f"The Shelf has no “{kind}”.", f"It has {', '.join(Kind)}.")
    return registered()[Kind(kind)]
