"""Lines while a person makes them: shown, checked and cut open, without being put into the job's file."""

from collections.abc import Mapping
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

import numpy as np

from horismos.checking import Report
from horismos.errors import CannotWrite, NothingToDo
from horismos.making import Make, make
from horismos.making.note import lines_replaced
from horismos.workflow.make import tried
from horismos.workflow.showing.findings import findings_shown
from horismos.workflow.showing.inks import PlatesShown, Tints, section_shown
from horismos.workflow.showing.making import MakingShown, making_shown
from horismos.workflow.steps.stored import StoredCase, case_of

__all__ = ["checked", "section", "shown"]

Plain = dict[str, Any]
ABOUT = ("line.", "edge.", "page.size", "layer.mixed")
"""What lines that were just made can be at fault in."""


def shown(stored: StoredCase, wanted: Mapping[str, Any], draft: bool, nodes: bool, tell: Any) -> Plain:
    """What would be made. A draft goes by straight pieces: while a hand drags, that is soon enough."""
    case, make_of = case_of(stored), Make.from_json(wanted)
    try:
        made = make(case.artwork, case.page, case.lines, make_of, draft)
    except (NothingToDo, CannotWrite) as why:
        return asdict(MakingShown("", "", make_of.words, (), (), "", 0.0, (), str(why)))
    return asdict(making_shown(made, make_of, nodes))


def checked(stored: StoredCase, wanted: Mapping[str, Any], report: Mapping[str, Any] | None, tell: Any) -> list[Plain]:
    """The findings that the lines would have: of lines, edges and size. None where nothing can be made."""
    case = case_of(stored)
    before = Report.from_json(report) if report else None
    try:
        lined = tried(case, Make.from_json(wanted), before, tell)
    except NothingToDo:
        return []
    about = replace(lined.report, findings=tuple(f for f in lined.report.findings if f.id.startswith(ABOUT)))
    return [asdict(card) for card in findings_shown(about, lined.case.artwork, case.destination, case.order)]


def section(
    stored: StoredCase, wanted: Mapping[str, Any], plates: tuple[PlatesShown, Path] | None,
    start: tuple[float, float], end: tuple[float, float], tell: Any,
) -> Plain:
    """The material cut open along a line as it would be with the lines."""
    case = case_of(stored)
    made = make(case.artwork, case.page, case.lines, Make.from_json(wanted))
    known: tuple[PlatesShown, Tints] | None = (plates[0], np.load(plates[1], mmap_mode="r")) if plates else None
    lines = {role: list(contours) for role, contours in made.by_role.items()}
    gone = lines_replaced(case.page, case.lines, Make.from_json(wanted))
    for line in case.lines:
        if line.role is not None and line not in gone:
            lines.setdefault(line.role, []).extend(line.contours)
    return asdict(section_shown(case, known, start, end, lines))
