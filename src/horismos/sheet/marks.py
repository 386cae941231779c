"""Registration marks: what the cutter's sensor looks for; their kinds, how many, and where round the art they stand."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from horismos.errors import BadValue
from horismos.given import Read, choice, number, object_of
from horismos.machines import MarkStyle
from horismos.paths import Contour, contour_from_points
from horismos.paths.box import Bounds, grow
from horismos.paths.pen import ContourPen

__all__ = ["Mark", "MarkKind", "MarkPlan", "MarksRound", "marks_on"]

CIRCLE = 4 / 3 * (math.sqrt(2) - 1)
MOST_MARKS = 4_000


class MarkKind(StrEnum):
    """The shape of a mark."""

    BRACKET_IN = "bracket-in"
    BRACKET_OUT = "bracket-out"
    CROSS = "cross"
    DOT = "dot"
    SQUARE = "square"

    @property
    def is_bracket(self) -> bool:
        """Whether it has two arms from a corner."""
        return self in (MarkKind.BRACKET_IN, MarkKind.BRACKET_OUT)


class MarksRound(StrEnum):
    """What the marks stand round: the art with its bleed, all that the machine can use of the media, or each copy."""

    ART = "art"
    PAGE = "page"
    EACH = "each"


@dataclass(frozen=True)
class Mark:
    """A mark; mm on the sheet.

    Its place is its middle, that of a bracket the corner where the outer edges of its arms meet; ``along_x`` and
    ``along_y`` say which way the arms go, 0 where there are none. ``arm_mm`` is the arm of a bracket or cross, the
    diameter of a dot, the side of a square.
    """

    number: int
    x_mm: float
    y_mm: float
    along_x: int
    along_y: int
    arm_mm: float
    weight_mm: float
    kind: MarkKind = MarkKind.BRACKET_IN

    @property
    def strokes(self) -> tuple[Contour, ...]:
        """The middles of its strokes, ``weight_mm`` wide, butt caps and mitred joins; a filled shape has none."""
        x, y, arm, half = self.x_mm, self.y_mm, self.arm_mm, self.weight_mm / 2
        if self.kind.is_bracket:
            corner = (x + self.along_x * half, y + self.along_y * half)
            ends = ((x + self.along_x * arm, corner[1]), (corner[0], y + self.along_y * arm))
            return (contour_from_points([ends[0], corner, ends[1]], closed=False),)
        if self.kind is MarkKind.CROSS:
            across, up = [(x - arm, y), (x + arm, y)], [(x, y - arm), (x, y + arm)]
            return contour_from_points(across, closed=False), contour_from_points(up, closed=False)
        return ()

    @property
    def fills(self) -> tuple[Contour, ...]:
        """Its filled shapes: a dot's circle, a square."""
        x, y, r = self.x_mm, self.y_mm, self.arm_mm / 2
        if self.kind is MarkKind.SQUARE:
            return (contour_from_points([(x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r)], closed=True),)
        if self.kind is not MarkKind.DOT:
            return ()
        pen, k = ContourPen(), r * CIRCLE
        pen.move_to(x + r, y)
        pen.curve_to(x + r, y + k, x + k, y + r, x, y + r)
        pen.curve_to(x - k, y + r, x - r, y + k, x - r, y)
        pen.curve_to(x - r, y - k, x - k, y - r, x, y - r)
        pen.curve_to(x + k, y - r, x + r, y - k, x + r, y)
        pen.close()
        return tuple(pen.contours)

    @property
    def box(self) -> Bounds:
        """The bounds of its ink."""
        if self.kind.is_bracket:
            x, y, arm = self.x_mm, self.y_mm, self.arm_mm
            return _between(x, y, x + self.along_x * arm, y + self.along_y * arm)
        reach = self.arm_mm if self.kind is MarkKind.CROSS else self.arm_mm / 2
        return self.x_mm - reach, self.y_mm - reach, self.x_mm + reach, self.y_mm + reach


    @property
    def inked(self) -> tuple[Bounds, ...]:
        """Rectangles that hold its ink: its arms, or all of a filled shape."""
        if self.kind.is_bracket:
            x, y, dx, dy, w, arm = self.x_mm, self.y_mm, self.along_x, self.along_y, self.weight_mm, self.arm_mm
            return _between(x, y, x + dx * arm, y + dy * w), _between(x, y, x + dx * w, y + dy * arm)
        if self.kind is MarkKind.CROSS:
            x, y, half = self.x_mm, self.y_mm, self.weight_mm / 2
            return grow((x, y, x, y), self.arm_mm, half), grow((x, y, x, y), half, self.arm_mm)
        return (self.box,)


def _between(x0: float, y0: float, x1: float, y1: float) -> Bounds:
    return min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)


@dataclass(frozen=True)
class MarkPlan:
    """Which marks are wanted; lengths in mm, None where the cutter's own count.

    ``count`` is 2 (at opposite corners), 3 or 4; ``every_mm`` adds marks on both long sides so that no two neighbours
    stand further apart. ``around`` may be a rectangle on the sheet: marks stand on its corners. ``distance_mm`` lies
    between the art with its bleed and the nearest ink of a mark.
    """

    kind: MarkKind = MarkKind.BRACKET_IN
    count: int | None = None
    every_mm: float | None = None
    around: MarksRound | Bounds = MarksRound.ART
    distance_mm: float | None = None
    arm_mm: float | None = None
    weight_mm: float | None = None

    def __post_init__(self) -> None:
        """Refuse what contradicts itself. Raises BadValue."""
        if self.every_mm is not None and self.count not in (None, 4):
            raise BadValue(f"Marks: {self.count} marks and marks every {self.every_mm:g} mm.", "Give one of the two.")

    @classmethod
    def from_json(cls, name: str, value: object) -> "MarkPlan":
        """Read which marks are wanted; unknown keys and figures out of range are refused. Raises BadValue."""
        given = object_of(value, name, READERS)
        return cls(**{key: READERS[key](f"{name}: {key}", v) for key, v in given.items() if v is not None})

    def to_json(self) -> dict[str, object]:
        """Which marks are wanted, as plain values; what is the cutter's own is left out."""
        around = list(self.around) if isinstance(self.around, tuple) else self.around.value
        given = {
            "count": self.count, "every_mm": self.every_mm, "distance_mm": self.distance_mm, "arm_mm": self.arm_mm,
            "weight_mm": self.weight_mm,
        }
        return {"kind": self.kind.value, "around": around, **{k: v for k, v in given.items() if v is not None}}

    def style(self, own: MarkStyle) -> MarkStyle:
        """Distance, arm and weight, the cutter's where nothing else is said. Raises BadValue."""
        style = MarkStyle(*(
            mine if (mine := getattr(self, name)) is not None else getattr(own, name)
            for name in ("distance_mm", "arm_mm", "weight_mm")
        ))
        if self.kind.is_bracket and style.arm_mm < 2 * style.weight_mm:
            raise BadValue(
                f"Marks: an arm of {style.arm_mm:g} mm is too short for a weight of {style.weight_mm:g} mm.",
                "Give an arm of at least twice the weight.",
            )
        return style

    def offsets(self, own: MarkStyle) -> tuple[float, float]:
        """How far outside the art a mark's place lies, and its furthest ink, in mm."""
        style = self.style(own)
        far, arm = style.distance_mm, style.arm_mm
        if self.kind is MarkKind.BRACKET_IN:
            # marks between the corners reach inwards too
            place = far + (arm if self.every_mm is not None else style.weight_mm)
            return place, place
        if self.kind is MarkKind.BRACKET_OUT:
            return far, far + arm
        reach = arm if self.kind is MarkKind.CROSS else arm / 2
        return far + reach, far + 2 * reach


def _around(name: str, value: object) -> MarksRound | Bounds:
    if isinstance(value, list | tuple):
        if len(value) != 4:
            raise BadValue(f"{name} must be a word or a rectangle [x0, y0, x1, y1] in mm.")
        x0, y0, x1, y1 = (number(-1e6, 1e6)(name, v) for v in value)
        if x1 <= x0 or y1 <= y0:
            raise BadValue(f"{name} is an empty rectangle.", "Give [x0, y0, x1, y1] with x0 < x1 and y0 < y1.")
        return x0, y0, x1, y1
    word: MarksRound = choice(MarksRound)(name, value)
    return word


READERS: Mapping[str, Read] = {
    "kind": choice(MarkKind), "count": number(2, 4, whole=True), "every_mm": number(20, 100_000), "around": _around,
    "distance_mm": number(0, 500), "arm_mm": number(1, 200), "weight_mm": number(0.1, 20),
}


def marks_on(frames: Sequence[Bounds], plan: MarkPlan, own: MarkStyle) -> tuple[Mark, ...]:
    """Marks on the corners, and between them where wanted, of each frame through their places; the first lower left.

    [practice] brackets that open inwards sit closer to the art and save media. The numbers go round: from the lower
    left to the lower right, up there, and down on the left. Raises BadValue for more marks than a sensor will read.
    """
    style = plan.style(own)
    marks: list[Mark] = []
    opens = 1 if plan.kind is MarkKind.BRACKET_IN else -1
    for x0, y0, x1, y1 in frames:
        rows = 1 if plan.every_mm is None else max(1, math.ceil((y1 - y0) / plan.every_mm - 1e-9))
        if rows * len(frames) > MOST_MARKS:
            raise BadValue(f"Marks: {2 * rows * len(frames)} marks are too many.", "Set them further apart.")
        ys = [y0 + (y1 - y0) * i / rows for i in range(rows)] + [y1]
        sides = [[(x, y, dx, 1 if i < rows else -1) for i, y in enumerate(ys)] for x, dx in ((x0, 1), (x1, -1))]
        places = [sides[0][0], *sides[1], *sides[0][:0:-1]]
        # two: at opposite corners; three: not at the upper right
        kept = {2: (0, 2), 3: (0, 1, 3)}.get(plan.count or 4, range(len(places)))
        for i in kept:
            x, y, dx, dy = places[i]
            along = (dx * opens, dy * opens) if plan.kind.is_bracket else (0, 0)
            marks.append(Mark(len(marks) + 1, x, y, *along, style.arm_mm, style.weight_mm, plan.kind))
    return tuple(marks)
