"""The RIP's hot folder: print PDFs wait there until the machine takes them.

They are staged first, under names that no RIP reads, and shown once their release is in the database.
"""

import time
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from secrets import token_hex

from django.conf import settings
from jobs import models
from jobs.store.files import bytes_of, write_whole

from horismos.workflow.steps.stored import Content

__all__ = ["clear", "remove", "show", "stage", "tidy", "waiting"]

STAGED = ".part"
LEFT_OVER_S = 3_600
"""After so long nobody is still at work on what is staged."""


def _root() -> Path:
    return Path(settings.VAR) / "hot-folder"


def _folder(job: models.Job) -> Path:
    return _root() / job.destination_id


def _begins(job: models.Job, key: str) -> str:
    return f"{job.pk}-{key[:12]}-"


def stage(job: models.Job, key: str, files: Mapping[str, bytes | Content]) -> list[Path]:
    """Write the print PDF of a package beside those that wait, whole, where no RIP sees it. Raises CannotWrite."""
    out = []
    for name, data in files.items():
        if name.endswith("-print.pdf"):
            # a name of its own each time: a worker that was given up on takes away only what it has staged itself
            path = _folder(job) / f".{_begins(job, key)}{name}.{token_hex(4)}{STAGED}"
            write_whole(path, bytes_of(data))
            out.append(path)
    return out


def show(staged: Sequence[Path]) -> None:
    """Let the RIP see what was staged."""
    for path in staged:
        with suppress(FileNotFoundError):  # another has just shown it
            path.replace(path.with_name(path.name.removeprefix(".").removesuffix(STAGED).rpartition(".")[0]))


def remove(paths: Sequence[Path]) -> None:
    """Take files away, such as those that were staged for a release that did not come about."""
    for path in paths:
        path.unlink(missing_ok=True)


def tidy() -> None:
    """Show what was staged for a release whose worker died before it could, and take away what is left over."""
    now = time.time()
    made = models.Release.objects.filter(rip_state=models.RipState.WAITING).select_related("job")
    begins = {f".{_begins(one.job, one.key or '')}" for one in made}
    for path in _root().glob(f"*/.*{STAGED}"):
        if any(path.name.startswith(one) for one in begins):
            show([path])
        else:
            with suppress(FileNotFoundError):
                if now - path.stat().st_mtime > LEFT_OVER_S:
                    remove([path])


def waiting(made: models.Release) -> list[Path]:
    """The files of a release that wait."""
    begins = _begins(made.job, made.key or "")
    names = [file["name"] for file in made.files if file["name"].endswith("-print.pdf")]
    return sorted(path for name in names if (path := _folder(made.job) / f"{begins}{name}").exists())


def clear(made: models.Release) -> None:
    """Take away what the machine has taken."""
    remove(waiting(made))
