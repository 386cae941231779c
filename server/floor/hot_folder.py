"""The RIP's hot folder: print PDFs wait there until the machine takes them."""

from collections.abc import Mapping, Sequence
from pathlib import Path

from django.conf import settings
from jobs import models
from jobs.store.files import write_whole

__all__ = ["clear", "put", "take_back", "waiting"]


def _folder(job: models.Job) -> Path:
    return Path(settings.VAR) / "hot-folder" / job.destination_id


def _begins(job: models.Job, key: str) -> str:
    return f"{job.pk}-{key[:12]}-"


def put(job: models.Job, key: str, files: Mapping[str, bytes]) -> list[Path]:
    """Put the print PDF of a package into the hot folder of its destination, whole. Raises CannotWrite."""
    out = []
    for name, data in files.items():
        if name.endswith("-print.pdf"):
            path = _folder(job) / f"{_begins(job, key)}{name}"
            write_whole(path, data)
            out.append(path)
    return out


def take_back(paths: Sequence[Path]) -> None:
    """Take files away that were put there for a release that did not come about."""
    for path in paths:
        path.unlink(missing_ok=True)


def waiting(made: models.Release) -> list[Path]:
    """The files of a release that wait."""
    begins = _begins(made.job, made.key or "")
    names = [file["name"] for file in made.files if file["name"].endswith("-print.pdf")]
    return sorted(path for name in names if (path := _folder(made.job) / f"{begins}{name}").exists())


def clear(made: models.Release) -> None:
    """Take away what the machine has taken."""
    take_back(waiting(made))
