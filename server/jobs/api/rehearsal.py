"""Rehearsals: a job as it stands printed, loaded and cut so many times on the simulated machines."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.errors import HttpError
from pydantic import Field

from horismos.errors import NotReady
from jobs import models
from jobs.api.bodies import Change
from jobs.api.common import find_job, picture
from jobs.api.wants import WORK
from jobs.listing import WorkShown, work_shown
from jobs.store.analyses import found_of
from jobs.store.changing import changing
from jobs.store.files import load
from jobs.store.queue import begin, require_idle

__all__ = ["router"]

router = Router()


class RehearsalAsked(Change):
    """So many loads, drawn from a seed."""

    loads: Annotated[int, Field(ge=1, le=2_000)] = 200
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1


@router.post("/jobs/{job_id}/rehearse", response=WorkShown, auth=WORK)
def rehearse(request: HttpRequest, job_id: int, body: RehearsalAsked) -> WorkShown:
    """Print, load and cut the job as it stands so many times on the simulated machines."""
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        sheet = found_of(change.job).sheet
        if sheet is None or sheet.error:
            raise NotReady("There is no sheet that could be rehearsed.", "Lay it out first.")
        return work_shown(begin(change.job, models.WorkKind.REHEARSE, {"loads": body.loads, "seed": body.seed}))


@router.get("/jobs/{job_id}/rehearsal/worst")
def worst_piece(request: HttpRequest, job_id: int) -> HttpResponse:
    """The print of the worst piece of the last rehearsal, as PNG."""
    worst = (find_job(job_id).rehearsal or {}).get("worst")
    if not worst or not worst["sha256"]:
        raise HttpError(404, "There is no such picture.")
    return picture(load(worst["sha256"]), immutable=False)
