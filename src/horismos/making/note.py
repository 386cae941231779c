"""What is noted with lines that were made: what they were made of, and the patterns of those that are perforated."""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from horismos.artwork.lines import Line
from horismos.artwork.model import Page
from horismos.errors import BadValue
from horismos.making.made import Made
from horismos.making.pattern import DEFAULT_CUT_MM, DEFAULT_TIE_MM
from horismos.making.spec import Make, Source
from horismos.paths import bounds, union_bounds
from horismos.paths.box import Bounds
from horismos.roles import LineRole

__all__ = ["Note", "lines_made", "lines_replaced", "note_for", "note_on", "source_lines"]

SAME_BOX_MM = 0.5
"""[ours] a line whose box has moved by no more is the line that was there before."""


@dataclass(frozen=True)
class Note:
    """What a page says of the lines that were made on it.

    ``make`` is what they were made of, as ``Make.to_json`` gives it; None where nothing was made. ``patterns`` holds
    cut and tie length in mm and whether ties are scored, by role. ``beside`` are the boxes in mm of lines of the same
    roles that were there before and stayed.
    """

    make: Mapping[str, Any] | None = None
    patterns: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    beside: Mapping[str, tuple[Bounds, ...]] = field(default_factory=dict)

    @property
    def roles(self) -> frozenset[LineRole]:
        """The roles that were made."""
        return frozenset(line.role for line in Make.from_json(self.make).lines) if self.make else frozenset()

    def to_json(self) -> dict[str, Any]:
        """The note as plain values."""
        plain: dict[str, Any] = {
            "make": self.make, "patterns": {role: dict(pattern) for role, pattern in self.patterns.items()},
        }
        return {**plain, "beside": {role: list(boxes) for role, boxes in self.beside.items()}} if self.beside else plain


def note_on(page: Page) -> Note:
    """The note on a page; a damaged one is none."""
    try:
        data = json.loads(page.made) if page.made else {}
        patterns = {LineRole(role).value: _pattern(found) for role, found in data.get("patterns", {}).items()}
        beside = {
            LineRole(role).value: tuple(_box(box) for box in boxes) for role, boxes in data.get("beside", {}).items()
        }
        note = Note(data.get("make"), patterns, beside)
        return note if note.roles else Note()
    except (ValueError, TypeError, AttributeError, KeyError, BadValue):
        return Note()


def _box(found: Any) -> Bounds:
    x0, y0, x1, y1 = (float(v) for v in found)
    return x0, y0, x1, y1


def _pattern(found: Mapping[str, Any]) -> dict[str, Any]:
    """A pattern within what a tool can do. Raises what reading nonsense raises."""
    return {
        "cut_mm": min(max(float(found["cut_mm"]), 0.2), 500.0),
        "tie_mm": min(max(float(found["tie_mm"]), 0.05), 100.0),
        "least_ties": min(max(int(found["least_ties"]), 0), 10_000),
        "tie": "scored" if found["tie"] == "scored" else "whole",
    }


def lines_made(page: Page, lines: Iterable[Line]) -> list[Line]:
    """The lines of a page that were made here, and not those of the same roles that stood there before."""
    note = note_on(page)
    return [
        line for line in lines
        if line.page is page and line.role in note.roles and not _stood(line, note.beside.get(line.role.value, ()))
    ]


def _stood(line: Line, boxes: Sequence[Bounds]) -> bool:
    box = union_bounds(bounds(contour) for contour in line.contours)
    return box is not None and any(
        max(abs(one - other) for one, other in zip(box, known, strict=True)) <= SAME_BOX_MM for known in boxes
    )


def source_lines(page: Page, lines: Sequence[Line], make: Make) -> list[Line]:
    """The lines that the source ``line`` means: those by other hands, else those that were made here before."""
    if make.source is not Source.LINE:
        return []
    own = [line for line in lines if line.page is page and line.role is make.line]
    made = lines_made(page, own)
    return [line for line in own if line not in made] or own


def lines_replaced(page: Page, lines: Iterable[Line], make: Make) -> list[Line]:
    """The lines that new ones take the place of: what was made here before, and others where the make says so."""
    own = [line for line in lines if line.page is page]
    made = lines_made(page, own)
    if make.replaces:
        roles = {line.role for line in make.lines}
        return [line for line in own if line.role in roles or line in made]
    kept = source_lines(page, own, make)
    return [line for line in made if line not in kept]


def note_for(made: Made, make: Mapping[str, Any], beside: Iterable[Line] = ()) -> Note:
    """The note that belongs to lines that were just made, with the lines of the same roles that stay beside them."""
    boxes: dict[str, tuple[Bounds, ...]] = {}
    for line in beside:
        box = union_bounds(bounds(contour) for contour in line.contours)
        if line.role in made.by_role and line.role and box is not None:
            boxes[line.role.value] = (*boxes.get(line.role.value, ()), box)
    patterns = {
        line.role.value: {
            "cut_mm": line.spec.cut_mm or DEFAULT_CUT_MM, "tie_mm": line.spec.tie_mm or DEFAULT_TIE_MM,
            "least_ties": line.spec.least_ties, "tie": line.spec.tie.value,
        }
        for line in made.lines if line.pattern is not None
    }
    return Note(make, patterns, boxes)
