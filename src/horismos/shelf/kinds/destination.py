"""Destinations: a printer and a cutter, the exact ink names that they want, and how they are usually used."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.destinations import FIELDS as KNOWN
from horismos.destinations import READ, SHIPPED, Destination, destination_to_json
from horismos.errors import BadValue
from horismos.json_readers import Field, Reader, list_of, optional, plain, text
from horismos.release.cut_formats import registered as formats
from horismos.sheet.inks import ink_order
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register
from horismos.shelf.kinds.cutter import cutter_of
from horismos.shelf.kinds.marks import marks_of
from horismos.shelf.kinds.printer import printer_of

__all__ = ["destination_of", "usual_layout"]

_ID = text(80, least=1)


def _format(name: str, value: object) -> str:
    if not isinstance(value, str) or value not in formats():
        raise BadValue(f"{name}: there is no cut format “{value}”.", f"Known: {', '.join(formats())}.")
    return str(value)


FIELDS: Mapping[str, Field] = MappingProxyType({
    "names": KNOWN["names"],
    "printer": Field(_ID, "the printer"),
    "cutter": Field(_ID, "the cutter"),
    "marks": Field(optional(_ID), "the mark setting that jobs begin with; null: the cutter's own marks"),
    "inks": Field(optional(ink_order), "the order of inks that jobs begin with; null: as is usual for the side"),
    "preset": Field(optional(text(80)), "the hot folder that prints go to; null: the printer's usual one"),
    "formats": Field(
        list_of(Reader(_format, {"enum": list(formats())}), "cut formats"), "what lines are written in beside HP-GL"
    ),
})
"""What a shop says of a destination."""
BEGINS: Mapping[str, Any] = MappingProxyType({
    "names": plain(next(iter(SHIPPED.values())).names), "marks": None, "inks": None, "preset": None, "formats": [],
})


def destination_of(item: ShelfItem, shelf: Shelf) -> Destination:
    """The destination that a thing is, with its machines. Raises BadValue for two roles in one ink."""
    name = f"Destination “{item.title}”"
    printer = printer_of(shelf.called(Kind.PRINTER, item.data["printer"], name), shelf)
    cutter = cutter_of(shelf.called(Kind.CUTTER, item.data["cutter"], name), shelf)
    preset = item.data["preset"]
    if preset is not None and preset not in {one.id for one in printer.presets}:
        raise BadValue(
            f"{name}: {printer.title} has no hot folder “{preset}”.",
            f"Known: {', '.join(one.id for one in printer.presets)}.",
        )
    made: Destination = READ(name, {
        "id": item.id, "title": item.title, "names": item.data["names"], "printer": plain(printer),
        "cutter": plain(cutter),
    })
    if item.data["marks"] is not None:
        marks_of(shelf.called(Kind.MARKS, item.data["marks"], name), shelf).style(cutter.marks)
    return made


def usual_layout(item: ShelfItem, shelf: Shelf) -> dict[str, Any]:
    """What of a layout is as the destination has it, where a job says nothing of its own: plain values."""
    marks, inks = item.data.get("marks"), item.data.get("inks")
    found = shelf.get(marks) if marks else None
    return {**({"marks": dict(found.data)} if found else {}), **({"inks": list(inks)} if inks else {})}


def _ships() -> list[ShelfItem]:
    out = []
    for one in SHIPPED.values():
        said = destination_to_json(one)
        out.append(ShelfItem(kind=Kind.DESTINATION, id=one.id, title=one.title, data={
            **BEGINS, "names": said["names"], "printer": one.rip.id, "cutter": one.cutter.id,
        }))
    return out


register(ShelfKind(
    kind=Kind.DESTINATION, one="destination", many="destinations",
    says="A printer and a cutter, with the exact ink name that they want for each role, letter for letter.",
    read=by_table(FIELDS, BEGINS, ("printer", "cutter")), begins=BEGINS,
    refers={"printer": Kind.PRINTER, "cutter": Kind.CUTTER, "marks": Kind.MARKS}, value=destination_of, ships=_ships,
))
