"""A corrected file: which earlier job it may be of, and what was done on the file before that is offered again."""

from collections.abc import Mapping, Sequence
from contextlib import suppress
from datetime import timedelta
from typing import Any

from horismos.errors import BadValue, NothingToDo, NotReady
from horismos.intake.file_names import alike
from horismos.mending import step_from
from jobs import models
from jobs.store.letters import answered_by_file
from jobs.store.log import log
from jobs.store.queue import begin, require_idle
from jobs.store.removing import remove_job
from jobs.store.revisions import way_to
from jobs.store.taking_in import replace_file

__all__ = ["LIKE", "earlier_of", "keep_apart", "keep_like", "lay_over", "names_of_likes", "redone", "to_redo"]

LIKE = 0.6
"""[ours] files that look so much alike may be one another's correction: then a person is asked."""
RECENT = timedelta(days=60)
MOST = 3
"""[ours] so many earlier files are looked at."""


def to_redo(job: models.Job) -> list[tuple[dict[str, Any], bool]]:
    """What was done on the file before, step by step, and whether this one has been given it already."""
    kept = job.intake.get("corrected") or {}
    given = [step for revision in way_to(job.revision)[1:] for step in revision.steps]
    out = []
    for step in kept.get("steps", []):
        with suppress(BadValue):  # a mend of before that is none any more
            step_from(step)
            out.append((step, step in given))
    return out


def redone(job: models.Job, chosen: list[int]) -> list[dict[str, Any]]:
    """The chosen steps that are left to do. Raises NothingToDo."""
    steps = to_redo(job)
    left = [steps[i][0] for i in chosen if 0 <= i < len(steps) and not steps[i][1]]
    if not left:
        raise NothingToDo("All of that was done on this file already.", "Look at the findings.")
    return left


def keep_apart(job: models.Job, number: int, changes: list[dict[str, Any]] | None, error: str = "") -> None:
    """Keep in what the file differs from the one before, in the caller's transaction."""
    kept = {**job.intake["corrected"], "now": number, "changes": changes, "error": error}
    job.intake = {**job.intake, "corrected": kept}
    job.save(update_fields=["intake"])


def earlier_of(job: models.Job) -> list[models.Job]:
    """The customer's open jobs whose file this one may be a correction of, by its name; the latest first.

    Of a file of which nobody has said whose it is, it may be anybody's.
    """
    if job.again_of_id is not None:
        return []
    since = job.created - RECENT
    whose = {"customer": job.customer} if job.customer else {}
    others = models.Job.objects.filter(
        **whose, created__gte=since, pk__lt=job.pk, revision__isnull=False, page=job.page,
    ).exclude(state=models.JobState.RELEASED).exclude(original=job.original)
    found = [
        other for other in others.select_related("revision").order_by("-pk")[:200]
        if alike(other.original_name, job.original_name)
    ]
    return found[:MOST]


def keep_like(job: models.Job, other: models.Job) -> None:
    """Keep of which job a file may be a correction, to be asked about, in the caller's transaction."""
    job.like = other
    job.save(update_fields=["like"])


def names_of_likes(jobs: Sequence[models.Job]) -> dict[int, str]:
    """What the jobs are called whose files these may be corrections of, with one question to the database."""
    wanted = {job.like_id for job in jobs if job.like_id is not None}
    if not wanted:
        return {}
    open_ = models.Job.objects.filter(pk__in=wanted).exclude(state=models.JobState.RELEASED)
    return dict(open_.values_list("pk", "name"))


def lay_over(job: models.Job, other: models.Job, made: Mapping[str, Any] | None, who: int | None) -> models.Work:
    """Let an earlier job have this one's file, and take this one away, in the caller's transaction.

    ``made`` is what lines of the earlier job were made of. What still takes the file in goes with the job that it came
    as: people are asked before that has quite ended. Raises NotReady where the earlier job was released or something
    changes it, and where somebody has asked for a mend of this one, which would be lost.
    """
    if other.state == models.JobState.RELEASED:
        raise NotReady(f"“{other.name}” was released meanwhile.", "Let this file be a job of its own.")
    require_idle(other)
    require_idle(job, models.WorkKind.MEND)
    replace_file(other, job.original_name, job.original, made)
    answered_by_file(other, job.original_name, who)
    other.version += 1
    other.save(update_fields=["version"])
    log(other, who, f"Another file: {job.original_name}, which had come in as a job of its own", other.version)
    log(job, who, f"Laid over “{other.name}”, job {other.pk}, as its corrected file")
    remove_job(job)
    return begin(other, models.WorkKind.TAKE_IN)
