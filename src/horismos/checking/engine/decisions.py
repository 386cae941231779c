"""What people decided about findings. Values; who may decide what is the server's to know."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from horismos.checking.engine.check_sheet import graver
from horismos.checking.engine.findings import Report

__all__ = ["Decision", "lapsed", "settled"]


@dataclass(frozen=True)
class Decision:
    """A finding that a person let stand: its key then, its id and words, who, when (ISO 8601) and why.

    ``severity`` is what it was: a ``look`` is accepted, a ``stop`` waived.
    """

    key: str
    id: str
    subject: str
    severity: str
    message: str
    who: str
    when: str
    reason: str

    @property
    def verb(self) -> str:
        """What was done with it, in a word."""
        return "waived" if self.severity == "stop" else "accepted"

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Decision":
        """A decision from its plain values."""
        return cls(**{name: str(data.get(name, "")) for name in cls.__dataclass_fields__})


def settled(report: Report, decisions: Sequence[Decision]) -> dict[str, Decision]:
    """The decisions that hold, by the key of their finding: the finding is still what was decided on.

    A look that was accepted and has become a stop since is asked again: that is for another person to decide.
    """
    severities = {finding.key: finding.severity for finding in report.findings}
    return {d.key: d for d in decisions if d.key in severities and not graver(severities[d.key], d.severity)}


def lapsed(report: Report, decisions: Sequence[Decision]) -> dict[str, Decision]:
    """Findings, by key, that were decided on as something else before: they are asked again.

    The last decision on the same check and subject is given with each.
    """
    held = settled(report, decisions)
    out = {}
    for finding in report.findings:
        if finding.key in held:
            continue
        before = [d for d in decisions if (d.id, d.subject) == (finding.id, finding.subject) and d.key not in held]
        if before:
            out[finding.key] = before[-1]
    return out
