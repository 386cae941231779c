"""Mends: carried out as a new revision, or to be looked at only."""

from typing import Any

from jobs import models
from jobs.store.files import keep
from jobs.store.queue import begin, steps_of
from jobs.store.snapshots import JobSnapshot, remember
from jobs.store.taking_in import follow_size

from horismos.mending import Recipe, Step
from horismos.workflow.mend import to_remember
from worker import looking
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["mend", "preview"]

RESIZES = frozenset(["scale", "fit-page", "turn"])
"""The mends after which the finished piece has another size."""


@carries_out(models.WorkKind.MEND)
def mend(task: Task) -> Result:
    """Carry out one step, a recipe, or all that is safe, as a new revision; then look at the job again."""
    if not task.result:
        _keep(task, *_mended(task, (0.0, 0.5)))
    looking.keep_looked(task, looking.look(task, (0.5, 1.0)))
    return task.result


@carries_out(models.WorkKind.PREVIEW)
def preview(task: Task) -> Result:
    """Carry out one step to be looked at; the job stays as it is."""
    _, found, _ = _mended(task, (0.0, 1.0))
    return {"sha256": keep(found["pdf"]), **{key: found[key] for key in ("said", "proof", "places")}}


def _mended(task: Task, part: tuple[float, float]) -> tuple[JobSnapshot, StepResult, Step | None]:
    """The job, and what a child makes of it: by a recipe, a step with those that follow it, or all that is safe.

    The step is given with it, where it is one.
    """
    asked, job = task.arguments, task.job()
    report = job.checked[1] if job.checked and job.is_current else None
    step: Step | None = None
    rest: tuple[Any, ...]
    if asked.get("recipe"):
        name, what, rest = "mend_by_recipe", "The recipe", (report, Recipe.from_json(asked["recipe"]))
    elif asked.get("safe"):
        name, what, rest = "mend_safely", "Mending", (report,)
    else:
        step, then = steps_of(asked)
        name, what, rest = "mend", "The mend", (step, report, then)
    return job, task.run_step(f"job:{name}", job.pool_key, job.case, *rest, what=what, part=part), step


def _keep(task: Task, of: JobSnapshot, found: StepResult, step: Step | None) -> None:
    """Keep what a mend has made as a revision, with what it says of the customer's other files."""
    keep(found["pdf"])
    with task.commit() as job:
        row, last = job.row, job.row.revisions.order_by("-number").first()
        assert last is not None, "a job that was mended has one"
        row.revision = models.Revision.objects.create(
            job=row, number=last.number + 1, parent=of.revision, sha256=found["sha256"],
            file_name=of.revision.file_name, said=found["said"], proof=found["proof"], steps=found["steps"],
        )
        row.save(update_fields=["revision"])
        task.result = {"revision": row.revision.number, **{k: found.get(k, []) for k in ("skipped", "refused")}}
        if step and step.mend in RESIZES:
            follow_size(row, found["finished"])
        told = to_remember(step) if step else None
        for other in remember(row, *told) if told else ():
            begin(other, models.WorkKind.ANALYSE)
