"""Progress: a lean address that is asked often while something runs, and stopping it."""

from django.http import HttpRequest
from ninja import Router
from ninja.params.functions import Query

from jobs.api.wants import TAKE_IN_OR_WORK
from jobs.listing import WorkShown, work_shown
from jobs.store import queue as store

__all__ = ["router"]

router = Router()


@router.get("/works", response=list[WorkShown])
def works(request: HttpRequest, since: int | None = Query(None, ge=0)) -> list[WorkShown]:
    """What waits or runs now, in the whole shop; with the highest stamp that was seen, also what has ended after it."""
    return [work_shown(found) for found in store.running(since)]


@router.get("/works/{work_id}", response=WorkShown)
def work(request: HttpRequest, work_id: int) -> WorkShown:
    """How far a piece of work is, or how it ended."""
    return work_shown(store.work_of(work_id))


@router.post("/works/{work_id}/cancel", response=WorkShown, auth=TAKE_IN_OR_WORK)
def cancel(request: HttpRequest, work_id: int) -> WorkShown:
    """Ask a piece of work to stop; what was there before stands."""
    found = store.work_of(work_id)
    store.stop(found)
    found.refresh_from_db()
    return work_shown(found)
