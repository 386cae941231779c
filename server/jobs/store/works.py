"""Pieces of long work as rows: begun here, carried out by the worker, stopped by people."""

from django.conf import settings
from django.db import transaction
from django.utils.module_loading import import_string

from jobs import models

__all__ = ["begin", "latest_of", "log", "running", "stop"]


def begin(job: models.Job, kind: models.WorkKind, arguments: dict[str, object] | None = None) -> models.Work:
    """Put a piece of work into the queue; the worker gets it when what was changed with it is kept."""
    work = models.Work.objects.create(job=job, kind=kind, arguments=arguments or {})
    transaction.on_commit(lambda: import_string(settings.CARRY_OUT).enqueue(work.pk))
    return work


def stop(work: models.Work) -> None:
    """Ask a piece of work to stop; one that has not begun never does."""
    works = models.Work.objects.filter(pk=work.pk)
    works.update(cancel=True)
    works.filter(state=models.WorkState.WAITING).update(state=models.WorkState.CANCELLED, what="stopped")


def running() -> list[models.Work]:
    """What waits or runs now, oldest first."""
    states = [models.WorkState.WAITING, models.WorkState.RUNNING]
    return list(models.Work.objects.filter(state__in=states).order_by("pk"))


def latest_of(job: models.Job) -> models.Work | None:
    """The last piece of work on a job, or None."""
    return job.works.order_by("-pk").first()


def log(job: models.Job, who: int | None, what: str) -> None:
    """Note who did what to a job."""
    models.LogEntry.objects.create(job=job, who_id=who, what=what)
