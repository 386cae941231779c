"""What a job needs from a person, as columns of its row: the list of jobs is filtered, counted and paged by them.

They follow from what was found on it, from decisions and packages. Who writes any of these in a transaction ends it
with ``refresh``: a worker's commit and a person's change do so by themselves.
"""

from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from django.db.models import Q, QuerySet
from django.utils import timezone

from horismos.workflow.pile import State
from horismos.workflow.stations import stations_done
from jobs import models
from jobs.store.summaries import Summary, summary_of

__all__ = ["outdated", "packages_of", "refresh", "state_of"]

DONE = (models.JobState.READY, models.JobState.RELEASED)
SUMMARY = ("summary", "error", "job_id")


def refresh(jobs: Iterable[int]) -> None:
    """Bring the columns of these jobs up to what holds now."""
    for job, now in outdated(models.Job.objects.filter(pk__in=set(jobs))):
        models.Job.objects.filter(pk=job.pk).update(**now)


def outdated(jobs: QuerySet[models.Job]) -> Iterator[tuple[models.Job, dict[str, Any]]]:
    """Those of some jobs whose columns do not say what holds now, with what they should say."""
    rows = list(jobs.prefetch_related("decisions"))
    found = {row.job_id: row for row in models.Analysis.objects.filter(job__in=rows).only(*SUMMARY)}
    for job in rows:
        analysis = found.get(job.pk)
        summary = summary_of(analysis, list(job.decisions.all()))
        released = packages_of(job).exists()
        now: dict[str, Any] = {
            "state": state_of(job.asks, analysis.error if analysis else "", summary, released),
            "verdict": summary.verdict or "", "stops": summary.stops, "looks": summary.looks,
            "station": stations_done(summary.stops, not summary.sheet_error, released),
        }
        if job.ready_at is None and now["state"] in DONE and job.state not in DONE:
            now["ready_at"] = timezone.now()
        if analysis is not None and "inks" in analysis.summary:  # not there in a row of before
            now["found_by"] = _found_by(job, summary.inks)
        if now != {name: getattr(job, name) for name in now}:
            yield job, now


def _found_by(job: models.Job, inks: Sequence[str]) -> str:
    """What a job is found by beside its names: its inks, and the codes of its sheets."""
    codes = packages_of(job).values_list("ticket__code", flat=True)
    return "\n".join(dict.fromkeys([*inks, *filter(None, codes)]))


def packages_of(job: models.Job) -> QuerySet[models.Release]:
    """What was released of a job, alone or on sheets that jobs share, in that order."""
    return models.Release.objects.filter(Q(job=job) | Q(shared__shares__job=job)).order_by("pk").distinct()


def state_of(asks: Sequence[object], error: str, summary: Summary, released: bool) -> models.JobState:
    """What a job needs from a person: one of the groups of the Desk, and no other."""
    if asks:
        return models.JobState.ANSWER
    if summary.stops is None:
        return models.JobState.UNREADABLE if error else models.JobState.COMING
    if released:
        return models.JobState.RELEASED
    if summary.open:
        return models.JobState.ANSWER
    if summary.sheet_error and summary.wants is not State.LETTER:
        return models.JobState.MEND  # a layout that fits has to be chosen
    return models.JobState(summary.wants.value)
