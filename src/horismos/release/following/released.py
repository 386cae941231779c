"""A released sheet as its package holds it: what it is, checked against its ticket, and the lines of its pieces."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from horismos.artwork.lines import line_objects, lines_by_role
from horismos.artwork.read import read_bytes
from horismos.cutting.file_names import TICKET, base_of
from horismos.destinations import Destination, destination_of
from horismos.errors import BadValue, CannotRead, NotFound
from horismos.machines import Dialect
from horismos.materials import Material, material_of
from horismos.paths import Contour
from horismos.paths.matrix import Matrix
from horismos.release.following.one_piece import one_piece
from horismos.release.ticket_fields import read_ticket
from horismos.roles import LineRole

__all__ = ["AGAIN", "Lines", "Released", "released_in"]

AGAIN = "Release the job again."
Lines = Mapping[LineRole, tuple[Contour, ...]]


@dataclass(frozen=True, eq=False)
class Released:
    """A released sheet: its ticket, and its files by name, whose check sums are the ticket's."""

    ticket: Mapping[str, Any]
    files: Mapping[str, bytes]

    @property
    def base(self) -> str:
        """How its files' names begin."""
        return base_of(self.files) or "sheet"

    @cached_property
    def destination(self) -> Destination:
        """Where it goes; the cutter takes files as the ticket says."""
        found = destination_of(self.ticket)
        return replace(found, cutter=replace(found.cutter, dialect=Dialect(**self.ticket["dialect"])))

    @property
    def print_pdf(self) -> bytes:
        """Its print PDF. Raises NotFound."""
        name = next((one for one in self.files if one.endswith("-print.pdf")), None)
        if name is None:
            raise NotFound("The package holds no print PDF.", AGAIN)
        return self.files[name]

    @cached_property
    def material(self) -> Material:
        """What it is printed on."""
        return material_of(self.ticket)

    @cached_property
    def pieces(self) -> list[Lines]:
        """The lines of each piece by role, in the piece's mm, as the print PDF has them."""
        first: dict[int, int] = {}
        for number, p in enumerate(self.ticket["placements"]):
            first.setdefault(int(p["piece"]), number)
        out: list[Lines] = []
        for number, piece in enumerate(self.ticket["pieces"]):
            if number not in first:
                out.append({})
                continue
            size = float(piece["size_mm"][0]), float(piece["size_mm"][1])
            artwork = read_bytes(one_piece(self.print_pdf, first[number], number, size))
            by_role = lines_by_role(line_objects(artwork, artwork.pages[0], self.destination))
            out.append({role: tuple(c for line in of for c in line.contours) for role, of in by_role.items()})
        return out

    def matrix(self, number: int) -> Matrix:
        """Where a copy lies on the sheet."""
        a, b, c, d, e, f = map(float, self.ticket["placements"][number]["matrix"])
        return a, b, c, d, e, f


def released_in(files: Mapping[str, bytes], sheet: int | None = None) -> Released:
    """The sheet of a number among the files of a package, or its only one.

    Raises NotFound where there is no such sheet or a file is missing, BadValue where several are and none was named, or
    a ticket cannot be meant, CannotRead where a file is not the one that the ticket names.
    """
    names = sorted(name for name in files if name.endswith(TICKET))
    if not names:
        raise NotFound("The package holds no ticket.", "Name the folder that a job was released into.")
    tickets = {name: read_ticket(files[name], name) for name in names}
    known = {int(ticket["sheet_number"]): name for name, ticket in tickets.items()}
    if len(known) < len(names):
        raise BadValue("The folder holds packages of several jobs.", "Name a folder with one of them.")
    if sheet is None and len(known) > 1:
        listed = ", ".join(map(str, sorted(known)))
        raise BadValue(f"The package has {len(known)} sheets: {listed}.", "Say which one.")
    number = next(iter(known)) if sheet is None else sheet
    if number not in known:
        listed = ", ".join(map(str, sorted(known)))
        raise NotFound(f"The package has no sheet {number}.", f"It has {listed}.")
    name = known[number]
    ticket, base = tickets[name], name.removesuffix(TICKET)
    for one in ticket["files"]:
        if one["name"] not in files:
            raise NotFound(f"{one['name']} is missing: the ticket names it.", AGAIN)
        if hashlib.sha256(files[one["name"]]).hexdigest() != one["sha256"]:
            raise CannotRead(f"{one['name']} is not the file that the ticket names: its check sum is another.", AGAIN)
    own = {key: data for key, data in files.items() if key.startswith(base)}
    return Released(ticket, {**{one["name"]: files[one["name"]] for one in ticket["files"]}, name: own[name]})
