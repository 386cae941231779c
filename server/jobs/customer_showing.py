"""A customer as their page shows them: open work, habits, and what their files came with."""

from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, Max, Q

from horismos.shelf import Kind
from horismos.workflow.showing.findings import MendShown, mend_shown
from jobs import models
from jobs.listing import job_counts
from jobs.store.check_sheets import latest
from jobs.store.customers import customer_called
from jobs.store.faults import FaultCount, FaultMonth, arrived, fault_counts, fault_months
from jobs.store.habits import known_steps, learnt_of
from jobs.store.shelf import known_shelf

__all__ = ["BoundShown", "CustomerRow", "CustomerShown", "HabitShown", "customer_rows", "customer_shown"]

MOST_KINDS = 5
"""[ours] kinds of fault that are drawn over time: more could not be told apart."""


@dataclass(frozen=True)
class CustomerRow:
    """A customer in the list: files in all, those that wait for a person, those with faults, and the last one."""

    name: str
    files: int
    open: int
    faulty: int
    last: datetime | None


@dataclass(frozen=True)
class HabitShown:
    """Something that is always done to a customer's files, or how lines are made: a thing on the Shelf."""

    id: str
    kind: Kind
    title: str
    mends: list[MendShown]


@dataclass(frozen=True)
class BoundShown:
    """What a layer, pen, colour or ink of a customer's files is; ``in_pdf`` where it was said of a PDF's."""

    key: str
    is_: str
    in_pdf: bool


@dataclass(frozen=True)
class LearntShown:
    """Mends that may always be done from now on, with the jobs that had them alike."""

    mends: list[MendShown]
    jobs: list[str]


@dataclass(frozen=True, kw_only=True)
class CustomerShown:
    """A customer. ``thing`` is the id of what the Shelf has of them; empty where there is nothing yet."""

    name: str
    thing: str
    write_to: str
    note: str
    order: dict[str, object]
    destination: str
    check_sheet: bool
    counts: dict[str, int]
    habits: list[HabitShown]
    bound: list[BoundShown]
    declined: list[MendShown]
    learnt: LearntShown | None
    faults: list[FaultCount]
    months: list[FaultMonth]
    untouched: int
    """Of the files that came in, how many needed nobody."""
    sorted: int
    """Of how many that is known."""


def customer_rows() -> list[CustomerRow]:
    """All customers of jobs and of the Shelf, those with open work first; with a fixed number of questions."""
    found = models.Job.objects.exclude(customer="").order_by().values("customer").annotate(
        files=Count("pk", distinct=True), last=Max("created"), faulty=Count("faults__job", distinct=True),
        open=Count("pk", distinct=True, filter=~Q(state__in=[models.JobState.RELEASED, models.JobState.READY])),
    )
    rows = [CustomerRow(one["customer"], one["files"], one["open"], one["faulty"], one["last"]) for one in found]
    there = {row.name.casefold() for row in rows}
    rows += [
        CustomerRow(item.title, 0, 0, 0, None) for item in known_shelf().offered(Kind.CUSTOMER)
        if item.title.casefold() not in there
    ]
    return sorted(rows, key=lambda row: (-row.open, row.name.casefold()))


def customer_shown(name: str) -> CustomerShown:
    """A customer's page; one of whom nothing is known has an empty one."""
    known, item = known_shelf(), customer_called(name)
    row = models.Customer.objects.filter(name=name).first()
    jobs = arrived(customer=name)
    faults = fault_counts(jobs)
    data = item.data if item else {}
    first = jobs.exclude(first_state="")
    destination = known.shelf.get(data.get("destination") or "")
    learnt = learnt_of(name)
    return CustomerShown(
        name=name, thing=item.id if item else "", write_to=str(data.get("write_to") or ""),
        note=str(data.get("note") or ""), order=dict(data.get("order") or {}),
        destination=destination.title if destination else "", check_sheet=latest("customer", name) is not None,
        counts=job_counts(customer=name), habits=_habits(name), bound=_bound(row),
        declined=[mend_shown(step) for step in known_steps(row.declined)] if row else [],
        learnt=LearntShown([mend_shown(s) for s in learnt.steps], [j.name for j in learnt.jobs]) if learnt else None,
        faults=faults, months=fault_months(jobs, [fault.id for fault in faults[:MOST_KINDS]]),
        untouched=first.filter(first_state=models.JobState.READY).count(), sorted=first.count(),
    )


def _habits(name: str) -> list[HabitShown]:
    known, item = known_shelf(), customer_called(name)
    if item is None:
        return []
    ids = [*item.data.get("recipes", ()), *filter(None, [item.data.get("lines")])]
    out = []
    for thing in (known.shelf[id] for id in ids if not known.shelf[id].retired):
        steps = known.value(thing).steps if thing.kind is Kind.RECIPE else ()
        out.append(HabitShown(thing.id, thing.kind, thing.title, [mend_shown(step) for step in steps]))
    return out


def _bound(row: models.Customer | None) -> list[BoundShown]:
    if row is None:
        return []
    return [
        *(BoundShown(key, role, False) for key, role in sorted(row.binding.items())),
        *(BoundShown(key, role, True) for key, role in sorted(row.known.items())),
    ]
