"""Stacks of fabric in the database: what one depends on, its package as it is shown, and what a test cut corrects."""

import hashlib
import json
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from horismos.cutting.depth import CutOutcome
from jobs import models
from jobs.store.shop_tools import CORRECTS

__all__ = ["StackFileShown", "StackPackageShown", "corrected_gf", "package_shown", "stack_key"]


@dataclass(frozen=True)
class StackFileShown:
    """A file of a stack: a layer's cut, from the top and from 0, or stitches, of no layer."""

    name: str
    format: str
    layer: int | None
    sha256: str
    bytes: int


@dataclass(frozen=True)
class StackPackageShown:
    """The files of a stack that was written; ``current`` says that the job's stack is still this one.

    ``layers`` are the names from the top down, ``cut`` how many of them are cut, the lowest first.
    """

    id: int
    job_id: int
    job_name: str
    layers: list[str]
    files: list[StackFileShown]
    worst_off_mm: float
    cut: int
    current: bool
    created: datetime


def stack_key(job: models.Job) -> str:
    """What the files of a job's stack depend on."""
    revision = job.revision.sha256 if job.revision else ""
    told = json.dumps([revision, job.page, job.destination_id, job.stack], sort_keys=True)
    return hashlib.sha256(told.encode()).hexdigest()


def package_shown(made: models.StackPackage) -> StackPackageShown:
    """A package as it is shown."""
    told: dict[str, Any] = made.facts["told"]
    return StackPackageShown(
        made.pk, made.job_id, made.job.name, [layer["name"] for layer in told["layers"]],
        [StackFileShown(**file) for file in made.files], told["worst_off_mm"], len(made.cut),
        made.key == stack_key(made.job), made.created,
    )


def corrected_gf(force_gf: float, seen: CutOutcome) -> float:
    """The force after a test cut has shown something: by the shop's step, and never below it."""
    return max(force_gf + CORRECTS[seen], 1.0)
