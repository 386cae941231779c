"""The task that the worker runs: one piece of work, whose row says how far it is and how it ended."""

import logging
import time
from collections.abc import Callable

from django_tasks import task
from jobs import models

from horismos.errors import Cancelled, HorismosError
from worker.kinds import KINDS, Said

__all__ = ["carry_out"]

log = logging.getLogger(__name__)
TELLS_EVERY_S = 0.2
FAULT = "The program failed here. The last good state stands; tell who looks after it."
State = models.WorkState


@task()
def carry_out(work_id: int) -> None:
    """Run one piece of work; whatever happens, its row says how it ended."""
    rows = models.Work.objects.filter(pk=work_id)
    work = rows.select_related("job", "job__revision", "job__order").get()
    if work.cancel or work.state != State.WAITING:
        rows.filter(state=State.WAITING).update(state=State.CANCELLED)
        return
    rows.update(state=State.RUNNING, what="beginning")
    cancelled = _heard(work_id)
    try:
        result = KINDS[models.WorkKind(work.kind)](work, Said(_teller(work_id, cancelled), cancelled))
    except Cancelled:
        rows.update(state=State.CANCELLED, what="stopped", error="")
    except HorismosError as error:
        rows.update(state=State.FAILED, what="failed", error=str(error))
    except Exception:
        log.exception("work %s failed", work_id)
        rows.update(state=State.FAILED, what="failed", error=FAULT)
    else:
        rows.update(state=State.DONE, share=1.0, what="done", error="", result=result)


def _heard(work_id: int) -> Callable[[], bool]:
    """Whether somebody has asked for the work to stop."""
    return lambda: models.Work.objects.filter(pk=work_id, cancel=True).exists()


def _teller(work_id: int, cancelled: Callable[[], bool]) -> Callable[[float, str], None]:
    """Notes how far the work is, five times a second at most; raises Cancelled where it was stopped."""
    told = 0.0

    def tell(share: float, what: str) -> None:
        nonlocal told
        if time.monotonic() - told > TELLS_EVERY_S:
            told = time.monotonic()
            if cancelled():
                raise Cancelled
            models.Work.objects.filter(pk=work_id).update(share=share, what=what[:200])

    return tell
