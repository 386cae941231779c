"""One piece of work, carried out: its row says how far it is and how it ended."""

import logging
from collections.abc import Callable
from typing import Any

from jobs import models
from jobs.store import queue
from jobs.store.workers import note_times

from horismos.errors import BringsStop, Cancelled, CannotWrite, HorismosError, NothingToDo
from worker.register import registered
from worker.task import Task

__all__ = ["carry_out"]

log = logging.getLogger(__name__)
FAULT = "The program failed here. The last good state stands; tell who looks after it."
State = models.WorkState
KINDS = registered()


def carry_out(
    work: models.Work, ending: Callable[[], bool] = lambda: False, carries: Callable[..., Any] | None = None
) -> None:
    """Carry out a piece of work that this worker holds; whatever happens, its row says how it ended.

    Where ``ending`` says so the worker is to end, and the work waits for another. ``carries`` carries out its steps,
    where no children of this process do.
    """
    task = Task(work, ending, carries)
    try:
        result = KINDS[models.WorkKind(work.kind)](task)
    except Cancelled:
        if ending():
            queue.given_back(work)
        else:
            queue.ended(work, State.CANCELLED, "stopped", error="")
    except queue.LeaseLost:
        log.warning("work %s was taken over by another worker", work.pk)
    except HorismosError as error:
        queue.ended(work, State.FAILED, "failed", error=str(error), code=error.code, result=_refused(work, error))
    except Exception:
        log.exception("work %s failed", work.pk)
        queue.ended(work, State.FAILED, "failed", error=FAULT)
    else:
        queue.ended(work, State.DONE, "done", share=1.0, error="", result=result)
    note_times(models.Weight(work.weight), task.times)


def _refused(work: models.Work, error: HorismosError) -> dict[str, object] | None:
    """What is known of a mend that was refused: on which state of the job, and what would have to follow it.

    What failed for want of time or memory was not refused: it may do well another time.
    """
    if work.kind != models.WorkKind.MEND or not isinstance(error, CannotWrite | NothingToDo):
        return None
    key = models.Analysis.objects.filter(job=work.job_id).values_list("key", flat=True).first()
    return {"found": key, "then": list(error.then) if isinstance(error, BringsStop) else []}
