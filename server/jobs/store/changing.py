"""A change that a person makes to a job: to the job as that person has seen it, or not at all."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import transaction

from horismos.errors import ChangedMeanwhile, NotFound
from jobs import models
from jobs.store.job_state import refresh
from jobs.store.log import log
from jobs.store.snapshots import ROWS

__all__ = ["Changing", "changing"]

MOST_TOLD = 3


class Changing:
    """A job that is being changed; ``done`` says what was done to it, and makes its next version."""

    def __init__(self, job: models.Job, who: int | None) -> None:
        self.job, self._who = job, who

    def done(self, what: str) -> None:
        """Note the change. Said once, at the end of it."""
        self.job.version += 1
        self.job.save(update_fields=["version"])
        log(self.job, self._who, what, self.job.version)


@contextmanager
def changing(job_id: int, version: int, who: int | None) -> Iterator[Changing]:
    """A transaction in which a job is read and changed.

    Raises NotFound, or ChangedMeanwhile, saying by whom and how, where it is not of that version any more.
    """
    with transaction.atomic():
        jobs = models.Job.objects.select_related(*ROWS)
        job = jobs.filter(pk=job_id).first()
        if job is None:
            raise NotFound(f"There is no job {job_id} here.", "It may have been removed; go back to the Desk.")
        if job.version != version:
            raise ChangedMeanwhile(_said(job, version), "Look at it as it is now, then make your change again.")
        yield Changing(job, who)
        refresh([job_id])


def _said(job: models.Job, version: int) -> str:
    """What has been done to a job since a version."""
    entries = list(job.log.filter(version__gt=version).order_by("-version")[: MOST_TOLD + 1])
    told = [f"{e.who_name or 'somebody'}: {_begun(e.what)}" for e in entries[:MOST_TOLD]]
    more = " and more" if len(entries) > MOST_TOLD else ""
    return f"“{job.name}” was changed after you had looked ({'; '.join(told) or 'by somebody else'}{more})."


def _begun(what: str) -> str:
    return what if len(what) < 90 else f"{what[:88].rstrip()} …"
