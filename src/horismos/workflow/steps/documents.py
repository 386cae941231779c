"""The papers of a job, as text or PDF."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from horismos.checking import Report
from horismos.workflow.documents import letter_of, letter_pdf_of, preflight_pdf, proof_of, proof_words
from horismos.workflow.steps.stored import StoredCase, case_of

__all__ = ["letter", "letter_file", "letter_whole", "proof", "report_file"]

Tell = Callable[[float, str], None]
Known = Mapping[str, Any]


def letter(stored: StoredCase, report: Known, keys: Sequence[str], inches: bool, tell: Tell) -> str:
    """The letter from chosen findings."""
    return letter_of(case_of(stored), Report.from_json(report), keys, inches).text()


def letter_file(stored: StoredCase, report: Known, keys: Sequence[str], inches: bool, tell: Tell) -> bytes:
    """The same as PDF."""
    return letter_pdf_of(case_of(stored), Report.from_json(report), keys, inches)


def report_file(stored: StoredCase, report: Known, tell: Tell) -> bytes:
    """The preflight report as PDF."""
    return preflight_pdf(case_of(stored), Report.from_json(report))


def letter_whole(stored: StoredCase, report: Known, keys: Sequence[str], inches: bool, tell: Tell) -> dict[str, Any]:
    """What goes out: subject, text and PDF, with the checks that it is about."""
    case, known = case_of(stored), Report.from_json(report)
    written = letter_of(case, known, keys, inches)
    return {
        "subject": written.subject, "text": written.text(), "pdf": letter_pdf_of(case, known, keys, inches),
        "checks": [item.finding.id for item in written.items],
    }


def proof(stored: StoredCase, changed: Sequence[str], tell: Tell) -> dict[str, Any]:
    """A proof to sign, with the subject and the text of its letter."""
    case = case_of(stored)
    subject, text = proof_words(case)
    return {"subject": subject, "text": text, "pdf": proof_of(case, changed)}
