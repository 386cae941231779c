"""Tries what is on the Shelf on a case: what it would change, before it is kept."""

from dataclasses import asdict, dataclass, replace
from typing import Any

from horismos.checking import Finding, Report, check_whole
from horismos.errors import HorismosError
from horismos.words import plural
from horismos.workflow.case import Case, Progress
from horismos.workflow.plan import plan
from horismos.workflow.stack import MadeStack, sewing_time

__all__ = ["Effect", "Figure", "try_otherwise", "try_sheet", "try_stack"]


@dataclass(frozen=True)
class Effect:
    """What would change: the verdicts before and after, findings that go and come, the checks that ran.

    Of a stack there are figures alone, and no verdicts.
    """

    verdicts: tuple[str, str] | None
    goes: tuple[Finding, ...]
    comes: tuple[Finding, ...]
    ran: tuple[str, ...]
    figures: tuple["Figure", ...] = ()

    def to_json(self) -> dict[str, Any]:
        """The effect as plain values."""
        return {
            "verdict": self.verdicts and list(self.verdicts), "goes": [_said(f) for f in self.goes],
            "comes": [_said(f) for f in self.comes], "ran": list(self.ran),
            "figures": [asdict(figure) for figure in self.figures],
        }


@dataclass(frozen=True)
class Figure:
    """What of a sheet or its cut comes out otherwise, in words, before and after."""

    what: str
    before: str
    after: str


def try_sheet(case: Case, before: Report, progress: Progress = lambda share, what: None) -> Effect:
    """What the case's check sheet changes in a report of before; only the checks that it touches are run."""
    return _effect(before, check_whole(case.artwork, case.terms, progress, before, frozenset()).report)


def try_otherwise(
    case: Case, otherwise: Case, before: Report, progress: Progress = lambda share, what: None
) -> Effect:
    """What changes when a case, whose report is from before, goes by another destination, material, tools or limits."""
    after = check_whole(otherwise.artwork, otherwise.terms, lambda share, what: progress(share * 0.8, what)).report
    progress(0.85, "laying out and planning")
    told = zip(_figures(case), _figures(otherwise), strict=True)
    return replace(_effect(before, after), figures=tuple(
        Figure(what, old, new) for (what, old), (_, new) in told if old != new
    ))


def try_stack(made: MadeStack, otherwise: MadeStack) -> Effect:
    """What changes when layers of a stack are of another fabric."""
    told = zip(_stack_figures(made), _stack_figures(otherwise), strict=True)
    return Effect(None, (), (), (), tuple(
        Figure(what, old, new) for (what, old), (_, new) in told if old != new
    ))


def _stack_figures(made: MadeStack) -> list[tuple[str, str]]:
    """What is told of the cuts and the stitches of a stack."""
    out: list[tuple[str, str]] = []
    for cut in made.cuts:
        name, force = cut.laid.layer.name, cut.tool.sent_gf
        out += [
            (f"“{name}” is cut at", "the machine's own force" if force is None else f"{force:g} gf"),
            (f"“{name}” is thick", f"{cut.own_um:g} µm"),
            (f"“{name}” is cut to", f"{cut.laid.area.area:.1f} mm²"),
            (f"the blade in “{name}”", f"{cut.reaches_um:.0f} µm deep: {cut.outcome.value}"),
        ]
    plan = made.stitches
    return [
        *out, ("stitches", f"{plan.count}"), ("thread", f"{plan.thread_mm / 1000:.2f} m"),
        ("sewn in", f"{sewing_time(plan):.0f} s"), ("stops", f"{plan.stops}"),
    ]


def _figures(case: Case) -> tuple[tuple[str, str], ...]:
    """What is told of the sheets and the cut of a case."""
    try:
        planned = plan(case)
    except HorismosError as error:
        return (("sheets", str(error)), *((what, "–") for what in ("media", "waste", "cut", "lands within")))
    sheets = [one.sheet for one in planned.sheets]
    wide, used = sheets[0].material.width_mm, sum(sheet.length_mm for sheet in sheets)
    seconds = sum(one.cut.time_s for one in planned.sheets)
    worst = max((one.expected.worst_mm for one in planned.sheets if one.expected), default=None)
    return (
        ("sheets", plural(len(sheets), "sheet")), ("media", f"{wide:g} × {used:.0f} mm"),
        ("waste", f"{100 * sum(s.waste * s.length_mm for s in sheets) / used:.1f} %"), ("cut", f"{seconds:.0f} s"),
        ("lands within", "–" if worst is None else f"{worst:.2f} mm"),
    )


def _effect(before: Report, after: Report) -> Effect:
    told, tells = {_told(f) for f in before.findings}, {_told(f) for f in after.findings}
    return Effect(
        (before.verdict, after.verdict), tuple(f for f in before.findings if _told(f) not in tells),
        tuple(f for f in after.findings if _told(f) not in told), after.ran,
    )


def _said(finding: Finding) -> dict[str, str]:
    return {"id": finding.id, "severity": finding.severity.value, "message": finding.message}


def _told(finding: Finding) -> tuple[str, str, str]:
    return finding.key, finding.severity.value, finding.id
