"""Drops what tracing leaves behind in a line: contours smaller than an area, and stray open bits."""

from collections.abc import Mapping
from typing import Any

import pikepdf

from horismos.artwork.lines import Line, lines_by_role
from horismos.artwork.model import PathObject
from horismos.checking.measuring.outlines import LineShape, Outline
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import ROLE, Setting, SettingKind
from horismos.mending.lines.chosen import AT, only_dropped, pointed_at
from horismos.mending.lines.redraw import redraw
from horismos.words import plural

AREA = Setting(
    "below_mm2", SettingKind.NUMBER, "The area below which a contour is a leftover", 20.0, "mm²", 0.01, 10_000.0
)
"""[ours] the same as the limit of the check that is shipped."""


def _leftovers(before: MendContext) -> tuple[list[Outline], list[Outline]]:
    """The tiny contours and the stray bits of the role, or of all, over all pages."""
    area = float(before.step["below_mm2"])
    tiny: list[Outline] = []
    stray: list[Outline] = []
    for page, role, _ in before.by_role():
        lines = [line for line in before.lines if line.page is page and isinstance(line.object, PathObject)]
        small, bits = LineShape(lines_by_role(lines)).leftovers(role, area)
        tiny, stray = tiny + small, stray + bits
    at = before.step["at"]
    if at:
        tiny, stray = [o for o in tiny if pointed_at(o, at)], [o for o in stray if pointed_at(o, at)]
    if not tiny and not stray:
        raise NothingToDo(f"The {before.step.role_words} has nothing smaller than {area:g} mm².")
    return tiny, stray


def _say(before: MendContext) -> MendSummary:
    tiny, stray = _leftovers(before)
    parts = [f"{plural(len(tiny), 'contour')} smaller than {before.step['below_mm2']:g} mm²"] * bool(tiny)
    parts += [plural(len(stray), "open bit")] * bool(stray)
    largest = max((o.area_mm2 or 0.0 for o in tiny), default=0.0)
    up_to = f", the largest of {largest:.2f} mm²" if tiny else ""
    what = f"{' and '.join(parts)} out of the {before.step.role_words}{up_to}"
    return MendSummary(
        f"Takes {what}. All other contours stay as they are.", {"contours": len(tiny), "open bits": len(stray)}
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    tiny, stray = _leftovers(before)
    dropped: dict[Line, set[int]] = {}
    for outline in (*tiny, *stray):
        for line, i in outline.pieces:
            dropped.setdefault(line, set()).add(i)
    redraw(before, pdf, {
        line: [c for i, c in enumerate(line.contours) if i not in gone] for line, gone in dropped.items()
    })


def _prove(before: MendContext, difference: Difference) -> None:
    tiny, stray = _leftovers(before)
    only_dropped(difference, [line.contours[i] for o in (*tiny, *stray) for line, i in o.pieces])


def _label(values: Mapping[str, Any]) -> str:
    if values["at"]:
        return f"Take this contour out of the {values['role']}"
    return f"Drop what is smaller than {values['below_mm2']:g} mm² from the {values['role']}"


register(Mend(
    id="drop-leftovers", label=_label, answers=("line.leftover",), touches=frozenset([Facet.GEOMETRY]),
    settings=(ROLE, AREA, AT), say=_say, do=_do, prove=_prove, safe=False, order=50
))
