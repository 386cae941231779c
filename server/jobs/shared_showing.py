"""Shared sheets as screens show them."""

from dataclasses import dataclass
from datetime import date

from pydantic import TypeAdapter

from horismos.sheet import Layout, Turn
from horismos.workflow.showing.layout import LayoutShown, layout_shown
from horismos.workflow.showing.sheet import CutShown, SheetShown
from jobs import models
from jobs.listing import JobRow, WorkShown, job_row, work_shown
from jobs.rehearsal_showing import RehearsalShown, rehearsal_shown
from jobs.store.log import LogShown, logged
from jobs.store.queue import latest_of, under_way
from jobs.store.shared import free_of, offered_to
from jobs.store.sheet_snapshots import snapshot_of_sheet
from jobs.store.snapshots import JobSnapshot

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
    turn: Turn
    revision: int
    changed: str
    current: bool


@dataclass(frozen=True)
class OfferedShown:
    """A job that waits and would go on the sheet, with its copies that lie on none."""

    job: JobRow
    free: int


@dataclass(frozen=True, kw_only=True)
class SharedShown:
    """A shared sheet, whole. ``found`` names what was laid out: by it a person releases."""

    id: int
    name: str
    version: int
    material_id: str
    material: str
    destination: str
    price_m2: float | None
    layout: LayoutShown
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
    log: list[LogShown]
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
    now = snapshot_of_sheet(sheet)
    shares = [_share(share, job) for share, job in zip(now.shares, now.jobs, strict=True)]
    last = latest_of(sheet)
    return SharedShown(
        id=sheet.pk, name=sheet.name, version=sheet.version, material_id=sheet.material_id,
        material=sheet.material.title, destination=sheet.destination_id, price_m2=sheet.material.data["price_m2"],
        layout=layout_shown(Layout.from_json(sheet.layout)), shares=shares,
        offered=[OfferedShown(job_row(job), free) for job, free in offered_to(sheet)],
        sheets=SHEETS.validate_python(sheet.found.get("sheets", [])),
        cuts=CUTS.validate_python(sheet.found.get("cuts", [])), error=sheet.error, found=sheet.key,
        current=now.is_current, busy=under_way(sheet) is not None, stops=sum(share.job.stops or 0 for share in shares),
        released=sheet.releases.filter(key=now.package_key).exists(),
        release_ids=list(sheet.releases.order_by("-pk").values_list("pk", flat=True)),
        work=work_shown(last) if last else None, log=logged(sheet),
        rehearsal=rehearsal_shown(now.rehearsal) if now.rehearsal else None, rehearsal_stop=now.rehearsal_stop,
    )


def _share(share: models.Share, job: JobSnapshot) -> ShareShown:
    return ShareShown(
        job=job_row(job.row), quantity=share.quantity, ordered=job.order.quantity, free=free_of(job.row, share.sheet),
        turn=Turn(share.turn), revision=job.row.revision.number if job.row.revision else 0, changed=share.changed,
        current=share.made_of in ("", job.share_key),
    )
