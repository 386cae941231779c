"""The Shelf at a glance: what jobs are made with, what the shop has of each material, and the shop itself."""

from dataclasses import dataclass
from typing import Annotated

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest
from jobs import models
from jobs.api.bodies import Key
from jobs.api.common import find
from jobs.api.wants import EDIT_SHELF, LOGGED_IN, WORK
from jobs.store.decisions import may_edit_shelf
from jobs.store.log import log_shelf
from jobs.store.shelf import known_destinations, known_shelf, shop_row
from ninja import Router, Schema
from pydantic import Field, StringConstraints

from horismos.materials import Ground, Stratum
from horismos.media import PAGE_SIZES, Media
from horismos.roles import InkRole, LineRole
from horismos.shelf import Kind
from horismos.shelf.shop import FIELDS, READ, LengthUnit

__all__ = ["router"]

router = Router()


@dataclass(frozen=True)
class MediaShown:
    """A roll or sheet that the shop has; ``left_by`` names the sheet that left an offcut."""

    id: int
    title: str
    width_mm: float
    length_mm: float | None
    roll: bool
    loaded: bool
    left_by: str


class MediaAdded(Schema):
    """A roll or sheet that the shop has got."""

    material: Key
    title: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
    width_mm: Annotated[float, Field(ge=10, le=100_000, allow_inf_nan=False)]
    length_mm: Annotated[float, Field(ge=10, le=1_000_000, allow_inf_nan=False)] | None = None
    roll: bool = True


@dataclass(frozen=True)
class PageSize:
    """A size of sheets for small printers, in mm."""

    name: str
    width_mm: float
    length_mm: float


@dataclass(frozen=True)
class MaterialShown:
    """A material that is offered; ``price_m2`` in the shop's currency."""

    id: str
    title: str
    width_mm: float
    strata: tuple[Stratum, ...]
    ground: Ground
    glossy: bool
    grain: bool
    price_m2: float | None
    media: list[MediaShown]


@dataclass(frozen=True)
class DestinationShown:
    """A destination with the exact ink names that it wants, by role."""

    id: str
    title: str
    names: dict[LineRole | InkRole, str]
    formats: list[str]


@dataclass(frozen=True)
class ShopShown:
    """The shop; ``begun`` once its guide was gone through, or left.

    ``sorts`` says that what comes in is mended by itself as far as no person is needed. ``watched`` is where on the
    server's disk watched folders lie.
    """

    name: str
    unit: LengthUnit
    currency: str
    begun: bool
    sorts: bool
    watched: str


class ShopChange(Schema):
    """What is to be changed of the shop; what is not named stays."""

    name: str | None = None
    unit: str | None = None
    currency: str | None = None
    begun: bool | None = None
    sorts: bool | None = None


@dataclass(frozen=True)
class ShelfShown:
    """What lies on the Shelf."""

    materials: list[MaterialShown]
    destinations: list[DestinationShown]
    page_sizes: list[PageSize]
    currency: str
    may_edit: bool


@router.get("/shelf", response=ShelfShown)
def shelf(request: HttpRequest) -> ShelfShown:
    """What jobs are made with: the materials and destinations that are offered."""
    known = known_shelf()
    media: dict[str, list[MediaShown]] = {}
    for m in models.Media.objects.all():
        media.setdefault(m.material_id, []).append(
            MediaShown(m.pk, m.title, m.width_mm, m.length_mm, m.roll, m.loaded, m.left_by)
        )
    return ShelfShown(
        [
            MaterialShown(
                item.id, item.title, one.width_mm, one.strata, one.ground, one.glossy, one.grain,
                item.data["price_m2"], media.get(item.id, []),
            )
            for item in known.offered(Kind.MATERIAL) for one in [known.materials[item.id]]
        ],
        [
            DestinationShown(d.id, d.title, dict(d.names), list(known.shelf[d.id].data["formats"]))
            for d in known_destinations().values()
        ],
        [PageSize(name, *size) for name, size in PAGE_SIZES.items()],
        shop_row().currency, may_edit_shelf(request.user),
    )


@router.post("/shelf/media", response=ShelfShown, auth=EDIT_SHELF)
def add_media(request: HttpRequest, body: MediaAdded) -> ShelfShown:
    """Put a roll or sheet on the Shelf."""
    material = find(models.ShelfItem.objects.filter(kind=Kind.MATERIAL), body.material)
    media = Media(body.title, body.width_mm, body.length_mm, body.roll)
    material.media.create(
        title=media.title, width_mm=media.width_mm, length_mm=media.length_mm, roll=media.roll,
    )
    log_shelf(material, request.user.pk, f"Put {media.title}, {media.width_mm:g} mm wide, on the Shelf")
    return shelf(request)


@router.post("/shelf/media/{media_id}/load", response=ShelfShown, auth=WORK)
def load_media(request: HttpRequest, media_id: int) -> ShelfShown:
    """Say that a roll or sheet is loaded; what was loaded of that material is not any more."""
    row = find(models.Media.objects.all(), media_id)
    with transaction.atomic():
        models.Media.objects.filter(material=row.material).update(loaded=False)
        models.Media.objects.filter(pk=row.pk).update(loaded=True)
    return shelf(request)


@router.delete("/shelf/media/{media_id}", response=ShelfShown, auth=EDIT_SHELF)
def drop_media(request: HttpRequest, media_id: int) -> ShelfShown:
    """Take a roll, sheet or offcut off the Shelf."""
    row = find(models.Media.objects.all(), media_id)
    log_shelf(row.material, request.user.pk, f"Took {row.title}, {row.width_mm:g} mm wide, off the Shelf")
    row.delete()
    return shelf(request)


# -- the shop ------------------------------------------------------------------------------------------------------


@router.get("/shop", response=ShopShown, auth=LOGGED_IN)
def shop(request: HttpRequest) -> ShopShown:
    """The shop."""
    row = shop_row()
    return ShopShown(row.name, LengthUnit(row.unit), row.currency, row.begun, row.sorts, str(settings.WATCHED))


@router.patch("/shop", response=ShopShown, auth=EDIT_SHELF)
def change_shop(request: HttpRequest, body: ShopChange) -> ShopShown:
    """Say how the shop is called, in what its lengths and prices are, or that its guide is done."""
    given = body.model_dump(exclude_none=True)
    READ("The shop", {key: given[key] for key in FIELDS if key in given})
    row = shop_row()
    for key, value in given.items():
        setattr(row, key, value)
    row.touch()
    return shop(request)
