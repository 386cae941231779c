"""The papers of a job: the letter to the customer and the preflight report."""

import hashlib
from collections.abc import Sequence
from dataclasses import replace

from horismos.checking import Report
from horismos.checking.engine.decisions import settled
from horismos.errors import BadValue
from horismos.reporting.evidence import Evidence
from horismos.reporting.letter import Letter, write_letter
from horismos.reporting.report import About, by_keys, letter_pdf, report_pdf
from horismos.units import in_inches
from horismos.workflow.case import Case

__all__ = ["evidence_of", "letter_of", "letter_pdf_of", "preflight_pdf"]


def evidence_of(case: Case, page_number: int | None = None) -> Evidence:
    """The pictures of findings on a page of a case, the case's own where none is named; to be closed by the caller."""
    page = case.page if page_number is None else case.artwork.pages[page_number - 1]
    return Evidence(case.artwork, page, case.destination)


def letter_of(case: Case, report: Report, keys: Sequence[str], inches: bool = False) -> Letter:
    """The letter from chosen findings, lengths in mm or inches. Raises BadValue where none of them is there."""
    findings = by_keys(report, keys)
    if not findings:
        raise BadValue("Choose at least one finding for the letter.")
    facts = case.facts
    letter = write_letter(findings, facts.name, facts.file_name, facts.customer, facts.shop, facts.texts)
    if not inches:
        return letter
    items = (replace(item, wrong=in_inches(item.wrong), change=in_inches(item.change)) for item in letter.items)
    return replace(letter, items=tuple(items))


def letter_pdf_of(case: Case, report: Report, keys: Sequence[str], inches: bool = False) -> bytes:
    """The same as PDF, with pictures."""
    written = letter_of(case, report, keys, inches)
    with evidence_of(case) as pictures:
        return letter_pdf(written, pictures)


def preflight_pdf(case: Case, report: Report) -> bytes:
    """The preflight report as PDF: every finding, and every decision on it."""
    facts = case.facts
    about = About(
        job=facts.name, customer=facts.customer, file_name=facts.file_name, original_sha256=facts.original_sha256,
        sha256=hashlib.sha256(case.artwork.data).hexdigest(), revision=facts.revision, size_mm=case.page.size_mm,
        order=case.order, material=case.material.title if case.material else "not said",
        destination=case.destination.title, checked=facts.when, shop=facts.shop
    )
    with evidence_of(case) as pictures:
        return report_pdf(about, report, settled(report, case.decisions), pictures)
