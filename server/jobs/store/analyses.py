"""What was found on a job, kept and given back as the core's values."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone
from pydantic import TypeAdapter

from horismos.checking import Report
from horismos.checking.measuring.edge_map import EdgeMap
from horismos.errors import HorismosError, NotFound, NotReady
from horismos.fingerprint import code_fingerprint
from horismos.workflow.showing.findings import FindingShown
from horismos.workflow.showing.inks import PlatesShown, Tints
from horismos.workflow.showing.page import PageSeen
from horismos.workflow.showing.sheet import CutShown, SheetShown
from jobs import models
from jobs.store.files import keep, load, local
from jobs.store.pictures import keep_view
from jobs.store.queue import begin, latest_of, works_on_it
from jobs.store.snapshots import JobSnapshot
from jobs.store.summaries import summary_row, thumb_of

__all__ = [
    "StoredAnalysis", "edge_map_of", "found_of", "keep_analysis", "keep_failure", "keep_page", "made_before",
    "plates_file", "plates_of", "queue_outdated", "report_row",
]

SEEN, CARDS = TypeAdapter(PageSeen), TypeAdapter(tuple[FindingShown, ...])
SHEET, CUT, PLATES = TypeAdapter(SheetShown), TypeAdapter(CutShown), TypeAdapter(PlatesShown)


@dataclass(frozen=True, kw_only=True)
class StoredAnalysis:
    """What is kept of an analysis, as values; everything that is not known yet is None or empty."""

    seen: PageSeen | None = None
    report: Report | None = None
    cards: tuple[FindingShown, ...] = ()
    sheet: SheetShown | None = None
    cut: CutShown | None = None
    more_sheets: tuple[SheetShown, ...] = ()
    more_cuts: tuple[CutShown, ...] = ()
    plates: PlatesShown | None = None
    plates_error: str = ""
    has_edges: bool = False
    art_sha256: str = ""
    error: str = ""
    key: str = ""


def _row(job: models.Job) -> models.Analysis | None:
    found: models.Analysis | None = getattr(job, "analysis", None)
    return found


def found_of(job: models.Job) -> StoredAnalysis:
    """What was found on a job so far."""
    row = _row(job)
    if row is None:
        return StoredAnalysis()
    return StoredAnalysis(
        seen=SEEN.validate_python(row.seen) if row.seen else None,
        report=Report.from_json(row.report) if row.report else None, cards=CARDS.validate_python(row.cards),
        sheet=SHEET.validate_python(row.sheet) if row.sheet else None,
        cut=CUT.validate_python(row.cut) if row.cut else None,
        more_sheets=tuple(SHEET.validate_python(one) for one in row.more.get("sheets", ())),
        more_cuts=tuple(CUT.validate_python(one) for one in row.more.get("cuts", ())),
        plates=PLATES.validate_python(row.plates) if "sha256" in row.plates else None,
        plates_error=str(row.plates.get("error", "")), has_edges=bool(row.edges), art_sha256=row.art_sha256,
        error=row.error, key=row.key
    )


def keep_page(job: models.Job, revision: models.Revision, page: Mapping[str, Any]) -> None:
    """Keep the page as the stage shows it, before it has been checked; what was found before stays beside it."""
    row = _row(job)
    values = {
        "seen": page["seen"], "art_sha256": keep_view(job, revision, "art", page["art"]),
        "thumb": thumb_of(page["seen"]),
    }
    if row is None or not row.report:
        values["summary"] = summary_row(page["seen"], None, {})
    models.Analysis.objects.update_or_create(job=job, defaults=values, create_defaults={"key": "", **values})


def keep_analysis(of: JobSnapshot, found: Mapping[str, Any]) -> None:
    """Keep what was found on a job as it stood; plates and edges of before stay where they still hold."""
    job, revision = of.row, of.revision
    row = models.Analysis.objects.get_or_create(job=job, defaults={"key": ""})[0]
    edges, plates = found["edges"], found["plates"]
    as_found = ("seen", "report", "cards", "sheet", "cut", "more")
    values: dict[str, Any] = {
        "key": of.analysis_key, **{name: found[name] for name in as_found}, "error": "",
        "art_sha256": keep_view(job, revision, "art", found["art"]), "terms": of.check_key, "checked": revision.sha256,
        "code": code_fingerprint(),
        "summary": summary_row(found["seen"], found["report"], found["sheet"], found["cards"]),
        "thumb": thumb_of(found["seen"]),
        "edges": keep(edges) if edges is not None else row.edges if found["edges_stand"] else "",
        "when": timezone.now(), "plates": row.plates if plates is None else _plates_row(plates),
    }
    models.Analysis.objects.filter(pk=row.pk).update(**values)


def _plates_row(plates: Mapping[str, Any]) -> dict[str, Any]:
    if "array" not in plates:
        return {"error": str(plates["error"])}
    keep(plates["array"])
    return dict(plates["shown"])


def keep_failure(job: JobSnapshot, error: HorismosError) -> None:
    """Keep why a job could not be looked at; what was found before stays beside it."""
    values = {"key": job.analysis_key, "error": str(error), "code": code_fingerprint()}
    models.Analysis.objects.update_or_create(job=job.row, defaults=values)


def queue_outdated(job: int | None = None) -> int:
    """Let jobs that were looked at by other code be looked at again: one, or all that are not released.

    What works on a job already will look at it. One that is opened, and on which the last work failed or was stopped,
    waits for a person. Gives how many.
    """
    which = models.Job.objects.filter(releases=None) if job is None else models.Job.objects.filter(pk=job)
    outdated = which.filter(revision__isnull=False, analysis__isnull=False).exclude(analysis__code=code_fingerprint())
    if not outdated.exists():
        return 0
    with transaction.atomic():
        found = list(outdated.exclude(works_on_it()).order_by("pk"))
        if job is not None:
            found = [one for one in found if (last := latest_of(one)) is None or last.state == models.WorkState.DONE]
        for one in found:
            begin(one, models.WorkKind.ANALYSE, behind=True)
    return len(found)


def made_before(seen: PageSeen | None) -> dict[str, Any] | None:
    """What a page's lines were made of, with their figures by role; None where none were made."""
    if seen is None or not seen.made:
        return None
    figures = {line.role: [line.nodes, line.length_mm] for line in seen.lines if line.role}
    return {"make": seen.made, "figures": figures}


# -- plates ----------------------------------------------------------------------------------------


def plates_of(job: models.Job) -> tuple[PlatesShown, Tints] | None:
    """The plates of a job with their tints, mapped and not loaded; None where there are none."""
    found = plates_file(job)
    if found is None:
        return None
    stack: Tints = np.load(found[1], mmap_mode="r")
    return found[0], stack


def plates_file(job: models.Job) -> tuple[PlatesShown, Path] | None:
    """The plates of a job and where their tints lie; None where there are none."""
    row = _row(job)
    if row is None or "sha256" not in row.plates:
        return None
    shown = PLATES.validate_python(row.plates)
    return shown, local(shown.sha256)


# -- report and edges ------------------------------------------------------------------------------


def report_row(job: models.Job) -> dict[str, Any]:
    """The report of the last check as it is kept. Raises NotReady where there is none."""
    row = _row(job)
    if row is None or not row.report:
        raise NotReady("The job has not been checked yet.", "Wait for the check, or take the file in again.")
    return dict(row.report)


def edge_map_of(job: models.Job) -> tuple[bytes, EdgeMap]:
    """The edge map of the last check as it is kept, and as a value. Raises NotFound where there is none."""
    row = _row(job)
    report_row(job)
    if row is None or not row.edges:
        raise NotFound("There is no edge map: no cut bounds a piece.")
    data: bytes = load(row.edges)
    return data, EdgeMap.from_json(json.loads(data))
