"""The register of checks: each with its id, shipped severity and limits, and what it reads."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit, Severity
from horismos.comparing.facets import Facet

__all__ = ["TOPICS", "Rule", "Scope", "all_limits", "registered", "rule"]

OF_PRINT = frozenset(["edge", "image", "white", "art", "text", "stroke"])
"""The topics that are about what is printed."""
OF_PRINT_TOO = frozenset([
    "ink.rgb", "ink.load", "ink.registration", "ink.rich-black-text", "ink.white-overprint", "layer.hidden-art",
    "page.beyond",
])
TOPICS = ("file", "page", "ink", "line", "edge", "white", "layer", "image", "text", "stroke", "art")
"""[ours] what is told first among findings of one severity."""
Measure = Callable[[Context], Iterable[Hit]]
Scope = Literal["file", "page", "piece"]
"""What a check runs on: the file once, each page, or each page with lines (the first where there are none)."""


@dataclass(frozen=True)
class Rule:
    """A check: its id, the shipped severity and limit, and what it runs on.

    ``reads`` are the facets of the artwork that it depends on. ``more`` holds further limits by name, in their
    own units. ``other_limits`` names limits of other checks that it goes by as well.
    """

    id: str
    severity: Severity
    limit: float
    unit: str
    scope: Scope
    reads: frozenset[Facet]
    measure: Measure
    more: Mapping[str, tuple[float, str]] = field(default_factory=dict)
    other_limits: tuple[str, ...] = ()

    @property
    def says(self) -> str:
        """What it looks for, in a sentence."""
        return " ".join((self.measure.__doc__ or "").split("\n\n")[0].split())

    @property
    def of_print(self) -> bool:
        """Whether it is about what is printed, and says nothing of what is cut only."""
        return self.id in OF_PRINT_TOO or (self.id.partition(".")[0] in OF_PRINT and self.id != "edge.rehearsed")


_RULES: dict[str, Rule] = {}


def rule(
    id: str, severity: str, *reads: Facet, limit: float = 0.0, unit: str = "objects", scope: Scope = "page",
    more: Mapping[str, tuple[float, str]] | None = None, other_limits: tuple[str, ...] = (),
) -> Callable[[Measure], Measure]:
    """Register a check under its id. A limit of 0 with the unit ``objects`` means: any."""

    def register(measure: Measure) -> Measure:
        if id in _RULES:
            raise ValueError(f"Two checks are called {id}.")
        _RULES[id] = Rule(
            id, Severity(severity), limit, unit, scope, frozenset(reads), measure, more or {}, other_limits,
        )
        return measure

    return register


def registered() -> dict[str, Rule]:
    """All checks by id."""
    return dict(_RULES)


def all_limits() -> dict[str, tuple[float, str]]:
    """Every limit there is with its shipped value and unit: by id, and ``id:name`` for a further one."""
    out: dict[str, tuple[float, str]] = {}
    for a_rule in _RULES.values():
        out[a_rule.id] = (a_rule.limit, a_rule.unit)
        out.update({f"{a_rule.id}:{name}": value for name, value in a_rule.more.items()})
    return out
