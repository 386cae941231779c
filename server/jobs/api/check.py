"""The check: decisions, edge map, what a cut that lands off would show, pictures, letter, report."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from ninja.errors import HttpError

from horismos.checking.measuring.landing import land
from horismos.misregistration import Misregistration
from jobs.api.bodies import Keys, Settle
from jobs.api.common import download, find_job, job_response, picture
from jobs.api.wants import WORK
from jobs.showing import JobShown
from jobs.store.analyses import edge_map_of, report_row
from jobs.store.changing import changing
from jobs.store.children import run_step
from jobs.store.decisions import settle, unsettle
from jobs.store.snapshots import read_job

__all__ = ["router"]

router = Router()
MOST_MOVE_MM, MOST_TURN, MOST_STRETCH = 20.0, 10.0, 5.0
EVIDENCE = {"small": (352, 140), "large": (704, 352)}


Unit = Literal["mm", "in"]


class LetterWanted(Keys):
    """Findings for a letter, and the unit that its lengths are in."""

    unit: Unit = "mm"


class LetterText(Schema):
    """A letter as text."""

    text: str


class EdgeProfileShown(Schema):
    """The samples of one contour: lengths in hundredths of a mm, normals and weights in thousandths."""

    hole: bool
    length_mm: float
    points: list[int]
    normals: list[int]
    coloured: list[int]
    outside: list[int]
    inside: list[int]
    beyond: list[int]
    weight: list[int]
    kinds: list[int]
    worst: int


class EdgeShare(Schema):
    """How much of the contour is of a kind."""

    kind: str
    mm: float
    share: float


class EdgeLimitsShown(Schema):
    """What is wanted along the edge, in mm."""

    bleed: float
    border: float
    tolerance: float


class EdgesShown(Schema):
    """The edge map: against the colour, and against white and varnish where there are such."""

    reach_mm: float
    limits: EdgeLimitsShown
    stands_mm: float | None
    layers: dict[str, list[EdgeProfileShown]]
    shares: dict[str, list[EdgeShare]]


class SliverShown(Schema):
    """What would show at one place."""

    kind: str
    area_mm2: float
    widest_mm: float
    outline: list[list[float]]


class LandingShown(Schema):
    """What a cut that lands off would show, the largest first; ``stands_mm`` is what it can stand."""

    area_mm2: float
    widest_mm: float
    count: int
    by_kind: dict[str, float]
    slivers: list[SliverShown]
    stands_mm: float | None


@router.post("/jobs/{job_id}/decisions", response=JobShown, auth=WORK)
def accept_finding(request: HttpRequest, job_id: int, body: Settle) -> JobShown:
    """Let a finding stand, with a reason; a stop only by who may."""
    with changing(job_id, body.version, request.user.pk) as change:
        made = settle(change.job, request.user, body.key, body.reason)
        change.done(f"{made.verb.capitalize()} {made.id}: {made.message} Reason: {made.reason}")
    return job_response(request, job_id)


@router.delete("/jobs/{job_id}/decisions/{key}", response=JobShown, auth=WORK)
def reopen_finding(request: HttpRequest, job_id: int, key: str, version: int) -> JobShown:
    """Take a decision back."""
    with changing(job_id, version, request.user.pk) as change:
        unsettle(change.job, key)
        change.done("Took a decision back")
    return job_response(request, job_id)


@router.get("/jobs/{job_id}/edges", response=EdgesShown)
def edge_map(request: HttpRequest, job_id: int) -> HttpResponse:
    """The edge map of a job, as it was kept."""
    return HttpResponse(edge_map_of(find_job(job_id))[0], content_type="application/json")


@router.get("/jobs/{job_id}/landing", response=LandingShown)
def lands_off(
    request: HttpRequest, job_id: int, dx: float = 0, dy: float = 0, turn: float = 0, stretch_x: float = 0,
    stretch_y: float = 0,
) -> dict[str, object]:
    """The slivers of a cut that lands off: moved (mm), turned (degrees), stretched (%)."""
    small = max(abs(dx), abs(dy)) <= MOST_MOVE_MM and abs(turn) <= MOST_TURN
    if not small or max(abs(stretch_x), abs(stretch_y)) > MOST_STRETCH:
        raise HttpError(400, "That is further off than any cutter lands.")
    measured = edge_map_of(find_job(job_id))[1]
    landing = land(measured.colour, Misregistration(dx, dy, turn, stretch_x, stretch_y))
    return {**landing.to_json(), "stands_mm": measured.stands_mm()}


@router.get("/jobs/{job_id}/evidence/{key}")
def evidence(
    request: HttpRequest, job_id: int, key: str, size: str = "small",
    candidate: int = -1,
) -> HttpResponse:
    """A picture of the worst place of a finding, or of one of its candidates."""
    job = read_job(job_id)
    wanted = EVIDENCE.get(size, EVIDENCE["small"])
    which = candidate if candidate >= 0 else None
    drawn = run_step("pictures:evidence", job.case, report_row(job.row), key, which, wanted, key=job.pool_key)
    return picture(drawn, False)


@router.post("/jobs/{job_id}/letter", response=LetterText)
def letter_text(request: HttpRequest, job_id: int, body: LetterWanted) -> LetterText:
    """The letter to the customer from chosen findings, as text."""
    job = read_job(job_id)
    row, inches = report_row(job.row), body.unit == "in"
    return LetterText(text=run_step("documents:letter", job.case, row, body.keys, inches, key=job.pool_key))


@router.get("/jobs/{job_id}/letter.pdf")
def letter_file(request: HttpRequest, job_id: int, chosen: str, unit: Unit = "mm") -> HttpResponse:
    """The letter as PDF; the keys of the findings in a row."""
    job = read_job(job_id)
    row, inches = report_row(job.row), unit == "in"
    made = run_step("documents:letter_file", job.case, row, chosen.split(","), inches, key=job.pool_key)
    return download(made, f"letter-{job_id}.pdf")


@router.get("/jobs/{job_id}/report.pdf")
def report_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """The preflight report as PDF."""
    job = read_job(job_id)
    row, what = report_row(job.row), "Writing the report"
    made = run_step("documents:report_file", job.case, row, key=job.pool_key, what=what)
    return download(made, f"preflight-{job_id}.pdf")
