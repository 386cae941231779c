"""What was done with a customer's files before, and what of it answers a job's findings."""

from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from horismos.checking import Report
from horismos.checking.engine.decisions import Decision
from horismos.errors import BadValue
from horismos.mending import Recipe, Step, as_before, step_from
from horismos.workflow.mend import safe_steps
from horismos.workflow.showing.findings import FindingShown
from jobs import models

__all__ = ["Habit", "habit_of"]

MOST_JOBS = 20
"""So many of a customer's jobs, the latest, are looked through."""
ASKS = ("stop", "look")


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
        _steps({"mend": mend.kind, **mend.settings} for mend in card.mends if not mend.safe and not mend.then)
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


def _steps(kept: Iterable[Mapping[str, Any]]) -> list[Step]:
    """Steps that were kept as plain values; one that the mends of today would not take is nobody's habit."""
    found = []
    for one in kept:
        with suppress(BadValue):
            found.append(step_from(one))
    return found


def _done(jobs: Sequence[models.Job]) -> list[tuple[models.Job, Step]]:
    """What each of these was given on the way to the revision that counts, the latest first."""
    rows = models.Revision.objects.filter(job__in=jobs).only("pk", "parent_id", "steps")
    by_id: dict[int | None, models.Revision] = {row.pk: row for row in rows}
    found = []
    for job in jobs:
        at = by_id.get(job.revision_id)
        while at is not None:
            found += [(job, step) for step in _steps(reversed(at.steps))]
            at = by_id.get(at.parent_id)
    return found
