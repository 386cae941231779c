"""Nests the copies of one job: what the search needs of its artwork, and what becomes of its layout."""

import math
from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from typing import Any

import shapely

from horismos.errors import DoesNotFit, NothingToDo
from horismos.paths.matrix import Matrix
from horismos.sheet import MarksRound, Turn, piece_of
from horismos.sheet.assemble import inner_box, spacing
from horismos.sheet.layout import lay_out
from horismos.sheet.nest import nested, outline_of, print_of
from horismos.sheet.rows import Packed, Room
from horismos.workflow.case import Case

__all__ = ["Nested", "Nesting", "nest", "nesting_of"]


GAINED_MM = 0.5
"""[ours] less is no gain: rows are easier to weed and to count."""


@dataclass(frozen=True)
class Nesting:
    """All that nesting a job needs, without its artwork: the outline in mm, the room and where it begins, how many.

    ``rows_mm`` is how long a sheet is with rows and columns, None where they do not fit; ``beside_mm`` how much of a
    sheet's length is no cut.
    """

    outline: tuple[tuple[float, float], ...]
    room: Room
    origin: tuple[float, float]
    quantity: int
    turn: Turn
    placed_of: str
    rows_mm: float | None
    beside_mm: float

    def to_json(self) -> dict[str, Any]:
        """The same as plain values."""
        return {**asdict(self), "turn": self.turn.value}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Nesting":
        """From plain values, as ``to_json`` gives them."""
        outline, (x, y) = tuple((float(a), float(b)) for a, b in data["outline"]), data["origin"]
        return cls(**{
            **data, "outline": outline, "origin": (x, y), "room": Room(**data["room"]), "turn": Turn(data["turn"]),
        })


@dataclass(frozen=True)
class Nested:
    """The copies on the sheet, and how long it is."""

    placed: tuple[Matrix, ...]
    length_mm: float


def nesting_of(case: Case, turn: Turn) -> Nesting:
    """What nesting a case takes. Raises DoesNotFit where copies have marks of their own."""
    layout, cutter, quantity = case.layout, case.destination.cutter, case.order.quantity
    if layout.marks.around is MarksRound.EACH:
        raise DoesNotFit("Copies with marks of their own lie in rows.", "Set the marks round the art to nest them.")
    piece = piece_of(case.artwork, case.page, case.order, case.destination, case.terms.edge.bleed, case.facts.name)
    rows = replace(layout, columns=None, turned=None, placed=(), placed_of="")
    try:
        rows_mm = lay_out(piece, quantity, case.media, case.destination, rows).length_mm
    except DoesNotFit:
        rows_mm = None
    gap, shown = spacing(piece.bleed_mm, layout.gap_mm, quantity == 1, layout.marks, cutter)
    inner = inner_box(case.media, cutter, layout.marks, shown, layout.code)
    beyond = -inner_box(replace(case.media, length_mm=0.0), cutter, layout.marks, shown, layout.code)[3]
    length = None if case.media.length_mm is None else inner[3] - inner[1]
    outline = tuple((float(x), float(y)) for x, y in outline_of(piece).exterior.coords)
    return Nesting(
        outline, Room(inner[2] - inner[0], length, gap), (inner[0], inner[1]), quantity, turn, print_of(piece), rows_mm,
        inner[1] + beyond,
    )


def nest(
    wanted: Nesting, seconds: float, better: Callable[[float], None] = lambda length_mm: None,
    enough: Callable[[], bool] = lambda: False,
) -> Nested:
    """Nest for so many seconds, or until it is enough.

    ``better`` hears the length of each sheet that is shorter than those before, and than rows and columns. Raises
    NothingToDo where these are not bettered, DoesNotFit where not all copies go on one sheet.
    """
    best = [math.inf if wanted.rows_mm is None else wanted.rows_mm - GAINED_MM]

    def told(packed: Packed) -> None:
        if packed.length_mm + wanted.beside_mm < best[0]:
            best[0] = packed.length_mm + wanted.beside_mm
            better(best[0])

    endless = replace(wanted.room, length_mm=None)
    found = nested(
        [shapely.Polygon(wanted.outline)], [wanted.turn], [wanted.quantity], endless, seconds, told, enough
    )
    if wanted.rows_mm is not None and (found is None or found.length_mm + wanted.beside_mm > best[0]):
        raise NothingToDo(
            f"Nothing shorter than rows and columns was found; they take {wanted.rows_mm:.0f} mm, and stay.",
            "Allow other turns, or take longer.",
        )
    if found is None or (wanted.room.length_mm is not None and found.length_mm > wanted.room.length_mm):
        raise DoesNotFit(f"{wanted.quantity} copies do not nest on one sheet.", "Order fewer, or take longer.")
    x, y = wanted.origin
    placed = tuple((a, b, c, d, e + x, f + y) for _, (a, b, c, d, e, f) in found.copies)
    return Nested(placed, found.length_mm + wanted.beside_mm)
