"""Nests the copies of one or more jobs: what the search needs of their artwork, and what becomes of its layout."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import shapely

from horismos.destinations import Destination
from horismos.errors import DoesNotFit, NothingToDo
from horismos.materials import Material
from horismos.sheet import Layout, MarksRound, Placed, Turn, lay_out
from horismos.sheet.filling import spacing_of
from horismos.sheet.nest import nested, outline_of
from horismos.sheet.placing import media_for, print_of_all, room_of
from horismos.sheet.room import inner_box
from horismos.sheet.rows import Packed, UsableArea
from horismos.workflow.case import Case
from horismos.workflow.plan import SheetJob, item_of_case, seen_from

__all__ = ["Nested", "Nesting", "nest", "nesting_of", "nesting_together"]


GAINED_MM = 0.5
"""[ours] less is no gain: rows are easier to weed and to count."""
Outline = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Nesting:
    """All that nesting takes, without artwork: the outlines in mm, the room and where it begins, how many of each.

    ``rows_mm`` is how long a sheet is with rows and columns, None where they do not fit; ``beside_mm`` how much of a
    sheet's length is no cut.
    """

    outlines: tuple[Outline, ...]
    counts: tuple[int, ...]
    turns: tuple[Turn, ...]
    room: UsableArea
    origin: tuple[float, float]
    placed_of: str
    rows_mm: float | None
    beside_mm: float

    def to_json(self) -> dict[str, Any]:
        """The same as plain values."""
        return {**vars(self), "room": vars(self.room), "turns": [turn.value for turn in self.turns]}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Nesting":
        """From plain values, as ``to_json`` gives them."""
        x, y = data["origin"]
        return cls(**{
            **data, "outlines": tuple(tuple((float(a), float(b)) for a, b in one) for one in data["outlines"]),
            "counts": tuple(data["counts"]), "turns": tuple(map(Turn, data["turns"])), "origin": (x, y),
            "room": UsableArea(**data["room"]),
        })


@dataclass(frozen=True)
class Nested:
    """The copies on the sheet, and how long it is."""

    placed: tuple[Placed, ...]
    length_mm: float


def nesting_of(case: Case, turn: Turn) -> Nesting:
    """What nesting a case takes. Raises DoesNotFit where copies have marks of their own."""
    return nesting_together([SheetJob(case, case.order.quantity, turn)], case.media, case.destination, case.layout)


def nesting_together(
    shares: Sequence[SheetJob], material: Material, destination: Destination, layout: Layout
) -> Nesting:
    """What nesting the copies of several jobs takes. Raises DoesNotFit where copies have marks of their own."""
    if layout.has_marks and layout.marks.around is MarksRound.EACH:
        raise DoesNotFit("Copies with marks of their own lie in rows.", "Set the marks round the art to nest them.")
    items = [item_of_case(share, destination) for share in shares]
    layout = seen_from([share.case for share in shares], layout)
    rows = replace(layout, columns=None, turned=None, placed=(), placed_of="")
    try:
        in_rows = lay_out(items, material, destination, rows).sheets
        rows_mm = in_rows[0].length_mm if len(in_rows) == 1 else None
    except DoesNotFit:
        rows_mm = None
    gap, shown = spacing_of(items, rows, destination.room)
    x0, y0, x1, y1 = room_of(items, material, destination, rows)
    nothing = replace(media_for(material, layout), length_mm=0.0)
    beyond = -inner_box(nothing, destination.room, layout, shown)[3]
    return Nesting(
        tuple(tuple((float(x), float(y)) for x, y in outline_of(item.piece).exterior.coords) for item in items),
        tuple(item.quantity for item in items), tuple(item.turn.along(material.grain) for item in items),
        UsableArea(x1 - x0, y1 - y0 if math.isfinite(y1) else None, gap), (x0, y0), print_of_all(items), rows_mm,
        y0 + beyond,
    )


def nest(
    wanted: Nesting, seconds: float, better: Callable[[Nested], None] = lambda nested: None,
    enough: Callable[[], bool] = lambda: False,
) -> Nested:
    """Nest for so many seconds, or until it is enough.

    ``better`` hears each layout that is shorter than those before, and than rows and columns. Raises
    NothingToDo where these are not bettered, DoesNotFit where not all copies go on one sheet.
    """
    best = [math.inf if wanted.rows_mm is None else wanted.rows_mm - GAINED_MM]

    def told(packed: Packed) -> None:
        found = _placed(wanted, packed)
        if found.length_mm < best[0]:
            best[0] = found.length_mm
            better(found)

    endless = replace(wanted.room, length_mm=None)
    outlines = [shapely.Polygon(outline) for outline in wanted.outlines]
    found = nested(outlines, wanted.turns, wanted.counts, endless, seconds, told, enough)
    if wanted.rows_mm is not None and (found is None or found.length_mm + wanted.beside_mm > best[0]):
        raise NothingToDo(
            f"Nothing shorter than rows and columns was found; they take {wanted.rows_mm:.0f} mm, and stay.",
            "Allow other turns, or take longer.",
        )
    if found is None or (wanted.room.length_mm is not None and found.length_mm > wanted.room.length_mm):
        raise DoesNotFit(f"{sum(wanted.counts)} copies do not nest on one sheet.", "Order fewer, or take longer.")
    return _placed(wanted, found)


def _placed(wanted: Nesting, packed: Packed) -> Nested:
    x, y = wanted.origin
    copies = tuple(Placed((a, b, c, d, e + x, f + y), item) for item, (a, b, c, d, e, f) in packed.copies)
    return Nested(copies, packed.length_mm + wanted.beside_mm)
