"""What runs: who works and at what, what waits, what was set aside, how long steps take. For whoever runs the shop."""

import math
import os
import shutil
import time
from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from django.conf import settings
from django.db.models import Count, Min
from django.http import HttpRequest
from django.utils import timezone
from jobs import models
from jobs.store.files import store
from jobs.store.workers import BOUNDS_S, version, workers
from ninja import Router

from horismos.errors import SetAside

__all__ = ["StoreSize", "is_ready", "router", "running", "steps", "store_size", "waiting"]

router = Router()
ASIDE_SHOWN = 50
SIZE_HOLDS_S = 60.0
_size: list[tuple[float, "StoreSize"]] = []


@dataclass(frozen=True)
class WeightShown:
    """What waits and runs of a weight, and for how many s the oldest waits."""

    weight: models.Weight
    waiting: int
    running: int
    oldest_s: float


@dataclass(frozen=True)
class DoingShown:
    """What is done now: a step of a worker elsewhere, or a piece of work with its job."""

    what: str
    job_id: int | None
    job: str
    seconds: float


@dataclass(frozen=True)
class WorkerShown:
    """A worker that is there; ``same`` says whether its code is the server's."""

    name: str
    machine: str
    remote: bool
    version: str
    same: bool
    slots: int
    weights: list[str]
    doing: list[DoingShown]
    seen: datetime


@dataclass(frozen=True)
class AsideShown:
    """A piece of work that was given up on."""

    work_id: int
    job_id: int
    job: str
    kind: models.WorkKind
    error: str
    when: datetime


@dataclass(frozen=True)
class StepShown:
    """How long a step takes, in s: the mean, and below which bound 95 of 100 lie."""

    step: str
    count: int
    failed: int
    mean_s: float
    p95_s: float | None


@dataclass(frozen=True)
class StoreSize:
    """What the store holds, and what its disk has left; None for a store elsewhere."""

    files: int
    bytes: int
    free_bytes: int | None


@dataclass(frozen=True)
class RunningShown:
    """All of it."""

    version: str
    broker: bool
    queue: list[WeightShown]
    workers: list[WorkerShown]
    work: list[DoingShown]
    aside: list[AsideShown]
    steps: list[StepShown]
    store: StoreSize


@router.get("/running", response=RunningShown)
def running(request: HttpRequest) -> RunningShown:
    """What runs now."""
    held = list(models.Work.objects.filter(state=models.WorkState.RUNNING).select_related("job").order_by("pk"))
    here = defaultdict(list)
    for work in held:
        here[work.worker].append(_doing(work))
    aside = models.Work.objects.filter(state=models.WorkState.FAILED, code=SetAside.code).select_related("job")
    return RunningShown(
        version(), bool(settings.BROKER), waiting(),
        [WorkerShown(
            one.name, one.machine, one.remote, one.version, one.version == version(), one.slots, one.weights,
            [DoingShown(str(d["step"]), None, "", float(d["seconds"])) for d in one.doing] + here[one.name], one.seen,
        ) for one in workers()],
        [_doing(work) for work in held],
        [AsideShown(
            one.pk, one.job_id, one.job.name, models.WorkKind(one.kind), one.error, one.created
        ) for one in aside.order_by("-pk")[:ASIDE_SHOWN]],
        steps(), store_size(),
    )


def _doing(work: models.Work) -> DoingShown:
    return DoingShown(work.kind, work.job_id, work.job.name, (timezone.now() - work.created).total_seconds())


def waiting() -> list[WeightShown]:
    """What waits and runs, by weight."""
    found = {
        (row["weight"], row["state"]): (row["count"], row["oldest"]) for row in models.Work.objects.filter(
            state__in=[models.WorkState.WAITING, models.WorkState.RUNNING]
        ).values("weight", "state").annotate(count=Count("pk"), oldest=Min("created"))
    }
    now = timezone.now()
    out = []
    for weight in models.Weight:
        waits, oldest = found.get((weight, models.WorkState.WAITING), (0, now))
        runs, _ = found.get((weight, models.WorkState.RUNNING), (0, now))
        out.append(WeightShown(weight, waits, runs, (now - oldest).total_seconds()))
    return out


def steps() -> list[StepShown]:
    """How long steps take, all weights together, the one that takes most of all time first."""
    rows: dict[str, list[models.StepTime]] = defaultdict(list)
    for row in models.StepTime.objects.order_by("below_s"):
        rows[row.step].append(row)
    out = []
    for step, found in rows.items():
        count, seconds = sum(row.count for row in found), sum(row.seconds for row in found)
        if count:
            out.append((seconds, StepShown(
                step, count, sum(row.failed for row in found), seconds / count, _below(found, 0.95 * count)
            )))
    return [one for _, one in sorted(out, key=lambda pair: -pair[0])]


def _below(rows: list[models.StepTime], wanted: float) -> float | None:
    """The bound below which so many lie; None where that is none."""
    seen = 0
    for row in rows:
        seen += row.count
        if seen >= wanted:
            return row.below_s if row.below_s < max(b for b in BOUNDS_S if b < math.inf) * 2 else None
    return None


def store_size() -> StoreSize:
    """What the store holds; looked up once a minute."""
    if not _size or time.monotonic() - _size[0][0] > SIZE_HOLDS_S:
        files = [one.bytes for one in store().listed()]
        free = shutil.disk_usage(settings.VAR).free if store().near else None
        _size[:] = [(time.monotonic(), StoreSize(len(files), sum(files), free))]
    return _size[0][1]


def is_ready() -> str:
    """Why the shop cannot take work in now; empty where it can."""
    if not Path(settings.VAR).is_dir() or not os.access(settings.VAR, os.W_OK):
        return "the data folder cannot be written to"
    models.Shop.objects.exists()
    return "" if workers() else "no worker has been heard of"
