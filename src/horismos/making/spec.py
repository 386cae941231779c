"""What is to be made: source, steps and numbers. They stay with the lines, so that these can be made anew."""

from collections.abc import Mapping
from dataclasses import dataclass, fields
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
    object_of,
    object_schema,
    one_of,
    place,
    places,
    read_fields,
    schema_of,
    yes,
)
from horismos.making.edit_values import READ as READ_EDIT
from horismos.roles import LineRole

__all__ = [
    "FIELDS", "LINE_FIELDS", "Around", "Join", "LineWanted", "Make", "Shape", "Source", "Tie", "Where", "base_of_line",
    "make_schema",
]

Point = tuple[float, float]
LEAST_FIT_MM, DEFAULT_FIT_MM = 0.005, 0.02
MOST_LINES = 40
MOST_DRAWN = 2_000_000


class Source(StrEnum):
    """What the outline is taken from."""

    AUTO = "auto"
    ALPHA = "alpha"
    GROUND = "ground"
    VECTOR = "vector"
    RENDER = "render"
    SHAPE = "shape"
    LINE = "line"
    """A line that the file has already."""


class Shape(StrEnum):
    """A plain shape that is fitted round the art instead of its outline."""

    RECTANGLE = "rectangle"
    ROUNDED = "rounded"
    CIRCLE = "circle"
    ELLIPSE = "ellipse"
    HULL = "hull"


class Around(StrEnum):
    """What a shape goes round."""

    PIECE = "piece"
    ALL = "all"


class Where(StrEnum):
    """Which places in the ground's colour are ground: those joined to the edge of the page, or all."""

    EDGE = "edge"
    ANYWHERE = "anywhere"


class Join(StrEnum):
    """How an offset goes round a corner."""

    ROUND = "round"
    MITRE = "mitre"
    BEVEL = "bevel"


class Tie(StrEnum):
    """What the blade does in the ties of a perforation: nothing, or a little force so that they are scored."""

    WHOLE = "whole"
    SCORED = "scored"


@dataclass(frozen=True, kw_only=True)
class LineWanted:
    """One line to be made. Lengths in mm; ``offset_mm`` is from the outline of the art, inwards where negative.

    A perforation has ``cut_mm``, ``tie_mm`` and ``least_ties`` a piece. With ``slit_deg`` it is a straight slit across
    each piece at that angle to the page's x axis, ``run_out_mm`` beyond the outline on both sides. With ``frame_mm``
    it is a rectangle at that distance round all other lines, to be weeded as one; with ``weed_mm`` straight cuts
    through the waste between frame and pieces, so that no strip is wider. ``tab_mm`` adds a lift tab of that width,
    towards ``tab_deg`` from the middle of the piece. ``holes`` says whether inner contours are cut too; None: by the
    first line that bounds a piece, and not by the others. ``drawn`` is a line by hand, as SVG path data in mm,
    instead of the outline; its offset goes outwards where it is closed, else to its right. ``along`` names the role of
    another line of the same make that this one runs along, wherever that one goes: its offset is from that line, and
    with none it is the same line with a second job. ``edits`` are what a hand changed afterwards.
    """

    role: LineRole
    offset_mm: float = 0.0
    join: Join = Join.ROUND
    corner_mm: float = 0.0
    fit_mm: float = 0.02
    cut_mm: float | None = None
    tie_mm: float | None = None
    least_ties: int = 0
    tie: Tie = Tie.WHOLE
    slit_deg: float | None = None
    run_out_mm: float = 0.0
    frame_mm: float | None = None
    weed_mm: float | None = None
    tab_mm: float | None = None
    tab_deg: float = 270.0
    holes: bool | None = None
    drawn: str = ""
    along: LineRole | None = None
    edits: tuple[Mapping[str, Any], ...] = ()

    @property
    def follows(self) -> bool:
        """Whether the line follows the outline, and is not a straight one or one by hand."""
        straight = self.slit_deg is not None or self.goes_round_all
        return not (straight or self.drawn or self.along)

    @property
    def words(self) -> str:
        """The line as a sentence has it."""
        by = self.offset_mm
        where = f" {abs(by):g} mm {'outside' if by > 0 else 'inside'}" if by else ""
        if self.slit_deg is not None:
            where = f" as a slit at {self.slit_deg:g}°"
        elif self.goes_round_all:
            where = " round the waste" if self.frame_mm is not None else " through the waste"
        elif self.drawn:
            where = f" as drawn{',' + where if where else ''}"
        elif self.along:
            where = f"{where} of the {self.along.words}" if by else f" on the {self.along.words}"
        return f"the {self.role.words}{where}"

    @property
    def goes_round_all(self) -> bool:
        """Whether the line is made for the waste round all others."""
        return self.frame_mm is not None or self.weed_mm is not None

    @property
    def perforated(self) -> bool:
        """Whether cuts and ties alternate."""
        return self.role is LineRole.PERFORATION or self.cut_mm is not None


@dataclass(frozen=True, kw_only=True)
class Make:
    """What lines are made of, and which. See ``from_json`` for the keys.

    ``tolerance`` is the greatest difference of a channel, 0 to 255, that is still ground, None: where the art's edge is
    sharpest; ``threshold`` the share of a pixel, 0 to 1, from which on it is art, None: half of it, and soft parts
    beside that which are seen, such as shadows. ``ground_at`` is a place that is ground. ``inner`` is ``keep``,
    ``drop``, or an area in mm² below which inner contours are dropped; ``keep_at`` and ``drop_at`` are inner contours
    that a person chose otherwise, by a place in them, and ``cut_out_at`` places in areas of the art that become holes.
    ``objects_at`` are places on the only objects that count; none: all do. ``line`` is the role of the file's line that
    the source ``line`` means. Lines that the file has of the roles that are made stay where they are, unless it
    ``replaces`` them.
    """

    lines: tuple[LineWanted, ...]
    source: Source = Source.AUTO
    ground: tuple[int, int, int] | None = None
    ground_at: Point | None = None
    tolerance: float | None = None
    threshold: float | None = None
    joined: Where = Where.EDGE
    shape: Shape | None = None
    around: Around = Around.PIECE
    specks_mm2: float = 1.0
    inner: float | None = 0.0
    keep_at: tuple[Point, ...] = ()
    drop_at: tuple[Point, ...] = ()
    cut_out_at: tuple[Point, ...] = ()
    objects_at: tuple[Point, ...] = ()
    bridge_mm: float = 0.0
    line: LineRole | None = None
    replaces: bool = False

    @property
    def finding(self) -> tuple[object, ...]:
        """All that decides which outline is found: the same figures give the same outline."""
        return (
            self.source, self.ground, self.ground_at, self.tolerance, self.threshold, self.joined, self.specks_mm2,
            self.objects_at, self.fit_mm, self.line,
        )

    @property
    def shaping(self) -> tuple[object, ...]:
        """All that decides what becomes of the outline: its inner contours, areas cut out, and islands."""
        return self.finding, self.inner, self.keep_at, self.drop_at, self.cut_out_at, self.bridge_mm

    @property
    def fit_mm(self) -> float:
        """How near the outline is fitted: what is moved from it is fitted once more."""
        following = [line for line in self.lines if line.follows]
        fits = [line.fit_mm if not line.offset_mm else line.fit_mm / 2 for line in following]
        return max(min(fits, default=DEFAULT_FIT_MM), LEAST_FIT_MM)

    @property
    def needs_outline(self) -> bool:
        """Whether any line is made from the art: those drawn by hand, and what goes round or along these, are not."""
        by_hand = any(line.drawn for line in self.lines)
        return not by_hand or any(line.follows or line.slit_deg is not None for line in self.lines)

    @property
    def in_order(self) -> tuple[int, ...]:
        """The numbers of the lines as they are made: each after the one that it runs along, what goes round all last.
        """
        return tuple(sorted(_ordered(self.lines), key=lambda i: self.lines[i].goes_round_all))

    @property
    def words(self) -> str:
        """What is made, as a sentence has it: “the kiss cut 2 mm outside, the perforation 4 mm outside”."""
        return ", ".join(line.words for line in self.lines)

    @classmethod
    def from_json(cls, data: object) -> "Make":
        """Read what is to be made. An unknown key is refused, as is a figure out of range. Raises BadValue."""
        values = read_fields("Make", data, FIELDS)
        if not values.get("lines"):
            raise BadValue("Make: no line is asked for.", 'Write "lines": [{"role": "kiss-cut"}].')
        made = cls(**values)
        if made.source is Source.SHAPE and made.shape is None:
            raise BadValue("Make: which shape is not said.", f"Say shape as one of {', '.join(Shape)}.")
        if made.source is Source.LINE and made.line is None:
            raise BadValue("Make: which line is not said.", f"Say line as one of {', '.join(LineRole)}.")
        _ordered(made.lines)
        return made

    def to_json(self) -> dict[str, Any]:
        """The same as plain values, without what stays as it is by default."""
        out: dict[str, Any] = {}
        for f in fields(self):
            value = getattr(self, f.name)
            if f.name == "lines":
                out["lines"] = [_plain_line(line) for line in value]
            elif f.name == "inner":
                out["inner"] = "drop" if value is None else {"drop_below_mm2": value} if value else "keep"
            elif value != f.default:
                out[f.name] = _plain(value)
        return out


def _plain(value: Any) -> Any:
    if isinstance(value, tuple):
        return [_plain(v) for v in value]
    return value.value if isinstance(value, StrEnum) else value


def _plain_line(line: LineWanted) -> dict[str, Any]:
    kept = {f.name: getattr(line, f.name) for f in fields(line)}
    plain = {f.name: _plain(kept[f.name]) for f in fields(line) if f.name == "role" or kept[f.name] != f.default}
    return {key: [dict(v) for v in value] if key == "edits" else value for key, value in plain.items()}


def _ordered(lines: tuple[LineWanted, ...]) -> tuple[int, ...]:
    """The numbers of lines, each after the one that it runs along. Raises BadValue where there is none such."""
    done: dict[int, None] = {}
    while len(done) < len(lines):
        ready = [
            i for i, line in enumerate(lines)
            if i not in done and (line.along is None or base_of_line(lines, i) in done)
        ]
        if not ready:
            left = next(line for i, line in enumerate(lines) if i not in done)
            raise BadValue(f"Make: the {left.role.words} runs along itself.", "Let it run along another line.")
        done.update(dict.fromkeys(ready))
    return tuple(done)


def base_of_line(lines: tuple[LineWanted, ...], number: int) -> int:
    """The number of the line that another one runs along. Raises BadValue where there is none of its role."""
    along = lines[number].along
    for i, line in enumerate(lines):
        if i != number and line.role is along and not line.goes_round_all:
            return i
    raise BadValue(
        f"Make: the {lines[number].role.words} runs along “{along}”, and no such line is made.",
        "Name the role of another line in the list.",
    )


# -- reading ----------------------------------------------------------------------------------------------------------

def _colour(name: str, value: object) -> tuple[int, ...]:
    channel = number(0, 255)
    if not isinstance(value, list | tuple) or len(value) != 3:
        raise BadValue(f"{name} must be three values from 0 to 255.")
    return tuple(round(channel(name, v)) for v in value)


def _inner(name: str, value: object) -> float | None:
    if value == "keep":
        return 0.0
    if value == "drop":
        return None
    below = object_of(value, name, {"drop_below_mm2"}).get("drop_below_mm2") if isinstance(value, Mapping) else None
    if below is None:
        raise BadValue(f"{name} is “{value}”.", 'Give "keep", "drop" or {"drop_below_mm2": …}.')
    return float(number(0, 1e8)(name, below))


def _text(name: str, value: object) -> str:
    if not isinstance(value, str) or len(value) > MOST_DRAWN:
        raise BadValue(f"{name} must be a text.")
    return value


def _edits(name: str, value: object) -> tuple[Mapping[str, Any], ...]:
    if not isinstance(value, list | tuple):
        raise BadValue(f"{name} must be a list.")
    return tuple(READ_EDIT(name, edit) for edit in value)


def _line(name: str, value: object) -> LineWanted:
    line = LineWanted(**read_fields(name, value, LINE_FIELDS, ("role",)))
    told = [n for n in ("slit_deg", "frame_mm", "weed_mm", "drawn", "along") if getattr(line, n) not in (None, "")]
    if len(told) > 1:
        raise BadValue(f"{name}: {told[0]} and {told[1]} cannot both hold.", "Make two lines of it.")
    return line


def _lines(name: str, value: object) -> tuple[LineWanted, ...]:
    if not isinstance(value, list | tuple) or len(value) > MOST_LINES:
        raise BadValue(f"{name} must be a list of at most {MOST_LINES} lines.")
    return tuple(_line(f"{name} {i + 1}", one) for i, one in enumerate(value))


def _list(schema: Mapping[str, Any], **more: Any) -> dict[str, Any]:
    return {"type": "array", "items": dict(schema), **more}


_DEGREES = number(-360, 360)
LINE_FIELDS: Mapping[str, Field] = MappingProxyType({
    "role": Field(choice(LineRole), "what the line does"),
    "offset_mm": Field(number(-1000, 1000), "from the outline of the art, inwards where negative", "mm"),
    "join": Field(choice(Join), "how it goes round a corner"),
    "corner_mm": Field(number(0, 1000), "the radius of its corners", "mm"),
    "fit_mm": Field(number(0.001, 5), "how near it keeps to what is seen", "mm"),
    "cut_mm": Field(number(0.05, 1000), "a perforation's cut", "mm"),
    "tie_mm": Field(number(0.02, 1000), "a perforation's tie", "mm"),
    "least_ties": Field(number(0, 10_000, whole=True), "at least so many ties a piece"),
    "tie": Field(choice(Tie), "what the blade does in a tie"),
    "slit_deg": Field(_DEGREES, "a straight slit across each piece, at this angle to the page's x axis", "°"),
    "run_out_mm": Field(number(-1000, 1000), "how far a slit runs beyond the outline on both sides", "mm"),
    "frame_mm": Field(number(0, 1000), "a rectangle at that distance round all other lines", "mm"),
    "weed_mm": Field(number(1, 10_000), "cuts through the waste, so that no strip is wider", "mm"),
    "tab_mm": Field(number(0.5, 1000), "how wide a lift tab is", "mm"),
    "tab_deg": Field(number(-360, 720), "towards where it lies from the middle of the piece", "°"),
    "holes": Field(yes, "whether inner contours are cut; left out: by the first line that bounds a piece"),
    "drawn": Field(Reader(_text, {"type": "string", "maxLength": MOST_DRAWN}), "a line by hand: SVG path data in mm"),
    "along": Field(choice(LineRole), "the role of another line that it runs along"),
    "edits": Field(Reader(_edits, _list(READ_EDIT.schema)), "what a hand changed afterwards"),
})
"""What may be said of a line that is to be made."""
_LINES = _list(object_schema(LINE_FIELDS, LineWanted(
    role=LineRole.KISS_CUT
), ("role",)), minItems=1, maxItems=MOST_LINES)
_COLOUR = fixed_schema({"type": "number", "minimum": 0, "maximum": 255}, 3)
_BELOW = MappingProxyType({"drop_below_mm2": Field(number(0, 1e8), "smaller ones are dropped", "mm²")})
FIELDS: Mapping[str, Field] = MappingProxyType({
    "lines": Field(Reader(_lines, _LINES), "the lines that are made"),
    "source": Field(choice(Source), "what the outline is taken from"),
    "ground": Field(Reader(_colour, _COLOUR), "the ground's colour: red, green and blue, 0 to 255"),
    "ground_at": Field(place, "a place that is ground", "mm"),
    "tolerance": Field(number(0, 255), "the greatest difference of a channel that is still ground; left out: found"),
    "threshold": Field(number(0, 1), "the share of a pixel from which on it is art; left out: half of it"),
    "joined": Field(choice(Where), "which places in the ground's colour are ground"),
    "shape": Field(choice(Shape), "a plain shape instead of the outline"),
    "around": Field(choice(Around), "what a shape goes round"),
    "specks_mm2": Field(number(0, 1e8), "smaller islands are left out", "mm²"),
    "inner": Field(
        one_of(_inner, {"enum": ["keep", "drop"]}, object_schema(_BELOW, None, _BELOW)),
        "what becomes of inner contours",
    ),
    "keep_at": Field(places, "inner contours that stay whatever else is said, each by a place in it", "mm"),
    "drop_at": Field(places, "inner contours that go whatever else is said", "mm"),
    "cut_out_at": Field(places, "areas of the art that become holes", "mm"),
    "objects_at": Field(places, "the only objects that count; none: all do", "mm"),
    "bridge_mm": Field(number(0, 1000), "islands nearer than this are joined", "mm"),
    "line": Field(choice(LineRole), "the role of the file's line that the source “line” means"),
    "replaces": Field(yes, "whether lines of the same roles that the file has make way"),
})
"""What may be said of what is to be made."""


def make_schema() -> dict[str, Any]:
    """What may be asked to be made, as JSON Schema 2020-12."""
    schema = schema_of("Lines", FIELDS, Make(lines=()), ("lines",))
    schema["properties"]["inner"]["default"] = "keep"
    return schema
