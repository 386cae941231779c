"""Releases a job: laid out, planned, written, proved; with the report that it was released by."""

from horismos.checking import Report
from horismos.release import Package, write_package
from horismos.workflow.case import Case, Progress
from horismos.workflow.papers import preflight_pdf
from horismos.workflow.plan import plan

__all__ = ["release"]


def release(case: Case, report: Report, progress: Progress = lambda share, what: None) -> Package:
    """The package of a case. ``report`` is what a check has just found on it; it goes into the package.

    Raises StopsOpen while a stop is open, DoesNotFit, or CannotWrite where what was written is not what was
    meant.
    """
    planned = plan(case)
    progress(0.0, "writing the report")
    papers = {"preflight.pdf": preflight_pdf(case, report)}
    return write_package(
        case.facts.name, case.order, case.destination, case.open_in(report), planned.sheet, planned.cut, papers,
        lambda share, what: progress(0.1 + share * 0.9, what),
    )
