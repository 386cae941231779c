"""Looking at a job as it stands: what a child finds on it, and where that is kept."""

from collections.abc import Iterator
from contextlib import contextmanager

from jobs import models
from jobs.store.analyses import keep_analysis, keep_failure
from jobs.store.sheet_snapshots import queue_layout, snapshot_of_sheet
from jobs.store.snapshots import JobSnapshot

from horismos.errors import Asks, HorismosError
from worker.task import StepResult, Task

__all__ = ["Looked", "keep_looked", "keeping_failure", "look"]

Looked = tuple[JobSnapshot, StepResult]


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
