"""The bench: what was released to the machines, and the machines at work."""

from typing import Annotated

from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from jobs import models
from jobs.api.common import find, picture
from jobs.api.tables import ReadBy
from jobs.api.wants import WORK
from jobs.listing import WorkShown, work_shown
from jobs.release_showing import ReleaseShown, release_shown
from jobs.store.children import run_step
from jobs.store.files import load, verified
from jobs.store.floor import as_dry, current_sheet, print_key, to_print
from jobs.store.queue import begin
from jobs.store.snapshots import pool_key
from ninja import Router, Schema
from ninja.errors import HttpError

from bench.loadings import loading_of, print_of, run_of
from horismos.destinations import destination_of
from horismos.release.following import RipReport, rip_report_schema
from horismos.simulation.bed import Side
from horismos.workflow.showing.bench import PlaybackShown

__all__ = ["router"]

router = Router()
SHEET_PIXELS = 1_500_000
"""Of the picture of a sheet."""


class RipGiven(Schema):
    """The hot folder that a print PDF is put into."""

    preset: str = ""
    report: Annotated[RipReport, ReadBy(RipReport.from_json, rip_report_schema())] = RipReport()
    """What the simulated RIP does to the sheet."""


@router.get("/bench", response=list[ReleaseShown])
def bench(request: HttpRequest) -> list[ReleaseShown]:
    """What was released to the machines, newest first."""
    released = models.Release.objects.select_related("job").prefetch_related("loadings", "sheets")
    return [release_shown(made) for made in released.order_by("-id")]


@router.post("/bench/{release_id}/rip", response=WorkShown, auth=WORK)
def run_rip(request: HttpRequest, release_id: int, body: RipGiven) -> WorkShown:
    """Let the simulated RIP take a print PDF from one of its hot folders."""
    made = find(models.Release.objects.select_related("job"), release_id)
    preset = destination_of(made.ticket).rip.preset(body.preset or release_shown(made).usual_preset)
    report = {} if body.report.is_plain else body.report.to_json()
    with transaction.atomic():
        to_print(find(models.Release.objects.select_for_update().select_related("job"), release_id))
        return work_shown(begin(made.job, models.WorkKind.RIP, {
            "key": print_key(made), "release": made.pk, "preset": preset.id, "report": report,
        }))


@router.post("/bench/{release_id}/dry", response=ReleaseShown, auth=WORK)
def let_dry(request: HttpRequest, release_id: int) -> ReleaseShown:
    """Let a print dry: the simulated shop's clock goes on until it is."""
    made = find(models.Release.objects.select_related("job"), release_id)
    made.dry = True
    made.save(update_fields=["dry"])
    for sheet in made.sheets.all():
        as_dry(sheet)
    return release_shown(find(models.Release.objects.select_related("job"), release_id))


@router.get("/bench/{release_id}/sheet")
def sheet(request: HttpRequest, release_id: int) -> HttpResponse:
    """The sheet as it was handed to the RIP, as PNG."""
    made = find(models.Release.objects.select_related("job"), release_id)
    return picture(run_step("pictures:page_picture", print_of(made), 1, SHEET_PIXELS, key=pool_key(made.job)))


@router.get("/bench/{release_id}/printed")
def printed(request: HttpRequest, release_id: int) -> HttpResponse:
    """The sheet as it came out of the printer, as PNG."""
    made = find(models.Release.objects.all(), release_id)
    now = current_sheet(made)
    kept = (now.picture if now else "") or made.picture
    if not kept:
        raise HttpError(404, "It is not printed yet.")
    return picture(load(kept))


@router.get("/bench/{release_id}/play", response=PlaybackShown)
def playback(request: HttpRequest, release_id: int, side: Side = Side.FRONT) -> PlaybackShown:
    """Let the simulated cutter read a cut file: every stroke with its times, as it lands on the sheet."""
    made = find(models.Release.objects.select_related("job"), release_id)
    return run_of(loading_of(made, side), made, side)


@router.get("/bench/{release_id}/plates/{sha256}")
def plate(request: HttpRequest, release_id: int, sha256: str) -> HttpResponse:
    """A plate as a picture."""
    made = find(models.Release.objects.all(), release_id)
    if sha256 not in {p["sha256"] for p in made.plates}:
        raise HttpError(404, "There is no such plate.")
    return HttpResponse(load(sha256), content_type="image/png")


@router.get("/bench/{release_id}/files/{name}")
def download(request: HttpRequest, release_id: int, name: str) -> FileResponse:
    """A file of a package, as a download with a safe name."""
    made = find(models.Release.objects.all(), release_id)
    found = next((f for f in made.files if f["name"] == name), None)
    if found is None:
        raise HttpError(404, "The package holds no such file.")
    return FileResponse(
        verified(found["sha256"]).open("rb"), as_attachment=True, filename=found["name"],
        content_type="application/octet-stream",
    )
