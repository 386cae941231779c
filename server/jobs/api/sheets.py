"""Sheets that do not hold what is to lie on them: by which changes they would."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from horismos.destinations import SHIPPED
from horismos.materials import MATERIALS
from horismos.media import Media
from horismos.workflow.fitting import Shop
from jobs import models
from jobs.api.common import find, find_job
from jobs.store.cases import case_of, pool_key
from jobs.store.children import run_step
from jobs.store.shared import stored_sheet

__all__ = ["router"]

router = Router()


class WayToFit(Schema):
    """A change of the job by which it would fit, as PATCH takes it, and what a button for it says."""

    words: str
    change: dict[str, Any]


def shop_of(job: models.Job) -> Shop:
    """What the shop could lay a job out on otherwise."""
    return Shop(
        tuple(SHIPPED[one.pk] for one in models.Destination.objects.all()),
        tuple((one.pk, MATERIALS[one.pk]) for one in models.Material.objects.all()),
        _media_of(job.material_id),
    )


def _media_of(material: str) -> tuple[Media, ...]:
    on_shelf = models.Media.objects.filter(material=material)
    return tuple(Media(m.title, m.width_mm, m.length_mm, m.roll) for m in on_shelf)


@router.get("/shared-sheets/{sheet_id}/fits", response=list[WayToFit])
def fits_together(request: HttpRequest, sheet_id: int) -> list[Any]:
    """What would make the jobs of a sheet fit on it: of its layout and its media; where it goes is settled."""
    sheet = find(models.SharedSheet.objects.select_related("material", "destination"), sheet_id)
    shop = Shop(media=_media_of(sheet.material_id))
    found: list[Any] = run_step(
        "together:fits", stored_sheet(sheet), shop, key=f"shared-{sheet.pk}", what="Looking for what fits"
    )
    return found


@router.get("/jobs/{job_id}/fits", response=list[WayToFit])
def fits(request: HttpRequest, job_id: int) -> list[Any]:
    """What would make the job fit, where it fits nowhere as it is laid out: the smallest changes first."""
    job = find_job(job_id)
    found: list[Any] = run_step("job:fits", case_of(job), shop_of(job), key=pool_key(job), what="Looking for what fits")
    return found
