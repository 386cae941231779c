"""The API of the check: decisions, edge map, landing, pictures, letter, report, check sheets."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, UploadedFile
from ninja.errors import HttpError

from horismos.checking import CheckSheet, all_limits
from horismos.checking.landing import Offset
from horismos.rendering.png import png_of
from jobs import check_schemas, models, schemas, show
from jobs.checked import edges, evidence_picture, landing, letter, letter_as_pdf, preflight
from jobs.common import decide, find_job
from jobs.settling import may_waive, settle, unsettle
from jobs.sheets import known_checks, parsed, save_version, sheets_shown, title_of
from jobs.tasks import begin

router = Router()
MOST_MOVE_MM, MOST_TURN, MOST_STRETCH = 20.0, 10.0, 5.0
MOST_SHEET_BYTES = 200_000
EVIDENCE = {"small": (352, 140), "large": (704, 352)}


@router.post("/jobs/{job_id}/settled", response=schemas.JobShape)
def let_stand(request: HttpRequest, job_id: int, body: check_schemas.Settle) -> Any:
    """Let a finding stand, with a reason; a stop only by who may."""
    job = find_job(job_id)
    decision = settle(job, request.user, body.key, body.reason)
    decide(request, job, f"{decision.verb.capitalize()} {decision.id}: {decision.message} Reason: {decision.reason}")
    return show.job_whole(find_job(job_id), may_waive(request.user))


@router.delete("/jobs/{job_id}/settled/{key}", response=schemas.JobShape)
def ask_again(request: HttpRequest, job_id: int, key: str) -> Any:
    """Take a decision back."""
    job = find_job(job_id)
    unsettle(job, key)
    decide(request, job, "Took a decision back")
    return show.job_whole(find_job(job_id), may_waive(request.user))


@router.get("/jobs/{job_id}/edges", response=check_schemas.EdgesShape)
def edge_map(request: HttpRequest, job_id: int) -> HttpResponse:
    """The edge map of a job: per contour what was measured along it, lengths in hundredths of a mm."""
    return HttpResponse(edges(find_job(job_id)), content_type="application/json")


@router.get("/jobs/{job_id}/landing", response=check_schemas.LandingShape)
def lands_off(
    request: HttpRequest, job_id: int, dx: float = 0, dy: float = 0, turn: float = 0, stretch_x: float = 0,
    stretch_y: float = 0,
) -> Any:
    """The slivers of a cut that lands off: moved (mm), turned (degrees), stretched (%)."""
    small = max(abs(dx), abs(dy)) <= MOST_MOVE_MM and abs(turn) <= MOST_TURN
    if not small or max(abs(stretch_x), abs(stretch_y)) > MOST_STRETCH:
        raise HttpError(400, "That is further off than any cutter lands.")
    return landing(find_job(job_id), Offset(dx, dy, turn, stretch_x, stretch_y))


@router.get("/jobs/{job_id}/evidence/{key}")
def evidence(request: HttpRequest, job_id: int, key: str, size: str = "small") -> HttpResponse:
    """A picture of the worst place of a finding."""
    answer = HttpResponse(
        png_of(evidence_picture(find_job(job_id), key, EVIDENCE.get(size, EVIDENCE["small"]))), content_type="image/png"
    )
    answer["Cache-Control"] = "private, max-age=86400"
    return answer


@router.post("/jobs/{job_id}/letter", response=check_schemas.LetterShape)
def letter_text(request: HttpRequest, job_id: int, body: check_schemas.Keys) -> Any:
    """The letter to the customer from chosen findings, as text."""
    return {"text": letter(find_job(job_id), body.keys).text()}


@router.get("/jobs/{job_id}/letter.pdf")
def letter_file(request: HttpRequest, job_id: int, chosen: str) -> HttpResponse:
    """The same as PDF; the keys of the findings in a row."""
    return _download(letter_as_pdf(find_job(job_id), chosen.split(",")), f"letter-{job_id}.pdf")


@router.get("/jobs/{job_id}/report.pdf")
def report_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """The preflight report as PDF."""
    return _download(preflight(find_job(job_id)), f"preflight-{job_id}.pdf")


def _download(data: bytes, name: str) -> HttpResponse:
    answer = HttpResponse(data, content_type="application/pdf")
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


# -- check sheets ---------------------------------------------------------------------------------


@router.get("/sheets", response=check_schemas.CheckSheets)
def check_sheets(request: HttpRequest) -> Any:
    """Every check with its limits, and every sheet with its versions."""
    return {"checks": known_checks(), "sheets": sheets_shown()}


@router.post("/sheets", response=check_schemas.CheckSheets)
def save_sheet(request: HttpRequest, body: check_schemas.Draft) -> Any:
    """Keep a new version of a sheet; a job that is named is checked again by it."""
    draft = parsed(body.scope, body.subject, body.dict())
    save_version(body.scope, body.subject, draft, request.user.pk, body.note)
    if body.job is not None:
        begin(find_job(body.job), "analyse")
    return {"checks": known_checks(), "sheets": sheets_shown()}


@router.post("/sheets/try", response=schemas.WorkShape)
def try_sheet(request: HttpRequest, body: check_schemas.Draft) -> Any:
    """Find out what a draft would change in a job, before it is kept."""
    if body.job is None:
        raise HttpError(400, "Say on which job to try it.")
    parsed(body.scope, body.subject, body.dict())
    said = {"scope": body.scope, "subject": body.subject, "limits": body.limits, "severities": body.severities}
    return show.work_shape(begin(find_job(body.job), "try-sheet", said))


@router.get("/sheets/export")
def export_sheet(request: HttpRequest, scope: str, subject: str = "") -> HttpResponse:
    """The last version of a sheet as a JSON file."""
    title = title_of(scope, subject)
    last = models.SheetVersion.objects.filter(sheet__scope=scope, sheet__subject=subject).order_by("-number").first()
    known = CheckSheet.from_json(last.data) if last else CheckSheet()
    version = f"version {last.number}" if last else "shipped"
    data = CheckSheet(title, known.limits, known.severities, version).to_json()
    answer = HttpResponse(json.dumps(data, indent=1, ensure_ascii=False) + "\n", content_type="application/json")
    safe = "".join(c if c.isalnum() and c.isascii() else "-" for c in title.lower()).strip("-")
    answer["Content-Disposition"] = f'attachment; filename="check-sheet-{safe}.json"'
    return answer


@router.post("/sheets/import", response=check_schemas.VersionShape)
def import_sheet(request: HttpRequest, file: File[UploadedFile]) -> Any:
    """Read a JSON file into a draft; nothing is kept yet."""
    if (file.size or 0) > MOST_SHEET_BYTES:
        raise HttpError(413, "That is too large for a check sheet.")
    try:
        data = json.loads(file.read().decode("utf-8"))
    except (ValueError, RecursionError) as error:
        raise HttpError(400, f"{file.name} is not JSON: {error}.") from None
    read = CheckSheet.from_json(data, all_limits())
    return {
        "number": 0, "who": request.user.get_username(), "when": "2000-01-01T00:00:00Z", "note": read.name,
        "limits": read.limits, "severities": read.severities,
    }
