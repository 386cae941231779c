"""Releases of jobs and of shared sheets: print files staged where no RIP reads, then the rows, then the files shown.

A worker may die between any two of these. One that takes the work up finds the rows there or not, and goes on.
"""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from bench import hot_folder
from jobs import models
from jobs.store.files import keep, size_of
from jobs.store.floor import sheets_for
from jobs.store.kept import to_keep
from jobs.store.log import log
from jobs.store.media import use_up
from jobs.store.shop_tools import facts_for
from jobs.store.snapshots import JobSnapshot

from horismos.errors import NotReady
from horismos.workflow.steps.stored import StoredCase
from horismos.workflow.steps.together import StoredSheet
from worker.register import carries_out
from worker.targets import Target, require_unchanged, target_of
from worker.task import Result, StepResult, Task

__all__ = ["release"]


@carries_out(models.WorkKind.RELEASE)
def release(task: Task) -> Result:
    """Check once more, write the packages, put their print PDFs into the RIP's hot folder; then it is released."""
    target, asked = target_of(task), task.arguments
    if target.package_key != asked.get("key", target.package_key):
        raise NotReady(
            f"The {target.word} was changed after the release was asked for.", "Look at it and release it again."
        )
    packages: list[StepResult] = task.run_step(
        f"{target.room}:release", target.pool_key, _with_facts(target), asked.get("also", []),
        what="Writing the package",
    )
    files = [_kept(package) for package in packages]
    staged = [path for one in packages for path in hot_folder.stage(task.work.job, target.package_key, one["files"])]
    try:
        with task.commit() as job:
            require_unchanged(target, "released", "release")
            if target.shared is None and job.row.version != asked.get("version", job.row.version):
                raise NotReady("The job was changed while it was released.", "Look at it and release it again.")
            made = models.Release.objects.filter(job=job.row, key=target.package_key, shared=target.shared)
            if not made.exists():  # a worker that died after this has left them
                _write(target, job.row, packages, files)
            wait = made.filter(rip_state=models.RipState.WAITING).exists()
    except BaseException:
        hot_folder.remove(staged)
        raise
    (hot_folder.show if wait else hot_folder.remove)(staged)
    return None


def _with_facts(target: Target) -> StoredCase | StoredSheet:
    """What is released, with what the shop knows beside it: it goes onto the ticket."""
    facts = facts_for(target.row.destination, target.row.material)
    stored = target.stored
    if isinstance(stored, StoredCase):
        return replace(stored, beside=facts)
    return replace(stored, shares=tuple(replace(one, case=replace(one.case, beside=facts)) for one in stored.shares))


def _write(
    target: Target, job: models.Job, packages: Sequence[StepResult], files: Sequence[list[dict[str, Any]]]
) -> None:
    """The rows: a release for each sheet, what it uses up, and what the jobs' logs say."""
    assert job.revision is not None, "it has the key of one"
    for number, (package, kept) in enumerate(zip(packages, files, strict=True), 1):
        made = models.Release.objects.create(
            job=job, revision=job.revision, key=target.package_key, sheet_number=number, shared=target.shared,
            files=kept, ticket=package["ticket"], worst_off_mm=package["worst_off_mm"],
        )
        made.place = made.pk
        made.save(update_fields=["place"])
        sheets_for(made)
    used = [package["ticket"]["sheet"]["used_length_mm"] for package in packages]
    use_up(target.row.material, target.media, used, target.used_by)
    for released in [target] if isinstance(target, JobSnapshot) else target.jobs:
        models.Job.objects.filter(pk=released.row.pk).update(kept=to_keep(released.standing))
    for share in target.shares:
        log(share.job, None, f"Released on the shared sheet “{target.row.name}”: {share.quantity} copies")


def _kept(package: StepResult) -> list[dict[str, Any]]:
    """The files of a package, kept in the store, by name and content."""
    kept = {name: keep(data) for name, data in package["files"].items()}
    return [{"name": name, "sha256": sha256, "bytes": size_of(sha256)} for name, sha256 in kept.items()]
