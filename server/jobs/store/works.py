"""Pieces of long work as rows, which are the queue: begun here, held by a worker, stopped by people."""

import os
import socket
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.db import transaction
from django.db.models import F, Q
from django.utils import timezone

from horismos.errors import NotReady
from horismos.mending import Step, step_from
from jobs import models

__all__ = [
    "UNDER_WAY", "LeaseLost", "arguments_of", "begin", "claim", "ended", "given_back", "hold", "keep_holding",
    "latest_of", "log", "require_idle", "running", "steps_of", "stop", "worker_name",
]

State = models.WorkState
UNDER_WAY = [State.WAITING, State.RUNNING]
CHANGING = [models.WorkKind.TAKE_IN, models.WorkKind.MEND]
"""Work that gives a job another revision."""
LEASE = timedelta(seconds=20)
MOST_ATTEMPTS = 3
DIED = "The worker ended three times while it did this. The last good state stands; tell who looks after it."


class LeaseLost(Exception):
    """Another worker holds the work by now; nothing may be written any more."""


def begin(
    job: models.Job, kind: models.WorkKind, arguments: dict[str, object] | None = None,
    shared: models.SharedSheet | None = None,
) -> models.Work:
    """Put a piece of work into the queue, whole, in the transaction of what was changed with it."""
    return models.Work.objects.create(job=job, kind=kind, arguments=arguments or {}, shared=shared)


def stop(work: models.Work) -> None:
    """Ask a piece of work to stop; one that has not begun, or that nobody holds any more, never goes on."""
    works = models.Work.objects.filter(pk=work.pk)
    works.update(cancel=True)
    left = Q(state=State.WAITING) | Q(state=State.RUNNING) & _lapsed()
    works.filter(left).update(state=State.CANCELLED, what="stopped")


def _lapsed() -> Q:
    """That nobody holds it any more, by the clock: also where it would be held longer than anybody holds anything.

    That is seen after the clock was set back; work would wait for the hour to come again.
    """
    now = timezone.now()
    return Q(leased_until__lt=now) | Q(leased_until__gt=now + 2 * LEASE) | Q(leased_until=None)


def running() -> list[models.Work]:
    """What waits or runs now, oldest first."""
    return list(models.Work.objects.filter(state__in=UNDER_WAY).select_related("job").order_by("pk"))


def require_idle(job: models.Job) -> None:
    """Raise NotReady while work is under way that gives the job another revision: it would be lost, or lose."""
    work = job.works.filter(state__in=UNDER_WAY, kind__in=CHANGING).first()
    if work is not None:
        what = "taken in" if work.kind == models.WorkKind.TAKE_IN else "mended"
        raise NotReady(f"“{job.name}” is being {what}.", "Wait until that is done, or stop it first.")


def latest_of(job: models.Job) -> models.Work | None:
    """The last piece of work on a job itself, or None."""
    return job.works.filter(shared=None).order_by("-pk").first()


def log(job: models.Job, who: int | None, what: str, version: int = 0) -> None:
    """Note who did what to a job, and which version of it that made."""
    models.LogEntry.objects.create(job=job, who_id=who, what=what, version=version)


# -- the worker's side ---------------------------------------------------------------------------------


@transaction.atomic
def claim(worker: str) -> models.Work | None:
    """The oldest work that waits, held from now on by a worker; None where there is none.

    Of each job one piece of work runs at a time. What a dead worker held waits again, or has failed when
    that happened before.
    """
    now = timezone.now()
    works = models.Work.objects.all()
    held = works.filter(state=State.RUNNING)
    dead = [name for name in held.values_list("worker", flat=True).distinct() if _has_ended(name)]
    lapsed = held.filter(_lapsed() | Q(worker__in=dead))
    lapsed.filter(cancel=True).update(state=State.CANCELLED, what="stopped")
    lapsed.filter(attempts__gte=MOST_ATTEMPTS).update(state=State.FAILED, what="failed", error=DIED)
    lapsed.update(state=State.WAITING, what="waiting", share=0)
    busy = works.filter(state=State.RUNNING).values("job_id")
    found = works.filter(state=State.WAITING, cancel=False).exclude(job_id__in=busy).order_by("pk").first()
    if found is None:
        return None
    works.filter(pk=found.pk).update(
        state=State.RUNNING, what="beginning", worker=worker, attempts=F("attempts") + 1, leased_until=now + LEASE,
    )
    return works.get(pk=found.pk)


def worker_name() -> str:
    """A name of this process that no other has: its machine, its number, and when it began."""
    return f"{socket.gethostname()[:30]}:{os.getpid()}:{_began(os.getpid())}"


def _began(number: int) -> str:
    """When a process of this machine began, in ticks since the machine did; empty where there is none."""
    try:
        return Path(f"/proc/{number}/stat").read_text().rsplit(")", 1)[1].split()[19]
    except (OSError, IndexError):
        return ""


def _has_ended(name: str) -> bool:
    """Whether a worker of this machine is not there any more; of others only their leases tell."""
    machine, _, rest = name.partition(":")
    number, _, began = rest.partition(":")
    return machine == socket.gethostname()[:30] and number.isdecimal() and _began(int(number)) != began


def _mine(work: models.Work) -> Q:
    return Q(pk=work.pk, worker=work.worker, attempts=work.attempts, state=State.RUNNING)


def keep_holding(work: models.Work) -> bool:
    """Put the end of the lease off. False where it has run out and the work is somebody else's, or was stopped."""
    held = models.Work.objects.filter(_mine(work))
    return held.update(leased_until=timezone.now() + LEASE) == 1 and not held.filter(cancel=True).exists()


@contextmanager
def hold(work: models.Work) -> Iterator[models.Job]:
    """A transaction in which a worker writes what it has found: the job as it stands now.

    Raises LeaseLost where the work is not its own any more. Only fields that the work is about may be saved.
    """
    with transaction.atomic():
        if not models.Work.objects.filter(_mine(work)).exists():
            raise LeaseLost
        yield models.Job.objects.select_related("order", "material", "revision", "analysis").get(pk=work.job_id)


def given_back(work: models.Work) -> None:
    """Let work that a worker cannot finish, because it is told to end, wait for the next."""
    models.Work.objects.filter(_mine(work)).update(
        state=State.WAITING, what="waiting", share=0, leased_until=None, attempts=F("attempts") - 1
    )


def ended(work: models.Work, state: models.WorkState, what: str, **also: object) -> None:
    """Say how a piece of work ended, if it is still the worker's."""
    models.Work.objects.filter(_mine(work)).update(state=state, what=what, leased_until=None, **also)


def arguments_of(step: Step, then: Sequence[Step] = ()) -> dict[str, Any]:
    """What a mend's work is given: the step with its settings, and the steps that are done with it."""
    return {**step.to_json(), **({"then": [one.to_json() for one in then]} if then else {})}


def steps_of(arguments: Mapping[str, Any]) -> tuple[Step, list[Step]]:
    """The same read back."""
    settings = {key: value for key, value in arguments.items() if key != "then"}
    return step_from(settings), [step_from(one) for one in arguments.get("then", ())]
