"""Media: the rolls and sheets that a shop has, at their true sizes; one size for printer and cutter."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from horismos.errors import BadValue
from horismos.json_readers import Field, number, record, text, yes
from horismos.materials import Material

__all__ = ["FIELDS", "PAGE_SIZES", "READ", "Media", "offcut_of"]

LEAST_OFFCUT_MM = 150.0
"""[ours] a shorter piece of a sheet or roll is not kept."""
MOST_TITLE = 80

PAGE_SIZES: Mapping[str, tuple[float, float]] = {
    "A0": (841, 1189), "A1": (594, 841), "A2": (420, 594), "A3": (297, 420), "A4": (210, 297),
    "Letter": (215.9, 279.4), "Legal": (215.9, 355.6), "Tabloid": (279.4, 431.8),
}
"""Width and length in mm: the A series [standard, ISO 216]; letter, legal and tabloid, 8.5 × 11, 8.5 × 14 and
11 × 17 inches [memory, ANSI X3.151]."""


@dataclass(frozen=True)
class Media:
    """A roll or sheet as it is loaded: across the machine, and along the feed, in mm.

    ``length_mm`` of a roll is what is left on it, None where nobody knows; a sheet has one. ``turned`` says that a
    sheet is loaded with its other edge first. Raises BadValue for what no machine takes.
    """

    title: str
    width_mm: float
    length_mm: float | None = None
    roll: bool = True
    turned: bool = False

    def __post_init__(self) -> None:
        """Refuse a sheet without an end."""
        if not self.roll and self.length_mm is None:
            raise BadValue(f"Media: the sheet “{self.title}” has no length.", "Give it, or say that it is a roll.")
        if self.roll and self.turned:
            raise BadValue("Media: a roll is loaded one way only.", "Leave the turn out.")

    @property
    def size_mm(self) -> tuple[float, float | None]:
        """Across the machine and along the feed, as it is loaded."""
        if self.turned and self.length_mm is not None:
            return self.length_mm, self.width_mm
        return self.width_mm, self.length_mm

    @property
    def bound_mm(self) -> float | None:
        """How long a sheet that is laid out on it may be."""
        return self.size_mm[1]

    def of(self, material: Material) -> Material:
        """The material in this size: endless where it is a roll, what is left of it bounds each sheet."""
        wide, long = self.size_mm
        return replace(material, title=self.title, width_mm=wide, length_mm=None if self.roll else long)


_SIZE = number(10, 1_000_000)
FIELDS: Mapping[str, Field] = MappingProxyType({
    "title": Field(text(MOST_TITLE, least=1), "what people call it"),
    "width_mm": Field(_SIZE, "across the machine, or across the sheet where it is turned", "mm"),
    "length_mm": Field(_SIZE, "how long the sheet is, or what is left on the roll; left out: nobody knows", "mm"),
    "roll": Field(yes, "whether it is a roll"),
    "turned": Field(yes, "whether a sheet is loaded with its other edge first"),
})
"""What may be said of what is loaded."""
READ = record(FIELDS, Media("", 10.0), ("title", "width_mm"))


def offcut_of(media: Media, used_mm: float) -> Media | None:
    """What is left of a sheet, or of a roll whose length is known, when so much of its length was cut off; or None.

    >>> offcut_of(Media("Film", 1370, 5000), 1200).length_mm
    3800
    """
    wide, long = media.size_mm
    if long is None or long - used_mm < LEAST_OFFCUT_MM:
        return None
    title = media.title if media.roll else f"Offcut {wide:g} × {long - used_mm:.0f} mm"
    return Media(title, wide, long - used_mm, media.roll)
