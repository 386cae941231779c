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
from horismos.reporting.words import WORDS
from horismos.words import plural

__all__ = ["About", "by_keys", "letter_pdf", "report_pdf"]

PICTURE = (496, 280)
GROUPS = (("stop", "Stops"), ("look", "To look at"), ("note", "Notes"))


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
        names = [paragraph(f"Is: {is_.replace(' ', '·') or '(no name)'}\nShould be: {should.replace(' ', '·')}", "mono")
                 for is_, should in item.names]
        parts.append(card(picture, [
            heading(f"{number}. {item.title}", sub=True), paragraph(item.wrong), paragraph(item.change), *names,
            *([small("· stands for a space.")] if names else []),
        ]))
    parts += [paragraph(text) for text in letter.closing]
    return made_pdf(letter.subject, letter.subject, parts)


def report_pdf(about: About, report: Report, decisions: Mapping[str, Decision], evidence: Evidence) -> bytes:
    """The preflight report. ``decisions`` are those that hold, by the key of their finding."""
    open_ = report.without(decisions)
    parts: list[Any] = [
        heading(f"Preflight: {about.job}"),
        paragraph(_verdict(open_, decisions), "stop" if open_.verdict == "stop" else "sub"),
        figures(_facts(about, report)),
    ]
    for severity, words in GROUPS:
        listed = [f for f in report.findings if f.severity == severity]
        if listed:
            parts.append(heading(f"{words} · {len(listed)}", sub=True))
            parts += [_card(f, decisions.get(f.key), evidence) for f in listed]
    if not report.findings:
        parts.append(paragraph("Everything that was measured is within its limits."))
    parts.append(heading("What was checked", sub=True))
    parts.append(small(_checked(report)))
    return made_pdf(f"Preflight {about.job}", f"{about.job} · revision {about.revision} · {about.sha256[:16]}", parts)


def _verdict(open_: Report, decisions: Mapping[str, Decision]) -> str:
    waived = [d for d in decisions.values() if d.severity == "stop"]
    said = {
        "stop": "This cannot be released as it is.", "look": "Nothing stops it; some points wait for a decision.",
        "clean": "Clean: nothing is left open.",
    }[open_.verdict]
    if not waived:
        return said
    return f"{said} {plural(len(waived), 'stop was', 'stops were')} waived by a person."


def _facts(about: About, report: Report) -> list[tuple[str, str]]:
    order, edge = about.order, edge_limits(about.order, report.sheet)
    w, h = about.size_mm
    wanted = " × ".join("any" if v is None else f"{v:g}" for v in (order.width_mm, order.height_mm))
    roles = ", ".join(role.words for role in order.roles) if order.roles is not None else "not said"
    return [
        ("Customer", about.customer or "–"),
        ("File", f"{about.file_name}, revision {about.revision}"),
        ("Fingerprint of the file sent", about.original_sha256),
        ("Fingerprint of what was checked", about.sha256),
        ("Page", f"{w:.1f} × {h:.1f} mm; ordered {wanted} mm, {plural(order.quantity, 'copy', 'copies')}"),
        ("Cuts ordered", roles),
        ("Edge", f"{order.edge}; bleed {edge.bleed:g} mm, border {edge.border:g} mm, "
                 f"cutter within {edge.tolerance:g} mm"),
        ("Material", about.material),
        ("Destination", about.destination),
        ("Check sheet", report.sheet.version),
        ("Checked", about.checked),
    ]


def _card(finding: Finding, decision: Decision | None, evidence: Evidence) -> Any:
    title = WORDS[finding.id].title if finding.id in WORDS else finding.id
    measured = f"measured {measure(finding.measured, finding.unit)}, limit {measure(finding.limit, finding.unit)}"
    if finding.unit not in ("mm", "pt", "%", "ppi", "°", "mm²", "nodes/mm", "°/mm"):
        measured = plural(finding.count, "place")
    place = ""
    if finding.where:
        x0, y0, x1, y1 = finding.where[0]
        place = f" Worst place at {(x0 + x1) / 2:.1f}, {(y0 + y1) / 2:.1f} mm from the lower left of the trim."
    parts = [
        heading(title, sub=True), paragraph(finding.message),
        small(f"{finding.id} · {measured} · page {finding.page}.{place}"),
    ]
    if finding.detail:
        parts.append(small(finding.detail))
    if finding.carried:
        parts.append(small("Carried over: nothing that it depends on has changed since it was measured."))
    if decision is not None:
        parts.append(paragraph(f"{decision.verb.capitalize()} by {decision.who}, {decision.when}: {decision.reason}"))
    picture = evidence.of(finding, PICTURE) if finding.where else None
    return card(picture, parts)


def _checked(report: Report) -> str:
    said = f"{plural(len(report.ran), 'check was', 'checks were')} measured: {', '.join(report.ran)}."
    if report.carried:
        said += f" {plural(len(report.carried), 'was', 'were')} carried over: {', '.join(report.carried)}."
    off = [id for id, severity in report.sheet.severities.items() if severity == "off"]
    return said + (f" Switched off by the check sheet: {', '.join(off)}." if off else "")


def by_keys(report: Report, keys: Sequence[str]) -> list[Finding]:
    """The findings with these keys, in the report's order."""
    return [finding for finding in report.findings if finding.key in set(keys)]
