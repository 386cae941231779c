"""What every part of the API does: find the job, answer with a picture or a download."""

import csv
import io
from collections.abc import Iterable, Sequence
from typing import TypeVar
from urllib.parse import quote

from django.db.models import Model, QuerySet
from django.http import HttpRequest, HttpResponse

from horismos.errors import ChangedMeanwhile, NotFound
from jobs import models
from jobs.showing import JobShown, job_shown
from jobs.store.decisions import may_waive
from jobs.store.reading import consistent_read
from jobs.store.snapshots import ROWS

__all__ = ["download", "find", "find_job", "job_response", "picture", "same_revision", "table_file"]

Row = TypeVar("Row", bound=Model)

DAY = "private, max-age=86400"


def find(rows: QuerySet[Row], pk: object) -> Row:
    """The row with this key; raises NotFound, which names the kind of thing that is not there."""
    row = rows.filter(pk=pk).first()
    if row is None:
        kind = rows.model._meta.verbose_name
        raise NotFound(f"There is no {kind} {pk} here.", "It may have been removed; go back to the Desk.")
    return row


def find_job(job_id: int) -> models.Job:
    """A job with what is always asked of it; raises NotFound where there is none."""
    return find(_jobs(), job_id)


def _jobs() -> QuerySet[models.Job]:
    return models.Job.objects.select_related(*ROWS)


def job_response(request: HttpRequest, job_id: int) -> JobShown:
    """A job as it stands now, for who asks."""
    with consistent_read():
        return job_shown(find(_jobs().prefetch_related("tools"), job_id), may_waive(request.user))


def same_revision(job: models.Job, number: int) -> None:
    """Raise ChangedMeanwhile where a job is at another revision than the person has looked at."""
    now = job.revision.number if job.revision else 0
    if now != number:
        raise ChangedMeanwhile(
            f"“{job.name}” is at revision {now} by now, and you had looked at {number}.",
            "Look at it as it is now, then ask again.",
        )


def picture(png: bytes, immutable: bool = True) -> HttpResponse:
    """A PNG, to be kept by the browser; an address that names its content stays right for ever."""
    answer = HttpResponse(png, content_type="image/png")
    answer["Cache-Control"] = f"{DAY}, immutable" if immutable else DAY
    return answer


def table_file(rows: Iterable[Sequence[object]], name: str) -> HttpResponse:
    """A table as CSV (RFC 4180); what a spreadsheet would take for a formula is quoted."""
    out = io.StringIO()
    csv.writer(out).writerows([_plain(cell) for cell in row] for row in rows)
    return download(out.getvalue().encode(), name, "text/csv; charset=utf-8")


def _plain(cell: object) -> object:
    """A cell that no spreadsheet carries out."""
    return f"'{cell}" if isinstance(cell, str) and cell[:1] in ("=", "+", "-", "@", "\t", "\r") else cell


def download(data: bytes, name: str, kind: str = "application/pdf") -> HttpResponse:
    """Bytes as a download with a safe name."""
    answer = HttpResponse(data, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{quote(name)}"'
    return answer
