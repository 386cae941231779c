"""The figures of the shop, to be looked at and as tables."""

from datetime import date, timedelta
from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from horismos.errors import BadValue
from jobs.api.common import table_file
from jobs.figures import FiguresShown, figures, table

__all__ = ["router"]

router = Router()
USUAL = timedelta(weeks=12)
MOST = timedelta(days=3 * 366)


def _between(since: date | None, until: date | None) -> tuple[date, date]:
    last = until or timezone.now().date()
    first = since or last - USUAL
    if first > last:
        raise BadValue("The first day lies after the last one.", "Turn them round.")
    if last - first > MOST:
        raise BadValue("That is more than three years.", "Choose less time.")
    return first, last


@router.get("/figures", response=FiguresShown)
def shop_figures(request: HttpRequest, since: date | None = None, until: date | None = None) -> FiguresShown:
    """What came in, with what faults, how soon it was ready, and what was printed: the last twelve weeks as usual."""
    return figures(*_between(since, until))


@router.get("/figures/{which}.csv")
def figures_table(
    request: HttpRequest, which: Literal["weeks", "faults", "customers"], since: date | None = None,
    until: date | None = None,
) -> HttpResponse:
    """The same as a table."""
    return table_file(table(figures(*_between(since, until)), which), f"figures-{which}.csv")
