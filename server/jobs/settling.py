"""Decisions on findings: who may let what stand, which decisions hold, which are asked again."""

from typing import Any

from horismos.checking import Report
from horismos.checking.decisions import Decision, lapsed, settled
from horismos.errors import BadValue, NotFound, NotPermitted, NotReady
from jobs import models

__all__ = ["decisions_of", "may_waive", "open_report", "settle", "shown_with", "unsettle"]

LEAST_REASON = 3


def may_waive(user: Any) -> bool:
    """Whether a person may let a stop pass."""
    return bool(user.has_perm("jobs.waive_stop"))


def decisions_of(job: models.Job) -> list[Decision]:
    """All decisions on a job's findings, those that no longer hold included, oldest first."""
    return [
        Decision(
            s.key, s.check_id, s.subject, s.severity, s.message, s.who.get_username() if s.who else "someone",
            s.when.strftime("%Y-%m-%d %H:%M"), s.reason,
        )
        for s in job.settled.select_related("who").order_by("when")
    ]


def _report(job: models.Job) -> Report:
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    if analysis is None or not analysis.report:
        raise NotReady("The job has not been checked yet.")
    return Report.from_json(analysis.report)


def open_report(job: models.Job, report: Report) -> Report:
    """A report without what people let stand."""
    return report.without(settled(report, decisions_of(job)))


def settle(job: models.Job, user: Any, key: str, reason: str) -> Decision:
    """Let a finding stand. Raises NotFound, NotPermitted, or BadValue where no reason is given."""
    finding = next((f for f in _report(job).findings if f.key == key), None)
    if finding is None:
        raise NotFound("That finding is not there any more.", "Look at the newest check.")
    if finding.severity == "stop" and not may_waive(user):
        raise NotPermitted("You may not let a stop pass.", "Ask somebody who has that right, or mend it.")
    if len(reason.strip()) < LEAST_REASON:
        raise BadValue("Give a reason: it stands in the report.")
    models.Settled.objects.update_or_create(
        job=job, key=key,
        defaults={
            "check_id": finding.id, "subject": finding.subject[:200], "severity": finding.severity.value,
            "message": finding.message, "who_id": user.pk, "reason": reason.strip()[:2000],
        },
    )
    return settled(_report(job), decisions_of(job))[key]


def unsettle(job: models.Job, key: str) -> None:
    """Take a decision back."""
    job.settled.filter(key=key).delete()


def shown_with(job: models.Job, findings: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Findings for the screen, each with the decision on it, or the one that no longer holds."""
    decisions = decisions_of(job)
    if not findings:
        return []
    report = Report.from_json({"findings": findings})
    held, asked = settled(report, decisions), lapsed(report, decisions)
    return [
        {**f, "decision": _plain(held.get(f["key"])), "before": _plain(asked.get(f["key"]))}
        for f in findings if "key" in f
    ]


def _plain(decision: Decision | None) -> dict[str, Any] | None:
    if decision is None:
        return None
    return {"verb": decision.verb, "who": decision.who, "when": decision.when, "reason": decision.reason}
