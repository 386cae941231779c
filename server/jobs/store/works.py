"""Pieces of long work as rows: begun here, carried out by the worker, stopped by people."""

from django.conf import settings
from django.db import transaction
from django.utils.module_loading import import_string

from horismos.errors import NotReady
from jobs import models

__all__ = ["begin", "latest_of", "log", "must_rest", "running", "stop"]

UNDER_WAY = [models.WorkState.WAITING, models.WorkState.RUNNING]
CHANGING = [models.WorkKind.TAKE_IN, models.WorkKind.MEND]
"""Work that gives a job another revision."""


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
    return list(models.Work.objects.filter(state__in=UNDER_WAY).order_by("pk"))


def must_rest(job: models.Job) -> None:
    """Raise NotReady while work is under way that gives the job another revision: it would be lost, or lose."""
    work = job.works.filter(state__in=UNDER_WAY, kind__in=CHANGING).first()
    if work is not None:
        what = "taken in" if work.kind == models.WorkKind.TAKE_IN else "mended"
        raise NotReady(f"“{job.name}” is being {what}.", "Wait until that is done, or stop it first.")


def latest_of(job: models.Job) -> models.Work | None:
    """The last piece of work on a job, or None."""
    return job.works.order_by("-pk").first()


def log(job: models.Job, who: int | None, what: str) -> None:
    """Note who did what to a job."""
    models.LogEntry.objects.create(job=job, who_id=who, what=what)
