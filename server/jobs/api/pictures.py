"""Pictures of a job: parts of its pages, its plates, the material cut open."""

import math
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.errors import HttpError
from pydantic import Field, TypeAdapter

from horismos.errors import NotReady
from horismos.rendering.png import png_of
from horismos.units import MM_PER_INCH
from horismos.workflow.showing.inks import PlatesShown, SectionShown, Tints, plate_picture
from horismos.workflow.showing.inks import amounts as amounts_at
from jobs import models
from jobs.api.common import find_job, picture
from jobs.store.analyses import plates_file, plates_of
from jobs.store.children import run_step
from jobs.store.pictures import apart_of, page_picture, picture_of
from jobs.store.queue import preview_of
from jobs.store.snapshots import read_job

__all__ = ["router"]

router = Router()
PICTURE_PIXELS = 4_000_000
MOST_INKS = 200
Place = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
"""A coordinate on a page, in mm."""
Ppi = Annotated[float, Field(ge=0.5, le=10_000, allow_inf_nan=False)]
SHORTEST_MM, LONGEST_MM = 0.01, 200_000.0
SECTION = TypeAdapter(SectionShown)


@router.get("/jobs/{job_id}/picture")
def part(
    request: HttpRequest, job_id: int, x0: Place, y0: Place, x1: Place, y1: Place, ppi: Ppi,
    view: str = "art", revision: int = 0, preview: int = 0,
) -> HttpResponse:
    """A part of a view of a revision (mm), or of what a preview gave, as PNG, at most so many pixels."""
    job = find_job(job_id)
    if not (x1 > x0 and y1 > y0):
        raise HttpError(400, "That is no area of the page.")
    if math.ceil((x1 - x0) * ppi / MM_PER_INCH) * math.ceil((y1 - y0) * ppi / MM_PER_INCH) > PICTURE_PIXELS:
        raise HttpError(400, "That picture is too large. Ask for a smaller part.")
    return picture(picture_of(job, _content(job, revision, preview), view, (x0, y0, x1, y1), ppi))


def _content(job: models.Job, revision: int, preview: int = 0) -> str:
    """What a preview gave, or a revision holds (0: the one that counts), by its content."""
    if preview:
        sha256 = preview_of(job, preview)
    else:
        made = job.revisions.filter(number=revision).first() if revision else job.revision
        sha256 = made.sha256 if made else None
    if sha256 is None:
        raise HttpError(404, "There is no such preview." if preview else "There is no such revision.")
    return sha256


@router.get("/jobs/{job_id}/apart")
def apart(request: HttpRequest, job_id: int, before: int, after: int = 0, preview: int = 0) -> HttpResponse:
    """The rendered difference of two revisions over the whole page, or of one and a preview: the redder the more."""
    job = find_job(job_id)
    return picture(apart_of(job, _content(job, before), _content(job, after, preview)))


@router.get("/jobs/{job_id}/pages/{number}")
def page_of_original(request: HttpRequest, job_id: int, number: int) -> HttpResponse:
    """A small picture of one page of the customer's PDF, to choose by."""
    return picture(page_picture(find_job(job_id), number))


@router.get("/jobs/{job_id}/glance")
def glance(request: HttpRequest, job_id: int) -> HttpResponse:
    """A picture of a file that still asks something, so that one sees what is asked about."""
    job = read_job(job_id)
    made = run_step("job:glance", job.original, job.arrival, key=job.pool_key, what="Looking at the file")
    return picture(made, immutable=False)


def _plates(job: models.Job) -> tuple[PlatesShown, Tints]:
    found = plates_of(job)
    if found is None:
        raise NotReady("There are no plates yet.", "Wait for the check.")
    return found


@router.get("/jobs/{job_id}/plates")
def plates(request: HttpRequest, job_id: int, inks: str = "", mode: str = "ink") -> HttpResponse:
    """Plates laid over each other (numbers in a row, none for all), or the ink load as heat."""
    which = [int(part) for part in inks.split(",")[:MOST_INKS] if part.isdecimal() and len(part) < 5]
    return picture(png_of(plate_picture(*_plates(find_job(job_id)), which, mode == "heat")))


@router.get("/jobs/{job_id}/amounts", response=list[int])
def amounts(request: HttpRequest, job_id: int, x: Place, y: Place) -> list[int]:
    """The tint of every ink at a place in mm, 0 to 255, in the order of the plates."""
    return amounts_at(*_plates(find_job(job_id)), [(x, y)])[0]


@router.get("/jobs/{job_id}/section", response=SectionShown)
def cut_open(request: HttpRequest, job_id: int, x0: Place, y0: Place, x1: Place, y1: Place) -> SectionShown:
    """The material cut open along a line across the page (mm)."""
    if not SHORTEST_MM <= math.hypot(x1 - x0, y1 - y0) <= LONGEST_MM:
        raise HttpError(400, "Draw a longer line.")
    job = read_job(job_id)
    found = run_step("pictures:section", job.case, plates_file(job.row), (x0, y0), (x1, y1), key=job.pool_key)
    return SECTION.validate_python(found)
