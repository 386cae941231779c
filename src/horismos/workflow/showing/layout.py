"""A layout as screens show it: every field, with what holds where nothing was said."""

from dataclasses import dataclass

from horismos.media import Media
from horismos.roles import LineRole
from horismos.sheet.inks import InkLayer
from horismos.sheet.layout import Aligning, Fill, How, Layout, Makes
from horismos.sheet.marks import MarkPlan, MarksRound

__all__ = ["CopyShown", "LayoutShown", "MarksShown", "layout_shown"]


@dataclass(frozen=True)
class MarksShown:
    """Which marks are wanted; lengths in mm, None where the cutter's own count. ``around`` may be a rectangle."""

    kind: str
    count: int | None
    every_mm: float | None
    around: MarksRound | list[float]
    distance_mm: float | None
    arm_mm: float | None
    weight_mm: float | None


@dataclass(frozen=True)
class CopyShown:
    """A copy that was placed: by which matrix, of which item from 0, on which sheet from 1."""

    matrix: list[float]
    item: int
    sheet: int


@dataclass(frozen=True, kw_only=True)
class LayoutShown:
    """How copies are to lie; the fields as ``Layout`` has them."""

    how: How
    columns: int | None
    gap_mm: float | None
    turned: bool | None
    fill: Fill
    length_mm: float | None
    media: Media | None
    marks: MarksShown
    code: bool
    mirror: bool | None
    makes: Makes
    inks: tuple[InkLayer, ...] | None
    frame_mm: float | None
    placed: tuple[CopyShown, ...]
    rows_mm: float | None
    cut_order: tuple[LineRole, ...]
    cut_only: tuple[LineRole, ...] | None
    cut_copies: tuple[int, ...] | None
    aligning: Aligning


def layout_shown(layout: Layout) -> LayoutShown:
    """A layout with all of its fields."""
    return LayoutShown(
        how=layout.how, columns=layout.columns, gap_mm=layout.gap_mm, turned=layout.turned, fill=layout.fill,
        length_mm=layout.length_mm, media=layout.media, marks=_marks(layout.marks), code=layout.code,
        mirror=layout.mirror, makes=layout.makes, inks=layout.inks, frame_mm=layout.frame_mm,
        placed=tuple(CopyShown(list(copy.matrix), copy.item, copy.sheet) for copy in layout.placed),
        rows_mm=layout.rows_mm,
        cut_order=layout.cut_order, cut_only=layout.cut_only, cut_copies=layout.cut_copies, aligning=layout.aligning,
    )


def _marks(plan: MarkPlan) -> MarksShown:
    return MarksShown(
        kind=plan.kind.id, count=plan.count, every_mm=plan.every_mm, distance_mm=plan.distance_mm, arm_mm=plan.arm_mm,
        weight_mm=plan.weight_mm,
        around=plan.around if isinstance(plan.around, MarksRound) else list(plan.around),
    )
