"""What was done with a customer's files before, and what of it answers a job's findings."""

from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from horismos.checking import Report
from horismos.checking.engine.decisions import Decision
from horismos.errors import BadValue
from horismos.mending import Recipe, Step, as_before, registered, step_from
from horismos.workflow.mend import safe_steps
from horismos.workflow.showing.findings import FindingShown
from jobs import models
from jobs.store.customers import habits_of

__all__ = ["Habit", "Learnt", "habit_of", "known_steps", "learnt_of"]

MOST_JOBS = 20
"""So many of a customer's jobs, the latest, are looked through."""
ASKS = ("stop", "look")
LEARNT = 3
"""[ours] what so many of a customer's files were given by people is offered to be done always."""


@dataclass(frozen=True)
class Habit:
    """Mends in a row, and the customer's job that had them last."""

    job: models.Job
    steps: tuple[Step, ...]

    @property
    def recipe(self) -> Recipe:
        """What is carried out."""
        return Recipe(f"as for {self.job.name}"[:200], 1, self.steps)


def habit_of(
    job: models.Job, report: Report | None, cards: Sequence[FindingShown], decisions: Sequence[Decision]
) -> Habit | None:
    """What the customer's files were given before and what this one wants, after all that is safe.

    None where nothing was, or where nothing but the safe mends is left of it: these have a button of their own.
    """
    if not job.customer or report is None:
        return None
    offered = [
        known_steps({"mend": mend.kind, **mend.settings} for mend in card.mends if not mend.safe and not mend.then)
        for card in cards if card.severity in ASKS and card.decision is None
    ]
    if not any(offered):
        return None
    others = models.Job.objects.filter(customer=job.customer, revision__parent__isnull=False).exclude(pk=job.pk)
    latest = list(others.select_related("revision").order_by("-revision")[:MOST_JOBS])
    done = _done(latest)
    steps = as_before(offered, [step for _, step in done])
    if not steps:
        return None
    kinds = {step.mend for step in steps}
    before = next(other for other, step in done if step.mend in kinds)
    return Habit(before, (*safe_steps(report, decisions), *steps)[:100])


@dataclass(frozen=True)
class Learnt:
    """Mends that people have given to several of a customer's files in just the same way, and the latest of these."""

    steps: tuple[Step, ...]
    jobs: tuple[models.Job, ...]


def learnt_of(customer: str) -> Learnt | None:
    """What may always be done to a customer's files; None where nothing was done alike often enough.

    What is safe needs no habit; what is done for the customer already, and what somebody has said no to, is not
    offered.
    """
    if not customer:
        return None
    mended = models.Job.objects.filter(customer=customer, revision__parent__isnull=False)
    row = models.Customer.objects.filter(name=customer).first()
    declined = row.declined if row else []
    known = set(habits_of(customer).steps)
    by_step: dict[Step, dict[int, models.Job]] = {}
    for job, step in _done(list(mended.select_related("revision").order_by("-revision")[:MOST_JOBS]), by_people=True):
        if not registered()[step.mend].safe and step not in known and step.to_json() not in declined:
            by_step.setdefault(step, {})[job.pk] = job
    often = {step: jobs for step, jobs in by_step.items() if len(jobs) >= LEARNT}
    if not often:
        return None
    shared = next(iter(often.values()))
    together = [step for step, jobs in often.items() if jobs.keys() == shared.keys()]
    order = list(registered())
    return Learnt(
        tuple(sorted(together, key=lambda step: order.index(step.mend))), tuple(list(shared.values())[:LEARNT])
    )


def known_steps(kept: Iterable[Mapping[str, Any]]) -> list[Step]:
    """Steps that were kept as plain values; one that the mends of today would not take is nobody's habit."""
    found = []
    for one in kept:
        with suppress(BadValue):
            found.append(step_from(one))
    return found


def _done(jobs: Sequence[models.Job], by_people: bool = False) -> list[tuple[models.Job, Step]]:
    """What each of these was given on the way to the revision that counts, the latest first; or by people alone."""
    rows = models.Revision.objects.filter(job__in=jobs).only("pk", "parent_id", "steps", "by_itself")
    by_id: dict[int | None, models.Revision] = {row.pk: row for row in rows}
    found = []
    for job in jobs:
        at = by_id.get(job.revision_id)
        while at is not None:
            if not (by_people and at.by_itself):
                found += [(job, step) for step in known_steps(reversed(at.steps))]
            at = by_id.get(at.parent_id)
    return found
