"""The check sheets: every check with its limits, the sheets with their versions, tried and kept, and their files."""

import json
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from jobs import models
from jobs.api.bodies import Key, Number, Words
from jobs.api.common import download, find_job
from jobs.api.wants import EDIT_SHELF, WORK
from jobs.listing import WorkShown, work_shown
from jobs.store.check_sheets import (
    CheckKnown,
    CheckSheetShown,
    VersionShown,
    known_checks,
    latest,
    parsed,
    save_version,
    sheets_shown,
    title_of,
)
from jobs.store.decisions import may_edit_shelf
from jobs.store.queue import begin
from jobs.store.shelf import known_shelf
from ninja import File, Router, Schema, UploadedFile
from ninja.errors import HttpError
from pydantic import Field

from horismos.checking import CheckSheet, all_limits
from horismos.words import safe_name

__all__ = ["router"]

router = Router()
MOST_SHEET_BYTES = 200_000


@dataclass(frozen=True)
class CheckSheets:
    """Every check with its limits, every sheet with its versions, and whether who asks may change them."""

    checks: list[CheckKnown]
    sheets: list[CheckSheetShown]
    may_edit: bool


class Draft(Schema):
    """A check sheet that is being written; ``job`` is one to try it on, or to check again by it."""

    scope: Key
    subject: Key = ""
    limits: Annotated[dict[Key, Number], Field(max_length=1_000)] = {}
    severities: Annotated[dict[Key, Key], Field(max_length=1_000)] = {}
    note: Words = ""
    job: int | None = None


@router.get("/sheets", response=CheckSheets)
def check_sheets(request: HttpRequest) -> CheckSheets:
    """Every check with its limits, and every sheet with its versions."""
    return CheckSheets(known_checks(), sheets_shown(), may_edit_shelf(request.user))


@router.post("/sheets", response=CheckSheets, auth=EDIT_SHELF)
def save_sheet(request: HttpRequest, body: Draft) -> CheckSheets:
    """Keep a new version of a sheet, with the right to; a job that is named is checked again by it."""
    draft = parsed(body.scope, body.subject, body.dict())
    save_version(body.scope, body.subject, draft, request.user.pk, body.note)
    return CheckSheets(known_checks(), sheets_shown(), may_edit_shelf(request.user))


@router.post("/sheets/try", response=WorkShown, auth=WORK)
def try_sheet(request: HttpRequest, body: Draft) -> WorkShown:
    """Find out what a draft would change in a job, before it is kept."""
    if body.job is None:
        raise HttpError(400, "Say on which job to try it.")
    parsed(body.scope, body.subject, body.dict())
    said: dict[str, object] = {
        "scope": body.scope, "subject": body.subject, "limits": body.limits, "severities": body.severities,
    }
    return work_shown(begin(find_job(body.job), models.WorkKind.TRY_SHEET, said))


@router.get("/sheets/export")
def export_sheet(request: HttpRequest, scope: str, subject: str = "") -> HttpResponse:
    """The last version of a sheet as a JSON file."""
    title, last = title_of(scope, subject), latest(scope, subject)
    said = {key: last.data[key] for key in ("limits", "severities")} if last else {}
    known = CheckSheet.from_json(said)
    version = f"version {known_shelf().numbers[last.id]}" if last else "shipped"
    data = CheckSheet(title, known.limits, known.severities, version).to_json()
    text = json.dumps(data, indent=1, ensure_ascii=False) + "\n"
    return download(text.encode(), f"check-sheet-{safe_name(title)}.json", "application/json")


@router.post("/sheets/import", response=VersionShown, auth=EDIT_SHELF)
def import_sheet(request: HttpRequest, file: File[UploadedFile]) -> VersionShown:
    """Read a JSON file into a draft; nothing is kept yet."""
    if (file.size or 0) > MOST_SHEET_BYTES:
        raise HttpError(413, "That is too large for a check sheet.")
    try:
        data = json.loads(file.read().decode("utf-8"))
    except (ValueError, RecursionError) as error:
        raise HttpError(400, f"{file.name} is not JSON: {error}.") from None
    read = CheckSheet.from_json(data, all_limits())
    who = request.user.get_username()
    return VersionShown(0, who, datetime.now(UTC), read.name, dict(read.limits), dict(read.severities))
