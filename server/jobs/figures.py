"""The figures of the shop: what came in, what it came with, how soon it was ready, what was printed and wasted."""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import median

from django.db.models import Count, Q, QuerySet
from django.db.models.functions import TruncWeek

from jobs import models
from jobs.store.faults import FaultCount, arrived, fault_counts, title_of_check

__all__ = ["TABLES", "CustomerFaults", "FiguresShown", "Week", "figures", "table"]


@dataclass(frozen=True)
class Week:
    """A week from its Monday: files that came in, those of them that needed nobody (of how many that is known), and
    what was released: sheets, metres of media, square metres of it, and of these what was waste.
    """

    monday: date
    files: int = 0
    sorted: int = 0
    untouched: int = 0
    sheets: int = 0
    metres: float = 0.0
    area_m2: float = 0.0
    waste_m2: float = 0.0


@dataclass(frozen=True)
class CustomerFaults:
    """A customer's files, those that came with a fault, and files by kind of fault."""

    customer: str
    files: int
    faulty: int
    kinds: dict[str, int]


@dataclass(frozen=True, kw_only=True)
class FiguresShown:
    """Figures from a day to the end of another. Hours from arrival to ready are None where nothing was ready."""

    since: date
    until: date
    weeks: list[Week]
    faults: list[FaultCount]
    customers: list[CustomerFaults]
    files: int
    sorted: int
    untouched: int
    ready: int
    hours_median: float | None
    hours_p90: float | None
    sheets: int
    metres: float
    area_m2: float
    waste_m2: float


def figures(since: date, until: date) -> FiguresShown:
    """The figures of some time; counted by the database, in a fixed number of questions."""
    jobs = arrived(since=since, until=until)
    weeks = _weeks(jobs, since, until)
    times = jobs.filter(ready_at__isnull=False).values_list("created", "ready_at")
    hours = sorted((ready - came).total_seconds() / 3600 for came, ready in times if ready is not None)
    return FiguresShown(
        since=since, until=until, weeks=weeks, faults=fault_counts(jobs), customers=_customers(jobs),
        files=sum(week.files for week in weeks), sorted=sum(week.sorted for week in weeks),
        untouched=sum(week.untouched for week in weeks), ready=len(hours),
        hours_median=round(median(hours), 5) if hours else None,
        hours_p90=round(hours[min(len(hours) - 1, int(0.9 * len(hours)))], 5) if hours else None,
        sheets=sum(week.sheets for week in weeks), metres=round(sum(week.metres for week in weeks), 3),
        area_m2=round(sum(week.area_m2 for week in weeks), 3), waste_m2=round(sum(week.waste_m2 for week in weeks), 3),
    )


def _monday(day: date) -> date:
    return day - timedelta(days=day.weekday())


def _weeks(jobs: QuerySet[models.Job], since: date, until: date) -> list[Week]:
    came = {
        row["week"].date(): row for row in jobs.order_by().annotate(week=TruncWeek("created")).values("week").annotate(
            files=Count("pk"), sorted=Count("pk", filter=~Q(first_state="")),
            untouched=Count("pk", filter=Q(first_state=models.JobState.READY)),
        )
    }
    printed: dict[date, list[tuple[float, float, float]]] = defaultdict(list)
    made = models.Release.objects.filter(created__date__gte=since, created__date__lte=until)
    for when, width, length, waste in made.values_list(
        "created", "ticket__sheet__width_mm", "ticket__sheet__used_length_mm", "ticket__sheet__waste_percent"
    ):
        metres, area = (length or 0) / 1e3, (length or 0) * (width or 0) / 1e6
        printed[_monday(when.date())].append((metres, area, area * (waste or 0) / 100))
    out, monday = [], _monday(since)
    while monday <= until:
        row, sheets = came.get(monday), printed.get(monday, [])
        metres, area, waste_m2 = (round(sum(sheet[i] for sheet in sheets), 3) for i in range(3))
        out.append(Week(
            monday, row["files"] if row else 0, row["sorted"] if row else 0, row["untouched"] if row else 0,
            len(sheets), metres, area, waste_m2,
        ))
        monday += timedelta(days=7)
    return out


def _customers(jobs: QuerySet[models.Job]) -> list[CustomerFaults]:
    rows = jobs.order_by().values("customer").annotate(
        files=Count("pk", distinct=True), faulty=Count("faults__job", distinct=True)
    )
    kinds: dict[str, dict[str, int]] = defaultdict(dict)
    found = models.Fault.objects.filter(job__in=jobs).values_list("job__customer", "check_id")
    for customer, id, count in found.annotate(n=Count("job", distinct=True)).order_by("job__customer", "-n"):
        kinds[customer][id] = count
    made = [CustomerFaults(one["customer"], one["files"], one["faulty"], kinds[one["customer"]]) for one in rows]
    return sorted(made, key=lambda one: (-one.faulty, one.customer.casefold()))


TABLES = ("weeks", "faults", "customers")
"""What can be had as a table."""


def table(shown: FiguresShown, which: str) -> Iterator[list[object]]:
    """The rows of a table with its headings; another word than those of ``TABLES`` is the last of them."""
    if which == "weeks":
        yield ["week from", "files", "known", "needed nobody", "sheets", "metres", "m2", "waste m2"]
        yield from (
            [w.monday, w.files, w.sorted, w.untouched, w.sheets, w.metres, w.area_m2, w.waste_m2] for w in shown.weeks
        )
    elif which == "faults":
        yield ["check", "fault", "files"]
        yield from ([fault.id, fault.title, fault.files] for fault in shown.faults)
    else:
        yield ["customer", "files", "with faults", "check", "fault", "files with it"]
        for one in shown.customers:
            yield [one.customer, one.files, one.faulty, "", "", ""]
            yield from (
                [one.customer, one.files, one.faulty, id, title_of_check(id), count] for id, count in one.kinds.items()
            )
