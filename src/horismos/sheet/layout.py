"""How copies are to lie on the media, as a job, a shared sheet or a command keeps it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import Read, choice, number, object_of, text, yes
from horismos.media import Media
from horismos.paths.matrix import Matrix
from horismos.roles import LineRole
from horismos.sheet.inks import BEHIND, FRONT, InkLayer, ink_order
from horismos.sheet.marks import MarkPlan

__all__ = ["MOST_COPIES", "Fill", "How", "Layout", "Makes", "Placed"]

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

    @classmethod
    def from_json(cls, name: str, data: object) -> "Aligning":
        """Read it; unknown keys and figures out of range are refused. Raises BadValue."""
        given = object_of(data, name, ALIGNING)
        return cls(**{key: ALIGNING[key](f"{name}: {key}", value) for key, value in given.items() if value is not None})


ALIGNING: Mapping[str, Read] = {
    "number": number(1, 8, whole=True), "force_gf": number(0.1, 1000), "speed_mm_s": number(0.1, 2000),
    "passes": number(1, 10, whole=True),
}


@dataclass(frozen=True)
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
        given = object_of(data, "Layout", READERS)
        return cls(**{key: READERS[key](f"Layout: {key}", value) for key, value in given.items() if value is not None})


def roles_read(name: str, value: object) -> tuple[LineRole, ...]:
    """Roles, none twice. Raises BadValue."""
    known = f"Known: {', '.join(LineRole)}."
    if not isinstance(value, list | tuple):
        raise BadValue(f"{name} must be a list of roles.", known)
    for one in value:
        if one not in set(LineRole):
            raise BadValue(f"{name}: there is no role “{one}”.", known)
    if len(set(value)) != len(value):
        raise BadValue(f"{name} names a role twice.")
    return tuple(LineRole(one) for one in value)


def copies_read(name: str, value: object) -> tuple[int, ...]:
    """Copies by their numbers from 1. Raises BadValue."""
    if not isinstance(value, list | tuple) or any(type(one) is not int or one < 1 for one in value):
        raise BadValue(f"{name} must be a list of copies by their numbers from 1.")
    return tuple(sorted(set(value)))


def _placed(name: str, value: object) -> tuple[Placed, ...]:
    rows: list[Any] = list(value) if isinstance(value, list | tuple) else [None]
    if len(rows) > MOST_COPIES:
        raise BadValue(f"{name}: {len(rows)} copies are too many.", f"Place at most {MOST_COPIES}.")
    return tuple(_copy(name, row) for row in rows)


def _copy(name: str, value: object) -> Placed:
    """A copy with its item and sheet; or, as it was kept before, its matrix alone."""
    if isinstance(value, list | tuple):
        return Placed(_matrix(name, value))
    given = object_of(value, f"{name}: a copy", ("matrix", "item", "sheet"))
    count: Mapping[str, Read] = {
        "item": number(0, MOST_ITEMS, whole=True), "sheet": number(1, MOST_SHEETS, whole=True),
    }
    said = {key: read(f"{name}: {key}", given[key]) for key, read in count.items() if key in given}
    return Placed(_matrix(name, given.get("matrix")), **said)


def _matrix(name: str, value: object) -> Matrix:
    if not isinstance(value, list | tuple) or len(value) != 6:
        raise BadValue(f"{name} must be a list of matrices [a, b, c, d, e, f].")
    read = number(-1e6, 1e6)
    a, b, c, d, e, f = (read(name, v) for v in value)
    if abs(a * d - b * c - 1) > 1e-6 or abs(a - d) > 1e-6 or abs(b + c) > 1e-6:
        raise BadValue(f"{name}: a copy can be moved and turned, and nothing else.", "Pieces keep their size.")
    return a, b, c, d, e, f


READERS: Mapping[str, Read] = {
    "how": choice(How), "fill": choice(Fill), "makes": choice(Makes), "media": Media.from_json, "inks": ink_order,
    "placed": _placed, "placed_of": text(MOST_PRINT), "rows_mm": number(0, 1e7),
    "columns": number(1, MOST_COPIES, whole=True), "gap_mm": number(0, MOST_GAP_MM), "turned": yes,
    "length_mm": number(10, 1_000_000), "seconds": number(0, 3600), "frame_mm": number(0, 500),
    "cut_order": roles_read, "cut_only": roles_read, "cut_copies": copies_read,
    "aligning": Aligning.from_json,
    "marks": MarkPlan.from_json, "code": yes, "mirror": yes,
}
