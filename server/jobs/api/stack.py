"""Stacks of fabric: shown while they are made, cut open, tried with a test cut, kept with the job, and written."""

import math
from dataclasses import dataclass, replace
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field, TypeAdapter

from horismos.cutting.depth import CutOutcome
from horismos.errors import NothingToDo
from horismos.stitching.stack import Stack, stack_schema
from horismos.words import safe_name
from horismos.workflow.showing.stack import DrawnShown, StackSectionShown, StackShown
from jobs import models
from jobs.api.common import download, find_job, job_response, same_revision
from jobs.api.pictures import LONGEST_MM, SHORTEST_MM
from jobs.api.tables import ReadBy
from jobs.api.wants import RELEASE, WORK
from jobs.listing import WorkShown, work_shown
from jobs.showing import JobShown
from jobs.store.changing import changing
from jobs.store.children import LOOKING_S, run_step
from jobs.store.log import log
from jobs.store.queue import begin, require_idle, under_way
from jobs.store.snapshots import read_job
from jobs.store.stacks import (
    ThreadShown,
    corrected_gf,
    fabrics_of_shop,
    stack_key,
    threads_of_shop,
    with_fabrics,
)

__all__ = ["router"]

router = Router()
SHOWN, SECTION, DRAWN = TypeAdapter(StackShown), TypeAdapter(StackSectionShown), TypeAdapter(list[DrawnShown])
WHAT = "Making the stack"
STACK = ReadBy(Stack.from_json, stack_schema())
KEPT = ReadBy(
    lambda data: Stack.from_json(data) if data else None, {"anyOf": [STACK.schema, {"type": "null"}]},
)
"""The same, or nothing: null or an empty object."""


class StackGiven(Schema):
    """A stack as the core's JSON, on the revision that the person has seen."""

    stack: Annotated[Stack, STACK]
    revision: Annotated[int, Field(ge=0)]


class StackKept(Schema):
    """A stack to be kept with the job; null: none."""

    stack: Annotated[Stack | None, KEPT]
    version: Annotated[int, Field(ge=1)]


class StackCutOpen(StackGiven):
    """The same, and a line across the page in mm."""

    line: tuple[float, float, float, float]


class StackTested(StackGiven):
    """The same, and a layer, from the top and from 0."""

    layer: Annotated[int, Field(ge=0, le=20)]


class StackWritten(Schema):
    """The version of the job whose stack is to be written."""

    version: Annotated[int, Field(ge=1)]


@dataclass(frozen=True)
class FabricTested:
    """What a test cut in a layer shows, in µm: how deep it went of the fabric's own thickness, and what is seen.

    ``corrected_gf`` is the force for each thing that may be seen; None where the force is left to the machine.
    """

    force_gf: float | None
    own_um: float
    reached_um: float
    seen: CutOutcome
    corrected_gf: dict[CutOutcome, float] | None


@router.post("/jobs/{job_id}/stack/shown", response=StackShown)
def show(request: HttpRequest, job_id: int, body: StackGiven) -> StackShown:
    """The stack as it would be made, with every stitch."""
    return replace(SHOWN.validate_python(_ask("shown", job_id, body)), fabrics=fabrics_of_shop())


@router.get("/threads", response=list[ThreadShown])
def threads(request: HttpRequest) -> tuple[ThreadShown, ...]:
    """The threads that the shop has."""
    return threads_of_shop()


@router.get("/jobs/{job_id}/stack/drawn", response=list[DrawnShown])
def drawn(request: HttpRequest, job_id: int, revision: int) -> list[DrawnShown]:
    """What the file draws that a layer of fabric can be, as a revision has it."""
    job = read_job(job_id)
    same_revision(job.row, revision)
    return DRAWN.validate_python(run_step("stack:drawn", job.case, key=job.pool_key, seconds=LOOKING_S, what=WHAT))


@router.post("/jobs/{job_id}/stack/section", response=StackSectionShown)
def cut_open(request: HttpRequest, job_id: int, body: StackCutOpen) -> StackSectionShown:
    """The stack cut open along a line."""
    x0, y0, x1, y1 = body.line
    if not SHORTEST_MM <= math.hypot(x1 - x0, y1 - y0) <= LONGEST_MM:
        raise HttpError(400, "Draw a longer line.")
    return SECTION.validate_python(_ask("section", job_id, body, (x0, y0), (x1, y1)))


@router.post("/jobs/{job_id}/stack/test", response=FabricTested, auth=WORK)
def test_cut(request: HttpRequest, job_id: int, body: StackTested) -> FabricTested:
    """Cut the figure of a test cut in a layer's fabric, on what lies below it."""
    found = _ask("tested", job_id, body, body.layer)
    force = found["force_gf"]
    return FabricTested(
        force, found["own_um"], found["reached_um"], CutOutcome(found["seen"]),
        None if force is None else {seen: corrected_gf(force, seen) for seen in CutOutcome},
    )


@router.post("/jobs/{job_id}/stack/test/file", auth=WORK)
def test_file(request: HttpRequest, job_id: int, body: StackTested) -> HttpResponse:
    """The file of a test cut, for a cutter that takes it from a stick."""
    found = _ask("tested", job_id, body, body.layer)
    name = f"{safe_name(find_job(job_id).name)}-test-{body.layer + 1}.plt"
    return download(found["hpgl"], name, "application/octet-stream")


def _ask(step: str, job_id: int, body: StackGiven, *more: Any) -> Any:
    job = read_job(job_id)
    same_revision(job.row, body.revision)
    return run_step(
        f"stack:{step}", job.case, with_fabrics(body.stack.to_json()), *more, key=job.pool_key, seconds=LOOKING_S,
        what=WHAT,
    )


@router.post("/jobs/{job_id}/stack", response=JobShown, auth=WORK)
def keep_stack(request: HttpRequest, job_id: int, body: StackKept) -> JobShown:
    """Keep a stack with the job, or take it away."""
    kept = body.stack.to_json() if body.stack else {}
    with changing(job_id, body.version, request.user.pk) as change:
        job = change.job
        if kept != job.stack:
            job.stack = kept
            job.save(update_fields=["stack"])
            names = ", ".join(layer["name"] for layer in kept["layers"]) if kept else ""
            change.done(f"Stack of fabric: {names}" if kept else "No stack of fabric any more")
    return job_response(request, job_id)


@router.post("/jobs/{job_id}/stack/write", response=WorkShown, auth=RELEASE)
def write(request: HttpRequest, job_id: int, body: StackWritten) -> WorkShown:
    """Write the files of the job's stack."""
    with changing(job_id, body.version, request.user.pk) as change:
        job = change.job
        require_idle(job)
        if not job.stack:
            raise NothingToDo("The job has no stack of fabric.", "Make one first.")
        key = stack_key(job)
        if job.stacks.filter(key=key).exists() or under_way(job, models.WorkKind.STACK, key=key):
            raise NothingToDo("Just this stack was written already.", "It lies on the Bench.")
        log(job, request.user.pk, "Asked for the files of the stack")
        return work_shown(begin(job, models.WorkKind.STACK, {"key": key}))
