"""Looking at a job: read, checked, laid out and planned as it stands."""

from jobs import models

from worker import looking
from worker.register import carries_out
from worker.task import Result, Task

__all__ = ["analyse"]


@carries_out(models.WorkKind.ANALYSE)
def analyse(task: Task) -> Result:
    """Read, check, lay out and plan a job as it stands."""
    looking.keep_looked(task, looking.look(task))
    return None
