"""A package as the machines find it: its files by sheet, its ticket, and its copies with their cuts and their print."""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from horismos.artwork import Page, line_objects, read_bytes
from horismos.artwork.parting import art_alone
from horismos.cutting.file_names import cut_file_among
from horismos.destinations import destination_of
from horismos.errors import CannotRead, NotFound
from horismos.formats.hpgl import read_hpgl
from horismos.machines import Dialect
from horismos.orders import Edge
from horismos.paths.box import Bounds, grow
from horismos.paths.contour import Floats
from horismos.paths.flatten import parted
from horismos.rendering.composite import PageView
from horismos.simulation.landing import Copy, Inked, meant_along
from horismos.units import MM_PER_INCH

__all__ = [
    "PPI", "Files", "Opened", "copies_of_strokes", "copies_on", "cut_name", "file_of", "lengths_of", "opened",
    "sheets_of",
]

PPI = 300.0
"""[ours] the print is looked at as finely as that; an edge is known to a quarter of a pixel, 0.02 mm."""
ROOM_MM, STEP_MM, MOST_PLACES = 8.0, 1.0, 600
Files = Mapping[str, bytes]


@dataclass(frozen=True, eq=False)
class Opened:
    """A sheet of a package, read once: its ticket, what each operation of its front cuts, and its print.

    ``strokes`` are those of the cut file by operation, each with the number of the copy that it is of; ``art`` is the
    print without its lines, None with its ``page`` where it is cut only.
    """

    ticket: Mapping[str, Any]
    strokes: Sequence[Sequence[tuple[int, Floats]]]
    page: Page | None
    art: bytes | None

    @property
    def front(self) -> list[Mapping[str, Any]]:
        """The operations of the front, as the ticket has them."""
        return [op for op in self.ticket["operations"] if op["side"] == "front"]

    def drawn(self, box: Bounds, ppi: float) -> NDArray[np.uint8] | None:
        """The print in a box of the sheet in mm, RGB, rows from the top; None where it is cut only."""
        if self.art is None or self.page is None:
            return None
        with PageView.of_art(self.art, self.page) as view:
            return view.render(box, ppi)


def file_of(files: Files, end: str, what: str) -> bytes:
    """The file of a package whose name ends so. Raises NotFound, with what it would have been."""
    found = [name for name in files if name.endswith(end)]
    if not found:
        raise NotFound(f"The package holds no {what}.", "Release the job again.")
    return files[found[0]]


def cut_name(names: Iterable[str], ticket: Mapping[str, Any], back: bool = False) -> str | None:
    """The cut file of a side among names, as the cutter of a ticket wants files to be called; None where none is."""
    return cut_file_among(names, ticket["dialect"]["suffix"], back)


def sheets_of(files: Files) -> list[Files]:
    """The files of each sheet of a package, by its ticket."""
    bases = [name[: -len("ticket.json")] for name in sorted(files) if name.endswith("-ticket.json")]
    if not bases:
        raise NotFound("The package holds no ticket.", "Release the job again.")
    return [{name: data for name, data in files.items() if name.startswith(base)} for base in bases]


def opened(files: Files) -> Opened:
    """Read a sheet of a package. Raises NotFound where a file of it is missing, CannotRead."""
    try:
        ticket = json.loads(file_of(files, "-ticket.json", "ticket"))
        ticket["marks"], ticket["operations"], ticket["placements"], destination_of(ticket)
    except (ValueError, KeyError, TypeError) as error:
        raise CannotRead("The ticket of the package cannot be understood.", "Release the job again.") from error
    return Opened(ticket, _strokes(files, ticket), *_print(files, ticket))


def _print(files: Files, ticket: Mapping[str, Any]) -> tuple[Page | None, bytes | None]:
    if ticket.get("makes") == "cut":
        return None, None
    artwork = read_bytes(file_of(files, "-print.pdf", "print PDF"))
    page = artwork.pages[0]
    return page, art_alone(artwork, page, line_objects(artwork, page, destination_of(ticket)))


def _strokes(files: Files, ticket: Mapping[str, Any]) -> list[list[tuple[int, Floats]]]:
    name = cut_name(files, ticket)
    if name is None:
        raise NotFound("The package holds no cut file.", "It is printed only; there is nothing to cut.")
    origin = (float(ticket["origin_mm"][0]), float(ticket["origin_mm"][1]))
    drawn = read_hpgl(files[name], origin, Dialect(**ticket["dialect"]))
    out: list[list[tuple[int, Floats]]] = []
    for number, op in enumerate(op for op in ticket["operations"] if op["side"] == "front"):
        strokes = [stroke.points for stroke in drawn if stroke.operation == number]
        whose = copies_of_strokes(op, len(strokes))
        out.append([(copy, points) for copy, points in zip(whose, strokes, strict=True) if copy >= 0])
    return out


def copies_of_strokes(op: Mapping[str, Any], count: int) -> list[int]:
    """Of which copy, or -1, each of so many strokes in a file is that an operation of a ticket cuts."""
    whose = np.repeat([copy for copy, _ in op["copies"]], [count for _, count in op["copies"]])
    if not count or not len(whose):
        return [-1] * count
    # scored ties make more strokes in the file than were planned: each goes to whose it lies beside
    found: list[int] = whose[np.linspace(0, len(whose) - 1, count).round().astype(int)].tolist()
    return found


def copies_on(sheet: Opened) -> list[Copy]:
    """The copies on the sheet, each with places along its cuts and with its print, looked at once a piece."""
    ticket, cuts = sheet.ticket, _places(sheet)
    views: dict[int, tuple[Inked, Floats]] = {}
    edges = {job["job"]: Edge(job["order"].get("edge", "either")) for job in ticket["jobs"]}
    out = []
    for number, placement in enumerate(ticket["placements"]):
        if number not in cuts:
            continue
        a, b, c, d, e, f = placement["matrix"]
        own, move = np.array([[a, b], [c, d]]), np.array([e, f])
        piece = placement["piece"]
        if piece not in views:
            views[piece] = _seen(sheet, placement), np.vstack([own, move])
        inked, first = views[piece]
        # of this copy back to the piece, and on to the copy that was looked at
        linear = np.linalg.inv(own) @ first[:2]
        there = cuts[number] @ linear + (first[2] - move @ linear)
        edge = edges.get(ticket["pieces"][piece]["job"], Edge.EITHER)
        over, blank = meant_along(inked, there, edge)
        if sheet.art is None:
            over, blank = np.zeros(len(there), bool), np.zeros(len(there), bool)
        out.append(Copy(number, cuts[number], linear, first[2] - move @ linear, inked, over, blank))
    return out


def _seen(sheet: Opened, placement: Mapping[str, Any]) -> Inked:
    x0, y0, x1, y1 = placement["bounds"]
    box = grow((x0, y0, x1, y1), ROOM_MM)
    ppi = min(PPI, 4e4 / max(box[2] - box[0], box[3] - box[1]) * MM_PER_INCH / 10)
    drawn = sheet.drawn(box, ppi)
    if drawn is None:
        return Inked(np.zeros((1, 1), np.float32), box, 1.0)
    return Inked((drawn.min(axis=2) < 250).astype(np.float32), box, ppi / MM_PER_INCH)


def _places(sheet: Opened) -> dict[int, Floats]:
    """Places along the cuts of each copy, at most a millimetre apart, in mm on the sheet; of what is cut in front."""
    found: dict[int, list[Floats]] = {}
    for op, strokes in zip(sheet.front, sheet.strokes, strict=True):
        if op["role"] == "crease" or op["aligning"]:
            continue
        for copy, points in strokes:
            found.setdefault(copy, []).append(_sampled(points))
    return {copy: _thinned(np.concatenate(lines)) for copy, lines in found.items()}


def _sampled(points: Floats) -> Floats:
    steps = np.maximum(1, np.ceil(np.hypot(*np.diff(points, axis=0).T) / STEP_MM)).astype(np.int64)
    sampled: Floats = parted(points, steps)
    return sampled


def _thinned(places: Floats) -> Floats:
    if len(places) <= MOST_PLACES:
        return places
    thinned: Floats = places[np.linspace(0, len(places) - 1, MOST_PLACES).round().astype(int)]
    return thinned


def lengths_of(sheet: Opened, number: int) -> dict[int, float]:
    """How much of each copy an operation of the front, by its number from 0, cuts once round, in mm."""
    found: dict[int, float] = {}
    passes = max(int(sheet.front[number].get("passes") or 1), 1)
    for copy, points in sheet.strokes[number]:
        found[copy] = found.get(copy, 0.0) + float(np.hypot(*np.diff(points, axis=0).T).sum()) / passes
    return found
