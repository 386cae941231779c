"""The RIP's hot folder: print PDFs wait there until the machine takes them."""

from collections.abc import Mapping
from pathlib import Path

from django.conf import settings
from jobs import models
from jobs.store.files import write_whole

__all__ = ["clear", "put", "waiting"]


def _folder(job: models.Job) -> Path:
    return Path(settings.VAR) / "hot-folder" / job.destination_id


def put(made: models.Release, files: Mapping[str, bytes]) -> None:
    """Put the print PDF of a package into the hot folder of its destination."""
    for name, data in files.items():
        if name.endswith("-print.pdf"):
            write_whole(_folder(made.job) / f"{made.pk}-{name}", data)


def waiting(made: models.Release) -> list[Path]:
    """The files of a release that wait."""
    return sorted(_folder(made.job).glob(f"{made.pk}-*-print.pdf"))


def clear(made: models.Release) -> None:
    """Take away what the machine has taken."""
    for path in waiting(made):
        path.unlink(missing_ok=True)
