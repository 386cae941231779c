"""Releases of jobs and of shared sheets: print files staged where no RIP reads, then the rows, then the files shown.

A worker may die between any two of these. One that takes the work up finds the rows there or not, and goes on.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from bench import hot_folder
from jobs import models
from jobs.store.cases import case_of, package_key
from jobs.store.children import LOOKING_S, run_step
from jobs.store.files import keep
from jobs.store.media import use_up
from jobs.store.shared import sheet_key, stored_sheet
from jobs.store.works import hold, log

from horismos.errors import NotReady
from horismos.media import Media
from worker.context import Result, StepResult, TaskContext
from worker.sheets import sheet_of

__all__ = ["release"]

AGAIN = "Look at it and release it again."


@dataclass(frozen=True)
class _Target:
    """What is released: a job on sheets of its own, or a shared sheet. ``key`` tells what the packages are made of."""

    what: str
    key: str
    packages: Callable[[], Sequence[StepResult]]
    stands: Callable[[models.Job], bool]
    material: models.Material
    media: Media | None
    used_by: str
    shared: models.SharedSheet | None = None


def release(work: models.Work, task: TaskContext) -> Result:
    """Check once more, write the packages, put their print PDFs into the RIP's hot folder; then it is released."""
    target = _job(work, task) if work.shared_id is None else _shared(work, task)
    if target.key != work.arguments.get("key", target.key):
        raise NotReady(f"The {target.what} was changed after the release was asked for.", AGAIN)
    packages = target.packages()
    files = [_kept(package) for package in packages]
    first = models.Job.objects.get(pk=work.job_id)
    staged = [path for package in packages for path in hot_folder.stage(first, target.key, package["files"])]
    try:
        with hold(work) as job:
            if not target.stands(job):
                raise NotReady(f"The {target.what} was changed while it was released.", AGAIN)
            made = models.Release.objects.filter(job=job, key=target.key, shared=target.shared)
            if not made.exists():  # a worker that died after this has left them
                _write(target, job, packages, files)
            wait = made.filter(rip_state=models.RipState.WAITING).exists()
    except BaseException:
        hot_folder.remove(staged)
        raise
    (hot_folder.show if wait else hot_folder.remove)(staged)
    return None


def _write(target: _Target, job: models.Job, packages: Sequence[StepResult], files: Sequence[list[dict[str,
Any]]]) -> None:
    """The rows: a release for each sheet, what it uses up, and what the jobs' logs say."""
    assert job.revision is not None, "it has the key of one"
    for number, (package, kept) in enumerate(zip(packages, files, strict=True), 1):
        models.Release.objects.create(
            job=job, revision=job.revision, key=target.key, sheet_number=number, shared=target.shared, files=kept,
            ticket=package["ticket"], worst_off_mm=package["worst_off_mm"],
        )
    used = [package["ticket"]["sheet"]["used_length_mm"] for package in packages]
    use_up(target.material, target.media, used, target.used_by)
    if target.shared is not None:
        for share in target.shared.shares.select_related("job"):
            log(share.job, None, f"Released on the shared sheet “{target.shared.name}”: {share.quantity} copies")


def _job(work: models.Work, task: TaskContext) -> _Target:
    job = models.Job.objects.select_related("order", "material", "revision", "analysis").get(pk=work.job_id)
    key, case = package_key(job), case_of(job)

    def packages() -> Sequence[StepResult]:
        found: list[StepResult] = task.run_step(
            "release", job, case, work.arguments.get("also", []), what="Writing the package"
        )
        return found

    def stands(now: models.Job) -> bool:
        return package_key(now) == key and now.version == work.arguments.get("version", now.version)

    return _Target("job", key, packages, stands, job.material, case.layout.media, f"the sheet of “{job.name}”")


def _shared(work: models.Work, task: TaskContext) -> _Target:
    sheet = sheet_of(work)
    key, stored = sheet_key(sheet).key, stored_sheet(sheet)

    def packages() -> Sequence[StepResult]:
        found: list[StepResult] = run_step(
            "together:release", stored, key=f"shared-{sheet.pk}", seconds=LOOKING_S, tell=task.tell,
            cancelled=task.cancelled, what="Writing the package",
        )
        return found

    def stands(now: models.Job) -> bool:
        return now.revision is not None and sheet_key(sheet_of(work)).key == key

    return _Target(
        "sheet", key, packages, stands, sheet.material, stored.layout.media, f"“{sheet.name}”", sheet
    )


def _kept(package: StepResult) -> list[dict[str, Any]]:
    """The files of a package, kept in the store, by name and content."""
    return [{"name": n, "sha256": keep(d), "bytes": len(d)} for n, d in package["files"].items()]
