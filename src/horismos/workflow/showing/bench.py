"""What the bench shows of a sheet on the cutter's bed."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from horismos.simulation.bed import MarkSeen
from horismos.workflow.bench import Aligned

__all__ = ["AlignedShown", "FitShown", "MarkOnBed", "aligned_shown"]


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
