"""The papers of a job, as text or PDF."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from horismos.checking import Report
from horismos.workflow.documents import letter_of, letter_pdf_of, preflight_pdf
from horismos.workflow.steps.stored import StoredCase, case_of

__all__ = ["letter", "letter_file", "report_file"]

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
