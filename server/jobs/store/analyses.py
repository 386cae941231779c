"""What was found on a job, kept and given back as the core's values."""

import io
import json
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from django.utils import timezone
from pydantic import TypeAdapter

from horismos.checking import Report
from horismos.checking.measuring.edge_map import EdgeMap
from horismos.errors import HorismosError, NotFound, NotReady
from horismos.rendering.load import DEFAULT_LIMIT
from horismos.rendering.plates import PlateSet
from horismos.workflow import Analysis
from horismos.workflow.showing.findings import FindingShown, findings_shown
from horismos.workflow.showing.inks import PlatesShown, Tints, plates_shown
from horismos.workflow.showing.page import PageSeen, page_seen
from horismos.workflow.showing.sheet import CutShown, SheetShown, cut_shown, sheet_shown
from jobs import models
from jobs.store.cases import Standing, key_of
from jobs.store.files import keep, load, path_of
from jobs.store.pictures import keep_view

__all__ = [
    "Found", "edge_map_of", "found_of", "keep_analysis", "keep_failure", "keep_plates", "plates_of", "plates_stand",
    "report_of",
]

SEEN, CARDS = TypeAdapter(PageSeen), TypeAdapter(tuple[FindingShown, ...])
SHEET, CUT, PLATES = TypeAdapter(SheetShown), TypeAdapter(CutShown), TypeAdapter(PlatesShown)


@dataclass(frozen=True)
class Found:
    """What is kept of an analysis, as values; everything that is not known yet is None or empty."""

    seen: PageSeen | None = None
    report: Report | None = None
    cards: tuple[FindingShown, ...] = ()
    sheet: SheetShown | None = None
    cut: CutShown | None = None
    plates: PlatesShown | None = None
    plates_error: str = ""
    has_edges: bool = False
    art_sha256: str = ""
    error: str = ""
    key: str = ""


def _row(job: models.Job) -> models.Analysis | None:
    found: models.Analysis | None = getattr(job, "analysis", None)
    return found


def found_of(job: models.Job) -> Found:
    """What was found on a job so far."""
    row = _row(job)
    if row is None:
        return Found()
    return Found(
        SEEN.validate_python(row.seen) if row.seen else None,
        Report.from_json(row.report) if row.report else None,
        CARDS.validate_python(row.cards),
        SHEET.validate_python(row.sheet) if row.sheet else None,
        CUT.validate_python(row.cut) if row.cut else None,
        PLATES.validate_python(row.plates) if "sha256" in row.plates else None,
        str(row.plates.get("error", "")), bool(row.edges), row.art_sha256, row.error, row.key,
    )


def keep_analysis(job: models.Job, analysis: Analysis, now: Standing) -> None:
    """Keep what was found for a standing of the job; plates of before stay where they still hold."""
    case, row = analysis.case, models.Analysis.objects.get_or_create(job=job, defaults={"key": ""})[0]
    assert job.revision is not None
    edges = row.edges if "edge.risk" in analysis.report.carried else ""
    if analysis.checked.edges is not None:
        edges = keep(json.dumps(analysis.checked.edges.to_json(case.terms.edge)).encode())
    values: dict[str, Any] = {
        "key": now.key, "seen": asdict(page_seen(case)), "report": analysis.report.to_json(),
        "cards": [asdict(card) for card in findings_shown(analysis.report, case.artwork, case.destination)],
        "sheet": asdict(sheet_shown(analysis.planned, analysis.refused)), "cut": asdict(cut_shown(analysis.planned)),
        "art_sha256": keep_view(job, job.revision, "art", analysis.art), "edges": edges, "error": "",
        "terms": now.terms, "checked": job.revision.sha256, "when": timezone.now(),
        "plates": row.plates if plates_stand(job, analysis) else {},
    }
    models.Analysis.objects.filter(pk=row.pk).update(**values)


def keep_failure(job: models.Job, error: HorismosError) -> None:
    """Keep why a job could not be looked at; what was found before stays beside it."""
    models.Analysis.objects.update_or_create(job=job, defaults={"key": key_of(job), "error": str(error)})


# -- plates ----------------------------------------------------------------------------------------


def _limit(analysis: Analysis) -> float:
    return analysis.case.check_sheet.limits.get("ink.load", DEFAULT_LIMIT)


def plates_stand(job: models.Job, analysis: Analysis) -> bool:
    """Whether the plates of before hold: they show the line inks too, so nothing at all may have been touched."""
    row = _row(job)
    untouched = analysis.touched is not None and not analysis.touched
    return untouched and row is not None and row.plates.get("load", {}).get("limit") == _limit(analysis)


def keep_plates(job: models.Job, analysis: Analysis, made: PlateSet | HorismosError) -> None:
    """Keep the plates of a job, or why there are none."""
    if isinstance(made, HorismosError):
        plates: dict[str, Any] = {"error": str(made)}
    else:
        out = io.BytesIO()
        np.save(out, np.stack([p.tint for p in made.plates]))
        plates = asdict(plates_shown(analysis.case, made, _limit(analysis), keep(out.getvalue())))
    models.Analysis.objects.filter(job=job).update(plates=plates)


def plates_of(job: models.Job) -> tuple[PlatesShown, Tints] | None:
    """The plates of a job with their tints, mapped and not loaded; None where there are none."""
    row = _row(job)
    if row is None or "sha256" not in row.plates:
        return None
    shown = PLATES.validate_python(row.plates)
    stack: Tints = np.load(path_of(shown.sha256), mmap_mode="r")
    return shown, stack


# -- report and edges ------------------------------------------------------------------------------


def report_of(job: models.Job) -> Report:
    """The report of the last check. Raises NotReady where there is none."""
    row = _row(job)
    if row is None or not row.report:
        raise NotReady("The job has not been checked yet.", "Wait for the check, or take the file in again.")
    return Report.from_json(row.report)


def edge_map_of(job: models.Job) -> tuple[bytes, EdgeMap]:
    """The edge map of the last check as it is kept, and as a value. Raises NotFound where there is none."""
    row = _row(job)
    report_of(job)
    if row is None or not row.edges:
        raise NotFound("There is no edge map: no cut bounds a piece.")
    data: bytes = load(row.edges)
    return data, EdgeMap.from_json(json.loads(data))
