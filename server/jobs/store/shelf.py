"""The Shelf as it stands: rows, and the core's values that they are."""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cached_property
from typing import Any

from django.conf import settings
from django.db import transaction

from horismos import destinations, materials
from horismos.cutting import Tool
from horismos.destinations import Destination
from horismos.errors import NotFound
from horismos.json_readers import plain
from horismos.materials import Material
from horismos.roles import LineRole
from horismos.shelf import Kind, Shelf, ShelfItem, examples, kind_of
from jobs import models
from jobs.store.reading import memo

__all__ = [
    "KnownShelf", "destination_called", "destination_of", "fill", "item_of", "known_destinations", "known_materials",
    "known_shelf", "material_called", "material_of", "put_examples", "shelf_key", "shop_name", "shop_row", "trying",
    "values_of",
]


class KnownShelf:
    """The Shelf of one state, with what it is made into; nothing of it changes."""

    def __init__(self, items: Iterable[ShelfItem], numbers: Mapping[str, int]) -> None:
        self.shelf = Shelf(items)
        self.numbers = numbers
        """The number of the version of each thing that counts."""

    def offered(self, kind: Kind) -> tuple[ShelfItem, ...]:
        """The things of a kind that are not retired."""
        return tuple(item for item in self.shelf.of(kind) if not item.retired)

    def value(self, item: ShelfItem) -> Any:
        """What the other rooms of the core work with."""
        return kind_of(item.kind).value(item, self.shelf)

    @cached_property
    def destinations(self) -> dict[str, Destination]:
        """All destinations by their ids, retired ones too."""
        return {item.id: self.value(item) for item in self.shelf.of(Kind.DESTINATION)}

    @cached_property
    def materials(self) -> dict[str, Material]:
        """All materials by their ids, retired ones too."""
        return {item.id: self.value(item) for item in self.shelf.of(Kind.MATERIAL)}

    @cached_property
    def tools(self) -> dict[tuple[str, str], dict[LineRole, Tool]]:
        """The shop's settings of tools by role, by destination and material."""
        out: dict[tuple[str, str], dict[LineRole, Tool]] = {}
        for item in self.offered(Kind.TOOL):
            made = self.value(item)
            out.setdefault((item.data["destination"], item.data["material"]), {})[made.role] = made
        return out


_tried: ContextVar[KnownShelf | None] = ContextVar("tried", default=None)
_last: tuple[str, KnownShelf] | None = None
"""The Shelf that this process has read last, with the state that it is of."""


def shop_row() -> models.Shop:
    """The row of the shop; one that says nothing where there is none yet."""
    return models.Shop.objects.order_by("pk").first() or models.Shop(state="")


def shop_name() -> str:
    """What letters and reports are signed with."""
    return shop_row().name or settings.SHOP_NAME


def _state() -> str:
    return models.Shop.objects.order_by("pk").values_list("state", flat=True).first() or ""


def known_shelf() -> KnownShelf:
    """The Shelf as it stands: read once for each of its states."""
    global _last
    if (tried := _tried.get()) is not None:
        return tried
    state = memo("shelf state", _state)
    if state and _last is not None and _last[0] == state:
        return _last[1]
    rows = list(models.ShelfItem.objects.all())
    known = KnownShelf(map(item_of, rows), {row.pk: row.number for row in rows})
    if state:
        _last = state, known
    return known


@contextmanager
def trying(item: ShelfItem) -> Iterator[KnownShelf]:
    """The Shelf as it would be with a thing on it; nothing is kept. Raises BadValue or NotFound where it cannot be."""
    now = known_shelf()
    kind_of(item.kind).check(item, now.shelf)
    tried = KnownShelf(now.shelf.with_item(item).values(), {**now.numbers, item.id: now.numbers.get(item.id, 0) + 1})
    token = _tried.set(tried)
    try:
        yield tried
    finally:
        _tried.reset(token)


def item_of(row: models.ShelfItem) -> ShelfItem:
    """The thing that a row is."""
    return ShelfItem(kind=Kind(row.kind), id=row.pk, title=row.title, data=row.data, retired=row.retired)


def destination_of(row: models.ShelfItem) -> Destination:
    """A destination with its machines."""
    return known_shelf().destinations[row.pk]


def material_of(row: models.ShelfItem) -> Material:
    """A material."""
    return known_shelf().materials[row.pk]


def known_destinations() -> dict[str, Destination]:
    """The destinations that are offered, by their ids, the usual one first."""
    return _offered(Kind.DESTINATION, known_shelf().destinations)


def known_materials() -> dict[str, Material]:
    """The materials that are offered, by their ids, the usual one first."""
    return _offered(Kind.MATERIAL, known_shelf().materials)


def _offered(kind: Kind, known: Mapping[str, Any]) -> dict[str, Any]:
    return {item.id: known[item.id] for item in known_shelf().offered(kind)}


def values_of(kind: Kind) -> list[tuple[ShelfItem, Any]]:
    """The things of a kind that are offered, with what they are to the core."""
    known = known_shelf()
    return [(item, known.value(item)) for item in known.offered(kind)]


def destination_called(id: str) -> Destination:
    """The destination of an id. Raises NotFound."""
    found: Destination = _called(known_shelf().destinations, id, "destination")
    return found


def material_called(id: str) -> Material:
    """The material of an id. Raises NotFound."""
    found: Material = _called(known_shelf().materials, id, "material")
    return found


def _called(known: Mapping[str, Any], id: str, what: str) -> Any:
    if id not in known:
        raise NotFound(f"There is no {what} “{id}” on the Shelf.", "Choose one of those that are there.")
    return known[id]


def shelf_key(destination: Destination, material: Material) -> list[object]:
    """What of them differs from what ships; what depends on them depends on this too."""
    shipped = destinations.SHIPPED.get(destination.id), materials.MATERIALS.get(material.id)
    return [plain(one) for one, was in zip((destination, material), shipped, strict=True) if one != was]


def fill() -> None:
    """Put all examples on the Shelf that are not there yet, and begin the shop."""
    put_examples(examples().values())
    if not models.Shop.objects.filter(begun=True).exists():
        shop = shop_row()
        shop.name, shop.begun = shop.name or settings.SHOP_NAME, True
        shop.save()


@transaction.atomic
def put_examples(items: Iterable[ShelfItem], who: int | None = None) -> None:
    """Put things that ship on the Shelf where there is none of their id, materials with a roll or sheets of them."""
    there = set(models.ShelfItem.objects.values_list("pk", flat=True))
    new = [item for item in items if item.id not in there]
    for place, item in enumerate(new):
        row = models.ShelfItem.objects.create(
            id=item.id, kind=item.kind.value, title=item.title, data=dict(item.data), position=place,
        )
        row.versions.create(number=1, title=item.title, data=row.data, who_id=who, note="An example that ships")
        if item.kind is Kind.MATERIAL:
            length = item.data["length_mm"]
            row.media.create(
                title=item.title[:80], width_mm=item.data["width_mm"], length_mm=length, roll=length is None,
                loaded=True,
            )
    if new:
        shop_row().touch()
