"""Lines while they are made: shown, checked and cut open, before they are put into the job's file as a mend is."""

import json
import math
from collections import OrderedDict
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field, TypeAdapter

from horismos.errors import Cancelled, ChangedMeanwhile
from horismos.making import Make
from horismos.making.spec import make_schema
from horismos.workflow.showing.findings import FindingShown
from horismos.workflow.showing.inks import SectionShown
from horismos.workflow.showing.making import MakingShown
from jobs.api.common import same_revision
from jobs.api.pictures import LONGEST_MM, SHORTEST_MM
from jobs.api.tables import ReadBy
from jobs.store.analyses import found_of, plates_file
from jobs.store.children import LOOKING_S, run_step
from jobs.store.snapshots import JobSnapshot, read_job

__all__ = ["router"]

router = Router()
MAKES = "makes"
MOST_TABS = 200
_newest: OrderedDict[tuple[int, str], str] = OrderedDict()
"""What each page has asked about last, of this process alone."""
SHOWN, CARDS, SECTION = TypeAdapter(MakingShown), TypeAdapter(list[FindingShown]), TypeAdapter(SectionShown)


class DraftRequest(Schema):
    """What is to be made, on the revision that the person has seen.

    ``tab`` names the page that asks: what it asked before about anything else is left off.
    """

    make: Annotated[Make, ReadBy(Make.from_json, make_schema())]
    revision: Annotated[int, Field(ge=0)]
    tab: Annotated[str, Field(max_length=40)] = ""


class Shown(DraftRequest):
    """Lines to be looked at: a draft by straight pieces, or with the nodes that a hand may move."""

    draft: bool = False
    nodes: bool = False


class CutOpen(DraftRequest):
    """Lines, and a line across the page in mm."""

    line: tuple[float, float, float, float]


def _asked(job: JobSnapshot, body: DraftRequest, step: str, *more: Any, what: str) -> Any:
    """What a step of making gives, in the one child that knows the outline. It is left off when it is out of date.

    Raises ChangedMeanwhile where the page has asked about something else since.
    """
    make, tab = body.make.to_json(), (job.row.pk, body.tab)
    wanted = json.dumps(make, sort_keys=True)
    if body.tab:
        _newest[tab] = wanted
        _newest.move_to_end(tab)
        while len(_newest) > MOST_TABS:
            _newest.popitem(last=False)
    try:
        return run_step(
            f"making:{step}", job.case, make, *more, key=job.pool_key + MAKES + body.tab,
            seconds=LOOKING_S, what=what, kept=True, cancelled=lambda: _newest.get(tab, wanted) != wanted,
        )
    except Cancelled:
        raise ChangedMeanwhile("Something else has been asked for since.", "Look at that.") from None


@router.post("/jobs/{job_id}/making", response=MakingShown)
def show(request: HttpRequest, job_id: int, body: Shown) -> MakingShown:
    """The lines as they would be."""
    job = read_job(job_id)
    same_revision(job.row, body.revision)
    found = _asked(job, body, "shown", body.draft, body.nodes, what="Making the lines")
    return SHOWN.validate_python(found)


@router.post("/jobs/{job_id}/making/check", response=list[FindingShown])
def check(request: HttpRequest, job_id: int, body: DraftRequest) -> list[FindingShown]:
    """What the check would say of the lines."""
    job = read_job(job_id)
    same_revision(job.row, body.revision)
    report = found_of(job.row).report
    found = _asked(job, body, "checked", report.to_json() if report else None, what="Checking the lines")
    return CARDS.validate_python(found)


@router.post("/jobs/{job_id}/making/section", response=SectionShown)
def cut_open(request: HttpRequest, job_id: int, body: CutOpen) -> SectionShown:
    """The material cut open along a line, with the lines as they would be."""
    x0, y0, x1, y1 = body.line
    if not SHORTEST_MM <= math.hypot(x1 - x0, y1 - y0) <= LONGEST_MM:
        raise HttpError(400, "Draw a longer line.")
    job = read_job(job_id)
    same_revision(job.row, body.revision)
    found = _asked(
        job, body, "section", plates_file(job.row), (x0, y0), (x1, y1), what="Cutting the material open"
    )
    return SECTION.validate_python(found)
