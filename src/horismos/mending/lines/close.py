"""Closes contours that should close: pieces that all but meet are joined, open ends bridged."""

import pikepdf

from horismos.artwork.lines import Line, unclosed
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import ROLE, Setting, SettingKind
from horismos.mending.lines.redraw import redraw
from horismos.paths import Chain, Contour, closed
from horismos.words import plural

SLACK_MM = 0.01
"""[ours] what writing to a millionth of a unit and reading again may move a point by, and more."""
GAP = Setting("gap_mm", SettingKind.NUMBER, "The widest gap that is bridged", 1_000.0, "mm", 0.001, 10_000.0)
Open = list[tuple[Chain, list[tuple[Line, int]]]]


def _open(before: MendContext) -> Open:
    most = float(before.step["gap_mm"])
    found = [one for _, _, listed in before.by_role() for one in unclosed(listed) if one[0].gap_mm <= most]
    if not found:
        what = before.step.role.words if before.step.role else "line"
        raise NothingToDo(f"Every {what} closes already, or its gap is wider than {most:g} mm.")
    return found


def _widest(found: Open) -> float:
    return max(joined.gap_mm for joined, _ in found)


def _say(before: MendContext) -> MendSummary:
    found = _open(before)
    pieces = sum(len(joined.members) for joined, _ in found)
    joins = f", joining {plural(pieces, 'piece')}" if pieces > len(found) else ""
    return MendSummary(
        f"Closes {plural(len(found), 'contour')}{joins}, with straight bridges of at most {_widest(found):.2f} mm. "
        "The rest of each contour stays where it is.",
        {"contours": len(found), "pieces": pieces},
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    changed: dict[Line, list[Contour | None]] = {}
    for joined, pieces in _open(before):
        whole = closed(joined.contour)
        for place, (line, i) in enumerate(pieces):
            changed.setdefault(line, list(line.contours))[i] = whole if place == 0 else None
    redraw(before, pdf, {line: [c for c in own if c is not None] for line, own in changed.items()})


def _prove(before: MendContext, difference: Difference) -> None:
    longer = difference.length_after_mm - difference.length_before_mm
    bridged = sum(joined.gap_mm * len(joined.members) for joined, _ in _open(before))
    if difference.lines_moved_mm > _widest(_open(before)) + SLACK_MM or longer > bridged + SLACK_MM:
        raise CannotWrite(
            f"Closing would move a line by {difference.lines_moved_mm:.2f} mm.",
            "Nothing was changed; ask for a new file.",
        )


register(Mend(
    id="close-line", label="Close the {role}", answers=("line.open",), touches=frozenset([Facet.GEOMETRY]),
    settings=(ROLE, GAP), say=_say, do=_do, prove=_prove, order=30
))
