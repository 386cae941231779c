"""The log of the shop: filtered, a page at a time, and as CSV. Nothing here changes it."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime
from itertools import chain
from typing import Any

from django.db.models import Q, QuerySet
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.params.functions import Query
from pydantic import Field

from jobs import models
from jobs.api.common import table_file
from jobs.api.wants import READ_LOG

__all__ = ["router"]

router = Router()
MOST_EXPORTED = 200_000
EVERY: Any = Query(...)
HEAD = ("when", "who", "topic", "about", "version", "what")


class Wanted(Schema):
    """Which entries: what is left out is any. ``search`` is looked for in what was done, to what, and by whom."""

    topic: models.LogTopic | None = None
    who: str = Field("", max_length=150)
    search: str = Field("", max_length=200)
    since: date | None = None
    until: date | None = None


@dataclass(frozen=True)
class EntryShown:
    """Who did what to what, when. ``job``, ``sheet`` and ``item`` are there still where they say one."""

    id: int
    when: datetime
    who: str
    topic: models.LogTopic
    about: str
    version: int
    what: str
    job: int | None
    sheet: int | None
    item: str | None


@dataclass(frozen=True)
class LogPage:
    """Some entries, the latest first, how many there are in all, and everybody who has ever done something."""

    entries: list[EntryShown]
    count: int
    people: list[str]


def _wanted(by: Wanted) -> QuerySet[models.LogEntry]:
    found = models.LogEntry.objects.order_by("-id")
    if by.topic is not None:
        found = found.filter(topic=by.topic)
    if by.who:
        found = found.filter(who_name=by.who)
    if by.search.strip():
        text = by.search.strip()
        found = found.filter(Q(what__icontains=text) | Q(about__icontains=text) | Q(who_name__icontains=text))
    if by.since:
        found = found.filter(when__date__gte=by.since)
    return found.filter(when__date__lte=by.until) if by.until else found


def _there(rows: list[models.LogEntry]) -> Iterator[EntryShown]:
    ids = {name: {getattr(row, f"{name}_id") for row in rows} - {None} for name in ("job", "shared", "item")}
    kinds = {"job": models.Job, "shared": models.SharedSheet, "item": models.ShelfItem}
    there = {
        name: set(kinds[name]._default_manager.filter(pk__in=wanted).values_list("pk", flat=True))
        for name, wanted in ids.items()
    }
    for row in rows:
        yield EntryShown(
            row.pk, row.when, row.who_name, models.LogTopic(row.topic), row.about, row.version, row.what,
            row.job_id if row.job_id in there["job"] else None,
            row.shared_id if row.shared_id in there["shared"] else None,
            row.item_id if row.item_id in there["item"] else None,
        )


@router.get("/log", response=LogPage, auth=READ_LOG)
def entries(
    request: HttpRequest, by: Wanted = EVERY, offset: int = Query(0, ge=0, le=10**9),
    limit: int = Query(100, ge=1, le=500),
) -> LogPage:
    """The log, a page at a time."""
    found = _wanted(by)
    people = models.LogEntry.objects.exclude(who_name="").order_by("who_name").values_list("who_name", flat=True)
    return LogPage(list(_there(list(found[offset : offset + limit]))), found.count(), list(people.distinct()))


@router.get("/log/export", auth=READ_LOG)
def export(request: HttpRequest, by: Wanted = EVERY) -> HttpResponse:
    """The log as CSV (RFC 4180), the latest first, times in UTC; what a table would take for a formula is quoted."""
    rows = (
        [f"{row.when:%Y-%m-%d %H:%M:%S}", row.who_name, row.topic, row.about, row.version, row.what]
        for row in _wanted(by)[:MOST_EXPORTED].iterator()
    )
    return table_file(chain([HEAD], rows), "log.csv")
