"""Looking at a job as it stands: what a child finds on it or makes of it, and where that is kept."""

from collections.abc import Iterator
from contextlib import contextmanager

from jobs import models
from jobs.store.analyses import keep_analysis, keep_failure
from jobs.store.files import keep
from jobs.store.queue import begin
from jobs.store.sheet_snapshots import queue_layout, snapshot_of_sheet
from jobs.store.snapshots import JobSnapshot, remember
from jobs.store.taking_in import follow_size

from horismos.errors import Asks, HorismosError
from horismos.mending import Step
from horismos.workflow.mend import to_remember
from worker.task import StepResult, Task

__all__ = ["Looked", "keep_looked", "keep_mended", "keeping_failure", "look"]

Looked = tuple[JobSnapshot, StepResult]
RESIZES = frozenset(["scale", "fit-page", "turn"])
"""The mends after which the finished piece has another size."""


@contextmanager
def keeping_failure(task: Task) -> Iterator[None]:
    """Keep with the job why it could not be looked at."""
    try:
        yield
    except Asks:
        raise
    except HorismosError as error:
        with task.commit() as job:
            keep_failure(job, error)
        raise


def look(task: Task, part: tuple[float, float] = (0.0, 1.0)) -> Looked:
    """The job as it stands, and what a child finds on it."""
    job = task.job()
    with keeping_failure(task):
        return job, task.run_step("job:look", job.pool_key, job.case, *(job.checked or (None, None)), part=part)


def keep_looked(task: Task, looked: Looked) -> None:
    """Keep what was found; sheets on which the job lies otherwise now are laid out again."""
    job, found = looked
    with task.commit():
        keep_analysis(job, found)
        for row in models.SharedSheet.objects.filter(shares__job=job.row, releases=None):
            if not snapshot_of_sheet(row).is_current:
                queue_layout(row)


def keep_mended(
    task: Task, of: JobSnapshot, found: StepResult, step: Step | None = None, by_itself: bool = False
) -> None:
    """Keep what a mend has made as a revision, with what it says of the customer's other files."""
    keep(found["pdf"])
    with task.commit() as job:
        row, last = job.row, job.row.revisions.order_by("-number").first()
        assert last is not None, "a job that was mended has one"
        row.revision = models.Revision.objects.create(
            job=row, number=last.number + 1, parent=of.revision, sha256=found["sha256"],
            file_name=of.revision.file_name, said=found["said"], proof=found["proof"], steps=found["steps"],
            by_itself=by_itself,
        )
        row.save(update_fields=["revision"])
        task.result = {"revision": row.revision.number, **{k: found.get(k, []) for k in ("skipped", "refused")}}
        if step and step.mend in RESIZES:
            follow_size(row, found["finished"])
        told = to_remember(step) if step else None
        for other in remember(row, *told) if told else ():
            begin(other, models.WorkKind.ANALYSE)
