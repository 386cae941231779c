"""Fills sheets with copies of several pieces: in rows or nested, as ordered or as many as fit."""

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import shapely

from horismos.destinations import Destination
from horismos.errors import DoesNotFit
from horismos.machines import Cutter
from horismos.materials import Material
from horismos.paths import Contour
from horismos.paths.box import grow
from horismos.sheet.assemble import dressed, sheet_of, spacing, unless_far
from horismos.sheet.layout import Fill, How, Layout, Makes
from horismos.sheet.marks import MarkPlan, MarksRound
from horismos.sheet.nest import Better, nested, outline_of, shown_round
from horismos.sheet.pieces import Piece
from horismos.sheet.room import bound_of, eaten, inner_box
from horismos.sheet.rows import Packed, UsableArea, columns_of, in_rows
from horismos.sheet.sheet import Grid, Placement, Sheet
from horismos.sheet.turning import Turn, Ways

__all__ = ["MOST_NESTED", "Filled", "Item", "fill_sheets", "spacing_of"]

MOST_NESTED = 2_000
"""[ours] copies on a sheet that are nested: beyond, the search does not get far."""
TRIES = 4
BEST_DENSITY = 0.92
"""[ours] no nesting of real outlines fills more: where trying begins."""


@dataclass(frozen=True, eq=False)
class Item:
    """A piece, how many of it, how it may be turned, and how far off its edge stands that a cut lands, in mm."""

    piece: Piece
    quantity: int
    turn: Turn = Turn.QUARTER
    tolerance_mm: float = 0.5


@dataclass(frozen=True, eq=False)
class Filled:
    """The sheets, and how many copies of each item are on none of them."""

    sheets: tuple[Sheet, ...]
    left: tuple[int, ...]


Enough = Callable[[], bool]


def fill_sheets(
    items: Sequence[Item], material: Material, destination: Destination, layout: Layout,
    better: Better = lambda packed: None, enough: Enough = lambda: False,
) -> Filled:
    """Pack items. Raises DoesNotFit for a piece that fits nowhere.

    ``better`` hears each layout that is better than those before; when it is ``enough``, the best so far stands.
    """

    def lay(marks: MarkPlan) -> Filled:
        return _Filler(items, material, destination, replace(layout, marks=marks), better, enough).fill()

    if layout.how is How.NEST or not layout.has_marks:  # it takes its time, and is not done twice
        return lay(layout.marks)
    return unless_far(layout.marks, lay, lambda filled: filled.sheets)


def spacing_of(items: Sequence[Item], layout: Layout, cutter: Cutter) -> tuple[float, float]:
    """What lies between the cuts of items, and the most that each shows of its bleed, in mm."""
    copies = len(layout.placed) or sum(item.quantity for item in items)
    alone = copies == 1 and (bool(layout.placed) or layout.fill is Fill.QUANTITY)
    return spacing(max(item.piece.bleed_mm for item in items), alone, layout, cutter)


def _counts(packed: Packed, count: int) -> list[int]:
    out = [0] * count
    for item, _ in packed.copies:
        out[item] += 1
    return out


class _Filler:
    """Packs one sheet after the other under one plan."""

    def __init__(
        self, items: Sequence[Item], material: Material, destination: Destination, layout: Layout, better: Better,
        enough: Enough,
    ) -> None:
        self.items, self.material, self.layout = items, material, layout
        self.cutter: Cutter = destination.room
        self.better, self.enough = better, enough
        self.ends = time.monotonic() + layout.seconds
        gap, self.bleed = spacing_of(items, layout, self.cutter)
        self.each = layout.has_marks and layout.marks.around is MarksRound.EACH
        self.bounded = replace(material, length_mm=bound_of(material, layout))
        self.inner = inner_box(self.bounded, self.cutter, layout, self.bleed)
        length = None if self.bounded.length_mm is None else self.inner[3] - self.inner[1]
        # what is only cut lies where the cutter begins, and not in the middle of a roll
        corner = layout.makes is Makes.CUT and not layout.has_marks
        share = (1.0 if self.cutter.dialect.right else 0.0) if corner else 0.5
        self.room = UsableArea(self.inner[2] - self.inner[0], length, gap, share)
        self.boxes = [item.piece.bounds for item in items]
        self.turns = [item.turn.along(material.grain) for item in items]
        self._outlines: list[shapely.Polygon] | None = None
        self._shortest = math.inf
        self._clips: dict[int, tuple[Contour, ...]] = {}

    def fill(self) -> Filled:
        """The sheets, one after the other, or the one that is filled."""
        self.refuse_what_fits_nowhere()
        left = [item.quantity for item in self.items]
        if self.layout.fill is not Fill.QUANTITY:
            packed = self.filled(left)
            on = _counts(packed, len(self.items))
            return Filled((self.sheet(packed, 1),), tuple(max(n - m, 0) for n, m in zip(left, on, strict=True)))
        sheets: list[Sheet] = []
        while any(left):
            packed = self.packed(left)
            sheets.append(self.sheet(packed, len(sheets) + 1))
            left = list(packed.left)
        return Filled(tuple(sheets), tuple(left))

    @property
    def outlines(self) -> list[shapely.Polygon]:
        """What is nested: the outlines; boxes where each copy has marks of its own, which lie square."""
        if self._outlines is None:
            self._outlines = [
                shapely.box(*item.piece.bounds) if self.each else outline_of(item.piece) for item in self.items
            ]
        return self._outlines

    def refuse_what_fits_nowhere(self) -> None:
        """Raise DoesNotFit for the first piece that fits at no turn."""
        for i, item in enumerate(self.items):
            one = [int(k == i) for k in range(len(self.items))]
            if self._rows(one).copies:
                continue
            if self.layout.columns and in_rows(self.boxes, self._ways(), one, self.room).copies:
                fitting = max(columns_of(self.boxes[i], way, self.room) for way in self._ways()[i][0])
                raise DoesNotFit(
                    f"{self.layout.columns} columns do not fit on {self.material.title}.",
                    f"Choose {fitting} or fewer.",
                )
            if self.layout.how is How.NEST and item.turn is Turn.FREE and self._nested(one, 1.0):
                continue
            x0, y0, x1, y1 = item.piece.bounds
            raise DoesNotFit(
                f"“{item.piece.job}”, {x1 - x0:.1f} × {y1 - y0:.1f} mm, fits nowhere on {self.material.title}. "
                f"{eaten(self.bounded, self.cutter, self.layout, self.bleed)}",
                "Choose a larger material, or allow turns.",
            )

    def packed(self, counts: Sequence[int]) -> Packed:
        """As many of these copies as go on the next sheet."""
        rows = self._rows(counts)
        if rows.copies:
            self._shortest = rows.length_mm
            self.better(rows)
        if self.layout.how is How.ROWS or self.layout.seconds <= 0:
            return rows
        if self.room.length_mm is None:
            found = self._nested(counts, self._time_left())
            return _better_of(rows, found)
        return self._most(list(counts), rows, lambda n: _first(counts, n))

    def filled(self, counts: Sequence[int]) -> Packed:
        """A sheet filled: the ordered copies first, then further ones of each in turn."""
        begun, step = sum(counts), len(counts)

        def more(n: int) -> list[int]:
            extra, rest = divmod(max(n - begun, 0), step)
            return [count + extra + (i < rest) for i, count in enumerate(_first(counts, n))]

        best = self._rows(counts)
        if not any(best.left):
            low_n, high_n = begun, begun + self._cannot_be_more()
            while low_n + 1 < high_n:
                n = (low_n + high_n) // 2
                tried = self._rows(more(n))
                if any(tried.left):
                    high_n = n
                else:
                    best, low_n = tried, n
        self.better(best)
        if self.layout.how is How.ROWS or self.layout.seconds <= 0:
            return best
        return self._most(more(max(begun, len(best.copies)) + self._cannot_be_more()), best, more)

    def _rows(self, counts: Sequence[int]) -> Packed:
        return in_rows(self.boxes, self._ways(), counts, self.room, self.layout.columns)

    def _ways(self) -> list[Ways]:
        """How each may be turned in rows: as it was said of all, else as each allows."""
        if self.layout.turned is not None:
            return [((90.0 if self.layout.turned else 0.0,),)] * len(self.items)
        return [turn.ways for turn in self.turns]

    def _cannot_be_more(self) -> int:
        area = min(item.piece.area_mm2 for item in self.items)
        return int(self.room.width_mm * (self.room.length_mm or 0.0) / max(area, 1.0)) + len(self.items) + 1

    def _most(self, wanted: Sequence[int], rows: Packed, first: Callable[[int], list[int]]) -> Packed:
        """The most copies, in their order, that nest in a bounded room; at least what rows hold."""
        room_mm2 = self.room.width_mm * (self.room.length_mm or 0.0)
        areas = [outline.buffer(self.room.gap_mm / 2).area for outline in self.outlines]
        best, least, most = rows, len(rows.copies), min(sum(wanted), MOST_NESTED)
        n = most
        while n > least and sum(a * c for a, c in zip(areas, first(n), strict=True)) > BEST_DENSITY * room_mm2:
            n = max(least, min(n - 1, int(n * 0.97)))
        for attempt in range(TRIES):
            if n <= least or self.enough():
                break
            seconds = self._time_left() / (TRIES - attempt) if attempt < TRIES - 1 else self._time_left()
            found = self._nested(first(n), seconds)
            if found and found.length_mm <= (self.room.length_mm or 0.0):
                left = tuple(max(a - b, 0) for a, b in zip(wanted, first(n), strict=True))
                best, least = Packed(found.copies, found.length_mm, left), n
                self.better(best)
                n = min(most, n + max(1, n // 30))
            else:
                over = found.length_mm / (self.room.length_mm or 1.0) if found else 1.05
                n = max(least, min(n - 1, int(n / over)))
        return best

    def _time_left(self) -> float:
        return max(self.ends - time.monotonic(), 1.0)

    def _nested(self, counts: Sequence[int], seconds: float) -> Packed | None:
        if sum(counts) > MOST_NESTED:
            return None
        turns = [Turn.QUARTER if self.each and turn is Turn.FREE else turn for turn in self.turns]
        endless = replace(self.room, length_mm=None)
        return nested(self.outlines, turns, counts, endless, seconds, self._told, self.enough)

    def _told(self, packed: Packed) -> None:
        if self.room.length_mm is None and packed.length_mm < self._shortest:
            self._shortest = packed.length_mm
            self.better(packed)

    def sheet(self, packed: Packed, number: int) -> Sheet:
        """The sheet of what was packed: the block in the middle of the media, with marks and code."""
        x0, y0, _, _ = self.inner
        copies = [
            Placement(item.piece, (a, b, c, d, e + x0, f + y0), grow(self.boxes[i], self._shown(i)), self._clip(i))
            for i, (a, b, c, d, e, f) in packed.copies for item in (self.items[i],)
        ]
        made = sheet_of(copies, self.material, self.cutter, self.layout, number, self._grid(packed))
        return dressed(made, self.layout, self.room.gap_mm)

    def _shown(self, item: int) -> float:
        own = self.items[item].piece.bleed_mm
        return min(own, self.bleed)

    def _clip(self, item: int) -> tuple[Contour, ...]:
        """What is shown of a nested copy: its outline and the bleed round it, so that none enters a neighbour."""
        if self.layout.how is How.ROWS or self.layout.makes is Makes.CUT:
            return ()
        if item not in self._clips:
            self._clips[item] = shown_round(self.items[item].piece, self._shown(item))
        return self._clips[item]

    def _grid(self, packed: Packed) -> Grid | None:
        if self.layout.how is not How.ROWS or len(self.items) > 1:
            return None
        rows = {round(matrix[5], 6) for _, matrix in packed.copies}
        turned = packed.copies[0][1][0] == 0.0
        columns = max(1, -(-len(packed.copies) // len(rows)))
        return Grid(columns, len(rows), self.room.gap_mm, turned)


def _better_of(rows: Packed, found: Packed | None) -> Packed:
    complete = not any(rows.left) and bool(rows.copies)
    if found is None or (complete and rows.length_mm <= found.length_mm):
        return rows
    return found


def _first(counts: Sequence[int], n: int) -> list[int]:
    """The first n of copies in their order, as counts."""
    out = []
    for count in counts:
        out.append(min(count, n))
        n -= out[-1]
    return out
