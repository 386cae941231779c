"""Rehearsals: a job or a shared sheet printed, loaded and cut many times."""

from collections.abc import Mapping
from typing import Any

from jobs import models
from jobs.store.files import keep

from worker.register import carries_out
from worker.targets import keep_rehearsal, require_unchanged, target_of
from worker.task import Result, StepResult, Task

__all__ = ["rehearse"]


@carries_out(models.WorkKind.REHEARSE)
def rehearse(task: Task) -> Result:
    """Print, load and cut it as it stands so many times."""
    target, asked = target_of(task), task.arguments
    found: StepResult = task.run_step(
        f"{target.room}:rehearse", target.pool_key, target.stored, int(asked["loads"]), int(asked["seed"]),
        what="The rehearsal",
    )
    kept = _kept(found, target.package_key)
    with task.commit():
        require_unchanged(target, "rehearsed", "rehearse")
        keep_rehearsal(target, kept)
    return None


def _kept(found: Mapping[str, Any], key: str) -> dict[str, Any]:
    """What came of a rehearsal as it is kept, its picture in the store, with the key of what was rehearsed."""
    worst = found["worst"]
    if worst is not None:
        worst = {**{k: v for k, v in worst.items() if k != "png"}, "sha256": keep(worst["png"]) if worst["png"] else ""}
    return {"key": key, "counts": found["counts"], "figures": found["figures"], "worst": worst}
