"""A whole Shelf as one file: taken out, looked at beside what is there, and taken in."""

import json
from dataclasses import dataclass
from typing import Annotated, Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from jobs import models
from jobs.api.common import download
from jobs.api.wants import EDIT_SHELF
from jobs.store.shelf import item_of, known_shelf, shop_row
from jobs.store.shelf_changes import put_items
from ninja import File, Form, Router, UploadedFile
from ninja.errors import HttpError
from pydantic import Field, TypeAdapter, ValidationError

from horismos.errors import BadValue
from horismos.shelf import (
    Choice,
    Document,
    Kind,
    Shelf,
    ShopFacts,
    Standing,
    compared,
    kind_of,
    merged,
    read_document,
    write_document,
)
from horismos.shelf.differences import Difference
from horismos.shelf.document import MEDIA, MOST_BYTES
from horismos.shelf.shop import LengthUnit
from horismos.words import safe_name

__all__ = ["router"]

router = Router()
CHOICES = TypeAdapter(Annotated[dict[str, Choice], Field(max_length=20_000)])


@dataclass(frozen=True)
class ThingCompared:
    """A thing of a file beside what is there."""

    kind: Kind
    one: str
    id: str
    title: str
    standing: Standing
    differences: tuple[Difference, ...]


@dataclass(frozen=True)
class ShelfPreview:
    """What a file would bring: its things, how many rolls and sheets, and the shop that it comes from."""

    shop: str
    things: list[ThingCompared]
    media: int


@dataclass(frozen=True)
class ShelfTaken:
    """How many things were put on the Shelf, and how many rolls and sheets."""

    things: int
    media: int


def _shelf() -> Shelf:
    """The Shelf as the database has it, in its order."""
    return Shelf(item_of(row) for row in models.ShelfItem.objects.all())


@router.get("/shelf/export", auth=EDIT_SHELF)
def export(request: HttpRequest) -> HttpResponse:
    """All of the Shelf as one JSON file."""
    row = shop_row()
    media = tuple(
        {"material": one.material_id, **{key: getattr(one, key) for key in MEDIA if key != "material"}}
        for one in models.Media.objects.all()
    )
    made = write_document(Document(ShopFacts(row.name, LengthUnit(row.unit), row.currency, row.sorts), _shelf(), media))
    return download(made, f"shelf-{safe_name(row.name or 'shop')}.json", "application/json")


def _read(file: UploadedFile) -> Document:
    if (file.size or 0) > MOST_BYTES:
        raise HttpError(413, "That is too large for a Shelf.")
    return read_document(file.read(), file.name or "The file")


@router.post("/shelf/import/look", response=ShelfPreview, auth=EDIT_SHELF)
def look(request: HttpRequest, file: File[UploadedFile]) -> ShelfPreview:
    """Say what a file would bring: what is new, what is here otherwise, what is the same. Nothing is taken."""
    theirs = _read(file)
    return ShelfPreview(theirs.facts.name, [
        ThingCompared(
            one.item.kind, kind_of(one.item.kind).one, one.item.id, one.item.title, one.standing, one.differences,
        )
        for one in compared(known_shelf().shelf, theirs)
    ], len(_new_media(theirs)))


@router.post("/shelf/import", response=ShelfTaken, auth=EDIT_SHELF)
def take(request: HttpRequest, file: File[UploadedFile], choices: Form[str] = "{}") -> ShelfTaken:
    """Take a file in, whole or not at all; ``choices`` says of each thing that is here otherwise what becomes of it."""
    try:
        chosen = CHOICES.validate_json(choices)
    except ValidationError:
        raise BadValue("The choices are not understood.", f"Give an object of {', '.join(Choice)} by ids.") from None
    theirs = _read(file)
    with transaction.atomic():
        _, put = merged(known_shelf().shelf, theirs, chosen)
        count = put_items(put, request.user.pk, f"Came with {file.name}"[:200])
        media = _new_media(theirs)
        models.Media.objects.bulk_create(
            models.Media(material_id=one["material"], **{key: one[key] for key in MEDIA if key != "material"})
            for one in media
        )
        shop = shop_row()
        shop.name, shop.currency = shop.name or theirs.facts.name, shop.currency or theirs.facts.currency
        if not shop.begun:
            shop.unit, shop.sorts = theirs.facts.unit.value, theirs.facts.sorts
        shop.touch()
    return ShelfTaken(count, len(media))


def _new_media(theirs: Document) -> list[dict[str, Any]]:
    """The rolls and sheets of a file that are not here."""
    rows = models.Media.objects.all()
    here = {json.dumps([getattr(row, f"{key}_id" if key == "material" else key) for key in MEDIA]) for row in rows}
    return [dict(one) for one in theirs.media if json.dumps([one[key] for key in MEDIA]) not in here]
