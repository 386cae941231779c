"""Jobs: taken in, listed, changed, mended, undone, released."""

from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest
from ninja import File, Router, UploadedFile
from ninja.errors import HttpError
from ninja.params import functions as given_by
from ninja.params.functions import Query

from horismos.cutting import Tool
from horismos.errors import BadValue, CannotRead, HorismosError, NothingToDo, NotReady, StopsOpen
from horismos.orders import Order
from horismos.workflow.showing.sheet import ToolShown
from jobs import models
from jobs.api.bodies import AnswersGiven, Change, JobChange, NestAsked, ReleaseAsked
from jobs.api.common import find_job, job_response, same_revision
from jobs.api.wants import RELEASE, TAKE_IN, TAKE_IN_OR_WORK, WORK, refused
from jobs.listing import JobRow, WorkShown, job_counts, job_row, job_rows, work_shown
from jobs.showing import JobShown
from jobs.store.analyses import found_of, made_before, queue_outdated
from jobs.store.arriving import arrive, safe_file_name
from jobs.store.changing import changing
from jobs.store.children import run_step
from jobs.store.files import content_of
from jobs.store.kept import newer_than_kept
from jobs.store.layouts import changed_layout, layout_begun, words_of_change
from jobs.store.letters import answered_by_file
from jobs.store.log import log
from jobs.store.queue import begin, require_idle, under_way
from jobs.store.rights import Right, holds
from jobs.store.shelf import destination_called, material_called
from jobs.store.snapshots import snapshot_of
from jobs.store.taking_in import keep_answers, replace_file, unlocked
from jobs.store.uploads import kept

__all__ = ["router"]

router = Router()
MOST_ROWS = 10_000_000
NAMES = frozenset(["name", "customer", "due"])
"""What can be changed without looking at the job again."""
WORDS = {"due": "the date", **{n: f"the {n}" for n in (
    "name", "customer", "destination", "material", "tools",
)}}
"""What the fields are called where a change is told of."""


@dataclass(frozen=True)
class TakenInShown:
    """A job that was begun, or that is known by its content already."""

    job: JobRow
    known: bool


@router.get("/jobs", response=list[JobRow])
def jobs(
    request: HttpRequest, search: str = Query("", max_length=200), group: str = Query("all", max_length=20),
    offset: int = Query(0, ge=0, le=MOST_ROWS), limit: int = Query(100, ge=1, le=200),
    customer: str | None = Query(None, max_length=200),
) -> list[JobRow]:
    """Jobs, due first, a page at a time: those of a group in which anything that they are found by holds the search.

    Of one ``customer``, by the whole name, the latest come first.
    """
    known = group in models.JobState.values
    return job_rows(search.strip(), models.JobState(group) if known else None, offset, limit, customer)


@router.get("/jobs/counts", response=dict[str, int])
def counts(request: HttpRequest, search: str = Query("", max_length=200)) -> dict[str, int]:
    """How many jobs there are in each group."""
    return job_counts(search.strip())


@router.post("/jobs", response=TakenInShown, auth=TAKE_IN)
def take_in(
    request: HttpRequest, file: File[UploadedFile],
    customer: str = given_by.Form("", max_length=200, pattern=r"^[^\x00-\x1f]*$"), again: bool = given_by.Form(False),
) -> TakenInShown:
    """Take in a customer's file as a new job; one that is known by its content is named instead."""
    name = safe_file_name(file.name or "artwork")
    original = kept(file)
    try:
        arrived = arrive(name, original, customer, request.user.pk, again)
    except CannotRead as error:
        raise HttpError(400, f"{name}: {error}") from None
    return TakenInShown(job_row(find_job(arrived.job.pk)), arrived.known)


@router.post("/jobs/{job_id}/file", response=WorkShown, auth=TAKE_IN)
def replace(
    request: HttpRequest, job_id: int, file: File[UploadedFile], version: int = given_by.Form(..., ge=1),
) -> WorkShown:
    """Let a job have another file of its customer; lines that were made of the old one are made anew of it."""
    name = safe_file_name(file.name or "artwork")
    original = kept(file)
    try:
        run_step("job:kind", content_of(original), name, key=original, what="Telling what the file is")
    except HorismosError as error:
        raise HttpError(400, f"{name}: {error}") from None
    with changing(job_id, version, request.user.pk) as change:
        require_idle(change.job)
        if change.job.original == original:
            raise NothingToDo("It is the file that the job has already.")
        replace_file(change.job, name, original, made_before(found_of(change.job).seen))
        answered_by_file(change.job, name, request.user.pk)
        change.done(f"Another file: {name}")
        return work_shown(begin(change.job, models.WorkKind.TAKE_IN))


@router.post("/jobs/{job_id}/answers", response=WorkShown, auth=TAKE_IN)
def answer(request: HttpRequest, job_id: int, body: AnswersGiven) -> WorkShown:
    """Say what a file leaves open; it is taken in again with that. Bindings are remembered, passwords are not."""
    seen = find_job(job_id)
    if not seen.original:
        raise NotReady("The job has no file of its own.", "Drop it again.")
    opened = unlocked(seen, body.password) if body.password else ""
    given = body.dict(exclude_unset=True, exclude={"version", "each_page", "password"})
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        keep_answers(change.job, request.user.pk, given, body.each_page, opened)
        change.done(f"Answered: {', '.join(sorted({*given, *(['password'] if opened else [])}))}")
        return work_shown(begin(change.job, models.WorkKind.TAKE_IN))


@router.get("/jobs/{job_id}", response=JobShown)
def job(request: HttpRequest, job_id: int) -> JobShown:
    """One job, whole."""
    queue_outdated(job_id)
    return job_response(request, job_id)


@router.patch("/jobs/{job_id}", response=JobShown, auth=TAKE_IN_OR_WORK)
def change(request: HttpRequest, job_id: int, body: JobChange) -> JobShown:
    """Change the order, the destination, the material, the layout or tool settings."""
    given = body.named
    if set(given) - NAMES - {"version", "order"} and not holds(request.user, Right.WORK):
        raise refused(Right.WORK)
    with changing(job_id, body.version, request.user.pk) as change:
        job = change.job
        differs = _differs(job, given)
        for field in NAMES & set(given):
            setattr(job, field, given[field])
        if "destination" in given:
            was, job.destination_id = job.destination_id, destination_called(given["destination"]).id
            job.layout = layout_begun(job.destination_id, job.layout, was)
        if "material" in given:
            job.material_id = material_called(given["material"]).id
        if {"destination", "material"} & set(given):
            job.kept = {}  # what it was released with is another thing
        job.layout = changed_layout(job.layout, given)
        job.save(update_fields=[*NAMES, "destination", "material", "layout", "kept"])
        if "order" in given:
            _keep_order(job, body.order)
        for shown in body.tools:
            _keep_tool(job, shown)
        if differs:
            change.done(f"Changed {', '.join(differs)}")
        if set(given) - NAMES - {"version"}:
            begin(job, models.WorkKind.ANALYSE)
    return job_response(request, job_id)


@router.post("/jobs/{job_id}/shelf", response=JobShown, auth=WORK)
def take_newer(request: HttpRequest, job_id: int, body: Change) -> JobShown:
    """Let a released job go by the Shelf as it is now, and no more as it was at its release."""
    with changing(job_id, body.version, request.user.pk) as change:
        newer = newer_than_kept(change.job)
        if not newer:
            raise NothingToDo("The job goes by the Shelf as it is.")
        change.job.kept = {}
        change.job.save(update_fields=["kept"])
        change.done(f"Goes by what is newer on the Shelf: {', '.join(one.title for one in newer)}")
        begin(change.job, models.WorkKind.ANALYSE)
    return job_response(request, job_id)


@router.post("/jobs/{job_id}/nest", response=WorkShown, auth=WORK)
def nest(request: HttpRequest, job_id: int, body: NestAsked) -> WorkShown:
    """Nest the copies of a job by their cut outline."""
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        change.done(f"Nest the copies, turned {body.turn.value}")
        asked: dict[str, object] = {"turn": body.turn.value, "gap_mm": body.gap_mm, "seconds": body.seconds}
        return work_shown(begin(change.job, models.WorkKind.NEST, asked))


def _differs(job: models.Job, given: dict[str, Any]) -> list[str]:
    """What of a change is one, in words: a form sends all its fields, those too that nobody has touched."""
    before: dict[str, Any] = {
        **{name: getattr(job, name) for name in NAMES}, "destination": job.destination_id, "material": job.material_id,
    }
    out = [WORDS[name] for name in before if name in given and given[name] != before[name] and WORDS[name]]
    out += words_of_change(job.layout, given)
    if "order" in given:
        old, new = Order.from_json(job.order.data).to_json(), given["order"].to_json()
        for key in sorted({*old, *new}):
            if old.get(key) != new.get(key):
                word = key.removesuffix("_mm").removesuffix("_m").replace("_", " ")
                out.append(f"the order’s {word} from {_said(old.get(key))} to {_said(new.get(key))}")
    return [*out, *([WORDS["tools"]] if given.get("tools") else [])]


def _said(value: Any) -> str:
    if value is None:
        return "nothing"
    return ", ".join(map(str, value)) if isinstance(value, list) else str(value)


def _keep_order(job: models.Job, order: Order) -> None:
    job.order.data = order.to_json()
    job.order.save(update_fields=["data"])
    if not job.intake.get("order_kept"):
        job.intake = {**job.intake, "order_kept": True}
        job.save(update_fields=["intake"])
    if job.customer:
        models.Customer.objects.update_or_create(name=job.customer, defaults={"order": job.order.data})


def _keep_tool(job: models.Job, shown: ToolShown) -> None:
    """Keep a setting of the job's own; one that is as the shop's, or as shipped, is none."""
    values = {name: getattr(shown, name) for name in shown.__dataclass_fields__ if name != "role"}
    tool = Tool(role=shown.role, **values)
    cutter = snapshot_of(job).destination.cutter
    if not cutter.gives(tool.sent_gf):
        raise BadValue(
            f"{cutter.title} gives {cutter.least_gf:g} to {cutter.most_gf:g} gf, not {tool.sent_gf:g}.",
            "Give a force between, or cut in several passes.",
        )
    if tool == snapshot_of(job).default_tools[tool.role]:
        job.tools.filter(role=tool.role.value).delete()
    else:
        job.tools.update_or_create(role=tool.role.value, defaults={"data": values})


@router.post("/jobs/{job_id}/release", response=WorkShown, auth=RELEASE)
def release(request: HttpRequest, job_id: int, body: ReleaseAsked) -> WorkShown:
    """Write the package of the revision by the report that the person saw; refused while a stop is open."""
    with changing(job_id, body.version, request.user.pk) as change:
        job = change.job
        require_idle(job)
        same_revision(job, body.revision)
        now, row = snapshot_of(job), job_row(job)
        if not body.found == now.analysis_key == found_of(job).key:
            said = "The report that you saw is not about the job as it stands now."
            raise NotReady(said, "Wait for the check, and look again.")
        if row.stops:
            raise StopsOpen(f"{row.stops} stop{'s are' if row.stops > 1 else ' is'} open.", "Mend them first.")
        key = now.package_key
        if job.releases.filter(key=key).exists() or under_way(job, models.WorkKind.RELEASE, key=key):
            raise NothingToDo("Just this was released already.", "It lies on the Bench.")
        log(job, request.user.pk, "Asked for the release")
        return work_shown(begin(job, models.WorkKind.RELEASE, {
            "key": key, "version": job.version, "also": body.also,
        }))
