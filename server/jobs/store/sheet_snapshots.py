"""A sheet that several jobs share as it stands at one moment, with its jobs; what is found of it is kept here."""

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from horismos.checking import Rehearsed, Severity, registered
from horismos.errors import NotFound
from horismos.materials import laminated
from horismos.media import Media
from horismos.orders import Laminate
from horismos.sheet import Layout, Turn
from horismos.workflow.steps.together import StoredShare, StoredSheet
from jobs import models
from jobs.store.queue import begin, latest_of
from jobs.store.shelf import destination_of, material_of
from jobs.store.snapshots import ROWS, JobSnapshot, snapshot_of

__all__ = [
    "SHEET_ROWS", "SheetSnapshot", "keep_sheet", "keep_trouble", "queue_layout", "read_sheet", "snapshot_of_sheet"
]

REHEARSED = "edge.rehearsed"
SHEET_ROWS = ("material", "destination")
"""What is read with the row of a shared sheet."""


@dataclass(frozen=True, eq=False)
class SheetSnapshot:
    """All that a shared sheet is at one moment: its row, what jobs have on it, and each of these jobs."""

    row: models.SharedSheet
    shares: tuple[models.Share, ...]
    jobs: tuple[JobSnapshot, ...]
    word = "sheet"
    room = "together"

    @property
    def shared(self) -> models.SharedSheet:
        """Its row: what is released is the sheet's."""
        return self.row

    @property
    def pool_key(self) -> str:
        """Which child handles it: one that has met none but the files of its jobs."""
        return f"shared-{self.row.pk}"

    @property
    def media(self) -> Media | None:
        """What is loaded, where that was said."""
        return self.stored.layout.media

    @property
    def used_by(self) -> str:
        """What an offcut of it says that it is left of."""
        return f"“{self.row.name}”"

    @cached_property
    def stored(self) -> StoredSheet:
        """The sheet as the core sees it, its artworks in the store. Raises NotReady for a job without artwork."""
        row = self.row
        shares = tuple(
            StoredShare(job.case, share.quantity, Turn(share.turn))
            for share, job in zip(self.shares, self.jobs, strict=True)
        )
        layout = Layout.from_json(row.layout)
        material, laminate = material_of(row.material), next((one.case.order.laminate for one in shares), None)
        if laminate:
            material = laminated(material, laminate is Laminate.GLOSSY)
        return StoredSheet(row.name, shares, material, destination_of(row.destination), layout)

    @cached_property
    def made_of(self) -> Mapping[int, str]:
        """What of each job lies on it, by the job's number."""
        return {job.row.pk: job.share_key for job in self.jobs}

    @cached_property
    def package_key(self) -> str:
        """What it depends on."""
        row = self.row
        layout = {key: value for key, value in row.layout.items() if key != "placed_of"}
        parts: list[Any] = [layout, row.material_id, row.destination_id, [
            [share.job_id, share.quantity, share.turn, self.made_of[share.job_id]] for share in self.shares
        ]]
        return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()

    @property
    def is_current(self) -> bool:
        """Whether it was laid out as it stands."""
        return bool(self.row.key) and self.row.key == self.package_key

    @property
    def rehearsal(self) -> dict[str, Any] | None:
        """What came of rehearsing it as it stands; None where nobody has, or it has been changed since."""
        kept: dict[str, Any] = self.row.rehearsal
        return kept if kept.get("key") == self.package_key else None

    @property
    def rehearsal_stop(self) -> str:
        """Why the shop does not release it by what its rehearsal has shown, in words; empty where it does."""
        if self.rehearsal is None:
            return ""
        spoilt = Rehearsed(**self.rehearsal["counts"]).spoilt_percent
        for job in self.jobs:
            limit = job.check_sheet.limits.get(REHEARSED, registered()[REHEARSED].limit)
            if job.check_sheet.severities.get(REHEARSED) == Severity.STOP and spoilt > limit:
                return f"The rehearsal spoilt {spoilt:.1f} % of the pieces; the shop wants at most {limit:g} %."
        return ""


def snapshot_of_sheet(row: models.SharedSheet) -> SheetSnapshot:
    """All that a shared sheet is, with its row as it was read."""
    rows = models.Share.objects.filter(sheet=row).select_related("job", *(f"job__{name}" for name in ROWS))
    shares = tuple(rows.prefetch_related("job__tools"))
    return SheetSnapshot(row, shares, tuple(snapshot_of(share.job) for share in shares))


def read_sheet(sheet_id: int) -> SheetSnapshot:
    """All that a shared sheet is now. Raises NotFound."""
    row = models.SharedSheet.objects.select_related(*SHEET_ROWS).filter(pk=sheet_id).first()
    if row is None:
        raise NotFound(f"There is no shared sheet {sheet_id} here.", "It may have been removed.")
    return snapshot_of_sheet(row)


def queue_layout(row: models.SharedSheet) -> models.Work:
    """Ask for a sheet to be laid out; a work that waits already will do."""
    last = latest_of(row)
    if last is not None and last.kind == models.WorkKind.SHEET and last.state == models.WorkState.WAITING:
        return last
    return begin(row, models.WorkKind.SHEET)


def keep_sheet(found: Mapping[str, Any], of: SheetSnapshot) -> None:
    """Keep what was laid out, and say of each job that is another now that its copies were made again.

    Where somebody has changed the sheet meanwhile, or a job on it, it is laid out once more.
    """
    now = read_sheet(of.row.pk)
    for share, job in zip(now.shares, now.jobs, strict=True):
        made_of = of.made_of.get(share.job_id, "")
        if share.made_of and share.made_of != made_of and job.row.revision is not None:
            share.changed = f"“{job.row.name}” has changed; its copies were made again, of revision " \
                            f"{job.row.revision.number}."
        share.made_of = made_of
        share.save(update_fields=["made_of", "changed"])
    row = now.row
    row.found, row.key, row.error = {name: found[name] for name in ("sheets", "cuts")}, of.package_key, ""
    if now.package_key != of.package_key:
        queue_layout(row)
    elif row.layout.get("placed"):
        row.layout = {**row.layout, "placed_of": found["placed_of"]}
    row.save(update_fields=["found", "key", "error", "layout"])


def keep_trouble(error: str, of: SheetSnapshot) -> None:
    """Keep why a sheet cannot be laid out; what was found before stays beside it."""
    models.SharedSheet.objects.filter(pk=of.row.pk).update(error=error, key=of.package_key)
