"""Jobs as the list shows them, from what is kept small of each."""

from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, fields, replace
from datetime import date, timedelta
from functools import cached_property, reduce
from operator import or_
from typing import Any

from django.db.models import Case, Count, DateTimeField, F, IntegerField, Q, QuerySet, Value, When
from django.utils import timezone

from horismos.checking import Verdict
from horismos.errors import BadValue
from horismos.mending import step_from
from horismos.orders import Edge, Laminate, Order, Seen
from horismos.roles import LineRole
from horismos.words import plural
from horismos.workflow.floor import SheetStage, Wait
from horismos.workflow.showing.findings import MendShown, mend_shown
from horismos.workflow.showing.page import DrawnLine
from jobs import models
from jobs.store.corrected import names_of_likes
from jobs.store.floor import current_sheet, print_stage, turn_of_cut, turn_of_print, waits_for
from jobs.store.job_state import packages_of
from jobs.store.queue import latest_of, latest_of_all, steps_of
from jobs.store.snapshots import ROWS
from jobs.store.summaries import Summary, summary_of

__all__ = ["JobRow", "LikeShown", "OrderShown", "WorkShown", "job_counts", "job_row", "job_rows", "work_shown"]


@dataclass(frozen=True, kw_only=True)
class WorkShown:
    """A piece of work."""

    id: int
    job_id: int
    kind: models.WorkKind
    state: models.WorkState
    share: float
    what: str
    error: str
    job_version: int
    stamp: int
    """Higher the later it has begun, ended or shown something."""
    shared: int | None = None
    result: dict[str, Any] | None = None
    code: str = ""
    """The code of the error that it ended with; empty where it did not, or where our own code failed."""
    instead: MendShown | None = None
    """A mend that would have brought a new stop, with what answers that."""


@dataclass(frozen=True, kw_only=True)
class OrderShown:
    """An order; None where it says nothing."""

    width_mm: float | None = None
    height_mm: float | None = None
    quantity: int = 1
    roles: list[LineRole] | None = None
    edge: Edge = Edge.EITHER
    bleed_mm: float | None = None
    border_mm: float | None = None
    tolerance_mm: float | None = None
    viewing_distance_m: float | None = None
    seen: Seen = Seen.FRONT
    material: str | None = None
    white: bool | None = None
    holes: int | None = None
    laminate: Laminate | None = None


@dataclass(frozen=True)
class LikeShown:
    """An open job of the same customer, of which this one's file may be a correction."""

    id: int
    name: str


@dataclass(frozen=True, kw_only=True)
class JobRow:
    """A job as it stands in the list. ``verdict`` is empty and the counts None while it was never checked.

    ``holds`` is the one thing that holds it up, in words; ``reached`` counts the stations that are done.
    """

    id: int
    version: int
    name: str
    customer: str
    due: date | None
    order: OrderShown
    material: str
    roles: list[LineRole]
    verdict: Verdict | None
    stops: int | None
    looks: int | None
    reached: int
    holds: str
    size_mm: list[float]
    has_picture: bool
    asks: int
    art_sha256: str
    media_box_mm: list[float]
    drawn: list[DrawnLine]
    work: WorkShown | None
    new: bool
    """It has just come in, and nobody has changed it yet."""
    state: models.JobState
    did: list[str]
    """What was mended by itself and stands, in words."""
    like: LikeShown | None


def work_shown(work: models.Work) -> WorkShown:
    """A piece of work."""
    return WorkShown(
        id=work.pk, job_id=work.job_id, kind=models.WorkKind(work.kind), state=models.WorkState(work.state),
        share=work.share, what=work.what, error=work.error, job_version=work.job.version, stamp=work.stamp,
        shared=work.shared_id, result=work.result, code=work.code, instead=_instead(work)
    )


def _instead(work: models.Work) -> MendShown | None:
    if work.state != models.WorkState.FAILED or work.kind != models.WorkKind.MEND or "mend" not in work.arguments:
        return None
    then = (work.result or {}).get("then")
    if not then:
        return None
    step, already = steps_of(work.arguments)
    return None if already else replace(mend_shown(step), then=tuple(mend_shown(step_from(one)) for one in then))


NEW_FOR = timedelta(minutes=10)
"""[ours] so long what has come in stands on top of the Desk."""
WORST_FIRST = [
    models.JobState.UNREADABLE, models.JobState.ANSWER, models.JobState.LETTER, models.JobState.MEND,
    models.JobState.LOOK, models.JobState.COMING, models.JobState.READY, models.JobState.RELEASED,
]
"""[ours] how what has just come in is put: first what nothing can be done with before somebody has answered."""
HEAVY = [f"analysis__{name}" for name in ("seen", "report", "cards", "sheet", "cut", "more", "plates")]
"""What was found on a job and no list shows."""


def job_row(job: models.Job) -> JobRow:
    """A job as it stands in the list."""
    return _row(_Listed(job, list(packages_of(job)), latest_of(job), names_of_likes([job])))


def job_rows(
    search: str = "", state: models.JobState | None = None, offset: int = 0, limit: int = 100,
    customer: str | None = None,
) -> list[JobRow]:
    """What has just come in, the worst first, then what is due first; of one customer the latest first.

    There are as many questions to the database for one job as for many.
    """
    new = Q(version=1, created__gt=timezone.now() - NEW_FOR)
    jobs = _found(search, customer)
    if state is not None:
        jobs = jobs.filter(state=state)
    worst = [When(new & Q(state=state), then=Value(rank)) for rank, state in enumerate(WORST_FIRST)]
    order: tuple[Any, ...] = (
        Case(*worst, default=Value(len(WORST_FIRST)), output_field=IntegerField()), F("due").asc(nulls_last=True),
        Case(When(new, then=F("created")), output_field=DateTimeField()).desc(nulls_last=True), "id",
    )
    if customer is not None:
        order = (F("pk").desc(),)
    # what is put in order are numbers alone: ten thousand whole rows would be carried about for sixty
    numbers = list(jobs.order_by(*order).values_list("pk", flat=True)[offset : offset + limit])
    rows = models.Job.objects.filter(pk__in=numbers).select_related(*ROWS).defer(*HEAVY, "intake")
    known = {job.pk: job for job in rows.prefetch_related("decisions")}
    page = [known[number] for number in numbers if number in known]
    works, packages, likes = latest_of_all(numbers), _packages(numbers), names_of_likes(page)
    return [_row(_Listed(job, packages.get(job.pk, []), works.get(job.pk), likes)) for job in page]


def job_counts(search: str = "", customer: str | None = None) -> dict[str, int]:
    """How many jobs need what, by state; all of them under ``all``."""
    found = dict(_found(search, customer).order_by().values_list("state").annotate(Count("pk")))
    return {"all": sum(found.values()), **{state.value: found.get(state.value, 0) for state in models.JobState}}


def _found(search: str, customer: str | None = None) -> QuerySet[models.Job]:
    jobs = models.Job.objects.all() if customer is None else models.Job.objects.filter(customer=customer)
    if not search:
        return jobs
    where = ("name", "customer", "original_name", "found_by")
    return jobs.filter(reduce(or_, (Q(**{f"{column}__icontains": search}) for column in where)))


def _packages(jobs: Sequence[int]) -> dict[int, list[models.Release]]:
    """What was released of each of these jobs, alone or on sheets that jobs share, in that order."""
    shares = models.Share.objects.filter(job__in=jobs, sheet__releases__isnull=False).distinct()
    on_sheet: dict[int, set[int]] = {}
    for job_id, sheet_id in shares.values_list("job_id", "sheet_id"):
        on_sheet.setdefault(sheet_id, set()).add(job_id)
    found: dict[int, list[models.Release]] = {}
    made = models.Release.objects.filter(Q(job__in=jobs) | Q(shared__in=on_sheet)).defer("files", "plates")
    for one in made.order_by("pk"):
        for job_id in {one.job_id, *on_sheet.get(one.shared_id or 0, ())}:
            found.setdefault(job_id, []).append(one)
    return found


def _analysis(job: models.Job) -> models.Analysis | None:
    found: models.Analysis | None = getattr(job, "analysis", None)
    return found


@dataclass(frozen=True, eq=False)
class _Listed:
    """A job with what the list shows beside its own row."""

    job: models.Job
    packages: list[models.Release]
    work: models.Work | None
    likes: Mapping[int, str]

    @property
    def is_new(self) -> bool:
        """Whether it has just come in and nobody has changed it yet: then it stands above what is due."""
        return self.job.version == 1 and timezone.now() - self.job.created < NEW_FOR

    @cached_property
    def summary(self) -> Summary:
        """What was found on it, without what people let stand."""
        return summary_of(_analysis(self.job), list(self.job.decisions.all()))


def _row(one: _Listed) -> JobRow:
    job, row, summary = one.job, _analysis(one.job), one.summary
    return JobRow(
        id=job.pk, version=job.version, name=job.name, customer=job.customer, due=job.due,
        order=_order(Order.from_json(job.order.data)), material=job.material.title,
        roles=[LineRole(role) for role in summary.roles], verdict=Verdict(job.verdict) if job.verdict else None,
        stops=job.stops, looks=job.looks, reached=job.station, holds=_holds(one), size_mm=list(summary.size_mm),
        has_picture=bool(row and row.art_sha256), asks=len(job.asks), art_sha256=row.art_sha256 if row else "",
        media_box_mm=list(summary.media_box_mm),
        drawn=[DrawnLine(**line) for line in row.thumb] if row else [],
        work=work_shown(one.work) if one.work else None, new=one.is_new, state=models.JobState(job.state),
        did=_did(job.revision),
        like=LikeShown(job.like_id, one.likes[job.like_id]) if job.like_id and job.like_id in one.likes else None,
    )


def _did(revision: models.Revision | None) -> list[str]:
    """What made the revision that counts, where no person has asked for it."""
    if revision is None or not revision.by_itself:
        return []
    labels: dict[str, None] = {}
    for one in revision.steps:
        with suppress(BadValue):  # a mend of before that is none any more
            labels[step_from(one).label] = None
    return list(labels)


def _order(order: Order) -> OrderShown:
    said = {one.name: getattr(order, one.name) for one in fields(OrderShown)}
    return OrderShown(**{**said, "roles": None if order.roles is None else list(order.roles)})


LOOKS = [models.WorkKind.TAKE_IN, models.WorkKind.ANALYSE, models.WorkKind.MEND]
"""Work that ends with looking at the job."""


def _holds(one: _Listed) -> str:
    """The one thing that holds a job up, in words."""
    row, work, summary = _analysis(one.job), one.work, one.summary
    if one.job.asks:
        return str(one.job.asks[0]["words"])
    stopped = work is not None and work.state == models.WorkState.CANCELLED
    if row is None or not row.key:
        return "Taking in was stopped; take the file in again" if stopped else "Waiting to be checked"
    if row.error:
        return row.error
    if stopped and work is not None and work.kind in LOOKS and row.when < work.created:
        return "The check was stopped; what is found is from before the last change"
    if one.packages:
        return _after_release(one.packages)
    if summary.stop:
        return summary.stop
    if summary.open:
        return summary.open
    if summary.sheet_error:
        return summary.sheet_error
    if summary.looks:
        which = "it" if summary.looks == 1 else "them"
        return f"To look at: {plural(summary.looks, 'finding')}. Accept or mend {which}"
    return "Ready to release"


def _after_release(packages: Sequence[models.Release]) -> str:
    """What comes next for a job that was released: the last of its packages tells."""
    made = packages[-1]
    makes = made.ticket.get("makes", "both")
    ended = {
        models.RipState.REFUSED: f"The RIP refused it: {made.rip_refused}",
        models.RipState.FAILED: f"Its print failed: {made.rip_refused}", models.RipState.CANCELLED: "Print cancelled",
        models.RipState.PRINTING: "Being printed",
    }
    stage = print_stage(made)
    if stage in ended:
        return ended[stage]
    if makes != "cut" and stage == models.RipState.WAITING:
        turn = turn_of_print(made)
        return "Held before the RIP" if turn is None else f"Released; print it: {_turn(turn)} at the RIP"
    if makes == "print":
        return "Printed"
    sheet = current_sheet(made)
    return "Ready to cut" if sheet is None else _at_the_cutter(sheet)


def _turn(turn: int) -> str:
    return "next" if turn == 1 else f"number {turn}"


def _at_the_cutter(sheet: models.Sheet) -> str:
    """What comes next for a sheet that is printed."""
    stage, waits = SheetStage(sheet.stage), waits_for(sheet)
    if sheet.refused:
        return f"Its cut cannot follow its print: {sheet.refused}"
    if stage is SheetStage.CUT:
        spoilt = len(sheet.spoilt)
        return f"Cut; {plural(spoilt, 'piece')} spoilt" if spoilt else "Cut"
    said = {
        SheetStage.CANCELLED: "Cut cancelled", SheetStage.LOADED: "In the cutter", SheetStage.CUTTING: "Being cut",
        SheetStage.STOPPED: "Its cut has stopped", SheetStage.HALF_CUT: "Partly cut; load it again",
    }
    if stage in said:
        return said[stage]
    if sheet.held:
        return "Held before the cutter"
    if waits is Wait.LAMINATING:
        return "Printed; laminate it, then cut"
    if waits is Wait.DRYING:
        return "Printed; wait until it is dry, then cut"
    return f"Ready to cut: {_turn(turn_of_cut(sheet) or 1)} at the cutter"
