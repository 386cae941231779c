"""What the bench shows of a sheet on the cutter's bed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from horismos.roles import LineRole
from horismos.simulation import Playback
from horismos.simulation.bed import MarkSeen
from horismos.simulation.packages import copies_of_strokes
from horismos.workflow.bench import Aligned, BedState, aligned_on, cross_at

__all__ = [
    "AlignedShown", "FitShown", "LaidShown", "MarkOnBed", "MoveShown", "PieceDone", "PlaybackShown", "StopShown",
    "aligned_shown", "laid_shown", "playback_shown",
]


@dataclass(frozen=True)
class FitShown:
    """How the sheet lies: lengths in mm, angles in degrees, stretches in percent."""

    moved_mm: list[float]
    turn_deg: float
    stretch_x: float
    stretch_y: float
    skew_deg: float
    bend_mm: float
    worst_mm: float


@dataclass(frozen=True)
class MarkOnBed:
    """A mark: where it is meant on the sheet, where it is looked for next, and what was seen; mm.

    ``place`` is before the cutter; ``residual_mm`` how far from where the fit has it. ``kind`` and ``opens`` are its
    shape.
    """

    number: int
    kind: str
    meant: list[float]
    place: list[float] | None
    how: str
    why: str
    residual_mm: float | None


@dataclass(frozen=True)
class AlignedShown:
    """A sheet on the bed: its corners as they lie, its marks, the fit, and why it is not to be cut yet."""

    size_mm: list[float]
    outline: list[list[float]]
    matrix: list[float]
    marks: list[MarkOnBed]
    fit: FitShown | None
    trouble: str


@dataclass(frozen=True)
class LaidShown:
    """A sheet on the bed: what its marks come to, and where a cross to calibrate the pointer by is cut, in mm."""

    aligned: AlignedShown
    cross: list[float]


@dataclass(frozen=True)
class MoveShown:
    """A stroke of the cutter: from ``start_s`` the tool is down until ``end_s``; points in mm."""

    operation: int
    tool: int
    force_gf: float
    speed_mm_s: float
    start_s: float
    end_s: float
    points: list[list[float]]


@dataclass(frozen=True)
class StopShown:
    """A stop of the machine before an operation; with words a person has to do something."""

    at_s: float
    before: int
    words: str
    time_s: float


@dataclass(frozen=True)
class PlayedOperation:
    """An operation of a run: the lines of one role with one tool."""

    role: LineRole


@dataclass(frozen=True)
class PieceDone:
    """When the last stroke of a piece of this side has ended; ``number`` is its own on the sheet, from 1."""

    number: int
    at_s: float


@dataclass(frozen=True)
class PlaybackShown:
    """A whole run of the cutter over its sheet; ``landed`` says whether strokes lie as the sheet lies on the bed."""

    moves: list[MoveShown]
    stops: list[StopShown]
    landed: bool
    total_s: float
    cut_mm: float
    travel_mm: float
    width_mm: float
    length_mm: float
    operations: list[PlayedOperation]
    pieces: list[PieceDone]


def laid_shown(before: BedState) -> LaidShown:
    """A sheet as it lies. Raises DoesNotFit where it cannot be held, CannotRead."""
    aligned = aligned_on(before)
    return LaidShown(aligned_shown(aligned, before.seen), list(cross_at(aligned.bed)))


def playback_shown(run: Playback, ticket: Mapping[str, Any], landed: bool, side: str) -> PlaybackShown:
    """A run over the sheet of a ticket, with the operations of the side that is cut."""
    sheet = ticket["sheet"]
    return PlaybackShown(
        [
            MoveShown(m.operation, m.tool, m.force_gf, m.speed_mm_s, m.start_s, m.end_s, m.points.round(3).tolist())
            for m in run.moves
        ],
        [StopShown(one.at_s, one.before, one.words, one.time_s) for one in run.stops], landed, run.total_s,
        run.cut_mm, run.travel_mm, sheet["width_mm"], sheet["length_mm"],
        [PlayedOperation(LineRole(op["role"])) for op in ticket["operations"] if op["side"] == side],
        _pieces_done(run, ticket, side),
    )


def _pieces_done(run: Playback, ticket: Mapping[str, Any], side: str) -> list[PieceDone]:
    """When each piece is cut to the end, in the order in which that happens."""
    done: dict[int, float] = {}
    operations = [op for op in ticket["operations"] if op["side"] == side]
    for number, op in enumerate(operations):
        moves = [move for move in run.moves if move.operation == number]
        for copy, move in zip(copies_of_strokes(op, len(moves)), moves, strict=True):
            if copy >= 0:
                done[copy] = max(done.get(copy, 0.0), move.end_s)
    return [PieceDone(copy + 1, at) for copy, at in sorted(done.items(), key=lambda one: one[1])]


def aligned_shown(aligned: Aligned, seen: Sequence[MarkSeen]) -> AlignedShown:
    """What is known of a sheet on the bed. ``matrix`` brings places of the sheet to where they lie."""
    by_number = {one.number: one for one in seen}
    found = aligned.fit
    known = [one.number for one in seen if one.place is not None]
    residuals = dict(zip(known, np.hypot(*found.residuals.T).tolist(), strict=True)) if found else {}
    origin, axes = aligned.bed.load.origin_and_axes
    marks = []
    for mark in aligned.bed.marks:
        one = by_number.get(mark.number, MarkSeen(mark.number))
        residual = residuals.get(mark.number)
        marks.append(MarkOnBed(
            mark.number, mark.kind.id, [mark.x_mm, mark.y_mm], list(one.place) if one.place else None, one.how,
            one.why, None if residual is None else round(residual, 3),
        ))
    (a, b), (c, d) = axes.tolist()
    return AlignedShown(
        list(aligned.bed.size_mm), aligned.bed.outline.round(2).tolist(),
        [a, b, c, d, *origin.tolist()], marks,
        FitShown(
            [round(mm, 3) for mm in found.moved_mm], round(found.turn_deg, 4),
            round(found.stretch_x * 100, 4), round(found.stretch_y * 100, 4), round(found.skew_deg, 4),
            round(found.bend_mm, 3), round(found.worst_mm, 3),
        ) if found else None,
        aligned.trouble,
    )
