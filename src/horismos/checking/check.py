"""Collects the checks and runs them. It knows none of them by name."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from horismos.artwork.model import Artwork
from horismos.checking.context import Context
from horismos.checking.findings import MOST_PLACES, Finding, Hit, Report, Severity
from horismos.checking.sheet import CheckSheet
from horismos.destinations import HOUSE, Destination
from horismos.orders import Order

__all__ = ["Rule", "check", "registered", "rule"]

Measure = Callable[[Context], Iterable[Hit]]


@dataclass(frozen=True)
class Rule:
    """A check: its id, the shipped severity and limit, and what it runs on.

    ``scope`` is ``file`` (once), ``page`` (each page) or ``piece`` (each page with lines, or the
    first where there are none).
    """

    id: str
    severity: Severity
    limit: float
    unit: str
    scope: str
    measure: Measure


_RULES: dict[str, Rule] = {}


def rule(
    id: str, severity: str, limit: float = 0.0, unit: str = "objects", scope: str = "page"
) -> Callable[[Measure], Measure]:
    """Register a check under its id. A limit of 0 with the unit ``objects`` means: any."""

    def register(measure: Measure) -> Measure:
        if id in _RULES:
            raise ValueError(f"Two checks are called {id}.")
        _RULES[id] = Rule(id, Severity(severity), limit, unit, scope, measure)
        return measure

    return register


def registered() -> dict[str, Rule]:
    """All checks by id."""
    return dict(_RULES)


def check(
    artwork: Artwork,
    order: Order | None = None,
    destination: Destination = HOUSE,
    sheet: CheckSheet | None = None,
    progress: Callable[[float, str], None] = lambda share, what: None,
) -> Report:
    """Run every check on an artwork. ``progress`` hears the share done and what is being done."""
    order, sheet = order or Order(), sheet or CheckSheet()
    contexts = [Context(artwork, page, order, destination, sheet) for page in artwork.pages]
    pieces = [c for c in contexts if c.lines] or contexts[:1]
    plan = [
        (a_rule, context)
        for a_rule in _RULES.values()
        for context in {"file": contexts[:1], "piece": pieces}.get(a_rule.scope, contexts)
    ]
    findings: list[Finding] = []
    try:
        for i, (a_rule, context) in enumerate(plan):
            progress(i / len(plan), f"checking {a_rule.id}")
            findings += _run(a_rule, context, sheet)
    finally:
        for context in contexts:
            context.close()
    rank = {Severity.STOP: 0, Severity.LOOK: 1, Severity.NOTE: 2}
    return Report(tuple(sorted(findings, key=lambda f: (rank[f.severity], f.page))))


def _run(a_rule: Rule, context: Context, sheet: CheckSheet) -> Iterator[Finding]:
    limit = sheet.limits.get(a_rule.id, a_rule.limit)
    severity = sheet.severities.get(a_rule.id, a_rule.severity)
    for hit in a_rule.measure(context.under(a_rule.id, limit)):
        yield Finding(
            a_rule.id, hit.severity or severity, context.page.number, hit.message, hit.detail,
            hit.measured, context.limit_of(a_rule.id, limit), a_rule.unit, hit.count,
            tuple(hit.where[:MOST_PLACES]), tuple(hit.mends),
        )

