"""One piece of work, carried out: its row says how far it is and how it ended."""

import logging
import time
from collections.abc import Callable

from jobs import models
from jobs.store import works

from horismos.errors import BringsStop, Cancelled, CannotWrite, HorismosError, NothingToDo
from worker.context import TaskContext
from worker.kinds import KINDS

__all__ = ["carry_out"]

log = logging.getLogger(__name__)
TELLS_EVERY_S = 0.2
HOLDS_EVERY_S = 3.0
FAULT = "The program failed here. The last good state stands; tell who looks after it."
State = models.WorkState


def carry_out(work: models.Work, ending: Callable[[], bool] = lambda: False) -> None:
    """Carry out a piece of work that this worker holds; whatever happens, its row says how it ended.

    Where ``ending`` says so the worker is to end, and the work waits for another.
    """
    cancelled = _heard(work, ending)
    try:
        result = KINDS[models.WorkKind(work.kind)](work, TaskContext(_teller(work), cancelled))
    except Cancelled:
        if ending():
            works.given_back(work)
        else:
            works.ended(work, State.CANCELLED, "stopped", error="")
    except works.LeaseLost:
        log.warning("work %s was taken over by another worker", work.pk)
    except HorismosError as error:
        works.ended(work, State.FAILED, "failed", error=str(error), code=error.code, result=_refused(work, error))
    except Exception:
        log.exception("work %s failed", work.pk)
        works.ended(work, State.FAILED, "failed", error=FAULT)
    else:
        works.ended(work, State.DONE, "done", share=1.0, error="", result=result)


def _refused(work: models.Work, error: HorismosError) -> dict[str, object] | None:
    """What is known of a mend that was refused: on which state of the job, and what would have to follow it.

    What failed for want of time or memory was not refused: it may do well another time.
    """
    if work.kind != models.WorkKind.MEND or not isinstance(error, CannotWrite | NothingToDo):
        return None
    key = models.Analysis.objects.filter(job=work.job_id).values_list("key", flat=True).first()
    return {"found": key, "then": list(error.then) if isinstance(error, BringsStop) else []}


def _heard(work: models.Work, ending: Callable[[], bool]) -> Callable[[], bool]:
    """Whether the work is to stop; asking keeps the lease alive."""
    held = time.monotonic()

    def cancelled() -> bool:
        nonlocal held
        if ending():
            return True
        if time.monotonic() - held < HOLDS_EVERY_S:
            return models.Work.objects.filter(pk=work.pk, cancel=True).exists()
        held = time.monotonic()
        return not works.keep_holding(work)

    return cancelled


def _teller(work: models.Work) -> Callable[[float, str], None]:
    """Notes how far the work is, five times a second at most."""
    told = 0.0

    def tell(share: float, what: str) -> None:
        nonlocal told
        if time.monotonic() - told > TELLS_EVERY_S:
            told = time.monotonic()
            models.Work.objects.filter(pk=work.pk).update(share=share, what=what[:200])

    return tell
