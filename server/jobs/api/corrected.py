"""Corrected files and repeated orders: laid over, done again, ordered again."""

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from horismos.errors import NothingToDo
from horismos.mending import Recipe, step_from
from jobs import models
from jobs.api.bodies import Change, RepeatAsked
from jobs.api.common import find_job, same_revision
from jobs.api.wants import TAKE_IN, WORK
from jobs.listing import JobRow, WorkShown, job_row, work_shown
from jobs.store.again import begin_again
from jobs.store.analyses import found_of, made_before
from jobs.store.changing import changing
from jobs.store.corrected import lay_over, redone
from jobs.store.job_state import refresh
from jobs.store.queue import begin, require_idle

__all__ = ["router"]

router = Router()


class LikeSaid(Change):
    """Whether a file is the corrected one of the job that it looks like, or a job of its own."""

    take: bool


class RedoAsked(Change):
    """Which of the steps that the file before was given, by their places in the list, on the revision now."""

    revision: Annotated[int, Field(ge=0)]
    steps: Annotated[list[Annotated[int, Field(ge=0, le=10_000)]], Field(min_length=1, max_length=100)]


@router.post("/jobs/{job_id}/like", response=JobRow, auth=TAKE_IN)
def say_like(request: HttpRequest, job_id: int, body: LikeSaid) -> JobRow:
    """Lay a file over the job that it is the corrected one of, which is answered; or let it be a job of its own."""
    with transaction.atomic():
        with changing(job_id, body.version, request.user.pk) as change:
            job = change.job
            if job.like_id is None:
                raise NothingToDo("It is a job of its own already.", "Look at the Desk.")
            other = find_job(job.like_id)
            if body.take:
                lay_over(job, other, made_before(found_of(other).seen), request.user.pk)
            else:
                job.like = None
                job.save(update_fields=["like"])
                change.done(f"Is a job of its own, and no correction of “{other.name}”")
        if body.take:
            refresh([other.pk])
    return job_row(find_job(other.pk if body.take else job_id))


@router.post("/jobs/{job_id}/redo", response=WorkShown, auth=WORK)
def redo(request: HttpRequest, job_id: int, body: RedoAsked) -> WorkShown:
    """Do on a corrected file what was done by hand on the one before; each step is proved, or left out and said."""
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        same_revision(change.job, body.revision)
        steps = [step_from(step) for step in redone(change.job, body.steps)]
        change.done(f"As on the file before: {', '.join(step.label for step in steps)}")
        recipe = Recipe("as on the file before", 1, tuple(steps))
        return work_shown(begin(change.job, models.WorkKind.MEND, {"recipe": recipe.to_json()}))


@router.post("/jobs/{job_id}/repeat", response=JobRow, auth=TAKE_IN)
def repeat(request: HttpRequest, job_id: int, body: RepeatAsked) -> JobRow:
    """A repeat order: a new job with the artwork, lines, tools, layout and stack of this one, so many copies."""
    with transaction.atomic():
        job = begin_again(find_job(job_id), body.quantity, body.due, request.user.pk)
    return job_row(find_job(job.pk))
