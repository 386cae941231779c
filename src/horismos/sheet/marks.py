"""Registration marks: what the cutter's sensor looks for; which, how many, and where round the art they stand."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from types import MappingProxyType

from horismos.errors import BadValue
from horismos.json_readers import Field, Reader, choice, fixed_schema, number, one_of, record
from horismos.machines import MarkStyle
from horismos.paths.box import Bounds
from horismos.sheet.mark_kinds import Mark, MarkKind, kind_of, registered

__all__ = ["FIELDS", "READ", "Mark", "MarkKind", "MarkPlan", "MarksRound", "marks_on"]

MOST_MARKS = 4_000


class MarksRound(StrEnum):
    """What the marks stand round: the art with its bleed, all that the machine can use of the media, or each copy."""

    ART = "art"
    PAGE = "page"
    EACH = "each"


@dataclass(frozen=True)
class MarkPlan:
    """Which marks are wanted; lengths in mm, None where the cutter's own count.

    ``count`` is 2 (at opposite corners), 3 or 4; ``every_mm`` adds marks on both long sides so that no two neighbours
    stand further apart. ``around`` may be a rectangle on the sheet: marks stand on its corners. ``distance_mm`` lies
    between the art with its bleed and the nearest ink of a mark.
    """

    kind: MarkKind = field(default_factory=lambda: kind_of("bracket-in"))
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

    def to_json(self) -> dict[str, object]:
        """Which marks are wanted, as plain values; what is the cutter's own is left out."""
        around = list(self.around) if isinstance(self.around, tuple) else self.around.value
        given = {
            "count": self.count, "every_mm": self.every_mm, "distance_mm": self.distance_mm, "arm_mm": self.arm_mm,
            "weight_mm": self.weight_mm,
        }
        return {"kind": self.kind.id, "around": around, **{k: v for k, v in given.items() if v is not None}}

    def style(self, own: MarkStyle) -> MarkStyle:
        """Distance, arm and weight, the cutter's where nothing else is said. Raises BadValue."""
        style = MarkStyle(*(
            mine if (mine := getattr(self, name)) is not None else getattr(own, name)
            for name in ("distance_mm", "arm_mm", "weight_mm")
        ))
        if style.arm_mm < self.kind.least_arm * style.weight_mm:
            raise BadValue(
                f"Marks: {style.arm_mm:g} mm are too small for {self.kind.words}, {style.weight_mm:g} mm wide.",
                f"Give at least {self.kind.least_arm:g} times the weight.",
            )
        return style

    def offsets(self, own: MarkStyle) -> tuple[float, float]:
        """How far outside the art a mark's place lies, and its furthest ink, in mm."""
        style = self.style(own)
        place, furthest = self.kind.reach(style, self.every_mm is not None)
        return style.distance_mm + place, style.distance_mm + furthest


_FAR = number(-1e6, 1e6)


def _around(name: str, value: object) -> MarksRound | Bounds:
    if isinstance(value, list | tuple):
        if len(value) != 4:
            raise BadValue(f"{name} must be a word or a rectangle [x0, y0, x1, y1] in mm.")
        x0, y0, x1, y1 = (_FAR(name, v) for v in value)
        if x1 <= x0 or y1 <= y0:
            raise BadValue(f"{name} is an empty rectangle.", "Give [x0, y0, x1, y1] with x0 < x1 and y0 < y1.")
        return x0, y0, x1, y1
    word: MarksRound = choice(MarksRound)(name, value)
    return word


def _kind(name: str, value: object) -> MarkKind:
    try:
        return kind_of(str(value))
    except BadValue as why:
        raise BadValue(f"{name}: {why.message}", why.next_step) from None


FIELDS: Mapping[str, Field] = MappingProxyType({
    "kind": Field(Reader(_kind, {"enum": list(registered())}), "what they look like"),
    "count": Field(number(2, 4, whole=True), "two at opposite corners, three or four; left out: four"),
    "every_mm": Field(number(20, 100_000), "no two neighbours along a side stand further apart", "mm"),
    "around": Field(
        one_of(_around, choice(MarksRound).schema, fixed_schema(_FAR.schema, 4)),
        "what they stand round: the art, what the machine can use, each copy, or a rectangle [x0, y0, x1, y1] in mm",
    ),
    "distance_mm": Field(number(0, 500), "between the art with its bleed and their ink", "mm"),
    "arm_mm": Field(number(1, 200), "how large one is", "mm"),
    "weight_mm": Field(number(0.1, 20), "how thick its lines are", "mm"),
})
"""What may be said of registration marks; what is left out is the cutter's own."""
READ = record(FIELDS, MarkPlan())


def marks_on(frames: Sequence[Bounds], plan: MarkPlan, own: MarkStyle) -> tuple[Mark, ...]:
    """Marks on the corners, and between them where wanted, of each frame through their places; the first lower left.

    [practice] brackets that open inwards sit closer to the art and save media. The numbers go round: from the lower
    left to the lower right, up there, and down on the left. Raises BadValue for more marks than a sensor will read.
    """
    style = plan.style(own)
    marks: list[Mark] = []
    opens = plan.kind.opens
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
            marks.append(Mark(
                len(marks) + 1, x, y, dx * opens, dy * opens, style.arm_mm, style.weight_mm, plan.kind,
            ))
    return tuple(marks)
