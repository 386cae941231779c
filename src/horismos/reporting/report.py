"""The preflight report and the letter as PDF, with the pictures of what was found."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from horismos.checking import edge_limits
from horismos.checking.engine.decisions import Decision
from horismos.checking.engine.findings import Finding, Report
from horismos.orders import Order
from horismos.reporting.evidence import Evidence
from horismos.reporting.letter import Letter, measure
from horismos.reporting.pages import card, figures, heading, made_pdf, paragraph, small
from horismos.reporting.report_texts import GROUPS, VERDICTS, counted, say
from horismos.reporting.words import WORDS

__all__ = ["About", "by_keys", "letter_pdf", "report_pdf"]

PICTURE = (496, 280)


@dataclass(frozen=True, kw_only=True)
class About:
    """What a report is about; ``sha256`` is the fingerprint of the file as it was checked."""

    job: str
    customer: str
    file_name: str
    original_sha256: str
    sha256: str
    revision: int
    size_mm: tuple[float, float]
    order: Order
    material: str
    destination: str
    checked: str
    shop: str


def letter_pdf(letter: Letter, evidence: Evidence) -> bytes:
    """A letter with a picture to each point that has a place."""
    parts: list[Any] = [paragraph(letter.opening[0])]
    parts.insert(0, heading(letter.subject))
    parts += [paragraph(text) for text in letter.opening[1:]]
    for number, item in enumerate(letter.items, 1):
        where = item.finding.where
        picture = evidence.of(item.finding, PICTURE) if where else None
        names = [paragraph(shown, "mono") for shown in item.shown]
        parts.append(card(picture, [
            heading(f"{number}. {item.title}", sub=True), paragraph(item.wrong), paragraph(item.change), *names,
            *([small(letter.spaces)] if names else []),
        ]))
    parts += [paragraph(text) for text in letter.closing]
    return made_pdf(letter.subject, letter.subject, parts)


def report_pdf(about: About, report: Report, decisions: Mapping[str, Decision], evidence: Evidence) -> bytes:
    """The preflight report. ``decisions`` are those that hold, by the key of their finding."""
    open_ = report.without(decisions)
    parts: list[Any] = [
        heading(say("title", job=about.job)),
        paragraph(_verdict(open_, decisions), "stop" if open_.verdict == "stop" else "sub"),
        figures(_facts(about, report)),
    ]
    for severity, words in GROUPS:
        listed = [f for f in report.findings if f.severity == severity]
        if listed:
            parts.append(heading(say("group", group=words, count=len(listed)), sub=True))
            parts += [_card(f, decisions.get(f.key), evidence) for f in listed]
    if not report.findings:
        parts.append(paragraph(say("within")))
    parts.append(heading(say("checked"), sub=True))
    parts.append(small(_checked(report)))
    foot = say("foot", job=about.job, revision=about.revision, print=about.sha256[:16])
    return made_pdf(say("document", job=about.job), foot, parts)


def _verdict(open_: Report, decisions: Mapping[str, Decision]) -> str:
    waived = [d for d in decisions.values() if d.severity == "stop"]
    said = VERDICTS[open_.verdict]
    return say("waived", verdict=said, stops=counted(len(waived), "waived")) if waived else said


def _facts(about: About, report: Report) -> list[tuple[str, str]]:
    order, edge = about.order, edge_limits(about.order, report.sheet)
    w, h = about.size_mm
    wanted = " × ".join(say("any") if v is None else f"{v:g}" for v in (order.width_mm, order.height_mm))
    roles = ", ".join(role.words for role in order.roles) if order.roles is not None else say("not said")
    return [
        (say("customer"), about.customer or say("no customer")),
        (say("file"), say("file of", file=about.file_name, revision=about.revision)),
        (say("sent"), about.original_sha256),
        (say("print"), about.sha256),
        (say("page"), say("page of", w=w, h=h, wanted=wanted, copies=counted(order.quantity, "copies"))),
        (say("cuts"), roles),
        (say("edge"), say("edge of", edge=order.edge, bleed=edge.bleed, border=edge.border, tolerance=edge.tolerance)),
        (say("material"), about.material),
        (say("destination"), about.destination),
        (say("sheet"), report.sheet.version),
        (say("when"), about.checked),
    ]


def _card(finding: Finding, decision: Decision | None, evidence: Evidence) -> Any:
    title = WORDS[finding.id].title if finding.id in WORDS else finding.id
    is_, limit = (measure(value, finding.unit) for value in (finding.measured, finding.limit))
    measured = say("measured", measured=is_, limit=limit)
    if finding.unit not in ("mm", "pt", "%", "ppi", "°", "mm²", "nodes/mm", "°/mm"):
        measured = counted(finding.count, "places")
    place = ""
    if finding.where:
        x0, y0, x1, y1 = finding.where[0]
        place = say("place", x=(x0 + x1) / 2, y=(y0 + y1) / 2)
    parts = [
        heading(title, sub=True), paragraph(finding.message),
        small(say("finding", id=finding.id, measured=measured, page=finding.page) + place),
    ]
    if finding.detail:
        parts.append(small(finding.detail))
    if finding.carried:
        parts.append(small(say("carried")))
    if decision is not None:
        parts.append(paragraph(say(
            "decision", verb=decision.verb.capitalize(), who=decision.who, when=decision.when, reason=decision.reason,
        )))
    picture = evidence.of(finding, PICTURE) if finding.where else None
    return card(picture, parts)


def _checked(report: Report) -> str:
    said = say("ran", checks=counted(len(report.ran), "measured"), ids=", ".join(report.ran))
    if report.carried:
        said += say("carried over", checks=counted(len(report.carried), "carried"), ids=", ".join(report.carried))
    off = [id for id, severity in report.sheet.severities.items() if severity == "off"]
    return said + (say("off", ids=", ".join(off)) if off else "")


def by_keys(report: Report, keys: Sequence[str]) -> list[Finding]:
    """The findings with these keys, in the report's order."""
    return [finding for finding in report.findings if finding.key in set(keys)]
