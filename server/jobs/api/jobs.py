"""Jobs: taken in, listed, changed, mended, undone, released."""

from dataclasses import dataclass
from datetime import date
from typing import Any

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest
from ninja import File, Form, Router, Schema, UploadedFile
from ninja.errors import HttpError

from horismos.cutting import DEFAULT_TOOLS, Tool
from horismos.errors import HorismosError, StopsOpen
from horismos.intake import kind_of
from horismos.mending import step_from
from horismos.orders import Order
from horismos.sheet import Layout
from horismos.workflow.showing.sheet import ToolShown
from jobs import models
from jobs.api.common import find, find_job, whole
from jobs.showing import JobRow, JobShown, OrderShown, WorkShown, job_row, work_shown
from jobs.store.files import keep
from jobs.store.taking_in import keep_answers, new_job
from jobs.store.works import begin, log, must_rest

__all__ = ["router"]

router = Router()
LAYOUT = ("columns", "gap_mm", "turned")
NAMES = frozenset(["name", "customer", "due"])
"""What can be changed without looking at the job again."""


@dataclass(frozen=True)
class TakenInShown:
    """A job that was begun, or that is known by its content already."""

    job: JobRow
    known: bool


class AnswersGiven(Schema):
    """What a person says about a file; everything may be left open."""

    password: str | None = None
    pages: list[int] | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    unit: str | None = None
    binding: dict[str, str] | None = None
    each_page: bool = False


class JobChange(Schema):
    """What is to be changed of a job; what is not named stays."""

    name: str | None = None
    customer: str | None = None
    due: date | None = None
    order: OrderShown | None = None
    destination: str | None = None
    material: str | None = None
    columns: int | None = None
    gap_mm: float | None = None
    turned: bool | None = None
    tools: list[ToolShown] | None = None


class StepAsked(Schema):
    """A mend with its settings."""

    kind: str
    settings: dict[str, str | float] = {}


@router.get("/jobs", response=list[JobRow])
def jobs(request: HttpRequest) -> list[JobRow]:
    """All jobs, due first."""
    listed = models.Job.objects.select_related("order", "material", "analysis", "revision")
    return [job_row(job) for job in listed.prefetch_related("releases", "works", "decisions")]


@router.post("/jobs", response=TakenInShown)
def take_in(
    request: HttpRequest, file: File[UploadedFile], customer: Form[str] = "", again: Form[bool] = False
) -> TakenInShown:
    """Take in a customer's file as a new job; one that is known by its content is named instead."""
    name = (file.name or "artwork").replace("\\", "/").rsplit("/", 1)[-1][:200]
    if (file.size or 0) > settings.MOST_UPLOAD_BYTES:
        raise HttpError(413, f"{name} is larger than 500 MB. Ask for a smaller file.")
    data = file.read()
    try:
        kind_of(data, name)
    except HorismosError as error:
        raise HttpError(400, f"{name}: {error}") from None
    original = keep(data)
    known = models.Job.objects.filter(original=original).order_by("-id").first()
    if known is not None and not again:
        return TakenInShown(job_row(find_job(known.pk)), True)
    with transaction.atomic():
        job = new_job(name, original, customer.strip()[:200])
        log(job, request.user.pk, f"Took in {name}")
        begin(job, models.WorkKind.TAKE_IN)
    return TakenInShown(job_row(find_job(job.pk)), False)


@router.post("/jobs/{job_id}/answers", response=WorkShown)
def answer(request: HttpRequest, job_id: int, body: AnswersGiven) -> WorkShown:
    """Say what a file leaves open; it is taken in again with that. Bindings are remembered."""
    job = find_job(job_id)
    if not job.original:
        raise HttpError(400, "The job has no file of its own. Drop it again.")
    given: dict[str, object] = body.dict(exclude_unset=True, exclude={"each_page", "password"})
    with transaction.atomic():
        keep_answers(job, request.user.pk, given, body.each_page)
        what = ", ".join(sorted({*given, *(["password"] if body.password else [])}))
        log(job, request.user.pk, f"Answered: {what}")
        work = begin(job, models.WorkKind.TAKE_IN, {"password": body.password} if body.password else {})
    return work_shown(work)


@router.get("/jobs/{job_id}", response=JobShown)
def job(request: HttpRequest, job_id: int) -> JobShown:
    """One job, whole."""
    return whole(request, job_id)


@router.patch("/jobs/{job_id}", response=JobShown)
def change(request: HttpRequest, job_id: int, body: JobChange) -> JobShown:
    """Change the order, the destination, the material, the layout or tool settings."""
    job = find_job(job_id)
    given: dict[str, Any] = body.dict(exclude_unset=True)
    with transaction.atomic():
        for field in NAMES & set(given):
            setattr(job, field, given[field])
        if "destination" in given:
            job.destination = find(models.Destination.objects.all(), given["destination"])
        if "material" in given:
            job.material = find(models.Material.objects.all(), given["material"])
        job.layout = {**job.layout, **{key: given[key] for key in LAYOUT if key in given}}
        Layout(**job.layout)
        job.save()
        if body.order is not None:
            _keep_order(job, given["order"])
        for shown in body.tools or []:
            _keep_tool(job, shown)
        if set(given) - NAMES:
            log(job, request.user.pk, f"Changed {', '.join(sorted(given))}")
            begin(job, models.WorkKind.ANALYSE)
    return whole(request, job_id)


def _keep_order(job: models.Job, given: dict[str, Any]) -> None:
    job.order.data = Order.from_json(given).to_json()
    job.order.save()
    if not job.intake.get("order_kept"):
        job.intake = {**job.intake, "order_kept": True}
        job.save(update_fields=["intake"])
    if job.customer:
        models.Customer.objects.update_or_create(name=job.customer, defaults={"order": job.order.data})


def _keep_tool(job: models.Job, shown: ToolShown) -> None:
    """Keep a setting of the job's own; one that is as shipped is none."""
    values = {name: getattr(shown, name) for name in shown.__dataclass_fields__ if name != "role"}
    tool = Tool(shown.role, **values)
    if tool == DEFAULT_TOOLS[tool.role]:
        job.tools.filter(role=tool.role.value).delete()
    else:
        job.tools.update_or_create(role=tool.role.value, defaults={"data": values})


@router.post("/jobs/{job_id}/mends", response=WorkShown)
def mend(request: HttpRequest, job_id: int, body: StepAsked) -> WorkShown:
    """Carry out a mend as a new revision."""
    job = find_job(job_id)
    must_rest(job)
    step = step_from({"kind": body.kind, **body.settings})
    log(job, request.user.pk, step.label)
    return work_shown(begin(job, models.WorkKind.MEND, {**step.to_json()}))


@router.post("/jobs/{job_id}/undo", response=WorkShown)
def undo(request: HttpRequest, job_id: int) -> WorkShown:
    """Go back to the revision before; the one left stays in the store."""
    job = find_job(job_id)
    must_rest(job)
    if job.revision is None or job.revision.parent is None:
        raise HttpError(400, "There is nothing to undo: this is the file as it came.")
    log(job, request.user.pk, f"Undid revision {job.revision.number}: {job.revision.said}")
    job.revision = job.revision.parent
    job.save(update_fields=["revision"])
    return work_shown(begin(job, models.WorkKind.ANALYSE))


@router.post("/jobs/{job_id}/release", response=WorkShown)
def release(request: HttpRequest, job_id: int) -> WorkShown:
    """Write the package; refused while a stop is open."""
    job = find_job(job_id)
    must_rest(job)
    stops = job_row(job).stops
    if stops:
        raise StopsOpen(f"{stops} stop{'s are' if stops > 1 else ' is'} open.", "Mend them first.")
    log(job, request.user.pk, "Asked for the release")
    return work_shown(begin(job, models.WorkKind.RELEASE))
