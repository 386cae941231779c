"""Collects the checks and runs them. It knows none of them by name."""

import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace

from horismos.artwork.model import Artwork
from horismos.checking.engine.check_sheet import CheckSheet
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Finding, Hit, Report, Severity
from horismos.checking.engine.rules import TOPICS, Rule, registered
from horismos.checking.engine.terms import CheckInputs
from horismos.checking.measuring.edge_map import EdgeMap
from horismos.comparing.facets import Facet
from horismos.destinations import DEFAULT, Destination
from horismos.errors import HorismosError
from horismos.materials import Material
from horismos.orders import Order
from horismos.rendering.plates import PlateSet

__all__ = ["Checked", "check", "check_whole"]

Progress = Callable[[float, str], None]


@dataclass(frozen=True)
class Checked:
    """A report and what was measured for it on the first piece; None where it was not measured again."""

    report: Report
    edges: EdgeMap | None
    plates: PlateSet | None
    plates_error: HorismosError | None = None


def check(
    artwork: Artwork,
    order: Order | None = None,
    destination: Destination = DEFAULT,
    sheet: CheckSheet | None = None,
    progress: Progress = lambda share, what: None,
    material: Material | None = None,
) -> Report:
    """Run every check on an artwork. ``progress`` hears the share done and what is being done."""
    inputs = CheckInputs(order or Order(), destination, sheet or CheckSheet(), material)
    return check_whole(artwork, inputs, progress).report


def check_whole(
    artwork: Artwork, terms: CheckInputs, progress: Progress = lambda share, what: None, before: Report | None = None,
    touched: frozenset[Facet] | None = None, number: int | None = None, art: Mapping[int, bytes] | None = None,
    keeps_plates: bool = False,
) -> Checked:
    """Run the checks on an artwork, or on one page of it.

    With a report from ``before`` and the facets that were ``touched`` since, only those checks run again
    that read one of them or have another limit now; the outcome of the others stands, marked as carried
    over. Order, destination and material have to be those of then. ``art`` holds the art alone of pages, by
    their numbers, where it was parted from the lines already. With ``keeps_plates`` those of the first page are
    waited for where they are made at all, though no check may need them.
    """
    pages = [p for p in artwork.pages if number is None or p.number == number]
    contexts = [Context(artwork, page, terms, (art or {}).get(page.number)) for page in pages]
    pieces = [c for c in contexts if c.lines] or contexts[:1]
    rules = [r for r in registered().values() if terms.printed or not r.of_print]
    stands = {r.id for r in rules if before is not None and _stands(r, before, terms.sheet, touched)}
    plan = [
        (a_rule, context)
        for a_rule in rules
        if a_rule.id not in stands and _severity(a_rule, terms.sheet) is not Severity.OFF
        for context in {"file": contexts[:1], "piece": pieces}.get(a_rule.scope, contexts)
    ]
    findings = [replace(f, carried=True) for f in before.findings if f.id in stands] if before else []
    ran = tuple(dict.fromkeys(a_rule.id for a_rule, _ in plan))
    try:
        for context in pieces:
            context.begin(ran, keeps_plates)
        for i, (a_rule, context) in enumerate(plan):
            progress(i / max(len(plan), 1), f"checking {a_rule.id}")
            findings += _run(a_rule, context, terms.sheet)
        first = pieces[0]
        if keeps_plates:
            first.await_plates()
        edges, made, unmade = first.measured_edges, first.made_plates, first.plates_error
    finally:
        for context in contexts:
            context.close()
    rank = {Severity.STOP: 0, Severity.LOOK: 1, Severity.NOTE: 2}
    findings.sort(key=lambda f: (rank[f.severity], f.page, TOPICS.index(f.id.partition(".")[0]), f.id))
    carried = tuple(id for id in registered() if id in stands)
    return Checked(Report(tuple(findings), terms.sheet, ran, carried), edges, made, unmade)


def _severity(a_rule: Rule, sheet: CheckSheet) -> Severity:
    return Severity(sheet.severities.get(a_rule.id, a_rule.severity))


def _limits(a_rule: Rule, sheet: CheckSheet) -> list[float]:
    named = [sheet.limits.get(f"{a_rule.id}:{name}", value) for name, (value, _) in a_rule.more.items()]
    return [sheet.limits.get(a_rule.id, a_rule.limit), *named]


def _heeded(a_rule: Rule, sheet: CheckSheet) -> list[float | None]:
    return [sheet.limits.get(key) for key in a_rule.other_limits]


def _stands(a_rule: Rule, before: Report, sheet: CheckSheet, touched: frozenset[Facet] | None) -> bool:
    if touched is None or a_rule.reads & touched or a_rule.id not in (*before.ran, *before.carried):
        return False
    same = _limits(a_rule, before.sheet) == _limits(a_rule, sheet)
    same = same and _heeded(a_rule, before.sheet) == _heeded(a_rule, sheet)
    return same and _severity(a_rule, before.sheet) is _severity(a_rule, sheet)


def _run(a_rule: Rule, context: Context, sheet: CheckSheet) -> Iterator[Finding]:
    """The findings of one check; where it cannot measure, that is a finding too."""
    severity = _severity(a_rule, sheet)
    limit, *named = _limits(a_rule, sheet)
    more = dict(zip(a_rule.more, named, strict=True))
    try:
        hits = list(a_rule.measure(context.under(a_rule.id, limit, more)))
    except HorismosError as error:
        hits = [_unmeasured(a_rule.id, str(error))]
    for hit in hits:
        yield Finding(
            id=a_rule.id, severity=hit.severity or severity, page=context.page.number, message=hit.message,
            detail=hit.detail, measured=hit.measured,
            limit=hit.limit if hit.limit is not None else context.limit_of(a_rule.id, limit),
            unit=hit.unit or a_rule.unit, count=hit.count, where=tuple(hit.where[:MOST_PLACES]), subject=hit.subject,
            inks=tuple(hit.inks), wanted=tuple(hit.wanted), candidates=tuple(hit.candidates), asks=hit.asks,
            proposes=tuple((mend, json.dumps(dict(settings))) for mend, settings in hit.proposes)
        )


def _unmeasured(id: str, why: str) -> Hit:
    return Hit(f"“{id}” could not be measured. {why}", measured=None, severity=Severity.LOOK)
