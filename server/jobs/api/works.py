"""Progress: a lean address that is asked often while something runs, and stopping it."""

from django.http import HttpRequest
from ninja import Router

from jobs import models
from jobs.api.common import find
from jobs.listing import WorkShown, work_shown
from jobs.store import works as store

__all__ = ["router"]

router = Router()


@router.get("/works", response=list[WorkShown])
def works(request: HttpRequest) -> list[WorkShown]:
    """What waits or runs now, in the whole shop."""
    return [work_shown(found) for found in store.running()]


@router.get("/works/{work_id}", response=WorkShown)
def work(request: HttpRequest, work_id: int) -> WorkShown:
    """How far a piece of work is, or how it ended."""
    return work_shown(find(models.Work.objects.all(), work_id))


@router.post("/works/{work_id}/cancel", response=WorkShown)
def cancel(request: HttpRequest, work_id: int) -> WorkShown:
    """Ask a piece of work to stop; what was there before stands."""
    found = find(models.Work.objects.all(), work_id)
    store.stop(found)
    found.refresh_from_db()
    return work_shown(found)
