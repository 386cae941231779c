"""What a check says."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from horismos.paths.measure import Bounds
from horismos.steps import Step

__all__ = ["Finding", "Hit", "Report", "Severity"]

MOST_PLACES = 200


class Severity(StrEnum):
    """``stop`` cannot be released, ``look`` is for a person to decide, ``note`` is for knowing."""

    STOP = "stop"
    LOOK = "look"
    NOTE = "note"


@dataclass(frozen=True)
class Hit:
    """What one check found in one place or kind of places; lengths and places in mm.

    ``measured`` is the worst value, in the unit of the check's limit; None where nothing could be
    measured. The first of ``where`` is the worst place. ``severity`` overrides the sheet's.
    """

    message: str
    measured: float | None
    count: int = 1
    where: Sequence[Bounds] = ()
    mends: Sequence[Step] = ()
    detail: str = ""
    severity: Severity | None = None


@dataclass(frozen=True)
class Finding:
    """A hit with its check's id and the limit and severity of the check sheet."""

    id: str
    severity: Severity
    page: int
    message: str
    detail: str
    measured: float | None
    limit: float
    unit: str
    count: int
    where: tuple[Bounds, ...]
    mends: tuple[Step, ...]

    def to_json(self) -> dict[str, Any]:
        """The finding as plain values, lengths to a thousandth."""
        return {
            "id": self.id,
            "severity": self.severity.value,
            "page": self.page,
            "message": self.message,
            "detail": self.detail,
            "measured": None if self.measured is None else round(self.measured, 3),
            "limit": self.limit,
            "unit": self.unit,
            "count": self.count,
            "where": [[round(v, 3) for v in box] for box in self.where],
            "mends": [{**step.to_json(), "label": step.label} for step in self.mends],
        }


@dataclass(frozen=True)
class Report:
    """All findings on an artwork, worst first."""

    findings: tuple[Finding, ...]

    @property
    def verdict(self) -> str:
        """``stop``, ``look`` or ``clean``; notes alone leave it clean."""
        severities = {finding.severity for finding in self.findings}
        if Severity.STOP in severities:
            return "stop"
        return "look" if Severity.LOOK in severities else "clean"

    def to_json(self) -> dict[str, Any]:
        """The report as plain values."""
        return {"verdict": self.verdict, "findings": [f.to_json() for f in self.findings]}
