"""In what two revisions of an artwork differ: by facet, in figures, and in the picture of the art."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

from horismos.artwork.lines import Line, line_objects, lines_by_role
from horismos.artwork.model import Artwork
from horismos.artwork.parting import art_alone
from horismos.comparing.facets import Facet, touched
from horismos.destinations import Destination
from horismos.paths import flatten, greatest_distance, length
from horismos.rendering import difference
from horismos.rendering.apart import PageApart

__all__ = ["Difference", "compare"]

UNSEEN = 8
"""[ours] of 255: a difference in the art that rounding in a renderer can make."""


@dataclass(frozen=True)
class Difference:
    """A comparison of two revisions, measured on the two files.

    ``facets`` are what differs; LOOK is among them where the pictures of the art do.
    ``art_difference`` is the greatest difference of a colour channel (0 to 255) between the two
    renderings of the art alone. ``lines_moved_mm`` is the greatest distance between the lines of
    before and after. ``before`` and ``after`` count contours by role.
    """

    facets: frozenset[Facet]
    art_difference: int
    lines_moved_mm: float
    before: dict[str, int]
    after: dict[str, int]
    length_before_mm: float
    length_after_mm: float

    def to_json(self) -> dict[str, Any]:
        """The difference as plain values."""
        return {
            "facets": sorted(facet.value for facet in self.facets),
            "art_difference": self.art_difference,
            "lines_moved_mm": round(self.lines_moved_mm, 4),
            "before": self.before,
            "after": self.after,
            "length_before_mm": round(self.length_before_mm, 3),
            "length_after_mm": round(self.length_after_mm, 3),
        }


def _counts(lines: list[Line]) -> dict[str, int]:
    counts: Counter[str] = Counter()
    for role, listed in lines_by_role(lines).items():
        counts[role.value] += sum(len(line.contours) for line in listed)
    return dict(counts)


def compare(before: Artwork, after: Artwork, destination: Destination) -> Difference:
    """Compare all pages of two revisions."""
    art, moved = 0, 0.0
    counts: list[Counter[str]] = [Counter(), Counter()]
    lengths = [0.0, 0.0]
    for old, new in zip(before.pages, after.pages, strict=True):
        both = [line_objects(before, old, destination), line_objects(after, new, destination)]
        with (
            PageApart.of_art(art_alone(before, old, both[0]), old) as a,
            PageApart.of_art(art_alone(after, new, both[1]), new) as b,
        ):
            art = max(art, difference(a.overview()[0], b.overview()[0]))
        drawn = [[flatten(c) for line in lines for c in line.contours] for lines in both]
        moved = max(moved, greatest_distance(drawn[0], drawn[1]))
        for i, lines in enumerate(both):
            counts[i].update(_counts(lines))
            lengths[i] += sum(length(c) for line in lines for c in line.contours)
    facets = touched(before, after, destination) | (frozenset([Facet.LOOK]) if art > UNSEEN else frozenset())
    return Difference(facets, art, moved, dict(counts[0]), dict(counts[1]), lengths[0], lengths[1])

