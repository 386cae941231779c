"""A draft of a check sheet, tried on a job."""

from jobs import models
from jobs.store.check_sheets import check_sheet_of, parsed

from horismos.errors import NotReady
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["try_sheet"]


@carries_out(models.WorkKind.TRY_SHEET)
def try_sheet(task: Task) -> Result:
    """Say what a draft of a check sheet would change in a job; only the checks that it touches are run."""
    asked, job = task.arguments, task.job()
    scope, subject = str(asked["scope"]), str(asked["subject"])
    if job.checked is None:
        raise NotReady("The job has not been checked yet.", "Wait for the check.")
    draft = job.with_check_sheet(check_sheet_of(job.row, (scope, subject, parsed(scope, subject, asked))))
    found: StepResult = task.run_step("job:try_sheet", job.pool_key, draft.case, job.checked[1])
    return found
