"""Mends: carried out as a new revision, or to be looked at only."""

from typing import Any

from jobs import models
from jobs.store.files import keep
from jobs.store.queue import steps_of
from jobs.store.snapshots import JobSnapshot

from horismos.mending import Recipe, Step
from worker import looking
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["mend", "preview"]

@carries_out(models.WorkKind.MEND)
def mend(task: Task) -> Result:
    """Carry out one step, a recipe, or all that is safe, as a new revision; then look at the job again."""
    if not task.result:
        looking.keep_mended(task, *_mended(task, (0.0, 0.5)))
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
