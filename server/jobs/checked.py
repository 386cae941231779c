"""What the check of a job gave beside its findings: the edge map, pictures of findings, letter and report."""

import json
from typing import Any

from django.conf import settings

from horismos.checking import Report
from horismos.checking.decisions import settled
from horismos.checking.edge_map import EdgeMap
from horismos.checking.landing import Offset, land
from horismos.errors import BadValue, NotFound, NotReady
from horismos.rendering.composite import Pixels
from horismos.reporting.evidence import Evidence
from horismos.reporting.letter import Letter, write_letter
from horismos.reporting.report import About, by_keys, letter_pdf, report_pdf
from jobs import models, state
from jobs.files import load
from jobs.settling import decisions_of

__all__ = ["edges", "evidence_picture", "landing", "letter", "letter_as_pdf", "preflight"]


def _analysis(job: models.Job) -> models.Analysis:
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    if analysis is None or not analysis.report:
        raise NotReady("The job has not been checked yet.", "Wait for the check, or take the file in again.")
    return analysis


def edges(job: models.Job) -> bytes:
    """The edge map as JSON. Raises NotFound where there is none."""
    analysis = _analysis(job)
    if not analysis.edges:
        raise NotFound("There is no edge map: no cut bounds a piece.")
    return load(analysis.edges)


def landing(job: models.Job, offset: Offset) -> dict[str, Any]:
    """The slivers of a cut that lands off, against the colour."""
    measured = EdgeMap.from_json(json.loads(edges(job)))
    return {**land(measured.colour, offset).to_json(), "stands_mm": measured.stands_mm()}


def _evidence(job: models.Job, number: int) -> Evidence:
    artwork = state.artwork_of(job)
    page = artwork.pages[min(max(number, 1), len(artwork.pages)) - 1]
    return Evidence(artwork, page, state.destination_of(job))


def evidence_picture(job: models.Job, key: str, size: tuple[int, int]) -> Pixels:
    """The picture of one finding."""
    report = Report.from_json(_analysis(job).report)
    finding = next((f for f in report.findings if f.key == key), None)
    if finding is None:
        raise NotFound("That finding is not there any more.")
    with _evidence(job, finding.page) as pictures:
        return pictures.picture(finding.where, finding.severity, size)


def letter(job: models.Job, keys: list[str]) -> Letter:
    """The letter from chosen findings. Raises BadValue where none of them is there."""
    findings = by_keys(Report.from_json(_analysis(job).report), keys)
    if not findings:
        raise BadValue("Choose at least one finding for the letter.")
    return write_letter(
        findings, job.name, job.original_name, job.customer, settings.SHOP_NAME, state.destination_of(job)
    )


def letter_as_pdf(job: models.Job, keys: list[str]) -> bytes:
    """The same as PDF, with pictures."""
    written = letter(job, keys)
    with _evidence(job, job.page) as pictures:
        return letter_pdf(written, pictures)


def preflight(job: models.Job) -> bytes:
    """The preflight report as PDF."""
    analysis = _analysis(job)
    report = Report.from_json(analysis.report)
    assert job.revision is not None
    width, height = analysis.seen["size_mm"]
    about = About(
        job.name, job.customer, job.original_name or job.revision.file_name, job.original, job.revision.sha256,
        job.revision.number, (width, height), state.order_of(job), job.material.title,
        state.destination_of(job).title, f"{analysis.when:%Y-%m-%d %H:%M} UTC", settings.SHOP_NAME,
    )
    with _evidence(job, job.page) as pictures:
        return report_pdf(about, report, settled(report, decisions_of(job)), pictures)
