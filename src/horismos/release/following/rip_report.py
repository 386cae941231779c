"""What a RIP reports of a sheet that it has printed: copies along the feed, scaled, mirrored, turned, moved."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import (
    Field,
    Reader,
    fixed_schema,
    number,
    one_of,
    read_fields,
    schema_of,
    yes,
)

__all__ = ["FIELDS", "RipReport", "rip_report_schema"]

TURNS = (0, 90, 180, 270)
MOST_COPIES = 1_000
_RATIO = number(0.01, 100)


@dataclass(frozen=True)
class RipReport:
    """What was done to a page, in this order: scaled, mirrored left to right, turned, repeated, moved.

    ``copies`` is how often it lies on the media in all; repeats stand the page's length, as it then lies, plus
    ``gap_mm`` apart along the feed. The turn is anticlockwise, in degrees; ``scale`` is across and along, as they were
    before it. ``moved_mm`` is across and along, from where the page's lower left corner lies at the media's.
    """

    copies: int = 1
    gap_mm: float = 0.0
    turn_deg: int = 0
    scale: tuple[float, float] = (1.0, 1.0)
    mirrored: bool = False
    moved_mm: tuple[float, float] = (0.0, 0.0)

    @property
    def is_plain(self) -> bool:
        """Whether the sheet was printed as it was released."""
        return self == RipReport(gap_mm=self.gap_mm)  # a gap between copies says nothing of one

    @property
    def is_uniform(self) -> bool:
        """Whether it was scaled alike across and along."""
        return self.scale[0] == self.scale[1]

    @classmethod
    def from_json(cls, data: object) -> "RipReport":
        """A report as plain values; every key is optional, an unknown one is refused. Raises BadValue."""
        return cls(**read_fields("The report", data, FIELDS))

    def to_json(self) -> dict[str, Any]:
        """The report as plain values, all of it said."""
        return {
            "copies": self.copies, "gap_mm": self.gap_mm, "turn_deg": self.turn_deg, "scale": self.scale_said,
            "mirrored": self.mirrored, "moved_mm": list(self.moved_mm),
        }

    @property
    def scale_said(self) -> float | list[float]:
        """The scale as one figure where it is the same both ways."""
        return self.scale[0] if self.is_uniform else list(self.scale)

    @property
    def words(self) -> list[str]:
        """What was done, in words; nothing where nothing was."""
        across, along = self.scale
        alike = f"scaled to {across * 100:g} %"
        other = f"scaled to {across * 100:g} % across and {along * 100:g} % along"
        done = {
            alike if self.is_uniform else other: self.scale != (1.0, 1.0),
            "mirrored": self.mirrored,
            f"turned by {self.turn_deg}° anticlockwise": bool(self.turn_deg),
            f"printed {self.copies} times, {self.gap_mm:g} mm apart": self.copies > 1,
            f"moved by {self.moved_mm[0]:g} mm across and {self.moved_mm[1]:g} mm along": self.moved_mm != (0.0, 0.0),
        }
        return [words for words, was in done.items() if was]


def _turn(name: str, value: object) -> int:
    if isinstance(value, bool) or not isinstance(value, int | float) or value not in TURNS:
        raise BadValue(f"{name} is {value}.", f"Give one of {', '.join(map(str, TURNS))}.")
    return int(value)


def _scale(name: str, value: object) -> tuple[float, float]:
    both = list(value) if isinstance(value, list | tuple) else [value, value]
    if len(both) != 2:
        raise BadValue(f"{name} must be a number, or two: across and along.")
    return _RATIO(name, both[0]), _RATIO(name, both[1])


def _moved(name: str, value: object) -> tuple[float, float]:
    if not isinstance(value, list | tuple) or len(value) != 2:
        raise BadValue(f"{name} must be two lengths in mm: across and along.")
    return _FAR(name, value[0]), _FAR(name, value[1])


_FAR = number(-1e5, 1e5)
FIELDS: Mapping[str, Field] = MappingProxyType({
    "copies": Field(number(1, MOST_COPIES, whole=True), "how often the sheet lies on the media in all"),
    "gap_mm": Field(number(0, 10_000), "between two of them, along the feed", "mm"),
    "turn_deg": Field(Reader(_turn, {"enum": list(TURNS)}), "how far it was turned, anticlockwise", "°"),
    "scale": Field(
        one_of(_scale, _RATIO.schema, fixed_schema(_RATIO.schema, 2)), "its scale, or two: across and along"
    ),
    "mirrored": Field(yes, "whether left and right have changed places"),
    "moved_mm": Field(Reader(_moved, fixed_schema(_FAR.schema, 2)), "how far it was moved, across and along", "mm"),
})
"""What may be reported; what is left out was not done."""


def rip_report_schema() -> dict[str, Any]:
    """What a report may be, as JSON Schema 2020-12."""
    return schema_of("RIP report", FIELDS, RipReport().to_json())
