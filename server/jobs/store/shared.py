"""Sheets that several jobs share: begun, changed, laid out anew when a job on them changes."""

import hashlib
import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Sum
from django.utils import timezone

from horismos.checking import Rehearsed, Severity, registered
from horismos.destinations import SHIPPED
from horismos.errors import BadValue, ChangedMeanwhile, NotFound, NotReady
from horismos.materials import MATERIALS
from horismos.sheet import Layout, Turn
from horismos.workflow.steps.together import StoredShare, StoredSheet
from jobs import models
from jobs.store.cases import case_of, order_of, share_key
from jobs.store.check_sheets import check_sheet_of
from jobs.store.works import UNDER_WAY, begin

__all__ = [
    "SharedChanging",
    "begin_on",
    "begin_sheet",
    "changing_sheet",
    "free_of",
    "is_busy",
    "keep_sheet",
    "keep_trouble",
    "offered_to",
    "put_on",
    "queue_layout",
    "rehearsal_stop",
    "sheet_key",
    "stored_sheet",
]

REHEARSED = "edge.rehearsed"
MOST_LOGGED = 50
MOST_OFFERED = 50


def begin_sheet(jobs: Iterable[models.Job], who: int | None) -> models.SharedSheet:
    """A new sheet for jobs of one material and destination, with all of their copies that lie on no other."""
    listed = list(jobs)
    first = listed[0]
    sheet = models.SharedSheet.objects.create(
        name="Shared sheet", destination=first.destination, material=first.material,
        layout={key: value for key, value in first.layout.items() if key in ("marks", "code", "mirror", "media")},
    )
    sheet.name = f"Shared sheet {sheet.pk}"
    sheet.save(update_fields=["name"])
    for job in listed:
        put_on(sheet, job, None)
    _log(sheet, who, f"Begun with {', '.join(job.name for job in listed)}")
    return sheet


def put_on(sheet: models.SharedSheet, job: models.Job, quantity: int | None, turn: str = "quarter") -> None:
    """Put a job on a sheet, or change what it has there; ``quantity`` None: all that lies on no other sheet.

    Raises BadValue for a job of another material or destination, NotReady for one without artwork.
    """
    if job.material_id != sheet.material_id or job.destination_id != sheet.destination_id:
        raise BadValue(
            f"“{job.name}” is printed on {job.material.title} for {job.destination.title}.",
            f"This sheet is {sheet.material.title} for {sheet.destination.title}.",
        )
    if job.revision is None or job.asks:
        raise NotReady(f"“{job.name}” is not taken in yet.", "Answer what its file leaves open first.")
    values = {"quantity": quantity or max(free_of(job, sheet), 1), "turn": turn}
    last = sheet.shares.order_by("-position").first()
    models.Share.objects.update_or_create(
        sheet=sheet, job=job, defaults=values,
        create_defaults={**values, "position": last.position + 1 if last else 0},
    )


def free_of(job: models.Job, but: models.SharedSheet | None = None) -> int:
    """How many of the ordered copies of a job lie on no shared sheet, one left out."""
    shares = job.shares.exclude(sheet=but) if but else job.shares.all()
    taken = shares.aggregate(sum=Sum("quantity"))["sum"] or 0
    return max(order_of(job).quantity - int(taken), 0)


def offered_to(sheet: models.SharedSheet) -> Sequence[tuple[models.Job, int]]:
    """The jobs that wait and would go on a sheet, due first, each with its copies that lie on no sheet."""
    jobs = models.Job.objects.filter(
        material=sheet.material, destination=sheet.destination, revision__isnull=False, asks=[], releases=None
    ).exclude(shares__sheet=sheet).annotate(taken=Sum("shares__quantity"))
    waiting = jobs.select_related("order", "material", "revision", "analysis")[: 4 * MOST_OFFERED]
    free = [(job, order_of(job).quantity - (job.taken or 0)) for job in waiting]
    return [(job, count) for job, count in free if count > 0][:MOST_OFFERED]


class SharedChanging:
    """A sheet that is being changed; ``done`` says what was done to it, and lays it out anew."""

    def __init__(self, sheet: models.SharedSheet, who: int | None) -> None:
        self.sheet, self._who = sheet, who

    def done(self, what: str) -> None:
        """Note the change. Said once, at the end of it."""
        self.sheet.version += 1
        self.sheet.save(update_fields=["version", "name", "layout"])
        self.sheet.shares.update(changed="")
        _log(self.sheet, self._who, what)


@contextmanager
def changing_sheet(sheet_id: int, version: int, who: int | None) -> Iterator[SharedChanging]:
    """A transaction in which a sheet is changed as a person has seen it. Raises NotFound, ChangedMeanwhile."""
    with transaction.atomic():
        sheet = models.SharedSheet.objects.select_related("material", "destination").filter(pk=sheet_id).first()
        if sheet is None:
            raise NotFound(f"There is no shared sheet {sheet_id} here.", "It may have been removed.")
        if sheet.version != version:
            last = sheet.log[-1]["what"] if sheet.log else "changed"
            raise ChangedMeanwhile(
                f"“{sheet.name}” was changed after you had looked ({last}).",
                "Look at it as it is now, then make your change again.",
            )
        yield SharedChanging(sheet, who)


def _log(sheet: models.SharedSheet, who: int | None, what: str) -> None:
    entry = {"who": who, "what": what, "when": timezone.now().isoformat()}
    sheet.log = [*sheet.log, entry][-MOST_LOGGED:]
    sheet.save(update_fields=["log"])


def queue_layout(sheet: models.SharedSheet) -> models.Work:
    """Ask for a sheet to be laid out; a work that waits already will do."""
    waits = sheet.works.filter(kind=models.WorkKind.SHEET, state=models.WorkState.WAITING).first()
    if waits is not None:
        return waits
    return begin_on(sheet, models.WorkKind.SHEET)


def begin_on(sheet: models.SharedSheet, kind: models.WorkKind, asked: dict[str, Any] | None = None) -> models.Work:
    """Put a piece of work on a sheet into the queue. Raises NotReady where nothing lies on it."""
    first = sheet.shares.select_related("job").first()
    if first is None:
        raise NotReady("There is no job on the sheet.", "Put one on it.")
    return begin(first.job, kind, asked, sheet)


def is_busy(sheet: models.SharedSheet) -> bool:
    """Whether something is being done to a sheet."""
    return sheet.works.filter(state__in=UNDER_WAY).exists()


@dataclass(frozen=True)
class _Standing:
    key: str
    made_of: Mapping[int, str]


def sheet_key(sheet: models.SharedSheet) -> _Standing:
    """What a sheet depends on, and what of that is each job's, by its number."""
    shares = _shares(sheet)
    made_of = {share.job_id: share_key(share.job) for share in shares}
    layout = {key: value for key, value in sheet.layout.items() if key != "placed_of"}
    parts: list[Any] = [
        layout, sheet.material_id, sheet.destination_id,
        [[share.job_id, share.quantity, share.turn, made_of[share.job_id]] for share in shares],
    ]
    return _Standing(hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest(), made_of)


def rehearsal_stop(sheet: models.SharedSheet, key: str) -> str:
    """Why the shop does not release a sheet by what its rehearsal has shown, in words; empty where it does.

    ``key`` is what the sheet depends on now: a rehearsal of before says nothing.
    """
    kept = sheet.rehearsal
    if kept.get("key") != key:
        return ""
    spoilt = Rehearsed(**kept["counts"]).spoilt_percent
    for share in sheet.shares.select_related("job"):
        wanted = check_sheet_of(share.job)
        limit = wanted.limits.get(REHEARSED, registered()[REHEARSED].limit)
        if wanted.severities.get(REHEARSED) == Severity.STOP and spoilt > limit:
            return f"The rehearsal spoilt {spoilt:.1f} % of the pieces; the shop wants at most {limit:g} %."
    return ""


def _shares(sheet: models.SharedSheet) -> list[models.Share]:
    on = ("job", "job__order", "job__material", "job__revision", "job__analysis")
    return list(models.Share.objects.filter(sheet=sheet).select_related(*on))


def stored_sheet(sheet: models.SharedSheet) -> StoredSheet:
    """A shared sheet as the core sees it, its artworks in the store."""
    shares = tuple(
        StoredShare(case_of(share.job), share.quantity, Turn(share.turn)) for share in _shares(sheet)
    )
    return StoredSheet(
        sheet.name, shares, MATERIALS[sheet.material_id], SHIPPED[sheet.destination_id], Layout.from_json(sheet.layout)
    )


def keep_sheet(sheet: models.SharedSheet, found: Mapping[str, Any], standing: _Standing) -> None:
    """Keep what was laid out, and say of each job that is another now that it was made again."""
    for share in _shares(sheet):
        now = standing.made_of.get(share.job_id, "")
        if share.made_of and share.made_of != now and share.job.revision is not None:
            share.changed = f"“{share.job.name}” has changed; its copies were made again, of revision " \
                            f"{share.job.revision.number}."
        share.made_of = now
        share.save(update_fields=["made_of", "changed"])
    fresh = models.SharedSheet.objects.get(pk=sheet.pk)  # somebody may have changed it meanwhile
    fresh.found, fresh.key, fresh.error = {name: found[name] for name in ("sheets", "cuts")}, standing.key, ""
    if fresh.layout.get("placed") and sheet_key(fresh).key == standing.key:
        fresh.layout = {**fresh.layout, "placed_of": found["placed_of"]}
    fresh.save(update_fields=["found", "key", "error", "layout"])


def keep_trouble(sheet: models.SharedSheet, error: str, standing: _Standing) -> None:
    """Keep why a sheet cannot be laid out; what was found before stays beside it."""
    models.SharedSheet.objects.filter(pk=sheet.pk).update(error=error, key=standing.key)
