"""What was made: lines with their patterns, where the outline comes from, and what is to be said of it."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from horismos.formats.svg import svg_path
from horismos.making.pattern import Pattern
from horismos.making.spec import LineWanted
from horismos.paths import Contour, length, signed_area
from horismos.roles import LineRole

__all__ = ["Inner", "Made", "MadeLine"]


@dataclass(frozen=True, eq=False)
class MadeLine:
    """One contour of a line, in mm. ``wanted`` is which of the make's lines it is of, from 0; ``inner`` says that it
    bounds a hole. ``pattern`` is None where it is cut all along.
    """

    wanted: int
    spec: LineWanted
    contour: Contour
    inner: bool = False
    pattern: Pattern | None = None

    @property
    def role(self) -> LineRole:
        """What the line does to the media."""
        return self.spec.role

    def to_json(self) -> dict[str, Any]:
        """The line as plain values; ``svg`` is path data in mm, y up."""
        contour = self.contour
        return {
            "role": self.role.value, "line": self.wanted, "inner": self.inner, "closed": contour.closed,
            "nodes": contour.node_count, "length_mm": round(length(contour), 3),
            "area_mm2": round(abs(signed_area(contour)), 3) if contour.closed else 0.0,
            "svg": svg_path([contour], 4), **(self.pattern.to_json() if self.pattern else {"cuts": 0, "ties": 0}),
        }


@dataclass(frozen=True)
class Inner:
    """An inner contour that was found: a place in it, its area in mm², and whether it is cut."""

    at: tuple[float, float]
    area_mm2: float
    kept: bool
    svg: str


@dataclass(frozen=True, eq=False)
class Made:
    """The lines, the outline of the art that they are made from, and what was said on the way.

    ``deviation_mm`` is how far a line lies at most from what was wanted, as measured. ``notes`` are sentences: what
    was swallowed or left out.
    """

    source: str
    why: str
    lines: tuple[MadeLine, ...]
    outline: tuple[Contour, ...]
    inner: tuple[Inner, ...]
    deviation_mm: float
    notes: tuple[str, ...] = ()

    @cached_property
    def by_role(self) -> dict[LineRole, list[Contour]]:
        """The contours of each role."""
        out: dict[LineRole, list[Contour]] = {}
        for line in self.lines:
            out.setdefault(line.role, []).append(line.contour)
        return out

    def to_json(self) -> dict[str, Any]:
        """All of it as plain values."""
        return {
            "source": self.source, "why": self.why, "lines": [line.to_json() for line in self.lines],
            "deviation_mm": round(self.deviation_mm, 4), "notes": list(self.notes),
        }

