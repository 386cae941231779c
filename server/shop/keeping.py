"""What the store holds and what refers to it: looked through and swept."""

import hashlib
import time
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from bench import hot_folder
from django.conf import settings
from django.contrib.sessions.models import Session
from django.db import connection, transaction
from django.db.models import Max
from django.utils import timezone
from jobs import models
from jobs.listing import JobRow, job_row
from jobs.release_showing import ReleaseShown, release_shown
from jobs.store.files import BESIDE, parts_of, store
from jobs.store.job_state import outdated, refresh
from jobs.store.removing import remove_job
from people.models import LogIn
from pydantic import TypeAdapter

from shop.serving import runs

__all__ = ["Rule", "Swept", "faults", "hash_of", "referred", "sweep"]

FRESH_S = 24 * 3600
"""[ours] what was written within a day may belong to something that is still under way."""


def referred() -> set[str]:
    """The hashes of all content that a row of the database refers to."""
    found: set[str] = set()
    for original, intake in models.Job.objects.values_list("original", "intake"):
        found |= {original, intake.get("unlocked", ""), *intake.get("earlier", ())}
    found |= set(models.Revision.objects.values_list("sha256", flat=True))
    for eml, files in models.Letter.objects.values_list("eml", "files"):
        found |= {eml, *(file["sha256"] for file in files)}
    for edges, plates, checked in models.Analysis.objects.values_list("edges", "plates", "checked"):
        found |= {edges, checked, plates.get("sha256", "")}
    for files, plates, picture in models.Release.objects.values_list("files", "plates", "picture"):
        found |= {picture, *(part["sha256"] for part in (*files, *plates))}
    for files, picture in models.Sheet.objects.values_list("files", "picture"):
        found |= {picture, *(part["sha256"] for part in files)}
    for seen in models.Loading.objects.values_list("seen", flat=True):
        found |= {one.get("sha256", "") for one in seen}
    rehearsals = [*models.Job.objects.values_list("rehearsal", flat=True)]
    rehearsals += models.SharedSheet.objects.values_list("rehearsal", flat=True)
    found |= {(kept.get("worst") or {}).get("sha256", "") for kept in rehearsals}
    for files in models.StackPackage.objects.values_list("files", flat=True):
        found |= {part["sha256"] for part in files}
    return found - {""}


def _halves() -> Iterator[Path]:
    """Files that were begun and never finished, of uploads and dead children too, once they are a day old."""
    for folder in ("files", "cache", "views", "hot-folder", "uploads", "scratch"):
        for path in (Path(settings.VAR) / folder).rglob("*"):
            half = path.name.startswith(BESIDE) or folder in ("uploads", "scratch")
            if half and path.is_file() and time.time() - path.stat().st_mtime > FRESH_S:
                yield path


# -- looking through -----------------------------------------------------------------------------------


def faults() -> Iterator[str]:
    """What is wrong with the shop's data, a line each; nothing where it is whole."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA integrity_check")
        said = [row[0] for row in cursor.fetchall()]
        yield from (f"The database: {line}" for line in said if line != "ok")
        cursor.execute("PRAGMA foreign_key_check")
        yield from (f"The database: a row of {row[0]} refers to nothing" for row in cursor.fetchall())
    for sha256 in sorted(referred()):
        try:
            if hash_of(parts_of(sha256)) != sha256:
                yield f"File {sha256} is not what it was."
        except (OSError, ValueError):
            yield f"File {sha256} is missing."
    yield from _faults_of_jobs()
    yield from _faults_of_what_is_shown()
    yield from _faults_of_works()
    yield from _faults_of_hot_folder()


def hash_of(parts: Iterable[bytes]) -> str:
    """The hash of what a file holds, which comes in parts."""
    sha256 = hashlib.sha256()
    for part in parts:
        sha256.update(part)
    return sha256.hexdigest()


def _faults_of_jobs() -> Iterator[str]:
    for job in models.Job.objects.select_related("revision"):
        if job.revision is not None and job.revision.job_id != job.pk:
            yield f"Job {job.pk} shows a revision of another job."
        numbers = list(job.revisions.order_by("number").values_list("number", flat=True))
        if numbers != list(range(1, len(numbers) + 1)):
            yield f"Job {job.pk} has the revisions {numbers}."
        if not models.Order.objects.filter(job=job).exists():
            yield f"Job {job.pk} has no order."


def _faults_of_what_is_shown() -> Iterator[str]:
    """One row that holds what no shop writes would take the whole list with it."""
    rows, packages = TypeAdapter(JobRow), TypeAdapter(ReleaseShown)
    for job in models.Job.objects.order_by("pk"):
        try:
            rows.validate_python(job_row(job))
            for one, _ in outdated(models.Job.objects.filter(pk=job.pk)):
                yield f"Job {one.pk} stands in the list as “{one.state}”, which it is not: change anything of it."
        except Exception as error:  # whatever a row may hold
            yield f"Job {job.pk} cannot be shown ({type(error).__name__}): remove it, or take another backup."
    for made in models.Release.objects.order_by("pk"):
        try:
            packages.validate_python(release_shown(made))
        except Exception as error:
            yield f"Package {made.pk} cannot be shown ({type(error).__name__}): remove it, or take another backup."


def _faults_of_works() -> Iterator[str]:
    """Only where the shop runs: after a loss of power, or in a shop brought back, the next start takes it up."""
    if not runs(Path(settings.VAR)):
        return
    late = timezone.now() - timedelta(minutes=5)
    for work in models.Work.objects.filter(state=models.WorkState.RUNNING, leased_until__lt=late):
        yield f"Work {work.pk} ({work.kind}) has been left by its worker, and no other has taken it up."


def _faults_of_hot_folder() -> Iterator[str]:
    known = {
        (made.job.destination_id, f"{made.job_id}-{(made.key or '')[:12]}-")
        for made in models.Release.objects.select_related("job")
    }
    for path in (Path(settings.VAR) / "hot-folder").glob("*/*.pdf"):
        begins = "-".join(path.name.split("-")[:2]) + "-"
        if not any(begins == name for _, name in known):
            yield f"{path.name} lies in a hot folder, and nothing was released so."


# -- sweeping -------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Rule:
    """After how many days what goes; None for never."""

    jobs: float | None = None
    works: float | None = 30
    views: float | None = 30


@dataclass
class Swept:
    """What went."""

    jobs: int = 0
    works: int = 0
    sessions: int = 0
    attempts: int = 0
    files: int = 0
    views: int = 0
    halves: int = 0
    bytes: int = 0


def sweep(rule: Rule, really: bool = True) -> Swept:
    """Remove what is no longer wanted; with ``really`` False only say what would go."""
    swept, now = Swept(), timezone.now()
    with transaction.atomic():
        if rule.jobs is not None:
            swept.jobs = _sweep_jobs(now - timedelta(days=rule.jobs), really)
        if rule.works is not None:
            ended = models.Work.objects.filter(created__lt=now - timedelta(days=rule.works)).exclude(
                state__in=[models.WorkState.WAITING, models.WorkState.RUNNING]
            )
            swept.works = ended.count()
            if really:
                ended.delete()
        old = Session.objects.filter(expire_date__lt=now)
        swept.sessions = old.count()
        for kind in (AccessAttempt, AccessLog, AccessFailureLog):
            tried = kind.objects.filter(attempt_time__lt=now - timedelta(days=30))
            swept.attempts += tried.count()
            if really:
                tried.delete()
        if really:
            old.delete()
            LogIn.objects.exclude(session__in=Session.objects.values("session_key")).delete()
    _sweep_files(rule, swept, really)
    return swept


def _sweep_jobs(before: object, really: bool) -> int:
    """Jobs on which nothing has happened since; one that is due later, or that is worked on, stays."""
    idle = models.Job.objects.annotate(last=Max("log__when")).filter(created__lt=before).exclude(last__gte=before)
    idle = idle.exclude(due__gte=timezone.now().date())
    idle = idle.exclude(works__state__in=[models.WorkState.WAITING, models.WorkState.RUNNING])
    jobs = list(idle)
    for job in jobs if really else []:
        beside = set(models.Share.objects.filter(sheet__releases__job=job).values_list("job", flat=True))
        for made in models.Release.objects.filter(job=job).select_related("job"):
            hot_folder.clear(made)
            made.delete()
        job.stacks.all().delete()
        remove_job(job)
        refresh(beside)
    return len(jobs)


def _sweep_files(rule: Rule, swept: Swept, really: bool) -> None:
    wanted, now = referred(), time.time()

    def go(path: Path) -> int:
        try:
            swept.bytes += path.stat().st_size
            if really:
                path.unlink()
        except FileNotFoundError:
            return 0
        return 1

    for one in store().listed():
        if one.sha256 not in wanted and now - one.when > FRESH_S:
            swept.files, swept.bytes = swept.files + 1, swept.bytes + one.bytes
            if really:
                store().remove(one.sha256)
    for path in _halves():
        swept.halves += go(path)
    if rule.views is not None:
        for path in (Path(settings.VAR) / "views").glob("*.pdf"):
            stat = path.stat()
            if now - max(stat.st_mtime, stat.st_atime) > rule.views * 24 * 3600:
                swept.views += go(path)
