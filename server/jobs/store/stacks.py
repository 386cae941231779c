"""Stacks of fabric in the database: what one depends on, its package as it is shown, and what a test cut corrects."""

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from horismos.cutting.depth import CutOutcome
from horismos.json_readers import plain_fields
from horismos.shelf import Kind
from horismos.stitching.fabrics import FABRICS
from horismos.workflow.showing.stack import FabricShown
from jobs import models
from jobs.store.shelf import known_shelf, values_of
from jobs.store.shop_tools import CORRECTS

__all__ = [
    "StackFileShown", "StackPackageShown", "ThreadShown", "corrected_gf", "fabrics_of_shop", "package_shown",
    "stack_key", "threads_of_shop", "with_fabrics",
]


@dataclass(frozen=True)
class ThreadShown:
    """A thread that can be chosen, by its name and colour."""

    title: str
    colour: str


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


def with_fabrics(stack: Mapping[str, Any]) -> dict[str, Any]:
    """A stack whose layers say all of those fabrics that lie on the Shelf otherwise than they ship."""
    own = {
        item.id: plain_fields(fabric) for item, fabric in values_of(Kind.FABRIC) if FABRICS.get(item.id) != fabric
    }
    layers = [
        {**layer, "fabric": own.get(str(layer.get("fabric")).strip().lower(), layer.get("fabric"))}
        for layer in stack.get("layers", ())
    ]
    return {**stack, "layers": layers} if own and layers else dict(stack)


def fabrics_of_shop() -> tuple[FabricShown, ...]:
    """The fabrics that can be chosen: those on the Shelf."""
    return tuple(FabricShown(**plain_fields(fabric)) for _, fabric in values_of(Kind.FABRIC))


def threads_of_shop() -> tuple[ThreadShown, ...]:
    """The threads that can be chosen: those on the Shelf."""
    return tuple(ThreadShown(item.title, item.data["colour"]) for item in known_shelf().offered(Kind.THREAD))


def stack_key(job: models.Job) -> str:
    """What the files of a job's stack depend on."""
    revision = job.revision.sha256 if job.revision else ""
    told = json.dumps([revision, job.page, job.destination_id, with_fabrics(job.stack)], sort_keys=True)
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
