"""Shared sheets as screens show them."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from django.contrib.auth import get_user_model
from pydantic import TypeAdapter

from horismos.workflow.showing.sheet import CutShown, SheetShown
from jobs import models
from jobs.listing import JobRow, WorkShown, job_row, work_shown
from jobs.rehearsal_showing import RehearsalShown, rehearsal_shown
from jobs.store.cases import order_of, share_key
from jobs.store.shared import free_of, is_busy, offered_to, rehearsal_stop, sheet_key

__all__ = ["SharedRow", "SharedShown", "shared_rows", "shared_shown"]

SHEETS, CUTS = TypeAdapter(list[SheetShown]), TypeAdapter(list[CutShown])


@dataclass(frozen=True)
class SharedRow:
    """A shared sheet as the Desk lists it: its jobs, how many copies on how many sheets, the first day that is due."""

    id: int
    name: str
    material: str
    jobs: list[str]
    job_ids: list[int]
    copies: int
    sheets: int
    length_mm: float
    due: date | None
    released: bool
    error: str


@dataclass(frozen=True)
class ShareShown:
    """What a job has on the sheet. ``changed`` says what was made anew since a person has changed the sheet."""

    job: JobRow
    quantity: int
    ordered: int
    free: int
    turn: str
    revision: int
    changed: str
    current: bool


@dataclass(frozen=True)
class OfferedShown:
    """A job that waits and would go on the sheet, with its copies that lie on none."""

    job: JobRow
    free: int


@dataclass(frozen=True)
class SharedLog:
    """Who did what, and when."""

    who: str
    what: str
    when: datetime


@dataclass(frozen=True)
class SharedShown:
    """A shared sheet, whole. ``found`` names what was laid out: by it a person releases."""

    id: int
    name: str
    version: int
    material_id: str
    material: str
    destination: str
    price_m2: float | None
    layout: dict[str, Any]
    shares: list[ShareShown]
    offered: list[OfferedShown]
    sheets: list[SheetShown]
    cuts: list[CutShown]
    error: str
    found: str
    current: bool
    busy: bool
    stops: int
    released: bool
    release_ids: list[int]
    work: WorkShown | None
    log: list[SharedLog]
    rehearsal: RehearsalShown | None
    rehearsal_stop: str


def shared_rows(of: int | None = None) -> list[SharedRow]:
    """All shared sheets, or those that one job lies on, newest first."""
    sheets = models.SharedSheet.objects.select_related("material").prefetch_related("shares__job", "releases")
    if of is not None:
        sheets = sheets.filter(shares__job=of)
    return [_row(sheet) for sheet in sheets.order_by("-pk")]


def _row(sheet: models.SharedSheet) -> SharedRow:
    shares = list(sheet.shares.all())
    laid = sheet.found.get("sheets", [])
    dues = [share.job.due for share in shares if share.job.due]
    return SharedRow(
        sheet.pk, sheet.name, sheet.material.title, [share.job.name for share in shares],
        [share.job_id for share in shares], sum(share.quantity for share in shares), len(laid),
        sum(one["length_mm"] for one in laid), min(dues, default=None),
        any(made.key == sheet.key for made in sheet.releases.all()), sheet.error,
    )


def shared_shown(sheet: models.SharedSheet) -> SharedShown:
    """A shared sheet with all that its page shows."""
    standing = sheet_key(sheet)
    on = ("job", "job__order", "job__material", "job__revision", "job__analysis")
    shares = [_share(share) for share in sheet.shares.select_related(*on)]
    last = sheet.works.order_by("-pk").select_related("job").first()
    return SharedShown(
        sheet.pk, sheet.name, sheet.version, sheet.material_id, sheet.material.title, sheet.destination_id,
        sheet.material.price_m2, sheet.layout, shares,
        [OfferedShown(job_row(job), free) for job, free in offered_to(sheet)],
        SHEETS.validate_python(sheet.found.get("sheets", [])), CUTS.validate_python(sheet.found.get("cuts", [])),
        sheet.error, sheet.key, bool(sheet.key) and sheet.key == standing.key, is_busy(sheet),
        sum(share.job.stops or 0 for share in shares), sheet.releases.filter(key=standing.key).exists(),
        list(sheet.releases.order_by("-pk").values_list("pk", flat=True)), work_shown(last) if last else None,
        _log(sheet),
        rehearsal_shown(sheet.rehearsal) if sheet.rehearsal.get("key") == standing.key else None,
        rehearsal_stop(sheet, standing.key),
    )


def _share(share: models.Share) -> ShareShown:
    job = share.job
    return ShareShown(
        job_row(job), share.quantity, order_of(job).quantity, free_of(job, share.sheet), share.turn,
        job.revision.number if job.revision else 0, share.changed, share.made_of in ("", share_key(job)),
    )


def _log(sheet: models.SharedSheet) -> list[SharedLog]:
    names = dict(get_user_model().objects.values_list("pk", "username"))
    return [
        SharedLog(names.get(entry["who"], "someone"), entry["what"], datetime.fromisoformat(entry["when"]))
        for entry in reversed(sheet.log)
    ]
