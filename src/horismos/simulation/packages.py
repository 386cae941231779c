"""A package as the machines find it: its files by sheet, its ticket, and its copies with their cuts and their print."""

import json
from collections.abc import Iterable, Mapping
from typing import Any

import numpy as np

from horismos.artwork import Page, line_objects, read_bytes
from horismos.artwork.parting import art_alone
from horismos.destinations import SHIPPED
from horismos.errors import CannotRead, NotFound
from horismos.formats.hpgl import read_hpgl
from horismos.machines import Dialect
from horismos.materials import MATERIALS, Material
from horismos.orders import Edge
from horismos.paths.box import grow
from horismos.paths.contour import Floats
from horismos.paths.flatten import parted
from horismos.rendering.composite import PageView
from horismos.simulation.landing import Copy, Inked, meant_along
from horismos.units import MM_PER_INCH

__all__ = [
    "PPI", "Files", "art_of", "copies_on", "cut_name", "file_of", "lengths_of", "material_of", "sheets_of",
    "ticket_of",
]

PPI = 300.0
"""[ours] the print is looked at as finely as that; an edge is known to a quarter of a pixel, 0.02 mm."""
ROOM_MM, STEP_MM, MOST_PLACES = 8.0, 1.0, 600
Files = Mapping[str, bytes]


def file_of(files: Files, end: str, what: str) -> bytes:
    found = [name for name in files if name.endswith(end)]
    if not found:
        raise NotFound(f"The package holds no {what}.", "Release the job again.")
    return files[found[0]]


def cut_name(names: Iterable[str], ticket: Mapping[str, Any], back: bool = False) -> str | None:
    """The cut file of a side among names, as the cutter of a ticket wants files to be called; None where none is."""
    end = f"-cut.{ticket['dialect']['suffix']}"
    found = (name for name in sorted(names) if name.endswith(end) and name.endswith(f"-back{end}") is back)
    return next(found, None)


def sheets_of(files: Files) -> list[Files]:
    """The files of each sheet of a package, by its ticket."""
    bases = [name[: -len("ticket.json")] for name in sorted(files) if name.endswith("-ticket.json")]
    if not bases:
        raise NotFound("The package holds no ticket.", "Release the job again.")
    return [{name: data for name, data in files.items() if name.startswith(base)} for base in bases]


def ticket_of(files: Files) -> Any:
    try:
        ticket = json.loads(file_of(files, "-ticket.json", "ticket"))
        ticket["marks"], ticket["operations"], ticket["placements"], SHIPPED[ticket["destination"]]
    except (ValueError, KeyError, TypeError) as error:
        raise CannotRead("The ticket of the package cannot be understood.", "Release the job again.") from error
    return ticket


def material_of(ticket: Any) -> Material:
    known = MATERIALS.get(ticket["material"]["id"])
    return known or next(iter(MATERIALS.values()))


def copies_on(files: Files, ticket: Any) -> list[Copy]:
    """The copies on the sheet, each with places along its cuts and with its print, looked at once a piece."""
    if cut_name(files, ticket) is None:
        raise NotFound("The package holds no cut file.", "It is printed only; there is nothing to cut.")
    cuts = _places(files, ticket)
    views: dict[int, tuple[Inked, Floats]] = {}
    page, art = art_of(files, ticket)
    edges = {job["job"]: Edge(job["order"].get("edge", "either")) for job in ticket["jobs"]}
    out = []
    for number, placement in enumerate(ticket["placements"]):
        if number not in cuts:
            continue
        a, b, c, d, e, f = placement["matrix"]
        own, move = np.array([[a, b], [c, d]]), np.array([e, f])
        piece = placement["piece"]
        if piece not in views:
            views[piece] = _seen(art, page, placement), np.vstack([own, move])
        inked, first = views[piece]
        # of this copy back to the piece, and on to the copy that was looked at
        linear = np.linalg.inv(own) @ first[:2]
        there = cuts[number] @ linear + (first[2] - move @ linear)
        edge = edges.get(ticket["pieces"][piece]["job"], Edge.EITHER)
        over, blank = meant_along(inked, there, edge)
        if art is None:
            over, blank = np.zeros(len(there), bool), np.zeros(len(there), bool)
        out.append(Copy(number, cuts[number], linear, first[2] - move @ linear, inked, over, blank))
    return out


def art_of(files: Files, ticket: Any) -> tuple[Page | None, bytes | None]:
    """The print without its lines; nothing where it is cut only."""
    if ticket.get("makes") == "cut":
        return None, None
    artwork = read_bytes(file_of(files, "-print.pdf", "print PDF"))
    page = artwork.pages[0]
    return page, art_alone(artwork, page, line_objects(artwork, page, SHIPPED[ticket["destination"]]))


def _seen(art: bytes | None, page: Page | None, placement: Any) -> Inked:
    x0, y0, x1, y1 = placement["bounds"]
    box = grow((x0, y0, x1, y1), ROOM_MM)
    if art is None or page is None:
        return Inked(np.zeros((1, 1), np.float32), box, 1.0)
    ppi = min(PPI, 4e4 / max(box[2] - box[0], box[3] - box[1]) * MM_PER_INCH / 10)
    with PageView.of_art(art, page) as view:
        drawn = view.render(box, ppi)
    covered = (drawn.min(axis=2) < 250).astype(np.float32)
    return Inked(covered, box, ppi / MM_PER_INCH)


def _places(files: Files, ticket: Any) -> dict[int, Floats]:
    """Places along the cuts of each copy, at most a millimetre apart, in mm on the sheet; of what is cut in front."""
    front = [op for op in ticket["operations"] if op["side"] == "front"]
    found: dict[int, list[Floats]] = {}
    for op, strokes in zip(front, strokes_of(files, ticket), strict=False):
        if op["role"] == "crease" or op["aligning"]:
            continue
        for copy, points in strokes:
            found.setdefault(copy, []).append(_sampled(points))
    return {copy: _thinned(np.concatenate(lines)) for copy, lines in found.items()}


def strokes_of(files: Files, ticket: Any) -> list[list[tuple[int, Floats]]]:
    """What each operation of the front cuts by the cut file: whose copy it is, and the stroke."""
    origin = (float(ticket["origin_mm"][0]), float(ticket["origin_mm"][1]))
    front = [op for op in ticket["operations"] if op["side"] == "front"]
    name = cut_name(files, ticket)
    if name is None:
        return [[] for _ in front]
    drawn = read_hpgl(files[name], origin, Dialect(**ticket["dialect"]))
    out: list[list[tuple[int, Floats]]] = []
    for number, op in enumerate(front):
        strokes = [stroke.points for stroke in drawn if stroke.operation == number]
        whose = np.repeat([copy for copy, _ in op["copies"]], [count for _, count in op["copies"]])
        if not len(strokes) or not len(whose):
            out.append([])
            continue
        # scored ties make more strokes in the file than were planned: each goes to whose it lies beside
        whose = whose[np.linspace(0, len(whose) - 1, len(strokes)).round().astype(int)]
        out.append([(copy, pts) for copy, pts in zip(whose.tolist(), strokes, strict=True) if copy >= 0])
    return out


def _sampled(points: Floats) -> Floats:
    steps = np.maximum(1, np.ceil(np.hypot(*np.diff(points, axis=0).T) / STEP_MM)).astype(np.int64)
    sampled: Floats = parted(points, steps)
    return sampled


def _thinned(places: Floats) -> Floats:
    if len(places) <= MOST_PLACES:
        return places
    thinned: Floats = places[np.linspace(0, len(places) - 1, MOST_PLACES).round().astype(int)]
    return thinned


def lengths_of(files: Files, ticket: Any, number: int) -> dict[int, float]:
    """How much of each copy an operation cuts once round, in mm."""
    found: dict[int, float] = {}
    passes = max(int(ticket["operations"][number].get("passes") or 1), 1)
    for copy, points in strokes_of(files, ticket)[number]:
        found[copy] = found.get(copy, 0.0) + float(np.hypot(*np.diff(points, axis=0).T).sum()) / passes
    return found
