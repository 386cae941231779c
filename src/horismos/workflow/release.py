"""Releases a job, or several on one sheet: laid out, planned, written, proved; with the reports that they go by."""

from collections.abc import Mapping, Sequence
from typing import Any

from horismos.checking import Report
from horismos.checking.engine.decisions import settled
from horismos.cutting.shop_facts import ShopFacts
from horismos.destinations import Destination
from horismos.materials import Material
from horismos.release import Ordered, Package, SheetNumber, write_package
from horismos.release.following import Released
from horismos.sheet import Layout
from horismos.words import safe_name
from horismos.workflow.case import Case, Progress
from horismos.workflow.documents import preflight_pdf
from horismos.workflow.plan import Planned, SheetJob, plan, plan_together
from horismos.workflow.shop_ticket import shop_ticket_of

__all__ = ["release", "release_together"]


def release(
    case: Case, report: Report, progress: Progress = lambda share, what: None, also: Sequence[str] = ()
) -> list[Package]:
    """The packages of a case, one a sheet. ``report`` is what a check has just found on it; it goes into the first.

    ``also`` are formats beside HP-GL that the lines are written in.

    Raises StopsOpen while a stop is open, DoesNotFit, or CannotWrite where what was written is not what was
    meant.
    """
    planned = plan(case)
    progress(0.0, "writing the report")
    papers = {"preflight.pdf": preflight_pdf(case, report)}
    jobs = [_ordered(case, report)]
    return _written(case.facts.name, jobs, case.destination, planned, papers, progress, also, case.beside)


def release_together(
    name: str, shares: Sequence[SheetJob], reports: Sequence[Report], material: Material, destination: Destination,
    layout: Layout, progress: Progress = lambda share, what: None, also: Sequence[str] = (),
) -> list[Package]:
    """The packages of sheets that several jobs share; ``reports`` are theirs, in their order. Raises as ``release``."""
    planned = plan_together(shares, material, destination, layout)
    papers, ordered = {}, []
    for share, report in zip(shares, reports, strict=True):
        progress(0.0, f"writing the report of “{share.case.facts.name}”")
        papers[f"{safe_name(share.case.facts.name)}-preflight.pdf"] = preflight_pdf(share.case, report)
        ordered.append(_ordered(share.case, report))
    beside = [share.case.beside for share in shares]
    tested = {role: test for one in reversed(beside) for role, test in one.tested.items()}
    facts = ShopFacts(tested, next((one.kept_at for one in beside if one.kept_at), ""))
    return _written(name, ordered, destination, planned, papers, progress, also, facts)


def _ordered(case: Case, report: Report) -> Ordered:
    passed = tuple(settled(report, case.decisions).values())
    return Ordered(case.facts.name, case.order, case.open_in(report), passed, case.rehearsed)


def _written(
    name: str, jobs: Sequence[Ordered], destination: Destination, planned: Planned, papers: Mapping[str, bytes],
    progress: Progress, also: Sequence[str], facts: ShopFacts,
) -> list[Package]:
    out, count = [], len(planned.sheets)
    for i, one in enumerate(planned.sheets):
        on = {piece.job for piece in one.sheet.pieces}
        part = [job for job in jobs if job.name in on] or list(jobs)
        out.append(write_package(
            name, part, destination, one.sheet, one.cut, papers if not i else None,
            lambda share, what, i=i: progress(0.1 + 0.9 * (i + share) / count, what),  # type: ignore[misc]
            SheetNumber(one.number, one.count), also, facts, _on_paper,
        ))
    return out


def _on_paper(ticket: Mapping[str, Any], files: Mapping[str, bytes]) -> dict[str, bytes]:
    return {"ticket.pdf": shop_ticket_of(Released(ticket, files))}
