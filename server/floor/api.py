"""The bench: what was released to the machines, and the machines at work."""

from dataclasses import dataclass

from django.http import FileResponse, HttpRequest, HttpResponse
from jobs import models
from jobs.api.common import find
from jobs.listing import WorkShown, work_shown
from jobs.showing import ReleaseShown, release_shown
from jobs.store.files import load, path_of
from jobs.store.works import begin
from ninja import Router
from ninja.errors import HttpError

from horismos.simulation import play

__all__ = ["router"]

router = Router()


@dataclass(frozen=True)
class MoveShown:
    """A stroke of the cutter: from ``start_s`` the tool is down until ``end_s``; points in mm."""

    operation: int
    tool: int
    force_gf: float
    speed_mm_s: float
    start_s: float
    end_s: float
    points: list[list[float]]


@dataclass(frozen=True)
class PlaybackShown:
    """A whole run of the cutter over its sheet."""

    moves: list[MoveShown]
    total_s: float
    cut_mm: float
    travel_mm: float
    width_mm: float
    length_mm: float
    operations: list[dict[str, object]]


@router.get("/bench", response=list[ReleaseShown])
def bench(request: HttpRequest) -> list[ReleaseShown]:
    """What was released to the machines, newest first."""
    return [release_shown(made) for made in models.Release.objects.select_related("job").order_by("-id")]


@router.post("/bench/{release_id}/rip", response=WorkShown)
def run_rip(request: HttpRequest, release_id: int) -> WorkShown:
    """Let the simulated RIP take a print PDF from its hot folder."""
    made = find(models.Release.objects.all(), release_id)
    return work_shown(begin(made.job, models.WorkKind.RIP, {"release": made.pk}))


@router.get("/bench/{release_id}/play", response=PlaybackShown)
def playback(request: HttpRequest, release_id: int, name: str = "") -> PlaybackShown:
    """Let the simulated cutter read a cut file: every stroke with its times."""
    made = find(models.Release.objects.all(), release_id)
    cuts = [f for f in made.files if f["name"].endswith(".plt") and name in ("", f["name"])]
    if not cuts:
        raise HttpError(404, "The package holds no such cut file.")
    played = play(load(cuts[0]["sha256"]), made.ticket)
    sheet = made.ticket["sheet"]
    return PlaybackShown(
        [
            MoveShown(
                m.operation, m.tool, m.force_gf, m.speed_mm_s, m.start_s, m.end_s, m.points.round(3).tolist()
            )
            for m in played.moves
        ],
        played.total_s, played.cut_mm, played.travel_mm, sheet["width_mm"], sheet["length_mm"],
        [o for o in made.ticket["operations"] if o["side"] == "front"],
    )


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
        path_of(found["sha256"]).open("rb"), as_attachment=True, filename=found["name"],
        content_type="application/octet-stream",
    )
