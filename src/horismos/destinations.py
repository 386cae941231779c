"""Destinations: a RIP and a cutter, and the exact ink names that they want."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue, NotFound
from horismos.json_readers import (
    Field,
    Reader,
    number,
    object_of,
    object_schema,
    one_of,
    plain,
    read_fields,
    schema_of,
    sequence_of,
    text,
)
from horismos.machines import CUTTER_FIELDS, CUTTERS, MARK_FIELDS, PRINTERS, READ_CUTTER, READ_PRINTER, Cutter, Rip
from horismos.roles import InkRole, LineRole
from horismos.shipped import shipped_by_id

__all__ = [
    "DEFAULT", "FIELDS", "OWN_CUTTER", "READ", "SHIPPED", "Destination", "destination_from_json", "destination_of",
    "destination_schema", "destination_to_json",
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


_INK = Reader(_ink, {**text(127).schema, "pattern": "\\S"})


def _machine(known: Mapping[str, Any], read: Reader) -> Reader:
    """A machine by its id, or all that is known of it."""

    def of(name: str, value: object) -> Any:
        if not isinstance(value, str):
            return read(name, value)
        if value not in known:
            raise NotFound(f"{name} is “{value}”, and there is none such.", f"Known: {', '.join(known)}.")
        return known[value]

    return one_of(of, {"enum": list(known)}, read.schema)


FIELDS: Mapping[str, Field] = MappingProxyType({
    "id": Field(text(80), "its name in files"),
    "title": Field(text(200), "what people call it"),
    "names": Field(
        Reader(_names, {"type": "object", "additionalProperties": False, "properties": {
            role.value: _INK.schema for role in (*LineRole, *InkRole)
        }}),
        "the exact ink names by role, letter for letter",
    ),
    "printer": Field(_machine(PRINTERS, READ_PRINTER), "its printer, with the RIP"),
    "cutter": Field(_machine(CUTTERS, READ_CUTTER), "its cutter"),
})
"""What is said of a destination that ships, or in a ticket."""


def _destination(name: str, value: object) -> Destination:
    read = read_fields(name, value, FIELDS, FIELDS)
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
    said = read_fields("The destination", data, OWN)
    like = said.get("like", next(iter(known)))
    if like not in known:
        raise NotFound(f"The destination is like “{like}”, and there is none such.", f"Known: {', '.join(known)}.")
    base = known[like]
    names = {**base.names, **said.get("names", {})}
    _no_ink_twice(names)
    rip = replace(
        base.rip, printing_inks=said.get("printing_inks", base.rip.printing_inks),
        margin_mm=said.get("printer_margin_mm", base.rip.margin_mm),
    )
    cutter = said["cutter"](base.cutter) if "cutter" in said else base.cutter
    return replace(base, title=said.get("title", base.title), names=names, rip=rip, cutter=cutter)


def _own_cutter(name: str, value: object) -> Callable[[Cutter], Cutter]:
    """What is said of a cutter, as what makes it of the known one."""
    said = read_fields("The cutter", value, OWN_CUTTER)
    marks = {key.removeprefix(FLAT): said.pop(key) for key in list(said) if key.startswith(FLAT)}
    return lambda base: replace(base, **said, marks=replace(base.marks, **marks))


FLAT = "mark_"
OWN_CUTTER: Mapping[str, Field] = MappingProxyType({
    **{key: one for key, one in CUTTER_FIELDS.items() if key not in ("id", "marks")},
    **{f"{FLAT}{key}": one for key, one in MARK_FIELDS.items()},
})
"""What a shop says of a cutter; what its marks are stands flat beside it."""
OWN: Mapping[str, Field] = MappingProxyType({
    "like": Field(text(80), "the id of the known one that it is like"),
    "title": FIELDS["title"],
    "names": FIELDS["names"],
    "printing_inks": Field(sequence_of(_INK, 0, 100, "names"), "spot inks that the RIP prints beside the named ones"),
    "printer_margin_mm": Field(number(0, 1_000), "what the printer leaves blank at every edge", "mm"),
    "cutter": Field(Reader(_own_cutter, object_schema(OWN_CUTTER)), "the room it needs, its marks and its speed"),
})
"""What a shop says of a destination of its own."""


def destination_schema() -> dict[str, Any]:
    """What a shop's own destination may be, as JSON Schema 2020-12."""
    return schema_of("Destination", OWN)
