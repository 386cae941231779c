"""How copies are to lie on the media, as a job, a shared sheet or a command keeps it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import (
    Field,
    Reader,
    choice,
    fixed_schema,
    number,
    object_schema,
    read_fields,
    record,
    text,
    yes,
)
from horismos.media import READ as MEDIA
from horismos.media import Media
from horismos.paths.matrix import Matrix
from horismos.roles import LineRole
from horismos.sheet.inks import BEHIND, FRONT, InkLayer, ink_order
from horismos.sheet.marks import READ as MARKS
from horismos.sheet.marks import MarkPlan

__all__ = ["FIELDS", "MOST_COPIES", "READ_ALIGNING", "Aligning", "Fill", "How", "Layout", "Makes", "Placed"]

MOST_COPIES = 20_000
MOST_SHEETS = 2_000
MOST_ITEMS = 500
MOST_GAP_MM = 1000.0
MOST_PRINT = 64


class How(StrEnum):
    """How copies are packed: in rows and columns, or nested by their outline."""

    ROWS = "rows"
    NEST = "nest"


class Fill(StrEnum):
    """How many: as ordered on as many sheets as it takes, or one sheet filled: a length of the roll, or all of it."""

    QUANTITY = "quantity"
    LENGTH = "length"
    SHEET = "sheet"


class Makes(StrEnum):
    """What the sheet goes through: printer and cutter, or one of them alone."""

    BOTH = "both"
    CUT = "cut"
    PRINT = "print"

    @property
    def prints(self) -> bool:
        """Whether it is printed."""
        return self is not Makes.CUT

    @property
    def cuts(self) -> bool:
        """Whether it is cut."""
        return self is not Makes.PRINT


@dataclass(frozen=True)
class Placed:
    """One copy that was placed: by which matrix, of which item (from 0), on which sheet (from 1)."""

    matrix: Matrix
    item: int = 0
    sheet: int = 1


@dataclass(frozen=True)
class Aligning:
    """How the figure is cut by which a turned sheet is aligned; None: as the through cut has it.

    It has to show on the back, so that it goes over its corners several times.
    """

    number: int | None = None
    force_gf: float | None = None
    speed_mm_s: float | None = None
    passes: int = 3  # [practice] two or three passes show behind


ALIGNING: Mapping[str, Field] = MappingProxyType({
    "number": Field(number(1, 8, whole=True), "the holder or slot"),
    "force_gf": Field(number(0.1, 1000), "the force", "gf"),
    "speed_mm_s": Field(number(0.1, 2000), "the speed", "mm/s"),
    "passes": Field(number(1, 10, whole=True), "how often it goes over its corners"),
})
"""What may be said of the aligning figure's cut; what is left out is as the through cut has it."""


@dataclass(frozen=True, kw_only=True)
class Layout:
    """How the copies are to lie; lengths in mm.

    ``columns`` None: as many as fit; ``turned`` None: whichever way wastes less. ``gap_mm`` lies between cut outlines,
    None: twice the bleed, so that every copy keeps its own, and at least 2 mm; with 0 copies share their edges.
    ``length_mm`` bounds each sheet; ``media`` is what is loaded, None: the material at its usual size. ``seconds`` is
    how long nesting may take. ``code``: one is printed beside the marks; ``mirror``: all is printed the other way
    round, None: as the orders say; ``inks`` are laid down in this order, None: as it is usual. ``frame_mm`` is how far
    round everything a weeding frame is cut where nothing is printed.

    ``placed`` are copies one by one, by nesting or by hand, in place of rows and columns; ``placed_of`` tells which
    outlines they were placed by, ``rows_mm`` how much rows and columns would take. ``cut_order`` names the roles that
    are cut first, one behind the other, the others as usual; ``cut_only`` those that are cut at all, ``cut_copies`` the
    copies that are, counted from 1; ``aligning`` says how a turned sheet's figure is. Raises BadValue for what cannot
    be laid out.
    """

    how: How = How.ROWS
    columns: int | None = None
    gap_mm: float | None = None
    turned: bool | None = None
    fill: Fill = Fill.QUANTITY
    length_mm: float | None = None
    media: Media | None = None
    seconds: float = 10.0
    marks: MarkPlan = field(default_factory=MarkPlan)
    code: bool = True
    mirror: bool | None = None
    makes: Makes = Makes.BOTH
    inks: tuple[InkLayer, ...] | None = None
    frame_mm: float | None = None
    placed: tuple[Placed, ...] = ()
    placed_of: str = ""
    rows_mm: float | None = None
    cut_order: tuple[LineRole, ...] = ()
    cut_only: tuple[LineRole, ...] | None = None
    cut_copies: tuple[int, ...] | None = None
    aligning: Aligning = field(default_factory=Aligning)

    def __post_init__(self) -> None:
        """Refuse what no sheet can have."""
        if self.columns is not None and not 1 <= self.columns <= MOST_COPIES:
            raise BadValue(f"Layout: {self.columns} columns.", "Give 1 or more, or leave it out.")
        if self.gap_mm is not None and not 0 <= self.gap_mm <= MOST_GAP_MM:
            raise BadValue(f"Layout: a gap of {self.gap_mm} mm.", f"Give 0 to {MOST_GAP_MM:.0f} mm, or leave it out.")
        if self.fill is Fill.LENGTH and self.length_mm is None:
            raise BadValue("Layout: a length is to be filled, and none is given.", 'Say "length_mm".')

    @property
    def bound_mm(self) -> float | None:
        """How long a sheet may be, as the plan or what is loaded bounds it."""
        known = [v for v in (self.length_mm, self.media.bound_mm if self.media else None) if v is not None]
        return min(known, default=None)

    @property
    def has_marks(self) -> bool:
        """Whether there are marks and a code: only where what is printed is cut too."""
        return self.makes is Makes.BOTH

    @property
    def ink_order(self) -> tuple[InkLayer, ...]:
        """The order of inks: what was said, or what is usual for the side that is looked at."""
        return self.inks or (BEHIND if self.mirror else FRONT)

    @classmethod
    def from_json(cls, data: object) -> "Layout":
        """Read a layout as it is kept; unknown keys and figures out of range are refused. Raises BadValue."""
        return cls(**read_fields("Layout", data, FIELDS))


def _roles(name: str, value: object) -> tuple[LineRole, ...]:
    known = f"Known: {', '.join(LineRole)}."
    if not isinstance(value, list | tuple):
        raise BadValue(f"{name} must be a list of roles.", known)
    for one in value:
        if not isinstance(one, str) or one not in set(LineRole):
            raise BadValue(f"{name}: there is no role “{one}”.", known)
    if len(set(value)) != len(value):
        raise BadValue(f"{name} names a role twice.")
    return tuple(LineRole(one) for one in value)


def _copies(name: str, value: object) -> tuple[int, ...]:
    if not isinstance(value, list | tuple):
        raise BadValue(f"{name} must be a list of copies by their numbers from 1.")
    return tuple(sorted({_COPY_NUMBER(name, one) for one in value}))


_COPY_NUMBER = number(1, MOST_COPIES * MOST_SHEETS, whole=True)


def _placed(name: str, value: object) -> tuple[Placed, ...]:
    rows: list[Any] = list(value) if isinstance(value, list | tuple) else [None]
    if len(rows) > MOST_COPIES:
        raise BadValue(f"{name}: {len(rows)} copies are too many.", f"Place at most {MOST_COPIES}.")
    return tuple(_copy(name, row) for row in rows)


def _copy(name: str, value: object) -> Placed:
    """A copy with its item and sheet; or, as it was kept before, its matrix alone."""
    if isinstance(value, list | tuple):
        return Placed(_matrix(name, value))
    return Placed(**read_fields(f"{name}: a copy", value, COPY, ("matrix",)))


def _matrix(name: str, value: object) -> Matrix:
    if not isinstance(value, list | tuple) or len(value) != 6:
        raise BadValue(f"{name} must be a list of matrices [a, b, c, d, e, f].")
    read = number(-1e6, 1e6)
    a, b, c, d, e, f = (read(name, v) for v in value)
    if abs(a * d - b * c - 1) > 1e-6 or abs(a - d) > 1e-6 or abs(b + c) > 1e-6:
        raise BadValue(f"{name}: a copy can be moved and turned, and nothing else.", "Pieces keep their size.")
    return a, b, c, d, e, f


_MATRIX = fixed_schema({"type": "number", "minimum": -1e6, "maximum": 1e6}, 6)
COPY: Mapping[str, Field] = MappingProxyType({
    "matrix": Field(Reader(_matrix, _MATRIX), "from its mm to the sheet's, moved and turned alone: [a, b, c, d, e, f]"),
    "item": Field(number(0, MOST_ITEMS, whole=True), "which item, from 0"),
    "sheet": Field(number(1, MOST_SHEETS, whole=True), "on which sheet, from 1"),
})
"""What is said of a copy that was placed."""
_COPIES = {
    "type": "array", "maxItems": MOST_COPIES,
    "items": {"anyOf": [object_schema(COPY, Placed((1.0, 0.0, 0.0, 1.0, 0.0, 0.0)), ("matrix",)), _MATRIX]},
}
_CUTS = Reader(_roles, {"type": "array", "items": choice(LineRole).schema, "uniqueItems": True})
READ_ALIGNING = record(ALIGNING, Aligning())
FIELDS: Mapping[str, Field] = MappingProxyType({
    "how": Field(choice(How), "in rows and columns, or nested by their outline"),
    "fill": Field(choice(Fill), "as ordered, or one sheet filled: a length of the roll, or all of it"),
    "makes": Field(choice(Makes), "printed and cut, or one of them alone"),
    "media": Field(MEDIA, "what is loaded; left out: the material at its usual size"),
    "inks": Field(ink_order, "the order in which inks are laid down, the first next to the media"),
    "placed": Field(Reader(_placed, _COPIES), "copies one by one, in place of rows and columns"),
    "placed_of": Field(text(MOST_PRINT), "by which outlines they were placed"),
    "rows_mm": Field(number(0, 1e7), "how much rows and columns would take", "mm"),
    "columns": Field(number(1, MOST_COPIES, whole=True), "how many columns; left out: as many as fit"),
    "gap_mm": Field(number(0, MOST_GAP_MM), "between cut outlines; left out: twice the bleed, at least 2 mm", "mm"),
    "turned": Field(yes, "whether copies lie on their side; left out: whichever way wastes less"),
    "length_mm": Field(number(10, 1_000_000), "how long a sheet may be", "mm"),
    "seconds": Field(number(0, 3600), "how long nesting may take", "s"),
    "frame_mm": Field(number(0, 500), "how far round everything a weeding frame is cut", "mm"),
    "cut_order": Field(_CUTS, "the roles that are cut first, one behind the other"),
    "cut_only": Field(_CUTS, "the roles that are cut at all; left out: all"),
    "cut_copies": Field(
        Reader(_copies, {"type": "array", "items": _COPY_NUMBER.schema}),
        "the copies that are cut, counted from 1; left out: all",
    ),
    "aligning": Field(READ_ALIGNING, "how the figure is cut by which a turned sheet is aligned"),
    "marks": Field(MARKS, "which registration marks"),
    "code": Field(yes, "whether a code is printed beside the marks"),
    "mirror": Field(yes, "whether all is printed the other way round; left out: as the orders say"),
})
"""What may be said of how copies lie: the one table that a job, a shared sheet, the API and a plan are read by."""
