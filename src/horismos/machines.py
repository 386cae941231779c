"""Machines: what a RIP prints, and what a cutter needs and can do."""

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from horismos.errors import BadValue, NotFound
from horismos.json_readers import Field, Reader, number, optional, place, record, sequence_of, text, yes
from horismos.shipped import shipped_by_id
from horismos.units import PLOTTER_UNIT_MM

__all__ = [
    "CUTTERS", "CUTTER_FIELDS", "MARK_FIELDS", "PRINTERS", "PRINTER_FIELDS", "READ_CUTTER", "READ_PRINTER", "Cutter",
    "Dialect", "MarkStyle", "Preset", "Rip", "SewingMachine",
]


@dataclass(frozen=True)
class Preset:
    """A hot folder of a RIP: printing profile, resolution in ppi, passes, and how long the print dries in hours.

    ``dry_h`` before it may be cut, ``laminate_h`` before it may be laminated, and so before it may be cut then.
    """

    id: str
    title: str
    profile: str
    ppi: float
    passes: int
    dry_h: float
    laminate_h: float


PRESETS = (
    Preset("fine", "Fine", "coated film, fine", 720.0, 8, 2.0, 24.0),
    Preset("usual", "Usual", "coated film", 600.0, 6, 1.0, 12.0),
    Preset("quick", "Quick", "coated film, little ink", 300.0, 3, 0.5, 6.0),
)
"""[ours] the hot folders of the simulated printers; more ink dries longer."""


@dataclass(frozen=True)
class Rip:
    """A RIP with its printer.

    ``printing_inks`` are the spot inks that it prints beside the process inks and the named ones; ``margin_mm`` is what
    the printer leaves blank at every edge of the media. ``presets`` are its hot folders; the second is the usual one.
    ``width_mm`` is the widest media that it takes, None where nobody said; ``spread_mm`` the standard deviation, along
    each axis, of where its ink lands.
    """

    id: str = "rip"
    title: str = "RIP"
    printing_inks: tuple[str, ...] = ()
    margin_mm: float = 5.0  # [ours]
    presets: tuple[Preset, ...] = PRESETS
    width_mm: float | None = None
    spread_mm: float = 0.0

    @property
    def usual(self) -> Preset:
        """The hot folder that is taken where nobody says another: the second, or the only one."""
        return self.presets[min(1, len(self.presets) - 1)]

    def preset(self, id: str) -> Preset:
        """A hot folder by its id. Raises NotFound."""
        found = next((one for one in self.presets if one.id == id), None)
        if found is None:
            raise NotFound(f"{self.title} has no hot folder “{id}”.", "Choose one of those it has.")
        return found


@dataclass(frozen=True)
class MarkStyle:
    """The registration marks that a cutter's sensor finds; lengths in mm."""

    distance_mm: float = 10.0  # [ours] between the pieces and the marks
    arm_mm: float = 12.0  # [ours]
    weight_mm: float = 1.0  # [ours]


@dataclass(frozen=True, kw_only=True)
class Dialect:
    """How a cutter takes HP-GL: its unit in mm, whether X runs along the feed, what a file begins and ends with.

    ``right`` says that its zero is the front corner on the right, from which it counts across to the left.
    ``speed`` and ``force`` are its words for them, with ``{cm_s}`` and ``{gf}``; empty where it understands none.
    ``suffix`` is how it wants its files to be called. ``pause`` is its word before a tool that a person has to put in;
    empty where it has none. ``marks`` are the kinds of mark that it finds, by their ids, none named where it finds any;
    ``reads_code`` says whether it reads the code of a sheet.
    """

    unit_mm: float = PLOTTER_UNIT_MM
    turned: bool = False
    right: bool = False
    header: str = "IN;PA;"
    trailer: str = "PU;SP0;"
    tool: str = "SP{number};"
    speed: str = "VS{cm_s:g};"
    force: str = "FS{gf:g};"
    suffix: str = "plt"
    pause: str = ""
    marks: tuple[str, ...] = ()
    reads_code: bool = True

    def __post_init__(self) -> None:
        """What JSON has as a list is a tuple here."""
        object.__setattr__(self, "marks", tuple(self.marks))

    @property
    def words(self) -> str:
        """What is peculiar to it, in words."""
        said = [f"units of {self.unit_mm:g} mm", "X along the feed" if self.turned else "X across the media"]
        if self.right:
            said.append("its zero on the right")
        unheard = [what for what, word in (("speed", self.speed), ("force", self.force)) if not word]
        return ", ".join([*said, *(f"takes no {what}" for what in unheard)])


@dataclass(frozen=True, kw_only=True)
class Cutter:
    """A contour cutter: the room in mm that it needs beside, before and behind the work, and how fast it is.

    Behind the last mark lie ``head_mm``, which the head needs to pass over it, then ``feed_mm``, which are fed out
    before the sheet is cut off: both within the trailer. A pinch roller, ``roller_mm`` wide, stands in the middle of
    each side margin. ``width_mm`` is the widest media that it takes, None where nobody said; ``least_gf`` and
    ``most_gf`` are the forces that it can be set to.
    """

    id: str = "cutter"
    title: str = "Cutter"
    side_margin_mm: float = 25.0  # [practice] marks about 25 mm inside the media edge
    leader_mm: float = 100.0  # [practice] 100 mm leader or more
    trailer_mm: float = 50.0  # [ours]
    head_mm: float = 20.0  # [ours] [practice] a little room beside the last mark
    feed_mm: float = 30.0  # [ours]
    roller_mm: float = 16.0  # [ours]
    marks: MarkStyle = MarkStyle()
    spread_mm: float = 0.1  # [ours] standard deviation, along each axis, of where it reads a mark
    travel_speed_mm_s: float = 600.0  # [ours] with the blade up
    cut_speed_mm_s: float = 300.0  # [ours] where the speed is left to the machine
    acceleration_mm_s2: float = 8000.0  # [ours]
    lift_s: float = 0.08  # [ours] to lower or raise the blade once
    tool_change_s: float = 15.0  # [ours] between two tools
    holders: int = 2  # [ours] so many tools it carries at once; for more a person changes the holder
    holder_change_s: float = 90.0  # [ours]
    repeats_mm: float = 0.02  # [ours] standard deviation of where it comes back to
    search_mm: float = 100.0  # [ours] so far from where a mark is meant it is looked for
    camera: bool = True  # it looks for marks by itself; without one a person jogs to each
    pointer_mm: tuple[float, float] = (1.5, -0.5)  # [ours] where its maker says the pointer shines, from the blade
    dialect: Dialect = Dialect()
    width_mm: float | None = None
    least_gf: float = 0.0
    most_gf: float = 1000.0

    def beside(self, printer: Rip) -> "Cutter":
        """The room of both machines: where the printer prints nothing, no mark and no art may lie either.

        The media has to go through both, and a mark is found as exactly as both together are.
        """
        widths = [one for one in (self.width_mm, printer.width_mm) if one is not None]
        return replace(
            self, side_margin_mm=max(self.side_margin_mm, printer.margin_mm),
            leader_mm=max(self.leader_mm, printer.margin_mm), trailer_mm=max(self.trailer_mm, printer.margin_mm),
            width_mm=min(widths, default=None), spread_mm=math.hypot(self.spread_mm, printer.spread_mm),
        )

    def gives(self, force_gf: float | None) -> bool:
        """Whether it can be set to a force; one that is left to it, it can."""
        return force_gf is None or self.least_gf <= force_gf <= self.most_gf

    @property
    def rollers_mm(self) -> tuple[float, float]:
        """How far from the side of the media a roller begins and ends."""
        middle, half = self.side_margin_mm / 2, min(self.roller_mm, self.side_margin_mm) / 2
        return middle - half, middle + half


@dataclass(frozen=True)
class SewingMachine:
    """A sewing machine that follows stitch files: how fast it is, and how large its hoop."""

    id: str = "sewing-machine"
    title: str = "Sewing machine"
    hoop_mm: tuple[float, float] = (400.0, 300.0)  # [ours] across and up
    stitches_min: float = 800.0  # [ours]
    full_speed_mm: float = 4.0  # [ours] up to this length of a stitch; for longer ones the frame sets the pace
    trim_s: float = 5.0  # [ours] to cut the thread and begin again
    jump_mm_s: float = 150.0  # [ours]


# -- as JSON -----------------------------------------------------------------------------------------------------------

_MM, _NAME, _SPEED, _TIME = number(0, 5_000), text(200), number(1, 1e6), number(0, 36_000)
_FIGURE = re.compile(r"\{(\w+)(?::[0-9.]*[dfg])?\}")


def _word(*figures: str, needed: bool = False) -> Reader:
    """A cutter's word with one of some figures in braces; empty where it is not needed."""
    known = " or ".join(f"{{{one}}}" for one in figures)

    def read(name: str, value: object) -> str:
        word: str = text(200)(name, value)
        found = _FIGURE.findall(word)
        if not word and not needed:
            return word
        if len(found) != 1 or found[0] not in figures or len(re.findall("[{}]", word)) != 2:
            raise BadValue(f"{name} is “{word}”.", f"Write it with {known} once, where the figure stands.")
        return word

    within = "|".join(figures)
    pattern = r"^[^{}]*\{(" + within + r")(:[0-9.]*[dfg])?\}[^{}]*$"
    return Reader(read, {**text(200).schema, "pattern": pattern if needed else f"^$|{pattern}"})


_ID, _WIDTH, _FORCE = text(80), number(50, 20_000), number(0, 20_000)
PRESET_FIELDS: Mapping[str, Field] = MappingProxyType({
    "id": Field(_ID, "the name of its folder"),
    "title": Field(_NAME, "what people call it"),
    "profile": Field(_NAME, "the printing profile"),
    "ppi": Field(number(50, 5_000), "the resolution", "ppi"),
    "passes": Field(number(1, 100, whole=True), "how many passes"),
    "dry_h": Field(number(0, 1_000), "how long it dries before it may be cut", "h"),
    "laminate_h": Field(number(0, 1_000), "how long it dries before it may be laminated", "h"),
})
PRINTER_FIELDS: Mapping[str, Field] = MappingProxyType({
    "id": Field(_ID, "its name in files"),
    "title": Field(_NAME, "what people call it"),
    "printing_inks": Field(sequence_of(text(127), 0, 100, "names"), "spot inks that it prints beside the named ones"),
    "margin_mm": Field(number(0, 1_000), "what it leaves blank at every edge", "mm"),
    "presets": Field(
        sequence_of(record(PRESET_FIELDS, PRESETS[0], PRESET_FIELDS), 1, 50, "hot folders"), "its hot folders"
    ),
    "width_mm": Field(optional(_WIDTH), "the widest media that it takes; null: nobody said", "mm"),
    "spread_mm": Field(number(0, 10), "how exactly its ink lands, as a standard deviation", "mm"),
})
MARK_FIELDS: Mapping[str, Field] = MappingProxyType({
    "distance_mm": Field(number(0.1, 1_000), "between the pieces and the marks", "mm"),
    "arm_mm": Field(number(0.1, 1_000), "how long an arm is", "mm"),
    "weight_mm": Field(number(0.1, 1_000), "how thick a line is", "mm"),
})
DIALECT_FIELDS: Mapping[str, Field] = MappingProxyType({
    "unit_mm": Field(number(0.001, 1), "its unit", "mm"),
    "turned": Field(yes, "whether X runs along the feed"),
    "right": Field(yes, "whether its zero is the front corner on the right"),
    "header": Field(_NAME, "what a file begins with"),
    "trailer": Field(_NAME, "what a file ends with"),
    "tool": Field(_word("number", needed=True), "its word for a tool, with {number}"),
    "speed": Field(_word("cm_s", "mm_s"), "its word for a speed, with {cm_s} or {mm_s}; empty: none"),
    "force": Field(_word("gf"), "its word for a force, with {gf}; empty: none"),
    "suffix": Field(text(10, least=1), "how its files end"),
    "pause": Field(_NAME, "its word before a tool that a person puts in; empty: none"),
    "marks": Field(sequence_of(text(40), 0, 40, "kinds of mark"), "the kinds of mark that it finds; none named: any"),
    "reads_code": Field(yes, "whether it reads the code of a sheet"),
})

CUTTER_FIELDS: Mapping[str, Field] = MappingProxyType({
    "id": Field(_ID, "its name in files"),
    "title": Field(_NAME, "what people call it"),
    "side_margin_mm": Field(_MM, "the room beside the work", "mm"),
    "leader_mm": Field(_MM, "the room before the work", "mm"),
    "trailer_mm": Field(_MM, "the room behind the work", "mm"),
    "head_mm": Field(_MM, "what of that the head needs", "mm"),
    "feed_mm": Field(_MM, "what of that is fed out", "mm"),
    "roller_mm": Field(_MM, "how wide a pinch roller is", "mm"),
    "marks": Field(record(MARK_FIELDS, MarkStyle()), "its registration marks"),
    "spread_mm": Field(number(0, 10), "how exactly it reads a mark, as a standard deviation", "mm"),
    "travel_speed_mm_s": Field(_SPEED, "how fast it travels", "mm/s"),
    "cut_speed_mm_s": Field(_SPEED, "how fast it cuts where nothing is said", "mm/s"),
    "acceleration_mm_s2": Field(_SPEED, "how fast it gets faster", "mm/s²"),
    "lift_s": Field(_TIME, "to lower or raise the blade", "s"),
    "tool_change_s": Field(_TIME, "between two tools", "s"),
    "holders": Field(number(1, 20, whole=True), "how many tools it carries at once"),
    "holder_change_s": Field(_TIME, "to change what is in a holder", "s"),
    "repeats_mm": Field(number(0, 10), "how exactly it comes back, as a standard deviation", "mm"),
    "search_mm": Field(_MM, "how far from its place a mark is looked for", "mm"),
    "camera": Field(yes, "whether it finds marks by itself"),
    "pointer_mm": Field(place, "where its pointer shines, from the blade", "mm"),
    "dialect": Field(record(DIALECT_FIELDS, Dialect()), "how it takes HP-GL"),
    "width_mm": Field(optional(_WIDTH), "the widest media that it takes; null: nobody said", "mm"),
    "least_gf": Field(_FORCE, "the least force that it can be set to", "gf"),
    "most_gf": Field(_FORCE, "the greatest force that it can be set to", "gf"),
})


READ_PRINTER = record(PRINTER_FIELDS, Rip(), ("id", "title"))
READ_CUTTER = record(CUTTER_FIELDS, Cutter(), ("id", "title"))
PRINTERS: Mapping[str, Rip] = shipped_by_id("machines", "printers", READ_PRINTER)
CUTTERS: Mapping[str, Cutter] = shipped_by_id("machines", "cutters", READ_CUTTER)
"""The machines that ship with the product."""
