"""Destinations: a RIP and a cutter, and the exact ink names that they want."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue, NotFound
from horismos.json_readers import Field, Reader, changed, number, object_of, plain, record, text
from horismos.machines import CUTTER_FIELDS, CUTTERS, MARK_FIELDS, PRINTER_FIELDS, PRINTERS, Cutter, Rip
from horismos.roles import InkRole, LineRole
from horismos.shipped import shipped_by_id

__all__ = [
    "DEFAULT", "FIELDS", "READ", "SHIPPED", "Destination", "destination_from_json", "destination_of",
    "destination_to_json",
]


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


# -- as JSON -----------------------------------------------------------------------------------------------------------


def _names(name: str, value: object) -> dict[LineRole | InkRole, str]:
    said = object_of(value, name, [*LineRole, *InkRole])
    return {
        LineRole(role) if role in set(LineRole) else InkRole(role): _ink(f"The ink of {role}", one)
        for role, one in said.items()
    }


def _ink(name: str, value: object) -> str:
    ink: str = text(127)(name, value)
    if not ink.strip():
        raise BadValue(f"{name} has no name.", "Give it as the RIP wants it, letter for letter.")
    return ink


def _machine(known: Mapping[str, Any], read: Reader) -> Reader:
    """A machine by its id, or all that is known of it."""

    def of(name: str, value: object) -> Any:
        if not isinstance(value, str):
            return read(name, value)
        if value not in known:
            raise NotFound(f"{name} is “{value}”, and there is none such.", f"Known: {', '.join(known)}.")
        return known[value]

    return Reader(of, {"anyOf": [{"enum": list(known)}, dict(read.schema)]})


NEEDS = ("id", "title")
FIELDS: Mapping[str, Field] = MappingProxyType({
    "id": Field(text(80), "its name in files"),
    "title": Field(text(200), "what people call it"),
    "names": Field(
        Reader(_names, {"type": "object", "additionalProperties": {"type": "string"}}),
        "the exact ink names by role, letter for letter",
    ),
    "printer": Field(_machine(PRINTERS, record(PRINTER_FIELDS, Rip(), NEEDS)), "its printer, with the RIP"),
    "cutter": Field(_machine(CUTTERS, record(CUTTER_FIELDS, Cutter(), NEEDS)), "its cutter"),
})
"""What is said of a destination that ships, or in a ticket."""


def _destination(name: str, value: object) -> Destination:
    given = object_of(value, name, FIELDS)
    read = {key: one.read(f"{name}: {key}", given[key]) for key, one in FIELDS.items() if key in given}
    missing = [key for key in FIELDS if key not in read]
    if missing:
        raise BadValue(f"{name}: {missing[0]} is missing.")
    _no_ink_twice(read["names"])
    return Destination(read["id"], read["title"], read["names"], read["printer"], read["cutter"])


def _no_ink_twice(names: Mapping[LineRole | InkRole, str]) -> None:
    doubled = sorted(name for name in set(names.values()) if list(names.values()).count(name) > 1)
    if doubled:
        raise BadValue(f"The destination has two roles in one ink, “{doubled[0]}”.", "Give each role its own name.")


READ = Reader(_destination, {"type": "object"})
SHIPPED: Mapping[str, Destination] = shipped_by_id("destinations", "destinations", READ)
"""The destinations that ship with the product."""
DEFAULT: Destination = next(iter(SHIPPED.values()))
"""What a file is for where nobody has said it: the first of them."""


def destination_of(ticket: Mapping[str, Any]) -> Destination:
    """The destination of a ticket: as it says itself, or by its id. Raises NotFound."""
    if "machines" in ticket:
        found: Destination = READ("The machines of the ticket", ticket["machines"])
        return found
    known = SHIPPED.get(str(ticket.get("destination")))
    if known is None:
        raise NotFound("The ticket is for a destination that nobody knows.", "Release the job again.")
    return known


def destination_to_json(destination: Destination) -> dict[str, Any]:
    """A destination with all that is known of it and of its machines."""
    said = plain(destination)
    return {**{key: said[key] for key in ("id", "title", "names", "cutter")}, "printer": said["rip"]}


# -- a shop's own ------------------------------------------------------------------------------------------------------


def destination_from_json(data: object, known: Mapping[str, Destination] = SHIPPED) -> Destination:
    """A destination as a shop writes it: what it does not say is as of the known one that it is ``like``.

    ``names`` holds the exact ink names by role, ``printing_inks`` the other spot inks that the RIP prints,
    ``printer_margin_mm`` what the printer leaves blank; ``cutter`` the room it needs, its marks and its speed. The
    machines behave like those of the known one. Raises BadValue or NotFound.
    """
    keys = ("like", "title", "names", "printing_inks", "printer_margin_mm", "cutter")
    given = object_of(data, "The destination", keys)
    like = given.get("like", next(iter(known)))
    if like not in known:
        raise NotFound(f"The destination is like “{like}”, and there is none such.", f"Known: {', '.join(known)}.")
    base = known[str(like)]
    names = {**base.names, **_names("The destination: names", given.get("names", {}))}
    _no_ink_twice(names)
    listed = given.get("printing_inks", list(base.rip.printing_inks))
    if not isinstance(listed, list):
        raise BadValue("The destination: printing_inks must be a list of names.")
    margin = number(0, 1_000)("The destination: printer_margin_mm", given.get("printer_margin_mm", base.rip.margin_mm))
    rip = replace(base.rip, printing_inks=tuple(_ink("A printing ink", one) for one in listed), margin_mm=margin)
    title = text(200)("The destination: title", given.get("title", base.title))
    return replace(base, title=title, names=names, rip=rip, cutter=_cutter(base.cutter, given.get("cutter", {})))


def _cutter(base: Cutter, value: object) -> Cutter:
    """A cutter with what is said of it; what its marks are stands flat beside it, as ``mark_arm_mm``."""
    flat = {f"mark_{key}": one for key, one in MARK_FIELDS.items()}
    own = {key: one for key, one in CUTTER_FIELDS.items() if key not in ("id", "marks")}
    given = object_of(value, "The cutter", [*own, *flat])
    marks = {key.removeprefix("mark_"): one for key, one in given.items() if key in flat}
    made = changed("The cutter", base, {key: one for key, one in given.items() if key in own}, own)
    return replace(made, marks=changed("The cutter: mark", base.marks, marks, MARK_FIELDS))
