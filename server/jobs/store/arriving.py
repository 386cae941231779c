"""Files that come in, whichever way: known by their content already, or a job of their own."""

from dataclasses import dataclass

from django.db import transaction

from jobs import models
from jobs.store.children import run_step
from jobs.store.files import content_of
from jobs.store.log import log
from jobs.store.queue import begin
from jobs.store.taking_in import new_job, read_name

__all__ = ["Arrived", "arrive", "safe_file_name"]


@dataclass(frozen=True)
class Arrived:
    """The job of a file, and whether there was one with the same content already."""

    job: models.Job
    known: bool


def arrive(name: str, original: str, customer: str, who: int | None, again: bool = False, way: str = "") -> Arrived:
    """Begin a job for a file that lies in the store, unless its content is known and it is not to come ``again``.

    ``way`` says how it came, for the log. Raises CannotRead where it is no kind of file that can be taken in, NotReady
    while the Shelf is empty.
    """
    known = models.Job.objects.filter(original=original).order_by("-id").first()
    if known is not None and not again:
        return Arrived(known, True)
    run_step("job:kind", content_of(original), name, key=original, what="Telling what the file is")
    with transaction.atomic():
        job = new_job(name, original, customer.strip(), read_name(name))
        log(job, who, f"Took in {name}{way}")
        begin(job, models.WorkKind.TAKE_IN)
    return Arrived(job, False)


def safe_file_name(name: str) -> str:
    """The last part of a name, one line of what can be printed."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    return "".join(c if c.isprintable() else "_" for c in last)[:200] or "artwork"
