"""Laying out a sheet that several jobs share. A job's own sheet is laid out when the job is looked at."""

from jobs import models
from jobs.store.sheet_snapshots import keep_sheet, keep_trouble, read_sheet

from horismos.errors import Cancelled, HorismosError
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["lay_out"]


@carries_out(models.WorkKind.SHEET)
def lay_out(task: Task) -> Result:
    """Lay a shared sheet out and plan its cut, or keep why it cannot be."""
    assert task.work.shared_id is not None, "it is asked of sheets only"
    sheet = read_sheet(task.work.shared_id)
    try:
        found: StepResult = task.run_step(
            "together:lay", sheet.pool_key, sheet.stored, what="Laying the sheet out"
        )
    except Cancelled:
        raise
    except HorismosError as error:
        with task.commit():
            keep_trouble(str(error), sheet)
        return None
    with task.commit():
        keep_sheet(found, sheet)
    return None
