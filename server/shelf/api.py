"""The shelf: what ships, the check sheets with their versions, and the mends that there are."""

import json
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from jobs import models
from jobs.api.bodies import Key, Number, Words
from jobs.api.common import download, find, find_job
from jobs.listing import WorkShown, work_shown
from jobs.store.check_sheets import (
    CheckKnown,
    CheckSheetShown,
    VersionShown,
    known_checks,
    latest,
    parsed,
    save_version,
    sheets_shown,
    title_of,
)
from jobs.store.decisions import may_edit_shelf
from jobs.store.queue import begin
from jobs.store.shelf import known_destinations, material_of
from ninja import File, Router, Schema, UploadedFile
from ninja.errors import HttpError
from pydantic import Field, StringConstraints

from horismos.checking import CheckSheet, all_limits
from horismos.errors import NotPermitted
from horismos.materials import Ground, Material, Stratum
from horismos.media import PAGE_SIZES, Media
from horismos.roles import InkRole, LineRole
from horismos.words import safe_name

__all__ = ["router"]

router = Router()
MOST_SHEET_BYTES = 200_000


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


class PriceGiven(Schema):
    """What a square metre of a material costs; None: nobody says."""

    price_m2: Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)] | None


@dataclass(frozen=True)
class PageSize:
    """A size of sheets for small printers, in mm."""

    name: str
    width_mm: float
    length_mm: float


@dataclass(frozen=True)
class MaterialShown:
    """A material."""

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


@dataclass(frozen=True)
class ShelfShown:
    """What lies on the shelf."""

    materials: list[MaterialShown]
    destinations: list[DestinationShown]
    page_sizes: list[PageSize]
    may_edit: bool


@dataclass(frozen=True)
class CheckSheets:
    """Every check with its limits, every sheet with its versions, and whether who asks may change them."""

    checks: list[CheckKnown]
    sheets: list[CheckSheetShown]
    may_edit: bool


class Draft(Schema):
    """A check sheet that is being written; ``job`` is one to try it on, or to check again by it."""

    scope: Key
    subject: Key = ""
    limits: Annotated[dict[Key, Number], Field(max_length=1_000)] = {}
    severities: Annotated[dict[Key, Key], Field(max_length=1_000)] = {}
    note: Words = ""
    job: int | None = None


@router.get("/shelf", response=ShelfShown)
def shelf(request: HttpRequest) -> ShelfShown:
    """Materials, destinations, tool settings."""
    return ShelfShown(
        [_material(material_of(row), row) for row in models.Material.objects.prefetch_related("media")],
        [
            DestinationShown(d.id, d.title, dict(d.names))
            for d in known_destinations().values()
        ],
        [PageSize(name, *size) for name, size in PAGE_SIZES.items()],
        may_edit_shelf(request.user),
    )


def _material(material: Material, row: models.Material) -> MaterialShown:
    media = [
        MediaShown(m.pk, m.title, m.width_mm, m.length_mm, m.roll, m.loaded, m.left_by)
        for m in row.media.all()
    ]
    return MaterialShown(
        material.id, material.title, material.width_mm, material.strata, material.ground, material.glossy,
        material.grain, row.price_m2, media,
    )


def _must_edit(request: HttpRequest) -> None:
    if not may_edit_shelf(request.user):
        raise NotPermitted("You may not change the Shelf.", "Ask somebody who has that right.")


@router.post("/shelf/media", response=ShelfShown)
def add_media(request: HttpRequest, body: MediaAdded) -> ShelfShown:
    """Put a roll or sheet on the Shelf."""
    _must_edit(request)
    material = find(models.Material.objects.all(), body.material)
    media = Media(body.title, body.width_mm, body.length_mm, body.roll)
    material.media.create(
        title=media.title, width_mm=media.width_mm, length_mm=media.length_mm, roll=media.roll,
    )
    return shelf(request)


@router.post("/shelf/media/{media_id}/load", response=ShelfShown)
def load_media(request: HttpRequest, media_id: int) -> ShelfShown:
    """Say that a roll or sheet is loaded; what was loaded of that material is not any more."""
    row = find(models.Media.objects.all(), media_id)
    with transaction.atomic():
        models.Media.objects.filter(material=row.material).update(loaded=False)
        models.Media.objects.filter(pk=row.pk).update(loaded=True)
    return shelf(request)


@router.delete("/shelf/media/{media_id}", response=ShelfShown)
def drop_media(request: HttpRequest, media_id: int) -> ShelfShown:
    """Take a roll, sheet or offcut off the Shelf."""
    _must_edit(request)
    find(models.Media.objects.all(), media_id).delete()
    return shelf(request)


@router.post("/shelf/materials/{material_id}/price", response=ShelfShown)
def price(request: HttpRequest, material_id: str, body: PriceGiven) -> ShelfShown:
    """Say what a square metre of a material costs the shop."""
    _must_edit(request)
    row = find(models.Material.objects.all(), material_id)
    row.price_m2 = body.price_m2
    row.save(update_fields=["price_m2"])
    return shelf(request)


@router.get("/sheets", response=CheckSheets)
def check_sheets(request: HttpRequest) -> CheckSheets:
    """Every check with its limits, and every sheet with its versions."""
    return CheckSheets(known_checks(), sheets_shown(), may_edit_shelf(request.user))


@router.post("/sheets", response=CheckSheets)
def save_sheet(request: HttpRequest, body: Draft) -> CheckSheets:
    """Keep a new version of a sheet, with the right to; a job that is named is checked again by it."""
    if not may_edit_shelf(request.user):
        raise NotPermitted("You may not change the Shelf.", "Ask somebody who has that right to keep this sheet.")
    draft = parsed(body.scope, body.subject, body.dict())
    save_version(body.scope, body.subject, draft, request.user.pk, body.note)
    if body.job is not None:
        begin(find_job(body.job), models.WorkKind.ANALYSE)
    return CheckSheets(known_checks(), sheets_shown(), may_edit_shelf(request.user))


@router.post("/sheets/try", response=WorkShown)
def try_sheet(request: HttpRequest, body: Draft) -> WorkShown:
    """Find out what a draft would change in a job, before it is kept."""
    if body.job is None:
        raise HttpError(400, "Say on which job to try it.")
    parsed(body.scope, body.subject, body.dict())
    said: dict[str, object] = {
        "scope": body.scope, "subject": body.subject, "limits": body.limits, "severities": body.severities,
    }
    return work_shown(begin(find_job(body.job), models.WorkKind.TRY_SHEET, said))


@router.get("/sheets/export")
def export_sheet(request: HttpRequest, scope: str, subject: str = "") -> HttpResponse:
    """The last version of a sheet as a JSON file."""
    title, last = title_of(scope, subject), latest(scope, subject)
    known = CheckSheet.from_json(last.data) if last else CheckSheet()
    version = f"version {last.number}" if last else "shipped"
    data = CheckSheet(title, known.limits, known.severities, version).to_json()
    text = json.dumps(data, indent=1, ensure_ascii=False) + "\n"
    return download(text.encode(), f"check-sheet-{safe_name(title)}.json", "application/json")


@router.post("/sheets/import", response=VersionShown)
def import_sheet(request: HttpRequest, file: File[UploadedFile]) -> VersionShown:
    """Read a JSON file into a draft; nothing is kept yet."""
    if (file.size or 0) > MOST_SHEET_BYTES:
        raise HttpError(413, "That is too large for a check sheet.")
    try:
        data = json.loads(file.read().decode("utf-8"))
    except (ValueError, RecursionError) as error:
        raise HttpError(400, f"{file.name} is not JSON: {error}.") from None
    read = CheckSheet.from_json(data, all_limits())
    who = request.user.get_username()
    return VersionShown(0, who, datetime.now(UTC), read.name, dict(read.limits), dict(read.severities))
