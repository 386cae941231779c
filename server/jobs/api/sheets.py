"""Sheets that do not hold what is to lie on them: by which changes they would."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from horismos.media import Media
from horismos.workflow.fitting import Shop
from jobs import models
from jobs.store.children import run_step
from jobs.store.sheet_snapshots import read_sheet
from jobs.store.shelf import known_destinations, known_materials
from jobs.store.snapshots import read_job

__all__ = ["router"]

router = Router()


class WayToFit(Schema):
    """A change of the job by which it would fit, as PATCH takes it, and what a button for it says."""

    words: str
    change: dict[str, Any]


def shop_of(job: models.Job) -> Shop:
    """What the shop could lay a job out on otherwise."""
    return Shop(
        tuple(known_destinations().values()), tuple(known_materials().items()),
        _media_of(job.material_id),
    )


def _media_of(material: str) -> tuple[Media, ...]:
    on_shelf = models.Media.objects.filter(material=material)
    return tuple(Media(m.title, m.width_mm, m.length_mm, m.roll) for m in on_shelf)


@router.get("/shared-sheets/{sheet_id}/fits", response=list[WayToFit])
def fits_together(request: HttpRequest, sheet_id: int) -> list[Any]:
    """What would make the jobs of a sheet fit on it: of its layout and its media; where it goes is settled."""
    sheet = read_sheet(sheet_id)
    shop = Shop(media=_media_of(sheet.row.material_id))
    found: list[Any] = run_step(
        "together:fits", sheet.stored, shop, key=sheet.pool_key, what="Looking for what fits"
    )
    return found


@router.get("/jobs/{job_id}/fits", response=list[WayToFit])
def fits(request: HttpRequest, job_id: int) -> list[Any]:
    """What would make the job fit, where it fits nowhere as it is laid out: the smallest changes first."""
    job = read_job(job_id)
    found: list[Any] = run_step(
        "job:fits", job.case, shop_of(job.row), key=job.pool_key, what="Looking for what fits"
    )
    return found
