"""What is nested, rehearsed and released: a job on sheets of its own, or a sheet that several jobs share."""

from typing import Any

from jobs import models
from jobs.store.log import log
from jobs.store.queue import begin
from jobs.store.sheet_snapshots import SheetSnapshot, queue_layout, read_sheet
from jobs.store.snapshots import JobSnapshot, read_job

from horismos.errors import NotReady
from worker.task import Task

__all__ = ["Target", "keep_layout", "keep_rehearsal", "require_unchanged", "target_of"]

Target = JobSnapshot | SheetSnapshot
"""Both have a ``row``, ``stored`` as the core takes it for steps of its ``room``, and a ``package_key``."""


def target_of(task: Task) -> Target:
    """What a task is on, as it stands now. Raises NotFound."""
    return task.job() if task.work.shared_id is None else read_sheet(task.work.shared_id)


def require_unchanged(target: Target, done: str, again: str) -> None:
    """Raise NotReady where it is another now than when it was begun with; ``done`` and ``again`` say with what."""
    now: Target = read_job(target.row.pk) if isinstance(target, JobSnapshot) else read_sheet(target.row.pk)
    if now.package_key != target.package_key:
        raise NotReady(f"The {target.word} was changed while it was {done}.", f"Look at it and {again} it again.")


def keep_layout(target: Target, layout: dict[str, Any], words: str) -> None:
    """Keep where copies lie, and let what depends on it be found anew."""
    row = target.row
    row.layout = layout
    row.save(update_fields=["layout"])
    log(row, None, words)
    if isinstance(row, models.Job):
        begin(row, models.WorkKind.ANALYSE)
    else:
        queue_layout(row)


def keep_rehearsal(target: Target, rehearsal: dict[str, Any]) -> None:
    """Keep what came of a rehearsal; a job is looked at again, since it may be a finding."""
    row = target.row
    row.rehearsal = rehearsal
    row.save(update_fields=["rehearsal"])
    if isinstance(row, models.Job):
        begin(row, models.WorkKind.ANALYSE)
