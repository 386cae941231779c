"""Destinations: a RIP and a cutter, and the exact ink names that they want."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from horismos.errors import BadValue, NotFound
from horismos.json_readers import Read, number, object_of, text, yes
from horismos.machines import Cutter, Dialect, MarkStyle, Rip
from horismos.roles import InkRole, LineRole, all_facts

__all__ = ["HOUSE", "ISO", "SHIPPED", "SMALL", "TABLE", "Destination", "destination_from_json"]


@dataclass(frozen=True)
class Destination:
    """A RIP and cutter pair. ``names`` holds the exact ink name per role, letter for letter."""

    id: str
    title: str
    names: Mapping[LineRole | InkRole, str]
    rip: Rip = field(default_factory=Rip)
    cutter: Cutter = field(default_factory=Cutter)

    def __post_init__(self) -> None:
        """Refuse a name table in which one name stands for two roles."""
        if len(set(self.names.values())) != len(self.names):
            raise ValueError(f"Destination {self.id}: two roles share one ink name.")

    @property
    def room(self) -> Cutter:
        """The cutter with the room that it and the printer need: the media is the same for both."""
        return self.cutter.beside(self.rip)

    def name_of(self, role: LineRole | InkRole) -> str:
        """The exact ink name wanted for a role. Raises KeyError where the destination has none."""
        return self.names[role]

    def role_named(self, name: str) -> LineRole | InkRole | None:
        """The role whose exact name this is, letter for letter, or None."""
        return next((role for role, exact in self.names.items() if exact == name), None)


HOUSE = Destination(
    id="house",
    title="House table and roll",
    names={role: facts.words.title() for role, facts in all_facts()},
)

ISO = Destination(
    id="iso",
    title="ISO 19593-1 names",
    names={role: facts.step[1] or facts.step[0] for role, facts in all_facts()},
)

SMALL = Destination(
    id="small",
    title="Small printer and cutter",
    names=HOUSE.names,
    rip=Rip("small-rip", "Small printer", margin_mm=4.0),
    cutter=Cutter(
        "small-cutter", "Small cutter", side_margin_mm=8.0, leader_mm=12.0, trailer_mm=20.0,
        marks=MarkStyle(4.0, 8.0, 0.7), head_mm=8.0, feed_mm=12.0, roller_mm=6.0, holders=1, camera=False,
    ),
)
"""[ours] sheets up to A3: narrow margins, small marks; one holder, and marks are jogged to by hand."""

TABLE = Destination(
    id="table",
    title="Flat table",
    names=HOUSE.names,
    rip=Rip("table-rip", "Flatbed printer", margin_mm=8.0),
    cutter=Cutter(
        "table-cutter", "Flat table cutter", holders=3, holder_change_s=60.0, travel_speed_mm_s=900.0,
        acceleration_mm_s2=6000.0, spread_mm=0.06, repeats_mm=0.01,
        dialect=Dialect(0.01, turned=True, right=True, header="IN;PA;", force="", suffix="hpgl"),
    ),
)
"""[ours] a table with units of 0.01 mm, X along the feed, its zero on the right; its forces are set at its panel."""

SHIPPED: dict[str, Destination] = {d.id: d for d in (HOUSE, ISO, SMALL, TABLE)}
"""The destinations that ship with the product; the first is the default."""


# -- a shop's own ------------------------------------------------------------------------------------------------------


def destination_from_json(data: object) -> Destination:
    """A destination as a shop writes it: what it does not say is as of the shipped one that it is ``like``.

    ``names`` holds the exact ink names by role, ``printing_inks`` the other spot inks that the RIP prints,
    ``printer_margin_mm`` what the printer leaves blank; ``cutter`` the room it needs, its marks and its speed. The
    machines behave like those of the shipped one. Raises BadValue or NotFound.
    """
    keys = ("like", "title", "names", "printing_inks", "printer_margin_mm", "cutter")
    given = object_of(data, "The destination", keys)
    like = given.get("like", HOUSE.id)
    if like not in SHIPPED:
        raise NotFound(f"The destination is like “{like}”, and there is none such.", f"Known: {', '.join(SHIPPED)}.")
    base = SHIPPED[str(like)]
    names = dict(base.names)
    for role, name in object_of(given.get("names", {}), "The destination: names", [*LineRole, *InkRole]).items():
        names[LineRole(role) if role in set(LineRole) else InkRole(role)] = _ink(f"The ink of {role}", name)
    doubled = sorted(name for name in set(names.values()) if list(names.values()).count(name) > 1)
    if doubled:
        raise BadValue(f"The destination has two roles in one ink, “{doubled[0]}”.", "Give each role its own name.")
    listed = given.get("printing_inks", list(base.rip.printing_inks))
    if not isinstance(listed, list):
        raise BadValue("The destination: printing_inks must be a list of names.")
    margin = number(0, 1_000)("The destination: printer_margin_mm", given.get("printer_margin_mm", base.rip.margin_mm))
    rip = replace(base.rip, printing_inks=tuple(_ink("A printing ink", one) for one in listed), margin_mm=margin)
    title = text(200)("The destination: title", given.get("title", base.title))
    return replace(base, title=title, names=names, rip=rip, cutter=_cutter(base.cutter, given.get("cutter", {})))


def _ink(name: str, value: object) -> str:
    ink: str = text(127)(name, value)
    if not ink.strip():
        raise BadValue(f"{name} has no name.", "Give it as the RIP wants it, letter for letter.")
    return ink


def _cutter(base: Cutter, value: object) -> Cutter:
    given = object_of(value, "The cutter", [*CUTTER_READERS, "mark_distance_mm", "mark_arm_mm", "mark_weight_mm"])
    marks: dict[str, Any] = {}
    own: dict[str, Any] = {}
    for key, one in given.items():
        if key in CUTTER_READERS:
            own[key] = CUTTER_READERS[key](f"The cutter: {key}", one)
        else:
            marks[key.removeprefix("mark_")] = number(0.1, 1_000)(f"The cutter: {key}", one)
    return replace(base, **own, marks=replace(base.marks, **marks))


CUTTER_READERS: Mapping[str, Read] = {
    **dict.fromkeys(("side_margin_mm", "leader_mm", "trailer_mm", "head_mm", "feed_mm", "roller_mm"), number(0, 5_000)),
    **dict.fromkeys(("travel_speed_mm_s", "cut_speed_mm_s", "acceleration_mm_s2"), number(1, 1e6)),
    "title": text(200), "spread_mm": number(0, 10), "holders": number(1, 20, whole=True), "camera": yes,
}
