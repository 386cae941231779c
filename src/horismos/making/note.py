"""What is noted with lines that were made: what they were made of, and the patterns of those that are perforated."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from horismos.artwork.model import Page
from horismos.errors import BadValue
from horismos.making.made import Made
from horismos.making.pattern import DEFAULT_CUT_MM, DEFAULT_TIE_MM
from horismos.making.wanted import Make
from horismos.roles import LineRole

__all__ = ["Note", "note_for", "note_on"]


@dataclass(frozen=True)
class Note:
    """What a page says of the lines that were made on it.

    ``make`` is what they were made of, as ``Make.to_json`` gives it; None where nothing was made. ``patterns`` holds
    cut and tie length in mm and whether ties are scored, by role.
    """

    make: Mapping[str, Any] | None = None
    patterns: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)

    @property
    def roles(self) -> frozenset[LineRole]:
        """The roles that were made."""
        return frozenset(line.role for line in Make.from_json(self.make).lines) if self.make else frozenset()

    def to_json(self) -> dict[str, Any]:
        """The note as plain values."""
        return {"make": self.make, "patterns": {role: dict(pattern) for role, pattern in self.patterns.items()}}


def note_on(page: Page) -> Note:
    """The note on a page; a damaged one is none."""
    try:
        data = json.loads(page.made) if page.made else {}
        patterns = {LineRole(role).value: _pattern(found) for role, found in data.get("patterns", {}).items()}
        note = Note(data.get("make"), patterns)
        return note if note.roles else Note()
    except (ValueError, TypeError, AttributeError, KeyError, BadValue):
        return Note()


def _pattern(found: Mapping[str, Any]) -> dict[str, Any]:
    """A pattern within what a tool can do. Raises what reading nonsense raises."""
    return {
        "cut_mm": min(max(float(found["cut_mm"]), 0.2), 500.0),
        "tie_mm": min(max(float(found["tie_mm"]), 0.05), 100.0),
        "least_ties": min(max(int(found["least_ties"]), 0), 10_000),
        "tie": "scored" if found["tie"] == "scored" else "whole",
    }


def note_for(made: Made, make: Mapping[str, Any]) -> Note:
    """The note that belongs to lines that were just made."""
    patterns = {
        line.role.value: {
            "cut_mm": line.spec.cut_mm or DEFAULT_CUT_MM, "tie_mm": line.spec.tie_mm or DEFAULT_TIE_MM,
            "least_ties": line.spec.least_ties, "tie": line.spec.tie.value,
        }
        for line in made.lines if line.pattern is not None
    }
    return Note(make, patterns)
