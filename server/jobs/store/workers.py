"""Workers as rows: who was heard of, what each does, and how long steps take."""

import math
import socket
from bisect import bisect_right
from collections.abc import Mapping, Sequence
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models import F, Q
from django.utils import timezone

from horismos.fingerprint import code_fingerprint
from jobs import models

__all__ = ["BOUNDS_S", "note_itself", "note_times", "note_workers", "version", "workers"]

BOUNDS_S = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0, 120.0, math.inf)
HEARD_WITHIN = timedelta(seconds=15)
"""[ours] a worker that was not heard of for so long is not there."""
FORGOTTEN_AFTER = timedelta(days=1)
_INFINITE = 1e9
"""How infinity is kept: SQLite has it, JSON has not."""


def version() -> str:
    """Which code this is, in short."""
    return code_fingerprint()[:12]


def note_workers(seen: Sequence[Mapping[str, Any]]) -> None:
    """Keep who was heard of at the broker: name, machine, version, slots, weights, doing."""
    now = timezone.now()
    for one in seen:
        said = {key: one[key] for key in ("machine", "version", "slots", "weights", "doing")}
        models.Worker.objects.update_or_create(name=one["name"], defaults={**said, "remote": True, "seen": now})
    models.Worker.objects.filter(seen__lt=now - FORGOTTEN_AFTER).delete()


def note_itself(name: str) -> None:
    """Keep that a worker of this machine is there."""
    now = timezone.now()
    models.Worker.objects.update_or_create(name=name, defaults={
        "machine": socket.gethostname()[:80], "version": version(), "weights": list(models.Weight), "seen": now,
    })
    models.Worker.objects.filter(seen__lt=now - FORGOTTEN_AFTER).delete()


def workers() -> list[models.Worker]:
    """The workers that are there, by their names; one that holds work by a lease is, however long it takes."""
    now = timezone.now()
    holding = models.Work.objects.filter(state=models.WorkState.RUNNING, leased_until__gte=now).values("worker")
    there = Q(seen__gte=now - HEARD_WITHIN) | Q(name__in=holding)
    return list(models.Worker.objects.filter(there).order_by("remote", "name"))


def note_times(weight: models.Weight, times: Sequence[tuple[str, float, bool]]) -> None:
    """Count steps: which, for how many s, and whether in vain."""
    if not times:
        return
    with transaction.atomic():
        for step, seconds, failed in times:
            below = BOUNDS_S[bisect_right(BOUNDS_S, seconds)]
            row, _ = models.StepTime.objects.get_or_create(
                step=step, weight=weight, below_s=below if below < math.inf else _INFINITE
            )
            models.StepTime.objects.filter(pk=row.pk).update(
                count=F("count") + 1, failed=F("failed") + int(failed), seconds=F("seconds") + seconds
            )
