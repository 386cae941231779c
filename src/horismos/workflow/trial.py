"""Tries a check sheet on a case: what it would change, before it is kept."""

from dataclasses import dataclass

from horismos.checking import Finding, Report, check_whole
from horismos.workflow.case import Case, Progress

__all__ = ["Effect", "try_sheet"]


@dataclass(frozen=True)
class Effect:
    """What would change: the verdicts before and after, findings that go and come, the checks that ran."""

    verdicts: tuple[str, str]
    goes: tuple[Finding, ...]
    comes: tuple[Finding, ...]
    ran: tuple[str, ...]


def try_sheet(case: Case, before: Report, progress: Progress = lambda share, what: None) -> Effect:
    """What the case's check sheet changes in a report of before; only the checks that it touches are run."""
    after = check_whole(case.artwork, case.terms, progress, before, frozenset()).report
    told, tells = {_told(f) for f in before.findings}, {_told(f) for f in after.findings}
    return Effect(
        (before.verdict, after.verdict), tuple(f for f in before.findings if _told(f) not in tells),
        tuple(f for f in after.findings if _told(f) not in told), after.ran,
    )


def _told(finding: Finding) -> tuple[str, str, str]:
    return finding.key, finding.severity.value, finding.id
