"""Mends: carried out, looked at beforehand, undone; the history of revisions; what lies at a place."""

from typing import Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema

from horismos.errors import NothingToDo
from horismos.mending import Step, step_from
from horismos.workflow.mend import safe_steps
from horismos.workflow.showing.findings import MendShown
from horismos.workflow.showing.pointed import ThingShown
from jobs import models
from jobs.api.bodies import Change, MendGiven, SafeAsked, StepAsked
from jobs.api.common import find_job, job_response, same_revision
from jobs.api.pictures import Place
from jobs.api.wants import EDIT_SHELF, WORK
from jobs.listing import WorkShown, work_shown
from jobs.showing import JobShown, habit_shown
from jobs.store.analyses import found_of
from jobs.store.changing import changing
from jobs.store.children import run_step
from jobs.store.decisions import decisions_of
from jobs.store.queue import arguments_of, begin, require_idle
from jobs.store.recipes import say_always
from jobs.store.snapshots import read_job
from jobs.store.taking_in import follow_back

__all__ = ["router"]

router = Router()
MOST_WITHIN_MM = 50.0


def _step(given: MendGiven) -> Step:
    return step_from({**given.settings, "mend": given.kind})


@router.post("/jobs/{job_id}/mends", response=WorkShown, auth=WORK)
def mend(request: HttpRequest, job_id: int, body: StepAsked) -> WorkShown:
    """Carry out a mend as a new revision."""
    step, then = _step(body), [_step(one) for one in body.then]
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        same_revision(change.job, body.revision)
        change.done(step.label)
        return work_shown(begin(change.job, models.WorkKind.MEND, arguments_of(step, then)))


@router.post("/jobs/{job_id}/mends/safe", response=WorkShown, auth=WORK)
def mend_safely(request: HttpRequest, job_id: int, body: SafeAsked) -> WorkShown:
    """Carry out every mend that needs no decision as one new revision."""
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        same_revision(change.job, body.revision)
        report = found_of(change.job).report
        if report is None or not safe_steps(report, decisions_of(change.job)):
            raise NothingToDo("Nothing can be mended without a person.", "Look at the findings one by one.")
        change.done("Mend all that is safe")
        return work_shown(begin(change.job, models.WorkKind.MEND, {"safe": True}))


@router.post("/jobs/{job_id}/mends/as-before", response=WorkShown, auth=WORK)
def mend_as_before(request: HttpRequest, job_id: int, body: SafeAsked) -> WorkShown:
    """Carry out what the customer's files were given before, as far as this one wants it, as one new revision."""
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        same_revision(change.job, body.revision)
        habit = habit_shown(change.job)
        if habit is None:
            raise NothingToDo("Nothing is left to be done as before.", "Look at the findings one by one.")
        change.done(f"Mend as “{habit.job.name}” was")
        return work_shown(begin(change.job, models.WorkKind.MEND, {"recipe": habit.recipe.to_json()}))


class AlwaysAsked(Schema):
    """Whether what people have done alike to a customer's files is always to be done, or never to be offered again."""

    take: bool


@router.post("/jobs/{job_id}/always", response=JobShown, auth=EDIT_SHELF)
def always(request: HttpRequest, job_id: int, body: AlwaysAsked) -> JobShown:
    """Make a habit of what the customer's files were given alike: a recipe on the customer's page; or decline it."""
    job = find_job(job_id)
    with transaction.atomic():
        say_always(job.customer, body.take, request.user.pk)
    return job_response(request, job_id)


@router.post("/jobs/{job_id}/undo", response=WorkShown, auth=WORK)
def undo(request: HttpRequest, job_id: int, body: Change) -> WorkShown:
    """Go back to the revision before; the one left stays in the store."""
    with changing(job_id, body.version, request.user.pk) as change:
        job = change.job
        require_idle(job)
        if job.revision is None or job.revision.parent is None:
            raise NothingToDo("There is nothing to undo: this is the file as it came.")
        left, job.revision = job.revision, job.revision.parent
        job.save(update_fields=["revision"])
        follow_back(job, left)
        change.done(f"Undid revision {left.number}: {left.said}")
        return work_shown(begin(job, models.WorkKind.ANALYSE))


@router.post("/jobs/{job_id}/previews", response=WorkShown, auth=WORK)
def preview(request: HttpRequest, job_id: int, body: StepAsked) -> WorkShown:
    """Carry out a mend to be looked at; the job stays as it is. Its picture is had by the content that it gives."""
    step, then = _step(body), [_step(one) for one in body.then]
    job = find_job(job_id)
    same_revision(job, body.revision)
    return work_shown(begin(job, models.WorkKind.PREVIEW, arguments_of(step, then)))


@router.post("/jobs/{job_id}/revisions/{number}/take", response=WorkShown, auth=WORK)
def take(request: HttpRequest, job_id: int, number: int, body: Change) -> WorkShown:
    """Go back, or on, to any revision; the next mend begins a branch of its own there."""
    with changing(job_id, body.version, request.user.pk) as change:
        job = change.job
        require_idle(job)
        found = job.revisions.filter(number=number).first()
        if found is None or found == job.revision:
            what = f"Revision {number} is the one that counts" if found else f"There is no revision {number}"
            raise NothingToDo(f"{what}.", "Look at the history again.")
        job.revision = found
        job.save(update_fields=["revision"])
        change.done(f"Went to revision {number}: {found.said or 'as it came'}")
        return work_shown(begin(job, models.WorkKind.ANALYSE))


@router.get("/jobs/{job_id}/at", response=list[ThingShown])
def objects_at_point(request: HttpRequest, job_id: int, x: Place, y: Place, within: float = 0.5) -> list[ThingShown]:
    """What lies at a place in mm, the topmost first, with what can be done with just that."""
    job = read_job(job_id)
    near = min(max(within, 0.01), MOST_WITHIN_MM)
    found = run_step("job:pointed", job.case, (x, y), near, key=job.pool_key, what="Looking what lies there")
    return [_thing(one) for one in found]


def _thing(plain: dict[str, Any]) -> ThingShown:
    mends = tuple(MendShown(**{**mend, "then": tuple(mend["then"])}) for mend in plain["mends"])
    return ThingShown(**{**plain, "box": tuple(plain["box"]), "mends": mends})
