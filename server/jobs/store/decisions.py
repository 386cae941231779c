"""Decisions on findings: who may let what stand, and what was decided."""

from horismos.checking import Report
from horismos.checking.engine.decisions import Decision, settled
from horismos.errors import BadValue, NotFound, NotPermitted, NotReady
from jobs import models
from jobs.store.rights import Person, Right, holds

__all__ = ["decisions_of", "may_edit_shelf", "may_waive", "settle", "unsettle"]

LEAST_REASON = 3


def may_waive(user: Person) -> bool:
    """Whether a person may let a stop pass."""
    return holds(user, Right.WAIVE)


def may_edit_shelf(user: Person) -> bool:
    """Whether a person may change what lies on the Shelf, and so by what the shop checks."""
    return holds(user, Right.EDIT_SHELF)


def decisions_of(job: models.Job) -> list[Decision]:
    """All decisions on a job's findings, those that no longer hold included, oldest first."""
    return [
        Decision(
            d.key, d.check_id, d.subject, d.severity, d.message, d.who.get_username() if d.who else "someone",
            d.when.strftime("%Y-%m-%d %H:%M"), d.reason,
        )
        for d in job.decisions.select_related("who").order_by("when")
    ]


def _report(job: models.Job) -> Report:
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    if analysis is None or not analysis.report:
        raise NotReady("The job has not been checked yet.")
    return Report.from_json(analysis.report)


def settle(job: models.Job, user: Person, key: str, reason: str) -> Decision:
    """Let a finding stand. Raises NotFound, NotPermitted, or BadValue where no reason is given."""
    report = _report(job)
    finding = next((f for f in report.findings if f.key == key), None)
    if finding is None:
        raise NotFound("That finding is not there any more.", "Look at the newest check.")
    if finding.severity == "stop" and not may_waive(user):
        raise NotPermitted("You may not let a stop pass.", "Ask somebody who has that right, or mend it.")
    if len(reason.strip()) < LEAST_REASON:
        raise BadValue("Give a reason: it stands in the report.")
    models.Decision.objects.update_or_create(
        job=job, key=key,
        defaults={
            "check_id": finding.id, "subject": finding.subject[:200], "severity": finding.severity.value,
            "message": finding.message, "who_id": user.pk, "reason": reason.strip()[:2000],
        },
    )
    return settled(report, decisions_of(job))[key]


def unsettle(job: models.Job, key: str) -> None:
    """Take a decision back."""
    job.decisions.filter(key=key).delete()
