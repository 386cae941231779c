"""Mends that change how lines run: the contours of a role in, others out, everything else as it was."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import pikepdf

from horismos.artwork.lines import Line, lines_by_role
from horismos.artwork.model import PathObject
from horismos.checking.measuring.outlines import LineShape, Outline
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import ROLE, Setting
from horismos.mending.lines.redraw import redraw
from horismos.paths import Contour, length
from horismos.roles import LineRole

__all__ = ["Reshaping", "pages_of", "reshaped", "shape_mend"]

SAME_LENGTH = 1e-3
"""[ours] of the length of all lines, that measuring the written ones again may differ by."""
SLACK_MM = 0.01
"""[ours] what writing to a millionth of a unit and reading again may move a point by, and more."""


@dataclass
class Reshaping:
    """What becomes of outlines: each with the contours that take its place, none where it goes.

    ``counts`` are the figures that are said; ``moved_mm`` is how far a line may be from where it was, None where
    whole lines go or come.
    """

    changes: dict[Outline, Sequence[Contour]] = field(default_factory=dict)
    counts: dict[str, float] = field(default_factory=dict)
    moved_mm: float | None = None

    @property
    def longer_mm(self) -> float:
        """By how much all lines together become longer."""
        return sum(sum(map(length, new)) - length(outline.contour) for outline, new in self.changes.items())

    def count(self, name: str, by: float = 1) -> None:
        """Add to a figure."""
        self.counts[name] = self.counts.get(name, 0) + by


def pages_of(before: MendContext) -> Iterator[tuple[LineShape, list[LineRole]]]:
    """The shape of all lines, page by page, with the roles of it that the step works on."""
    for page in before.artwork.pages:
        lines = [line for line in before.lines if line.page is page and isinstance(line.object, PathObject)]
        chosen = [role for role in lines_by_role(lines) if before.step.role in (None, role)]
        if chosen:
            yield LineShape(lines_by_role(lines)), chosen


def reshaped(changes: Mapping[Outline, Sequence[Contour]]) -> dict[Line, list[Contour]]:
    """The contours of each line after a change; what was drawn in pieces is drawn whole by the first of them."""
    pieces: dict[Line, list[Sequence[Contour]]] = {}
    for outline, new in changes.items():
        for place, (line, i) in enumerate(outline.pieces):
            pieces.setdefault(line, [[c] for c in line.contours])[i] = new if place == 0 else ()
    return {line: [c for part in parts for c in part] for line, parts in pieces.items()}


def shape_mend(
    id: str, label: str | Callable[[Mapping[str, Any]], str], answers: tuple[str, ...],
    find: Callable[[MendContext], Reshaping], words: Callable[[MendContext, Reshaping], str],
    nothing: Callable[[MendContext], str], settings: tuple[Setting, ...] = (),
    safe: bool = False, order: int = 50, as_strokes: bool = False,
) -> Mend:
    """Register a mend of how lines run.

    ``find`` gives what becomes of which outlines, ``words`` says it, ``nothing`` says why there is nothing to do.
    ``as_strokes``: what was filled is stroked then.
    """

    def found(before: MendContext) -> Reshaping:
        made = before.cached(id, lambda: find(before))
        if not made.changes:
            raise NothingToDo(nothing(before))
        return made

    def say(before: MendContext) -> MendSummary:
        made = found(before)
        return MendSummary(words(before, made), made.counts)

    def do(before: MendContext, pdf: pikepdf.Pdf) -> None:
        redraw(before, pdf, reshaped(found(before).changes), as_strokes)

    def prove(before: MendContext, difference: Difference) -> None:
        made = found(before)
        most = made.moved_mm
        meant = difference.length_before_mm + made.longer_mm
        if abs(difference.length_after_mm - meant) > SAME_LENGTH * max(meant, 1.0):
            raise CannotWrite(
                f"The lines would be {difference.length_after_mm:.2f} mm long; {meant:.2f} mm was said.",
                "Nothing was changed. Report this; it is a fault of the program.",
            )
        if most is not None and difference.lines_moved_mm > most + SLACK_MM:
            raise CannotWrite(
                f"A line would lie {difference.lines_moved_mm:.3f} mm from where it was; {most:g} mm was said.",
                "Nothing was changed. Report this; it is a fault of the program.",
            )

    touches = frozenset([Facet.GEOMETRY, *([Facet.PAINT] if as_strokes else [])])
    return register(Mend(
        id=id, label=label, answers=answers, touches=touches, settings=(ROLE, *settings), say=say, do=do, prove=prove,
        safe=safe, order=order
    ))
