"""Sheets that several jobs share: begun, changed, laid out anew when a job on them changes."""

from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager

from django.db import transaction
from django.db.models import Sum

from horismos.errors import BadValue, ChangedMeanwhile, NotFound, NotReady
from jobs import models
from jobs.store.job_state import refresh
from jobs.store.log import log
from jobs.store.snapshots import ROWS, order_of

__all__ = [
    "SharedChanging", "begin_sheet", "changing_sheet", "free_of", "offered_to", "put_on",
]

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
    log(sheet, who, f"Begun with {', '.join(job.name for job in listed)}")
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
    others = [share.job for share in sheet.shares.select_related("job__order").exclude(job=job)]
    if any(order_of(other).laminate is not order_of(job).laminate for other in others):
        raise BadValue(
            f"“{job.name}” and the others on this sheet do not want the same laminate.",
            "A sheet is laminated as a whole: put it on another one.",
        )
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
    waiting = jobs.select_related(*ROWS)[: 4 * MOST_OFFERED]
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
        log(self.sheet, self._who, what, self.sheet.version)


@contextmanager
def changing_sheet(sheet_id: int, version: int, who: int | None) -> Iterator[SharedChanging]:
    """A transaction in which a sheet is changed as a person has seen it. Raises NotFound, ChangedMeanwhile."""
    with transaction.atomic():
        sheet = models.SharedSheet.objects.select_related("material", "destination").filter(pk=sheet_id).first()
        if sheet is None:
            raise NotFound(f"There is no shared sheet {sheet_id} here.", "It may have been removed.")
        if sheet.version != version:
            entry = sheet.log.order_by("-pk").first()
            last = entry.what if entry else "changed"
            raise ChangedMeanwhile(
                f"“{sheet.name}” was changed after you had looked ({last}).",
                "Look at it as it is now, then make your change again.",
            )
        on = set(sheet.shares.values_list("job", flat=True))
        yield SharedChanging(sheet, who)
        refresh(on | set(models.Share.objects.filter(sheet=sheet_id).values_list("job", flat=True)))
