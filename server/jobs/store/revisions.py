"""The revisions of a job on the way from its file as it came, and what of them is worth doing on another file."""

from typing import Any

from horismos.mending import registered
from jobs import models

__all__ = ["before_of", "way_to"]

MADE = "make-lines"


def way_to(revision: models.Revision | None) -> list[models.Revision]:
    """The revisions from the file as it came to this one."""
    out: list[models.Revision] = []
    while revision is not None:
        out.append(revision)
        revision = revision.parent
    return out[::-1]


def before_of(job: models.Job) -> dict[str, Any] | None:
    """What is kept of a job's file when another takes its place: the revision that it was, and what was done on it.

    What needs no person is done anew by itself; lines that were made are made anew of the new file.
    """
    way = way_to(job.revision)
    if not way:
        return None
    steps = [step for revision in way[1:] for step in revision.steps]
    by_hand = [
        step for step in steps
        if step["mend"] != MADE and step["mend"] in registered() and not registered()[step["mend"]].safe
    ]
    return {"number": way[0].number, "file": job.original_name, "steps": by_hand}
