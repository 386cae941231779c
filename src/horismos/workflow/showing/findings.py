"""Findings on their cards: with the mends that answer them, what each would change, and the decision on it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from horismos.artwork import Artwork
from horismos.checking import Finding, Report
from horismos.checking.engine.decisions import Decision, lapsed, settled
from horismos.destinations import Destination
from horismos.errors import HorismosError, NothingToDo
from horismos.mending import Step, offers, registered, say
from horismos.names import Run, spelling
from horismos.orders import Order

__all__ = [
    "CandidateShown", "DecisionShown", "FindingShown", "MendShown", "NameBeside", "findings_shown", "mend_shown",
    "report_document", "with_decisions",
]


@dataclass(frozen=True)
class MendShown:
    """A mend on a card: its settings, what its button says, and what it would change.

    Those that come ``then`` are done with it: alone it would bring a stop.
    """

    kind: str
    settings: dict[str, str | float | list[float | list[float]] | dict[str, Any]]
    label: str
    says: str = ""
    safe: bool = True
    then: tuple["MendShown", ...] = ()


@dataclass(frozen=True)
class DecisionShown:
    """What a person did with a finding: ``verb`` is accepted or waived."""

    verb: str
    who: str
    when: str
    reason: str


@dataclass(frozen=True)
class CandidateShown:
    """What may be a line in disguise: what it is, what speaks for it, and the setting that tells it."""

    words: str
    why: tuple[str, ...]
    by: str
    value: str | list[float]


@dataclass(frozen=True)
class NameBeside:
    """A name as it is written, beside one that is wanted for it, letter by letter."""

    ink: str
    wanted: str
    spelling: tuple[Run, ...]


@dataclass(frozen=True, kw_only=True)
class FindingShown:
    """A finding on its card. ``decision`` holds, ``before`` held until the finding changed."""

    id: str
    key: str
    severity: str
    page: int
    subject: str
    message: str
    detail: str
    measured: float | None
    limit: float
    unit: str
    count: int
    where: tuple[tuple[float, ...], ...]
    carried: bool
    mends: tuple[MendShown, ...]
    decision: DecisionShown | None = None
    before: DecisionShown | None = None
    candidates: tuple[CandidateShown, ...] = ()
    names: tuple[NameBeside, ...] = ()


def findings_shown(
    report: Report, artwork: Artwork, destination: Destination, order: Order | None = None
) -> tuple[FindingShown, ...]:
    """The findings of a report, each with the mends that answer it and what they would change.

    What finds nothing to do is not offered.
    """
    said: dict[Step, str | None] = {}

    def says(step: Step) -> str | None:
        if step not in said:
            try:
                said[step] = registered()[step.mend].on_card or say(artwork, step, destination, order)
            except NothingToDo:
                said[step] = None
            except HorismosError as error:
                said[step] = str(error)
        return said[step]

    return tuple(
        _shown(finding, tuple(mend_shown(one, words) for one in offers(finding) if (words := says(one)) is not None))
        for finding in report.findings
    )


def mend_shown(step: Step, says: str = "") -> MendShown:
    """A step as a button shows it."""
    settings = {key: value for key, value in step.to_json().items() if key != "mend"}
    return MendShown(step.mend, settings, step.label, says, registered()[step.mend].safe)


def _shown(finding: Finding, mends: tuple[MendShown, ...]) -> FindingShown:
    return FindingShown(
        id=finding.id, key=finding.key, severity=finding.severity.value, page=finding.page, subject=finding.subject,
        message=finding.message, detail=finding.detail,
        measured=None if finding.measured is None else round(finding.measured, 3), limit=finding.limit,
        unit=finding.unit, count=finding.count, where=tuple(tuple(round(v, 3) for v in box) for box in finding.where),
        carried=finding.carried, mends=mends,
        candidates=tuple(
            CandidateShown(one.words, one.why, one.by, one.value if isinstance(one.value, str) else list(one.value))
            for one in finding.candidates
        ),
        names=tuple(
            NameBeside(ink, wanted, spelling(ink, wanted)) for ink in finding.inks for wanted in finding.wanted
        )
    )


def with_decisions(
    shown: Sequence[FindingShown], report: Report, decisions: Sequence[Decision]
) -> tuple[FindingShown, ...]:
    """The cards with the decisions of people: those that hold, and those that are asked again."""
    held, asked = settled(report, decisions), lapsed(report, decisions)
    return tuple(
        replace(card, decision=_decision(held.get(card.key)), before=_decision(asked.get(card.key))) for card in shown
    )


def _decision(decision: Decision | None) -> DecisionShown | None:
    if decision is None:
        return None
    return DecisionShown(decision.verb, decision.who, decision.when, decision.reason)


def report_document(report: Report) -> dict[str, Any]:
    """A report as the command line prints it: the findings with the mends that answer them."""
    document: dict[str, Any] = report.to_json()
    for finding, plain in zip(report.findings, document["findings"], strict=True):
        plain["mends"] = [{**_named(step), "label": step.label} for step in offers(finding)]
        del plain["inks"], plain["wanted"]
    return document


def _named(step: Step) -> Mapping[str, Any]:
    return step.to_json()
