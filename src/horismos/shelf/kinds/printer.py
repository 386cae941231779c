"""Printers with their RIPs."""

from horismos.json_readers import plain
from horismos.machines import PRINTER_FIELDS, PRINTERS, READ_PRINTER, Rip
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register

__all__ = ["printer_of"]

NAMED = ("id", "title")
FIELDS = {key: one for key, one in PRINTER_FIELDS.items() if key not in NAMED}


def _data(printer: Rip) -> dict[str, object]:
    return {key: one for key, one in plain(printer).items() if key not in NAMED}


def printer_of(item: ShelfItem, shelf: Shelf) -> Rip:
    """The printer that a thing is."""
    made: Rip = READ_PRINTER(f"Printer “{item.title}”", {**item.data, "id": item.id, "title": item.title})
    return made


def _ships() -> list[ShelfItem]:
    return [
        ShelfItem(kind=Kind.PRINTER, id=one.id, title=one.title, data=_data(one)) for one in PRINTERS.values()
    ]


register(ShelfKind(
    kind=Kind.PRINTER, one="printer", many="printers",
    says="A printer with its RIP: how wide media may be, what it leaves blank, its hot folders and how long they dry.",
    read=by_table(FIELDS, _data(Rip())), begins=_data(Rip()), value=printer_of, ships=_ships,
))
