"""The queues of the RIP and of the cutter: what waits, runs, failed or was refused, and why; what is moved and held."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from django.db import transaction
from django.db.models import Max
from django.http import HttpRequest
from django.utils import timezone
from jobs import models
from jobs.api.common import find
from jobs.api.wants import TAKE_IN, WORK
from jobs.store.again import begin_again
from jobs.store.floor import OVER, goes_on, machine_of, print_again, print_goes_on, print_stage, print_work, sheet_value
from jobs.store.log import log
from jobs.store.queue import stop
from ninja import Router, Schema

from horismos.errors import NotReady
from horismos.release.following import RipReport
from horismos.workflow.floor import PrintedSheet, PrintEvent, PrintStage, SheetStage, Wait
from horismos.workflow.floor.queue import moved

__all__ = ["router"]

router = Router()
RECENT = 12
"""[ours] so many that are done are shown behind those that are not."""
PRINTS_OVER = (models.RipState.DONE, models.RipState.CANCELLED)


class Which(StrEnum):
    """The queue of a machine."""

    RIP = "rip"
    CUTTER = "cutter"


class MovedGiven(Schema):
    """Before which other one it goes; null: to the end."""

    before: int | None = None


class HeldGiven(Schema):
    """Whether it is passed over."""

    held: bool


class ReasonGiven(Schema):
    """Why."""

    reason: str


class SpoiltGiven(Schema):
    """The numbers of pieces that are no good."""

    pieces: list[int]


@dataclass(frozen=True, kw_only=True)
class PrintQueued:
    """A print in the queue of a RIP; ``why`` says why it failed or was refused. ``turn`` counts those that wait for it.

    ``machine`` is the printer's id: one may serve several destinations.
    """

    release_id: int
    job_id: int
    name: str
    customer: str
    machine: str
    machine_title: str
    sheet_number: int
    sheets_in_all: int
    stage: PrintStage
    held: bool
    turn: int | None
    why: str
    length_mm: float
    report: list[str]


@dataclass(frozen=True, kw_only=True)
class CutQueued:
    """A sheet in the queue of a cutter; ``waits_for`` is what has to come first, until ``ready_at`` where it dries.

    ``machine`` is the cutter's id; ``turn`` counts those that wait for it. ``said`` is why it stands as it does.
    """

    sheet_id: int
    release_id: int
    job_id: int
    name: str
    customer: str
    machine: str
    machine_title: str
    sheet_number: int
    sheets_in_all: int
    repeat: int
    repeats: int
    stage: SheetStage
    held: bool
    turn: int | None
    waits_for: Wait | None
    ready_at: datetime | None
    laminates: bool
    early: str
    early_by: str
    refused: str
    findings: list[str]
    said: str
    code: str | None
    pieces: int
    cut: list[int]
    spoilt: list[int]
    time_s: float


@dataclass(frozen=True)
class QueuesShown:
    """The queues of printers and of cutters, each in its order, with the latest that are done behind."""

    rip: list[PrintQueued]
    cutter: list[CutQueued]


@router.get("/queues", response=QueuesShown)
def queues(request: HttpRequest) -> QueuesShown:
    """What waits, runs, failed or was refused at the RIP and at the cutter."""
    return queues_shown()


def queues_shown() -> QueuesShown:
    """The queues as they are now."""
    return QueuesShown(list(_prints()), list(_cuts()))


def _prints() -> Iterable[PrintQueued]:
    printed = models.Release.objects.exclude(ticket__makes="cut").select_related("job")
    open_ = printed.exclude(rip_state__in=PRINTS_OVER).order_by("place", "pk")
    done = printed.filter(rip_state__in=PRINTS_OVER).order_by("-pk")[:RECENT]
    turns: Counter[str] = Counter()
    for made in [*open_, *done]:
        stage = print_stage(made)
        waits = stage == models.RipState.WAITING and not made.held
        machine, title = machine_of(made, "printer")
        turns[machine] += waits
        yield PrintQueued(
            release_id=made.pk, job_id=made.job_id, name=made.job.name, customer=made.job.customer,
            machine=machine, machine_title=title, sheet_number=made.sheet_number,
            sheets_in_all=made.ticket.get("sheets_in_all", 1), stage=PrintStage(stage.value), held=made.held,
            turn=turns[machine] if waits else None, why=made.rip_refused, length_mm=made.ticket["sheet"]["length_mm"],
            report=RipReport.from_json(made.report).words if made.report else [],
        )


def _cuts() -> Iterable[CutQueued]:
    sheets = models.Sheet.objects.select_related("release__job")
    done = sheets.filter(stage__in=OVER).order_by("-pk")[:RECENT]
    rows = [*sheets.exclude(stage__in=OVER).order_by("place", "repeat", "pk"), *done]
    counted = models.Sheet.objects.filter(release__in={row.release_id for row in rows}).values("release")
    repeats: dict[int, int] = dict(counted.annotate(most=Max("repeat")).values_list("release", "most"))
    turns: Counter[str] = Counter()
    for row in rows:
        value, made = sheet_value(row), row.release
        waits = not value.stage.is_over and not value.stage.on_cutter and not row.held
        machine, title = machine_of(made, "cutter")
        turns[machine] += waits
        yield CutQueued(
            sheet_id=row.pk, release_id=made.pk, job_id=made.job_id, name=made.job.name, customer=made.job.customer,
            machine=machine, machine_title=title, sheet_number=made.sheet_number,
            sheets_in_all=made.ticket.get("sheets_in_all", 1), repeat=row.repeat, repeats=repeats[made.pk],
            stage=value.stage, held=row.held, turn=turns[machine] if waits else None,
            waits_for=None if value.stage.is_over else value.waits_for(timezone.now()),
            ready_at=value.dry_at, laminates=value.laminates, early=value.early.reason if value.early else "",
            early_by=value.early.who if value.early else "", refused=row.refused, findings=list(row.findings),
            said=row.said, code=value.code, pieces=len(value.pieces), cut=sorted(value.cut),
            spoilt=sorted(value.spoilt), time_s=float(row.own_ticket["time_s"]),
        )


@router.post("/queues/{which}/{id}/move", response=QueuesShown, auth=WORK)
def move(request: HttpRequest, which: Which, id: int, body: MovedGiven) -> QueuesShown:
    """Move one before another, or to the end."""
    with transaction.atomic():
        rows = {one.pk: one for one in _rows(which)}
        for place, pk in enumerate(moved(list(rows), id, body.before), 1):
            if rows[pk].place != place:
                rows[pk].place = place
                rows[pk].save(update_fields=["place"])
    return queues_shown()


def _rows(which: Which) -> list[models.Release] | list[models.Sheet]:
    """What is still to be done, in its order."""
    if which is Which.RIP:
        return list(models.Release.objects.exclude(rip_state__in=PRINTS_OVER).only("place").order_by("place", "pk"))
    return list(models.Sheet.objects.exclude(stage__in=OVER).only("place").order_by("place", "repeat", "pk"))


@router.post("/queues/{which}/{id}/hold", response=QueuesShown, auth=WORK)
def hold(request: HttpRequest, which: Which, id: int, body: HeldGiven) -> QueuesShown:
    """Hold one back, or let it go."""
    row, job = _one(which, id)
    if isinstance(row, models.Release) and body.held and print_stage(row) == models.RipState.PRINTING:
        raise NotReady("It is being printed.", "Cancel the print instead.")
    row.held = body.held
    row.save(update_fields=["held"])
    machine = "RIP" if which is Which.RIP else "cutter"
    log(job, request.user.pk, f"{'Held' if body.held else 'Let go'} in the queue of the {machine}")
    return queues_shown()


def _one(which: Which, id: int) -> tuple[models.Release | models.Sheet, models.Job]:
    if which is Which.RIP:
        made = find(models.Release.objects.select_related("job"), id)
        return made, made.job
    sheet = find(models.Sheet.objects.select_related("release__job"), id)
    return sheet, sheet.release.job


@router.post("/queues/{which}/{id}/cancel", response=QueuesShown, auth=WORK)
def cancel_one(request: HttpRequest, which: Which, id: int) -> QueuesShown:
    """Cancel a print or a cut. A print that runs is stopped; a cut that runs has to be stopped first."""
    row, job = _one(which, id)
    if isinstance(row, models.Release):
        work = print_work(row)
        if work is not None:
            stop(work)
        row.refresh_from_db()
        if row.rip_state != models.RipState.PRINTING or print_work(row) is None:
            print_goes_on(row, PrintEvent.CANCELLED)
            row.save(update_fields=["rip_state"])
        log(job, request.user.pk, "Its print was cancelled")
    else:
        goes_on(row, PrintedSheet.is_cancelled, "Cancelled")
        log(job, request.user.pk, "Its cut was cancelled")
    return queues_shown()


@router.post("/queues/rip/{id}/again", response=QueuesShown, auth=WORK)
def again(request: HttpRequest, id: int) -> QueuesShown:
    """Let something wait for the RIP again that was printed, refused, cancelled or has failed."""
    made = find(models.Release.objects.select_related("job"), id)
    if made.rip_state == models.RipState.WAITING:
        raise NotReady("It waits for the RIP already.")
    print_again(made)
    log(made.job, request.user.pk, "To be printed again")
    return queues_shown()


@router.post("/queues/cutter/{id}/early", response=QueuesShown, auth=WORK)
def early(request: HttpRequest, id: int, body: ReasonGiven) -> QueuesShown:
    """Say why a sheet may be cut, or laminated, before it is dry."""
    sheet, job = _one(Which.CUTTER, id)
    assert isinstance(sheet, models.Sheet)
    goes_on(sheet, lambda value: value.may_go_early(request.user.get_username(), body.reason, timezone.now()))
    log(job, request.user.pk, f"Not waited for until it is dry: {body.reason.strip()}")
    return queues_shown()


@router.post("/queues/cutter/{id}/laminated", response=QueuesShown, auth=WORK)
def laminated(request: HttpRequest, id: int) -> QueuesShown:
    """Say that a sheet was laminated."""
    sheet, job = _one(Which.CUTTER, id)
    assert isinstance(sheet, models.Sheet)
    goes_on(sheet, lambda value: value.is_laminated(timezone.now()))
    log(job, request.user.pk, "Laminated")
    return queues_shown()


@router.post("/queues/cutter/{id}/spoilt", response=QueuesShown, auth=WORK)
def spoilt(request: HttpRequest, id: int, body: SpoiltGiven) -> QueuesShown:
    """Say which pieces of a sheet are no good."""
    sheet, job = _one(Which.CUTTER, id)
    assert isinstance(sheet, models.Sheet)
    goes_on(sheet, lambda value: value.is_spoilt(body.pieces))
    log(job, request.user.pk, f"Spoilt: {', '.join(map(str, sorted(set(body.pieces))))}")
    return queues_shown()


@dataclass(frozen=True)
class CutAgain:
    """The jobs that were begun for what was spoilt."""

    jobs: list[int]


@router.post("/queues/cutter/{id}/cut-again", response=CutAgain, auth=TAKE_IN)
def cut_again(request: HttpRequest, id: int) -> CutAgain:
    """Order again what was spoilt of a sheet and is not yet: so many pieces of each job that lies on it."""
    sheet, job = _one(Which.CUTTER, id)
    assert isinstance(sheet, models.Sheet)
    if not sheet.spoilt:
        raise NotReady("Nothing of this sheet was spoilt.", "Say first which pieces are.")
    fresh = sorted(set(sheet.spoilt) - set(sheet.ordered))
    if not fresh:
        raise NotReady("What was spoilt of this sheet is ordered again already.", "Look at the Desk.")
    wanted: dict[int, int] = {}
    shares = {share.job.name: share.job for share in sheet.release.shared.shares.all()} if sheet.release.shared else {}
    ticket = sheet.release.ticket
    for number in fresh:
        piece = ticket["pieces"][ticket["placements"][number - 1]["piece"]]
        of = shares.get(piece["job"], job)
        wanted[of.pk] = wanted.get(of.pk, 0) + 1
    with transaction.atomic():
        made = [
            begin_again(find(models.Job.objects.all(), pk), count, None, request.user.pk)
            for pk, count in wanted.items()
        ]
        sheet.ordered = sorted({*sheet.ordered, *fresh})
        sheet.save(update_fields=["ordered"])
    return CutAgain([one.pk for one in made])
