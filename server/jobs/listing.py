"""Jobs as the list shows them, from what is kept small of each."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property, partial
from typing import Any

from django.db.models import OuterRef, Q, Subquery
from django.utils import timezone

from horismos.mending import step_from
from horismos.orders import Order
from horismos.words import plural
from horismos.workflow.showing.findings import MendShown, mend_shown
from horismos.workflow.showing.page import DrawnLine
from jobs import models
from jobs.store.drying import is_dry
from jobs.store.summaries import Summary, summary_of
from jobs.store.works import latest_of, steps_of

__all__ = ["GROUPS", "JobRow", "OrderShown", "WorkShown", "job_counts", "job_row", "job_rows", "work_shown"]


@dataclass(frozen=True)
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
    shared: int | None = None
    result: dict[str, Any] | None = None
    code: str = ""
    """The code of the error that it ended with; empty where it did not, or where our own code failed."""
    instead: MendShown | None = None
    """A mend that would have brought a new stop, with what answers that."""


@dataclass(frozen=True)
class OrderShown:
    """An order; None where it says nothing."""

    width_mm: float | None = None
    height_mm: float | None = None
    quantity: int = 1
    roles: list[str] | None = None
    edge: str = "either"
    bleed_mm: float | None = None
    border_mm: float | None = None
    tolerance_mm: float | None = None
    viewing_distance_m: float | None = None
    seen: str = "front"
    material: str | None = None
    white: bool | None = None
    holes: int | None = None


@dataclass(frozen=True)
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
    roles: list[str]
    verdict: str
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


def work_shown(work: models.Work) -> WorkShown:
    """A piece of work."""
    return WorkShown(
        work.pk, work.job_id, models.WorkKind(work.kind), models.WorkState(work.state), work.share, work.what,
        work.error, work.job.version, work.shared_id, work.result, work.code, _instead(work),
    )


def _instead(work: models.Work) -> MendShown | None:
    if work.state != models.WorkState.FAILED or work.kind != models.WorkKind.MEND or "mend" not in work.arguments:
        return None
    then = (work.result or {}).get("then")
    if not then:
        return None
    step, already = steps_of(work.arguments)
    return None if already else replace(mend_shown(step), then=tuple(mend_shown(step_from(one)) for one in then))


def job_row(job: models.Job) -> JobRow:
    """A job as it stands in the list."""
    row = _analysis(job)
    packages = models.Release.objects.filter(Q(job=job) | Q(shared__shares__job=job)).order_by("pk").distinct()
    return _row(_Listed(job, list(packages), latest_of(job)), row.thumb if row else [])


def job_rows(search: str = "", group: str = "all", offset: int = 0, limit: int = 100) -> list[JobRow]:
    """What has just come in, then what is due first, some of a group; as many questions for one job as for all."""
    wanted = [one for one in _listed(search) if GROUPS[group](one)][offset : offset + limit]
    thumbs = dict(models.Analysis.objects.filter(job__in=[one.job for one in wanted]).values_list("job_id", "thumb"))
    return [_row(one, thumbs.get(one.job.pk, [])) for one in wanted]


def job_counts(search: str = "") -> dict[str, int]:
    """How many jobs there are in each group."""
    listed = _listed(search)
    return {name: sum(test(one) for one in listed) for name, test in GROUPS.items()}


def _analysis(job: models.Job) -> models.Analysis | None:
    found: models.Analysis | None = getattr(job, "analysis", None)
    return found


@dataclass(frozen=True, eq=False)
class _Listed:
    """A job with what the list shows beside its own row."""

    job: models.Job
    packages: list[models.Release]
    """What was released of it, alone or on sheets that jobs share, in that order."""
    work: models.Work | None

    @property
    def state(self) -> str:
        """What it needs from a person: one of the groups of the Desk, and no other."""
        if self.job.asks:
            return "asks"
        if self.summary.stops is None:
            row = _analysis(self.job)
            return "stopped" if row is not None and row.error else "coming"
        if self.packages:
            return "released"
        if self.summary.stops or self.summary.sheet_error:
            return "stopped"
        return "to-look-at" if self.summary.looks else "ready"

    @cached_property
    def is_new(self) -> bool:
        """Whether it has just come in and nobody has changed it yet: then it stands above what is due."""
        return self.job.version == 1 and timezone.now() - self.job.created < NEW_FOR

    @cached_property
    def summary(self) -> Summary:
        """What was found on it, without what people let stand."""
        return summary_of(_analysis(self.job), list(self.job.decisions.all()))


def _listed(search: str) -> list[_Listed]:
    """All jobs that fit, without the heavy parts of what was found on them."""
    heavy = [f"analysis__{name}" for name in ("seen", "report", "cards", "sheet", "cut", "plates", "thumb")]
    jobs = models.Job.objects.select_related("order", "material", "revision", "analysis").defer(*heavy, "intake")
    if search:
        jobs = jobs.filter(Q(name__icontains=search) | Q(customer__icontains=search))
    last = models.Work.objects.filter(job=OuterRef("pk"), shared=None).order_by("-pk").values("pk")[:1]
    works = models.Work.objects.filter(pk__in=models.Job.objects.annotate(last=Subquery(last)).values("last"))
    latest = {work.job_id: work for work in works.select_related("job")}
    packages: dict[int, list[models.Release]] = {}
    for made in models.Release.objects.order_by("pk").defer("files", "plates"):
        packages.setdefault(made.job_id, []).append(made)
    shared = models.Share.objects.filter(sheet__releases__isnull=False).values_list("job_id", "sheet_id").distinct()
    on_sheet: dict[int, list[models.Release]] = {}
    for made in (made for of in list(packages.values()) for made in of):
        if made.shared_id is not None:
            on_sheet.setdefault(made.shared_id, []).append(made)
    for job_id, sheet_id in shared:
        own = packages.setdefault(job_id, [])
        own += [made for made in on_sheet.get(sheet_id, []) if made not in own]
    listed = [
        _Listed(job, packages.get(job.pk, []), latest.get(job.pk)) for job in jobs.prefetch_related("decisions")
    ]
    return sorted(listed, key=lambda one: -one.job.created.timestamp() if one.is_new else 0.0)


NEW_FOR = timedelta(minutes=10)
"""[ours] so long what has come in stands on top of the Desk."""


def _is_in(name: str, one: _Listed) -> bool:
    return one.state == name


STATES = ("asks", "coming", "stopped", "to-look-at", "ready", "released")
GROUPS: dict[str, Callable[[_Listed], bool]] = {
    "all": lambda one: True, **{name: partial(_is_in, name) for name in STATES},
}
"""The groups of the Desk: a job is in one of them and no other, so that they add up."""


def _row(one: _Listed, thumb: list[dict[str, Any]]) -> JobRow:
    job, row, summary = one.job, _analysis(one.job), one.summary
    return JobRow(
        id=job.pk, version=job.version, name=job.name, customer=job.customer, due=job.due,
        order=OrderShown(**Order.from_json(job.order.data).to_json()), material=job.material.title,
        roles=list(summary.roles), verdict=summary.verdict, stops=summary.stops, looks=summary.looks,
        reached=_reached(one), holds=_holds(one), size_mm=list(summary.size_mm),
        has_picture=bool(row and row.art_sha256), asks=len(job.asks), art_sha256=row.art_sha256 if row else "",
        media_box_mm=list(summary.media_box_mm), drawn=[DrawnLine(**line) for line in thumb],
        work=work_shown(one.work) if one.work else None, new=one.is_new,
    )


def _reached(one: _Listed) -> int:
    if one.summary.stops is None:
        return 0
    if one.packages:
        return 5
    return 1 if one.summary.stops else 2 if one.summary.sheet_error else 4


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
    if made.rip_state == models.RipState.REFUSED:
        return f"The RIP refused it: {made.rip_refused}"
    if makes != "cut" and made.printed is None:
        return "Released; print it"
    if makes == "print":
        return "Printed"
    if makes == "both" and not is_dry(made):
        return "Printed; wait until it is dry, then cut"
    return "Ready to cut"
