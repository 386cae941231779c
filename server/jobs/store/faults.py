"""What customers' files came with: by kind, by customer and by month."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.db.models import Count, QuerySet
from django.db.models.functions import TruncMonth

from horismos.reporting.words import WORDS
from jobs import models

__all__ = ["FaultCount", "FaultMonth", "arrived", "fault_counts", "fault_months", "title_of_check"]


@dataclass(frozen=True)
class FaultCount:
    """A kind of fault, and on how many files it came."""

    id: str
    title: str
    files: int


@dataclass(frozen=True)
class FaultMonth:
    """What came in a month: files, those with any fault, and the files with each kind."""

    month: date
    files: int
    faulty: int
    kinds: dict[str, int]


def title_of_check(id: str) -> str:
    """What a check is called."""
    return WORDS[id].title if id in WORDS else id


def arrived(customer: str | None = None, since: date | None = None, until: date | None = None) -> QuerySet[models.Job]:
    """The jobs that came in as files, from a day on to the end of another."""
    jobs = models.Job.objects.filter(again_of=None)
    said = {"customer": customer, "created__date__gte": since, "created__date__lte": until}
    return jobs.filter(**{key: value for key, value in said.items() if value is not None})


def fault_counts(jobs: QuerySet[models.Job]) -> list[FaultCount]:
    """The kinds of fault that files came with, the most common first."""
    found = models.Fault.objects.filter(job__in=jobs).values("check_id")
    counted = found.annotate(files=Count("job", distinct=True)).order_by("-files", "check_id")
    return [FaultCount(one["check_id"], title_of_check(one["check_id"]), one["files"]) for one in counted]


def fault_months(jobs: QuerySet[models.Job], kinds: Sequence[str]) -> list[FaultMonth]:
    """The same by month of arrival, the earliest first; each of ``kinds`` by itself."""
    month = TruncMonth("created")
    rows = jobs.order_by().annotate(month=month).values("month").annotate(
        files=Count("pk", distinct=True), faulty=Count("faults__job", distinct=True)
    )
    each: dict[date, dict[str, int]] = defaultdict(lambda: dict.fromkeys(kinds, 0))
    found = models.Fault.objects.filter(job__in=jobs, check_id__in=kinds).annotate(month=TruncMonth("job__created"))
    for when, id, count in found.values_list("month", "check_id").annotate(n=Count("job", distinct=True)):
        each[when.date()][id] = count
    return [
        FaultMonth(row["month"].date(), row["files"], row["faulty"], dict(each[row["month"].date()]))
        for row in rows.order_by("month")
    ]
