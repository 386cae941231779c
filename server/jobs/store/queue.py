"""Pieces of long work as rows, which are the queue: begun here, held by a worker, stopped by people."""

import os
import socket
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.db import transaction
from django.db.models import Exists, F, Max, OuterRef, Q, QuerySet, Subquery
from django.utils import timezone

from horismos.errors import NotFound, NotReady, SetAside
from horismos.mending import Step, step_from
from horismos.workflow.weights import weight_of
from jobs import models
from jobs.store.files import size_of

__all__ = [
    "LeaseLost", "Target", "arguments_of", "begin", "claim", "ended", "given_back", "hold", "is_stopped",
    "keep_holding", "latest_of", "latest_of_all", "note", "preview_of", "refused_mends", "require_idle",
    "running", "steps_of", "stop", "tell", "under_way", "work_of", "worker_name", "works_on_it",
]

State = models.WorkState
UNDER_WAY = [State.WAITING, State.RUNNING]
CHANGING = [models.WorkKind.TAKE_IN, models.WorkKind.MEND]
"""Work that gives a job another revision."""
CHANGING_SHEETS = [models.WorkKind.NEST, models.WorkKind.RELEASE]
"""Work on a shared sheet that would be lost, or lose, where the sheet is changed."""
DOES = {
    models.WorkKind.TAKE_IN: "taken in", models.WorkKind.MEND: "mended", models.WorkKind.NEST: "nested",
    models.WorkKind.RELEASE: "released",
}
Target = models.Job | models.SharedSheet
"""What work is on: a job itself, or a sheet that several jobs share."""
FIRST, LAST = timedelta(hours=1), timedelta(hours=1)
COMES = {
    models.Weight.SMALL: timedelta(0), models.Weight.USUAL: timedelta(minutes=1),
    models.Weight.LARGE: timedelta(minutes=10),
}
"""[ours] so much later the turn of a file that comes in is than its arrival: a larger one waits no longer than that."""
LEASE = timedelta(seconds=20)
MOST_ATTEMPTS = 3
FIRST_ENDED = 200
"""Who asks for the first time is told of so many works that have ended last; later of all of them."""
DIED = SetAside(
    "The worker ended three times while it did this, and it was set aside.",
    "The last good state stands. Ask for the file to be written again; tell who looks after the server.",
)


class LeaseLost(Exception):
    """Another worker holds the work by now; nothing may be written any more."""


def begin(
    on: Target, kind: models.WorkKind, arguments: dict[str, object] | None = None, behind: bool = False
) -> models.Work:
    """Put a piece of work into the queue, whole, in the transaction of what was changed with it.

    What a person waits for goes before what comes in, small files before large ones, and last what nobody has asked
    for (``behind``). Raises NotReady for a shared sheet on which nothing lies.
    """
    job, shared = (on, None) if isinstance(on, models.Job) else (_first_on(on), on)
    weight = models.Weight(weight_of(_bytes_of(on)).value)
    with transaction.atomic():
        return models.Work.objects.create(
            job=job, kind=kind, arguments=arguments or {}, shared=shared, stamp=_next_stamp(), weight=weight,
            turn=timezone.now() + (LAST if behind else COMES[weight] if kind == models.WorkKind.TAKE_IN else -FIRST),
        )


def _bytes_of(on: Target) -> int:
    """How large the files are that work is on."""
    if isinstance(on, models.Job):
        return size_of(on.original)
    return sum(map(size_of, on.shares.values_list("job__original", flat=True)))


def _first_on(sheet: models.SharedSheet) -> models.Job:
    first = sheet.shares.select_related("job").first()
    if first is None:
        raise NotReady("There is no job on the sheet.", "Put one on it.")
    return first.job


def _next_stamp() -> int:
    """Higher than any, in the order in which transactions end: SQLite has one writer at a time.

    It counts milliseconds where they are ahead: rows go with a sheet that is taken apart, and a stamp that a browser
    has heard of must not come again for other work, of which it would never hear.
    """
    last: int | None = models.Work.objects.aggregate(last=Max("stamp"))["last"]
    return max((last or 0) + 1, int(timezone.now().timestamp() * 1000))


def _stamped(works: QuerySet[models.Work], **values: Any) -> None:
    """Change pieces of work so that whoever asks what has changed since hears of it."""
    with transaction.atomic():
        works.update(**values, stamp=_next_stamp())


def work_of(work_id: int) -> models.Work:
    """A piece of work by its number. Raises NotFound."""
    found = models.Work.objects.filter(pk=work_id).select_related("job").first()
    if found is None:
        raise NotFound(f"There is no work {work_id} here.", "It may have been swept; look at its job.")
    return found


def stop(work: models.Work) -> None:
    """Ask a piece of work to stop; one that has not begun, or that nobody holds any more, never goes on."""
    works = models.Work.objects.filter(pk=work.pk)
    works.update(cancel=True)
    left = Q(state=State.WAITING) | Q(state=State.RUNNING) & _lapsed()
    _stamped(works.filter(left), state=State.CANCELLED, what="stopped")


def _lapsed() -> Q:
    """That nobody holds it any more, by the clock: also where it would be held longer than anybody holds anything.

    That is seen after the clock was set back; work would wait for the hour to come again.
    """
    now = timezone.now()
    return Q(leased_until__lt=now) | Q(leased_until__gt=now + 2 * LEASE) | Q(leased_until=None)


def running(since: int | None = None) -> list[models.Work]:
    """What waits or runs now, oldest first; with a stamp also all that has ended after it, with 0 the latest of it."""
    wanted = Q(state__in=UNDER_WAY)
    if since is not None:
        wanted |= Q(stamp__gt=since or _first_ended())
    return list(models.Work.objects.filter(wanted).select_related("job").order_by("pk"))


def _first_ended() -> int:
    """The stamp after which the works lie that have changed last."""
    stamps = models.Work.objects.order_by("-stamp").values_list("stamp", flat=True)
    return next(iter(stamps[FIRST_ENDED : FIRST_ENDED + 1]), 0)


def under_way(on: Target, *kinds: models.WorkKind, key: str | None = None) -> models.Work | None:
    """The first work of some kinds that waits or runs on a job itself or a sheet; ``key`` is what it was asked for."""
    found = _works_on(on).filter(state__in=UNDER_WAY)
    if kinds:
        found = found.filter(kind__in=kinds)
    return (found if key is None else found.filter(arguments__key=key)).order_by("pk").first()


def require_idle(on: Target, *kinds: models.WorkKind) -> None:
    """Raise NotReady while work is under way that changes what it is asked of: it would be lost, or lose.

    Of some ``kinds`` only where they are given.
    """
    work = under_way(on, *(kinds or (CHANGING if isinstance(on, models.Job) else CHANGING_SHEETS)))
    if work is not None:
        what = DOES[models.WorkKind(work.kind)]
        raise NotReady(f"“{on.name}” is being {what}.", "Wait until that is done, or stop it first.")


def latest_of(on: Target) -> models.Work | None:
    """The last piece of work on a job itself or on a sheet, or None."""
    return _works_on(on).select_related("job").order_by("-pk").first()


def _works_on(on: Target) -> QuerySet[models.Work]:
    return on.works.filter(shared=None) if isinstance(on, models.Job) else on.works.all()


def latest_of_all(jobs: Iterable[int]) -> dict[int, models.Work]:
    """The last piece of work on each of these jobs itself, by its number."""
    last = models.Work.objects.filter(job=OuterRef("pk"), shared=None).order_by("-pk").values("pk")[:1]
    of = models.Job.objects.filter(pk__in=jobs).annotate(last=Subquery(last)).values("last")
    return {work.job_id: work for work in models.Work.objects.filter(pk__in=of).select_related("job")}


def refused_mends(job: models.Job, key: str) -> list[models.Work]:
    """The mends that were tried in vain on a state of a job."""
    return list(job.works.filter(kind=models.WorkKind.MEND, state=State.FAILED, result__found=key))


def preview_of(job: models.Job, work_id: int) -> str | None:
    """What a preview of a job gave, by its content; None where there is no such preview."""
    found = job.works.filter(pk=work_id, kind=models.WorkKind.PREVIEW, state=State.DONE).first()
    return str(found.result["sha256"]) if found and found.result else None


def works_on_it() -> Exists:
    """That something works on a job itself or will, as a condition of a query of jobs."""
    return Exists(models.Work.objects.filter(job=OuterRef("pk"), shared=None, state__in=UNDER_WAY))


# -- the worker's side ---------------------------------------------------------------------------------


@transaction.atomic
def claim(worker: str, slots: int = 1) -> models.Work | None:
    """The work whose turn it is, held from now on by a worker; None where there is none.

    Of each job one piece of work runs at a time, and of ``slots`` that work at the same time one is kept free of large
    files: none holds small ones up. What a dead worker held waits again, or has failed when
    that happened before.
    """
    now = timezone.now()
    works = models.Work.objects.all()
    held = works.filter(state=State.RUNNING)
    dead = [name for name in held.values_list("worker", flat=True).distinct() if _has_ended(name)]
    lapsed = held.filter(_lapsed() | Q(worker__in=dead))
    _stamped(lapsed.filter(cancel=True), state=State.CANCELLED, what="stopped")
    given_up = lapsed.filter(attempts__gte=MOST_ATTEMPTS)
    _stamped(given_up, state=State.FAILED, what="failed", error=str(DIED), code=SetAside.code)
    lapsed.update(state=State.WAITING, what="waiting", share=0)
    busy = works.filter(state=State.RUNNING).values("job_id")
    waiting = works.filter(state=State.WAITING, cancel=False).exclude(job_id__in=busy)
    large = held.filter(state=State.RUNNING, weight=models.Weight.LARGE).count()
    if slots > 1 and large >= slots - 1:
        waiting = waiting.exclude(weight=models.Weight.LARGE)
    found = waiting.order_by("turn", "pk").first()
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
def hold(work: models.Work) -> Iterator[None]:
    """A transaction in which a worker writes what it has found. Raises LeaseLost where the work is not its own."""
    with transaction.atomic():
        if not models.Work.objects.filter(_mine(work)).exists():
            raise LeaseLost
        yield


def is_stopped(work: models.Work) -> bool:
    """Whether somebody has asked for it to stop."""
    return models.Work.objects.filter(pk=work.pk, cancel=True).exists()


def tell(work: models.Work, share: float, what: str) -> None:
    """Say how far it is."""
    models.Work.objects.filter(pk=work.pk).update(share=share, what=what[:200])


def note(work: models.Work, result: dict[str, Any] | None) -> None:
    """Keep with it what it has come to so far; who takes it up again finds it."""
    _stamped(models.Work.objects.filter(pk=work.pk), result=result)


def given_back(work: models.Work) -> None:
    """Let work that a worker cannot finish, because it is told to end, wait for the next."""
    models.Work.objects.filter(_mine(work)).update(
        state=State.WAITING, what="waiting", share=0, leased_until=None, attempts=F("attempts") - 1
    )


def ended(work: models.Work, state: models.WorkState, what: str, **also: object) -> None:
    """Say how a piece of work ended, if it is still the worker's."""
    _stamped(models.Work.objects.filter(_mine(work)), state=state, what=what, leased_until=None, **also)


def arguments_of(step: Step, then: Sequence[Step] = ()) -> dict[str, Any]:
    """What a mend's work is given: the step with its settings, and the steps that are done with it."""
    return {**step.to_json(), **({"then": [one.to_json() for one in then]} if then else {})}


def steps_of(arguments: Mapping[str, Any]) -> tuple[Step, list[Step]]:
    """The step of a mend's work and those that are done with it. Raises BadValue."""
    settings = {key: value for key, value in arguments.items() if key != "then"}
    return step_from(settings), [step_from(one) for one in arguments.get("then", ())]
