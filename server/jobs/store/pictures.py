"""Pictures of pages: views of a revision, made once and kept; all of them are made by children."""

import hashlib
from pathlib import Path

from django.conf import settings

from horismos.paths.box import Bounds
from horismos.workflow.steps.stored import Content
from jobs import models
from jobs.store.children import run_step
from jobs.store.files import bytes_of, content_of, write_whole
from jobs.store.shelf import destination_of
from jobs.store.snapshots import pool_key

__all__ = ["apart_of", "keep_view", "kept_view", "page_picture", "picture_of"]

SMALL_PIXELS = 40_000
"""Of a page that is one of many to choose from."""


def _path(job: models.Job, sha256: str, view: str) -> Path:
    key = hashlib.sha256(f"4 {sha256} {job.page} {job.destination_id} {view}".encode()).hexdigest()
    return Path(settings.VAR) / "views" / f"{key}.pdf"


def keep_view(job: models.Job, revision: models.Revision, view: str, data: bytes | Content) -> str:
    """Keep a view that was made already; gives the hash of its content."""
    path = _path(job, revision.sha256, view)
    if not path.exists():
        write_whole(path, bytes_of(data))
    return data.sha256 if isinstance(data, Content) else hashlib.sha256(data).hexdigest()


def kept_view(job: models.Job, sha256: str, view: str) -> Path:
    """The PDF of a view of a revision, by its content: ``art``, ``whole``, ``layer-N`` or ``layer-none``.

    Raises NotFound for a view that there is none.
    """
    path = _path(job, sha256, view)
    if not path.exists():
        made: bytes = run_step(
            "pictures:view", content_of(sha256), job.page, destination_of(job.destination), view, key=pool_key(job)
        )
        write_whole(path, made)
    return path


def picture_of(job: models.Job, sha256: str, view: str, area: Bounds, ppi: float) -> bytes:
    """A part of a view of a revision, by its content, as PNG. Raises LimitExceeded where drawing it takes too long."""
    made: bytes = run_step("pictures:tile", kept_view(job, sha256, view), area, ppi, key=pool_key(job))
    return made


def apart_of(job: models.Job, before: str, after: str) -> bytes:
    """The rendered difference of two revisions, by their content, as PNG; made once and kept."""
    path = _path(job, before, f"apart {after}").with_suffix(".png")
    if not path.exists():
        made: bytes = run_step(
            "pictures:apart", content_of(before), content_of(after), job.page, destination_of(job.destination),
            key=pool_key(job), what="Comparing the two",
        )
        write_whole(path, made)
    return path.read_bytes()


def page_picture(job: models.Job, number: int) -> bytes:
    """One page of a customer's PDF, small, as PNG. Raises NotFound where there is no such page."""
    content = content_of(job.intake.get("unlocked") or job.original)
    made: bytes = run_step("pictures:page_picture", content, number, SMALL_PIXELS, key=pool_key(job))
    return made
