"""Who else is at a job just now, and whether it is another than the one that a screen shows."""

import threading
import time
from dataclasses import dataclass
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from horismos.errors import NotFound
from jobs import models

__all__ = ["router"]

router = Router()
LASTS_S = 12.0
"""[ours] who has not been heard of for so long has gone."""
MOST_JOBS = 5_000
_lock = threading.Lock()
_at: dict[int, dict[int, tuple[str, str, float]]] = {}
"""By job and person: the name, the station, and when that was heard; of this one process, which answers all."""


class Here(Schema):
    """Where somebody is at a job."""

    station: Annotated[str, Field(max_length=20)] = ""


@dataclass(frozen=True)
class SomebodyElse:
    """Another person at the job, and at which of its stations."""

    name: str
    station: str


@dataclass(frozen=True)
class AtJob:
    """The version of the job now, and who else is there."""

    version: int
    others: list[SomebodyElse]


@router.post("/jobs/{job_id}/here", response=AtJob)
def here(request: HttpRequest, job_id: int, body: Here) -> AtJob:
    """Say that one looks at a job; gives its version, and who else does."""
    version = models.Job.objects.filter(pk=job_id).values_list("version", flat=True).first()
    if version is None:
        raise NotFound(f"There is no job {job_id} here.", "It may have been removed; go back to the Desk.")
    now, who = time.monotonic(), int(request.user.pk or 0)
    with _lock:
        if len(_at) > MOST_JOBS:
            _at.clear()
        there = {one: seen for one, seen in _at.get(job_id, {}).items() if seen[2] > now - LASTS_S}
        others = [SomebodyElse(name, station) for one, (name, station, _) in sorted(there.items()) if one != who]
        _at[job_id] = {**there, who: (request.user.get_username(), body.station, now)}
    return AtJob(version, others)
