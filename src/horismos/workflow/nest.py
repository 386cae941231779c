"""Nests the copies of one job: what the search needs of its artwork, and what becomes of its layout."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from typing import Any

import shapely

from horismos.errors import DoesNotFit
from horismos.paths.box import Bounds
from horismos.paths.matrix import Matrix
from horismos.sheet import MarksRound, Turn, piece_of
from horismos.sheet.assemble import inner_box
from horismos.sheet.layout import lay_out
from horismos.sheet.nest import nested, outline_of, print_of
from horismos.sheet.rows import Packed, Room, in_rows
from horismos.workflow.case import Case

__all__ = ["Nested", "Nesting", "nest", "nesting_of"]


GAINED_MM = 0.5
"""[ours] less is no gain: rows are easier to weed and to count."""


@dataclass(frozen=True)
class Nesting:
    """All that nesting a job needs, without its artwork: the outline in mm, the room and where it begins, how many.

    ``rows_mm`` is how long a sheet is with rows and columns, ``beside_mm`` how much of that is no copy.
    """

    outline: tuple[tuple[float, float], ...]
    box: Bounds
    room: Room
    origin: tuple[float, float]
    quantity: int
    turn: Turn
    placed_of: str
    rows_mm: float
    beside_mm: float

    def to_json(self) -> dict[str, Any]:
        """The same as plain values."""
        return {**asdict(self), "turn": self.turn.value}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Nesting":
        """From plain values, as ``to_json`` gives them."""
        x, y = data["origin"]
        outline = tuple((float(a), float(b)) for a, b in data["outline"])
        a, b, c, d = data["box"]
        return cls(
            outline, (a, b, c, d), Room(**data["room"]), (x, y), int(data["quantity"]), Turn(data["turn"]),
            str(data["placed_of"]), float(data["rows_mm"]), float(data["beside_mm"]),
        )


@dataclass(frozen=True)
class Nested:
    """The copies on the sheet, and how long it is; ``rows_mm`` is how long it is with rows and columns."""

    placed: tuple[Matrix, ...]
    placed_of: str
    length_mm: float
    rows_mm: float

    @property
    def is_better(self) -> bool:
        """Whether anything is gained by it."""
        return self.length_mm < self.rows_mm - GAINED_MM

    @property
    def words(self) -> str:
        """What came of it, as a sentence."""
        if not self.is_better:
            return f"nothing better than rows and columns was found, which take {self.rows_mm:.0f} mm"
        return f"{len(self.placed)} copies on {self.length_mm:.0f} mm; rows and columns take {self.rows_mm:.0f} mm"


def nesting_of(case: Case, turn: Turn) -> Nesting:
    """What nesting a case takes. Raises DoesNotFit where its piece fits nowhere."""
    piece = piece_of(case.artwork, case.page, case.order, case.destination, case.terms.edge.bleed, case.facts.name)
    layout, cutter = replace(case.layout, placed=(), placed_of=""), case.destination.cutter
    rows = lay_out(piece, case.order.quantity, case.media, case.destination, replace(layout, columns=None, turned=None))
    gap = layout.gap_mm if layout.gap_mm is not None else 2 * piece.bleed_mm
    bleed = min(piece.bleed_mm, gap / 2) if case.order.quantity > 1 else piece.bleed_mm
    each = layout.marks.around is MarksRound.EACH
    if each:
        raise DoesNotFit("Copies with marks of their own lie in rows.", "Set the marks round the art to nest them.")
    inner = inner_box(case.media, cutter, layout.marks, bleed, layout.code)
    length = None if case.media.length_mm is None else inner[3] - inner[1]
    outline = outline_of(piece)
    block = max(p.bounds[3] for p in rows.placements) - min(p.bounds[1] for p in rows.placements)
    return Nesting(
        tuple((float(x), float(y)) for x, y in outline.exterior.coords), piece.bounds,
        Room(inner[2] - inner[0], length, gap), (inner[0], inner[1]), case.order.quantity, turn, print_of(piece),
        rows.length_mm, rows.length_mm - block,
    )


def nest(
    wanted: Nesting, seconds: float, better: Callable[[float], None] = lambda length_mm: None,
    enough: Callable[[], bool] = lambda: False,
) -> Nested:
    """Nest for so many seconds, or until it is enough; rows and columns where nothing better is found.

    ``better`` hears the length of each layout that is better than those before. Raises DoesNotFit where not all
    copies go on one sheet.
    """
    outline, counts, endless = shapely.Polygon(wanted.outline), [wanted.quantity], replace(wanted.room, length_mm=None)
    rows = in_rows([wanted.box], [wanted.turn], counts, wanted.room)
    complete = not any(rows.left)
    best: list[float] = [rows.length_mm if complete else float("inf")]

    def told(packed: Packed) -> None:
        if packed.length_mm < best[0]:
            best[0] = packed.length_mm
            better(packed.length_mm + wanted.beside_mm)

    found = nested([outline], [wanted.turn], counts, endless, seconds, told, enough)
    chosen = rows if complete and (found is None or rows.length_mm <= found.length_mm) else found
    long = wanted.room.length_mm
    if chosen is None or (long is not None and chosen.length_mm > long):
        raise DoesNotFit(
            f"{wanted.quantity} copies do not nest on one sheet.", "Order fewer copies a sheet, or take longer.",
        )
    x, y = wanted.origin
    placed = tuple((a, b, c, d, e + x, f + y) for _, (a, b, c, d, e, f) in chosen.copies)
    return Nested(placed, wanted.placed_of, chosen.length_mm + wanted.beside_mm, wanted.rows_mm)
