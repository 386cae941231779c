"""Sheets that several jobs share: begun, filled, laid out, nested, released; and jobs that are ordered again."""

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field

from horismos.errors import NothingToDo, NotReady, StopsOpen
from jobs import models
from jobs.api.bodies import FormatName, NestAsked, SharedBegun, SharedChange
from jobs.api.common import find, find_job, picture
from jobs.api.wants import RELEASE, WORK
from jobs.listing import WorkShown, job_row, work_shown
from jobs.shared_showing import SharedRow, SharedShown, shared_rows, shared_shown
from jobs.store.files import load
from jobs.store.layouts import changed_layout, words_of_change
from jobs.store.queue import begin, require_idle
from jobs.store.reading import consistent_read
from jobs.store.shared import begin_sheet, changing_sheet, put_on
from jobs.store.sheet_snapshots import SHEET_ROWS, queue_layout, snapshot_of_sheet

__all__ = ["router"]

router = Router()


class SheetReleaseAsked(Schema):
    """The sheet as the person has seen it: its version, and what was laid out, its ``found``.

    ``also`` are formats beside HP-GL that the lines are written in.
    """

    version: int
    found: str
    also: Annotated[list[FormatName], Field(max_length=10)] = []


def _sheet(sheet_id: int) -> models.SharedSheet:
    return find(models.SharedSheet.objects.select_related(*SHEET_ROWS), sheet_id)


def _response(sheet_id: int) -> SharedShown:
    with consistent_read():
        return shared_shown(_sheet(sheet_id))


@router.get("/shared-sheets", response=list[SharedRow])
def sheets(request: HttpRequest, job: int | None = None) -> list[SharedRow]:
    """The sheets that several jobs share, newest first; or those that one job lies on."""
    return shared_rows(job)


@router.post("/shared-sheets", response=SharedShown, auth=WORK)
def begin_shared(request: HttpRequest, body: SharedBegun) -> SharedShown:
    """Begin a sheet with one or more jobs of the same material and destination."""
    with transaction.atomic():
        sheet = begin_sheet([find_job(number) for number in dict.fromkeys(body.jobs)], request.user.pk)
        queue_layout(sheet)
    return _response(sheet.pk)


@router.get("/shared-sheets/{sheet_id}", response=SharedShown)
def sheet(request: HttpRequest, sheet_id: int) -> SharedShown:
    """A shared sheet, whole."""
    return _response(sheet_id)


@router.patch("/shared-sheets/{sheet_id}", response=SharedShown, auth=WORK)
def change_shared(request: HttpRequest, sheet_id: int, body: SharedChange) -> SharedShown:
    """Change what lies on a sheet, how many of it, and how it is laid out."""
    given = body.named
    with changing_sheet(sheet_id, body.version, request.user.pk) as change:
        require_idle(change.sheet)
        said = words_of_change(change.sheet.layout, given)
        if "name" in given:
            change.sheet.name = given["name"]
            said.append("the name")
        change.sheet.layout = changed_layout(change.sheet.layout, given)
        if body.shares:
            said += _keep_shares(change.sheet, body)
        change.done(f"Changed {', '.join(filter(None, said)) or 'nothing'}")
        queue_layout(change.sheet)
    return _response(sheet_id)


def _keep_shares(sheet: models.SharedSheet, body: SharedChange) -> list[str]:
    """Put on the sheet what is named, take off what is not; copies that were placed one by one are packed anew."""
    before = {share.job_id: (share.quantity, share.turn) for share in sheet.shares.all()}
    sheet.shares.exclude(job__in=[share.job for share in body.shares]).delete()
    for share in body.shares:
        put_on(sheet, find_job(share.job), share.quantity, share.turn.value)
    after = {share.job_id: (share.quantity, share.turn) for share in sheet.shares.all()}
    if after == before:
        return []
    if {job: count for job, (count, _) in after.items()} != {job: count for job, (count, _) in before.items()}:
        sheet.layout = {k: v for k, v in sheet.layout.items() if k not in ("placed", "placed_of", "rows_mm")}
    names = dict(models.Job.objects.filter(pk__in={*before, *after}).values_list("pk", "name"))
    words = [f"{after[job][0]} of “{names[job]}”" for job in after if after[job] != before.get(job)]
    return [*words, *(f"“{names[job]}” taken off" for job in before if job not in after)]


@router.post("/shared-sheets/{sheet_id}/nest", response=WorkShown, auth=WORK)
def nest_shared(request: HttpRequest, sheet_id: int, body: NestAsked) -> WorkShown:
    """Nest the copies of all jobs on a sheet by their cut outlines; each turned as it may be."""
    with changing_sheet(sheet_id, body.version, request.user.pk) as change:
        require_idle(change.sheet)
        change.sheet.shares.update(turn=body.turn.value)
        change.done("Nest the copies")
        asked: dict[str, object] = {
            "turn": body.turn.value, "gap_mm": body.gap_mm, "seconds": body.seconds,
        }
        return work_shown(begin(change.sheet, models.WorkKind.NEST, asked))


@router.post("/shared-sheets/{sheet_id}/release", response=WorkShown, auth=RELEASE)
def release_shared(request: HttpRequest, sheet_id: int, body: SheetReleaseAsked) -> WorkShown:
    """Write the packages of a sheet as the person saw it; refused while a stop is open on any of its jobs."""
    with changing_sheet(sheet_id, body.version, request.user.pk) as change:
        require_idle(change.sheet)
        now = snapshot_of_sheet(change.sheet)
        if not body.found == now.package_key == change.sheet.key or change.sheet.error:
            said = "What you saw is not the sheet as it stands now."
            raise NotReady(said, "Wait until it is laid out, and look again.")
        for share in change.sheet.shares.select_related("job"):
            row = job_row(share.job)
            if row.stops is None:
                raise NotReady(f"“{row.name}” was not checked yet.", "Wait for the check.")
            if row.stops:
                raise StopsOpen(f"“{row.name}”: {row.stops} stop{'s are' if row.stops > 1 else ' is'} open.",
                                "Mend them first.")
        if now.rehearsal_stop:
            raise StopsOpen(
                now.rehearsal_stop, "Give the art more bleed or the cut more room, or ask who keeps the Shelf."
            )
        if change.sheet.releases.filter(key=now.package_key).exists():
            raise NothingToDo("Just this was released already.", "It lies on the Bench.")
        change.done("Asked for the release")
        return work_shown(begin(change.sheet, models.WorkKind.RELEASE, {
            "key": now.package_key, "also": body.also,
        }))


class SheetRehearsalAsked(Schema):
    """So many loads of a sheet, drawn from a seed."""

    version: int
    loads: Annotated[int, Field(ge=1, le=2_000)] = 200
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1


@router.post("/shared-sheets/{sheet_id}/rehearse", response=WorkShown, auth=WORK)
def rehearse_shared(request: HttpRequest, sheet_id: int, body: SheetRehearsalAsked) -> WorkShown:
    """Print, load and cut a sheet as it stands so many times on the simulated machines."""
    with changing_sheet(sheet_id, body.version, request.user.pk) as change:
        found = change.sheet
        require_idle(found)
        if found.error or not found.found.get("sheets"):
            raise NotReady("There is no sheet that could be rehearsed.", "Lay it out first.")
        return work_shown(begin(found, models.WorkKind.REHEARSE, {"loads": body.loads, "seed": body.seed}))


@router.get("/shared-sheets/{sheet_id}/rehearsal/worst")
def worst_piece(request: HttpRequest, sheet_id: int) -> HttpResponse:
    """The print of the worst piece of the last rehearsal, as PNG."""
    worst = (_sheet(sheet_id).rehearsal or {}).get("worst")
    if not worst or not worst["sha256"]:
        raise HttpError(404, "There is no such picture.")
    return picture(load(worst["sha256"]), immutable=False)


@router.delete("/shared-sheets/{sheet_id}", response=list[SharedRow], auth=WORK)
def take_apart(request: HttpRequest, sheet_id: int, version: int) -> list[SharedRow]:
    """Take a sheet apart: its jobs stay, and lie on no sheet. What was released stays."""
    with changing_sheet(sheet_id, version, request.user.pk) as change:
        require_idle(change.sheet)
        if change.sheet.releases.exists():
            raise NotReady(f"“{change.sheet.name}” was released.", "It stays, so that it can be found again.")
        change.sheet.delete()
    return shared_rows()
