"""What a check says."""

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import KW_ONLY, dataclass, field, replace
from enum import StrEnum
from typing import Any

from horismos.checking.engine.check_sheet import CheckSheet, Severity
from horismos.paths.box import Bounds
from horismos.roles import LineRole
from horismos.words import colour_name

__all__ = ["Candidate", "Finding", "Hit", "Report", "Severity", "Verdict"]

MOST_PLACES = 200


@dataclass(frozen=True)
class Candidate:
    """What may be a line in disguise: by its ``ink``, ``colour`` or ``layer``, with the roles that it may have.

    ``value`` is the name, or the colour's components. ``why`` is what speaks for it, ``sure`` how much, 0 to 1.
    ``remembered`` says that a person has said so for this customer before.
    """

    by: str
    value: str | tuple[float, ...]
    roles: tuple[LineRole, ...]
    why: tuple[str, ...] = ()
    sure: float = 0.0
    count: int = 0
    where: tuple[Bounds, ...] = ()
    remembered: bool = False

    @property
    def key(self) -> str:
        """What it is remembered by."""
        value = self.value if isinstance(self.value, str) else " ".join(f"{v:g}" for v in self.value)
        return f"{self.by}:{value}"

    @property
    def words(self) -> str:
        """What it is, in words."""
        if isinstance(self.value, str):
            return f"the {self.by} “{self.value}”"
        if len(self.value) == 3:
            exact = f"RGB {', '.join(f'{v * 255:.0f}' for v in self.value)}"
        else:
            exact = f"CMYK {', '.join(f'{v * 100:.0f}' for v in self.value)} %"
        return f"the {colour_name(self.value)} ({exact})"

    def to_json(self) -> dict[str, Any]:
        """The candidate as plain values, with its words."""
        value = list(self.value) if isinstance(self.value, tuple) else self.value
        return {
            "by": self.by, "value": value, "roles": [role.value for role in self.roles], "words": self.words,
            "why": list(self.why), "sure": round(self.sure, 2), "count": self.count,
            "where": [[round(v, 3) for v in box] for box in self.where], "remembered": self.remembered,
        }

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Candidate":
        """A candidate from its plain values."""
        value = data["value"]
        return cls(
            data["by"], value if isinstance(value, str) else tuple(value), tuple(LineRole(r) for r in data["roles"]),
            tuple(data["why"]), data["sure"], data["count"], tuple((b[0], b[1], b[2], b[3]) for b in data["where"]),
            data["remembered"],
        )


@dataclass(frozen=True)
class Hit:
    """What one check found in one place or kind of places; lengths and places in mm.

    ``measured`` is the worst value, in the unit of the check's limit; None where nothing could be
    measured. The first of ``where`` is the worst place. ``subject`` is the line role, ink or font that it
    is about. ``severity``, ``limit`` and ``unit`` override those of the check. ``candidates`` are what may be meant
    by a line that is missing or unknown; ``asks`` says that only a person knows what is meant. ``proposes`` are
    mends with the settings that the check has worked out for them.
    """

    message: str
    _: KW_ONLY
    measured: float | None
    count: int = 1
    where: Sequence[Bounds] = ()
    detail: str = ""
    severity: Severity | None = None
    subject: str = ""
    limit: float | None = None
    unit: str | None = None
    inks: Sequence[str] = ()
    wanted: Sequence[str] = ()
    candidates: Sequence[Candidate] = ()
    asks: bool = False
    proposes: Sequence[tuple[str, Mapping[str, Any]]] = ()


class Verdict(StrEnum):
    """What a report comes to: it cannot be released, a person has something to decide, or neither."""

    STOP = "stop"
    LOOK = "look"
    CLEAN = "clean"

    @classmethod
    def of(cls, stops: int, looks: int) -> "Verdict":
        """What so many stops and looks come to."""
        return cls.STOP if stops else cls.LOOK if looks else cls.CLEAN


@dataclass(frozen=True, kw_only=True)
class Finding:
    """A hit with its check's id and the limit and severity of the check sheet.

    ``carried`` says that it was not measured again, since nothing that it depends on has changed. ``proposes`` holds
    the settings of mends, as JSON, beside the mend's id.
    """

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
    subject: str = ""
    inks: tuple[str, ...] = ()
    wanted: tuple[str, ...] = ()
    carried: bool = False
    candidates: tuple[Candidate, ...] = ()
    asks: bool = False
    proposes: tuple[tuple[str, str], ...] = ()

    def proposed(self, mend: str) -> list[dict[str, Any]]:
        """The settings that the check has worked out for a mend."""
        return [json.loads(settings) for name, settings in self.proposes if name == mend]

    @property
    def key(self) -> str:
        """What tells this finding from others, and from itself once anything about it has changed.

        A decision is tied to it: it holds as long as message, measure, limit and places stay.
        """
        # By way of the thousandths that are kept, so that the key is the same before and after keeping.
        measured = None if self.measured is None else round(round(self.measured, 3), 2)
        places = [[round(round(v, 3), 1) + 0.0 for v in box] for box in self.where]
        told = [self.id, self.page, self.subject, self.message, self.detail, measured, self.limit, self.count, places]
        return hashlib.sha256(json.dumps(told).encode()).hexdigest()[:20]

    def to_json(self) -> dict[str, Any]:
        """The finding as plain values, lengths to a thousandth."""
        return {
            "id": self.id,
            "key": self.key,
            "severity": self.severity.value,
            "page": self.page,
            "subject": self.subject,
            "message": self.message,
            "detail": self.detail,
            "measured": None if self.measured is None else round(self.measured, 3),
            "limit": self.limit,
            "unit": self.unit,
            "count": self.count,
            "where": [[round(v, 3) for v in box] for box in self.where],
            "inks": list(self.inks),
            "wanted": list(self.wanted),
            "carried": self.carried,
            "candidates": [candidate.to_json() for candidate in self.candidates],
            "asks": self.asks,
            "proposes": [[mend, json.loads(settings)] for mend, settings in self.proposes],
        }

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Finding":
        """A finding from its plain values."""
        where = tuple((box[0], box[1], box[2], box[3]) for box in data["where"])
        return cls(
            id=data["id"], severity=Severity(data["severity"]), page=data["page"], message=data["message"],
            detail=data["detail"], measured=data["measured"], limit=data["limit"], unit=data["unit"],
            count=data["count"], where=where, subject=data.get("subject", ""), inks=tuple(data.get("inks", ())),
            wanted=tuple(data.get("wanted", ())), carried=data.get("carried", False),
            candidates=tuple(Candidate.from_json(one) for one in data.get("candidates", ())),
            asks=data.get("asks", False),
            proposes=tuple((mend, json.dumps(settings)) for mend, settings in data.get("proposes", ()))
        )


@dataclass(frozen=True)
class Report:
    """All findings on an artwork, worst first, and the sheet of limits that they were found under.

    ``ran`` are the checks that were measured for it, ``carried`` those whose outcome stood.
    """

    findings: tuple[Finding, ...]
    sheet: CheckSheet = field(default_factory=CheckSheet)
    ran: tuple[str, ...] = ()
    carried: tuple[str, ...] = ()

    @property
    def verdict(self) -> Verdict:
        """What it comes to; notes alone leave it clean."""
        return Verdict.of(self.count(Severity.STOP), self.count(Severity.LOOK))

    def count(self, severity: Severity) -> int:
        """How many findings are of a severity."""
        return sum(finding.severity is severity for finding in self.findings)

    def without(self, settled: Mapping[str, Any]) -> "Report":
        """The report without the findings whose keys are settled by a person."""
        return replace(self, findings=tuple(f for f in self.findings if f.key not in settled))

    def to_json(self) -> dict[str, Any]:
        """The report as plain values."""
        return {
            "verdict": self.verdict.value,
            "sheet": self.sheet.to_json(),
            "ran": list(self.ran),
            "carried": list(self.carried),
            "findings": [f.to_json() for f in self.findings],
        }

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Report":
        """A report from its plain values."""
        return cls(
            tuple(Finding.from_json(f) for f in data["findings"]), CheckSheet.from_json(data.get("sheet", {})),
            tuple(data.get("ran", ())), tuple(data.get("carried", ())),
        )
