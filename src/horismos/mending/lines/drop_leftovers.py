"""Drops what tracing leaves behind in a line: contours smaller than an area, and stray open bits."""

import pikepdf

from horismos.artwork.lines import Line, lines_by_role
from horismos.artwork.model import PathObject
from horismos.checking.measuring.outlines import LineShape, Outline
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Before, Mend, register
from horismos.mending.engine.settings import ROLE, Kind, Setting
from horismos.mending.lines.redraw import redraw
from horismos.paths import length
from horismos.words import plural

SLACK_MM = 0.01
"""[ours] how far the length that is left may differ from what was said."""
AREA = Setting("area", Kind.NUMBER, "The area below which a contour is a leftover", 20.0, "mm²", 0.01, 10_000.0)
"""[ours] the same as the limit of the check that is shipped."""


def _leftovers(before: Before) -> tuple[list[Outline], list[Outline]]:
    """The tiny contours and the stray bits of the role, over all pages."""
    role, area = before.step.role, float(before.step["area"])
    tiny: list[Outline] = []
    stray: list[Outline] = []
    for page in before.artwork.pages:
        lines = [line for line in before.lines if line.page is page and isinstance(line.object, PathObject)]
        if any(line.role is role for line in lines):
            small, bits = LineShape(lines_by_role(lines)).leftovers(role, area)
            tiny, stray = tiny + small, stray + bits
    if not tiny and not stray:
        raise NothingToDo(f"The {role.words} has nothing smaller than {area:g} mm².")
    return tiny, stray


def _say(before: Before) -> str:
    tiny, stray = _leftovers(before)
    parts = [f"{plural(len(tiny), 'contour')} smaller than {before.step['area']:g} mm²"] * bool(tiny)
    parts += [plural(len(stray), "open bit")] * bool(stray)
    largest = max((o.area_mm2 or 0.0 for o in tiny), default=0.0)
    up_to = f", the largest of {largest:.2f} mm²" if tiny else ""
    what = f"{' and '.join(parts)} out of the {before.step.role.words}{up_to}"
    return f"Takes {what}. All other contours stay as they are."


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    tiny, stray = _leftovers(before)
    dropped: dict[Line, set[int]] = {}
    for outline in (*tiny, *stray):
        for line, i in outline.pieces:
            dropped.setdefault(line, set()).add(i)
    redraw(before, pdf, {
        line: [c for i, c in enumerate(line.contours) if i not in gone] for line, gone in dropped.items()
    })


def _prove(before: Before, difference: Difference) -> None:
    tiny, stray = _leftovers(before)
    pieces = [line.contours[i] for outline in (*tiny, *stray) for line, i in outline.pieces]
    role = before.step.role.value
    count = difference.before.get(role, 0) - difference.after.get(role, 0)
    shorter = difference.length_before_mm - difference.length_after_mm
    if count != len(pieces) or abs(shorter - sum(map(length, pieces))) > SLACK_MM:
        raise CannotWrite(
            f"Other contours than the leftovers of the {before.step.role.words} would go.",
            "Nothing was changed. Report this; it is a fault of the program.",
        )


register(Mend(
    "drop-leftovers", "Drop what is smaller than {area:g} mm² from the {role}", ("line.leftover",),
    frozenset([Facet.GEOMETRY]), (ROLE, AREA), _say, _do, _prove, safe=False, order=50,
))
