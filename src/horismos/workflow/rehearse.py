"""Rehearses a package on the simulated machines before a metre is spent."""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from horismos.artwork import Page, line_objects, read_bytes
from horismos.artwork.parting import art_alone
from horismos.destinations import SHIPPED, Destination
from horismos.errors import BadValue, CannotRead, NotFound
from horismos.formats.hpgl import read_hpgl
from horismos.machines import Dialect
from horismos.materials import MATERIALS, Material
from horismos.orders import Edge
from horismos.paths.box import grow
from horismos.paths.contour import Floats
from horismos.paths.flatten import parted
from horismos.rendering.composite import PageView
from horismos.simulation import Playback, RipResult, play, rip
from horismos.simulation.landing import Copy, Inked, meant_along
from horismos.simulation.loading import Spread, loaded, spread_of

__all__ = ["Outcome", "Rehearsal", "rehearse", "rehearse_loads"]

PPI = 300.0
"""[ours] the print is looked at as finely as that; an edge is known to a quarter of a pixel, 0.02 mm."""
ROOM_MM, STEP_MM, MOST_PLACES = 8.0, 1.0, 600
MOST_LOADS = 100_000
Progress = Callable[[float, str], None]
Files = Mapping[str, bytes]


@dataclass(frozen=True, eq=False)
class Rehearsal:
    """What came of the print PDF at the RIP, and of each cut file at the cutter."""

    rip: RipResult
    cuts: Mapping[str, Playback]


def _file(files: Files, end: str, what: str) -> bytes:
    found = [name for name in files if name.endswith(end)]
    if not found:
        raise NotFound(f"The package holds no {what}.", "Release the job again.")
    return files[found[0]]


def rehearse(files: Files, destination: Destination) -> Rehearsal:
    """Let the simulated RIP and cutter take a package's files, by name. Raises NotFound where one is missing."""
    printed = _file(files, "-print.pdf", "print PDF")
    ticket = json.loads(_file(files, "-ticket.json", "ticket"))
    cuts = {name: play(data, ticket) for name, data in files.items() if name.endswith(".plt")}
    return Rehearsal(rip(printed, destination), cuts)


@dataclass(frozen=True, eq=False)
class Outcome:
    """What came of so many loads: pieces over all of them, and how far off cuts landed, in mm.

    ``marks_missed`` are loads in which a mark was not found: they were not cut, and none of their pieces is spoilt.
    ``worst_load`` counts from 1, ``worst_at`` is where on the sheet; 0 and None where nothing was cut.
    """

    loads: int
    marks_missed: int
    pieces: int
    bare: int
    trimmed: int
    worst_mm: float
    p95_mm: float
    worst_load: int
    worst_at: tuple[float, float] | None

    def to_json(self) -> dict[str, Any]:
        """The figures as plain values."""
        return {
            "loads": self.loads, "marks_missed": self.marks_missed, "pieces": self.pieces, "bare": self.bare,
            "trimmed": self.trimmed, "worst_mm": round(self.worst_mm, 4), "p95_mm": round(self.p95_mm, 4),
            "worst_load": self.worst_load, "worst_at": self.worst_at and [round(v, 1) for v in self.worst_at],
        }


def rehearse_loads(
    files: Files, loads: int = 200, seed: int = 1, given: Mapping[str, float | None] | None = None,
    progress: Progress = lambda share, what: None,
) -> Outcome:
    """Print, load and cut the sheet of a package so many times, with the spread of printer, cutter and operator.

    ``given`` are standard deviations in place of the shipped ones, as ``Spread`` names them. The same seed gives the
    same figures. Raises NotFound where a file of the package is missing, BadValue for no load at all.
    """
    if not 1 <= loads <= MOST_LOADS:
        raise BadValue(f"{loads} loads.", f"Give 1 to {MOST_LOADS:,}.")
    sheets = _sheets(files)
    parts = []
    for number, sheet in enumerate(sheets):
        parts.append(_rehearsed(
            sheet, loads, seed + number, given or {},
            lambda share, what, number=number: progress((number + share) / len(sheets), what),  # type: ignore[misc]
        ))
    return _together(parts)


def _sheets(files: Files) -> list[Files]:
    """The files of each sheet of a package, by its ticket."""
    bases = [name[: -len("ticket.json")] for name in sorted(files) if name.endswith("-ticket.json")]
    if not bases:
        raise NotFound("The package holds no ticket.", "Release the job again.")
    return [{name: data for name, data in files.items() if name.startswith(base)} for base in bases]


def _together(parts: list[tuple[Outcome, Floats]]) -> Outcome:
    """What came of several sheets, each loaded so often; loads that were missed are counted over all of them."""
    outcomes = [outcome for outcome, _ in parts]
    worst = max(outcomes, key=lambda one: one.worst_mm)
    each = np.concatenate([off for _, off in parts])
    return Outcome(
        outcomes[0].loads, sum(one.marks_missed for one in outcomes), sum(one.pieces for one in outcomes),
        sum(one.bare for one in outcomes), sum(one.trimmed for one in outcomes), worst.worst_mm,
        float(np.percentile(each, 95)) if len(each) else 0.0, worst.worst_load, worst.worst_at,
    )


def _rehearsed(
    files: Files, loads: int, seed: int, given: Mapping[str, float | None], progress: Progress
) -> tuple[Outcome, Floats]:
    ticket = _ticket(files)
    marks = np.array([[mark["x_mm"], mark["y_mm"]] for mark in ticket["marks"]]).reshape(-1, 2)
    cutter = SHIPPED[ticket["destination"]].room
    spread = spread_of(cutter, _material(ticket), marks).but(**given)
    progress(0.05, "looking at the print")
    copies = _copies(files, ticket)
    middle = np.array([ticket["sheet"]["width_mm"], ticket["sheet"]["length_mm"]]) / 2
    return _cut_so_often(copies, marks, middle, spread, loads, seed, progress)


def _ticket(files: Files) -> Any:
    try:
        ticket = json.loads(_file(files, "-ticket.json", "ticket"))
        ticket["marks"], ticket["operations"], ticket["placements"], SHIPPED[ticket["destination"]]
    except (ValueError, KeyError, TypeError) as error:
        raise CannotRead("The ticket of the package cannot be understood.", "Release the job again.") from error
    return ticket


def _material(ticket: Any) -> Material:
    known = MATERIALS.get(ticket["material"]["id"])
    return known or next(iter(MATERIALS.values()))


def _cut_so_often(
    copies: list[Copy], marks: Floats, middle: Floats, spread: Spread, loads: int, seed: int, progress: Progress
) -> tuple[Outcome, Floats]:
    """The outcome, and how far off each piece of each load was cut at worst."""
    random = np.random.default_rng(seed)
    places = np.concatenate([copy.places for copy in copies]) if copies else np.empty((0, 2))
    ends = np.cumsum([0, *(len(copy.places) for copy in copies)])
    missed = bare = trimmed = worst_load = cut = 0
    worst, worst_at = 0.0, None
    each: list[Floats] = []
    for number in range(1, loads + 1):
        progress(0.1 + 0.9 * number / loads, f"load {number} of {loads}")
        load = loaded(marks, middle, spread, random)
        again = random.normal(size=(len(copies), 2)) * spread.repeats_mm
        if load.missed or not len(places):
            missed += bool(load.missed)
            continue
        cut += 1
        landed = load.cut_at(places) + np.repeat(again, np.diff(ends), axis=0)
        off = np.hypot(*(landed - places).T)
        each.append(np.maximum.reduceat(off, ends[:-1]))
        if off.max() > worst:
            worst, worst_load = float(off.max()), number
            x, y = places[int(off.argmax())].tolist()
            worst_at = (x, y)
        for copy, a, b in zip(copies, ends[:-1], ends[1:], strict=True):
            is_bare, is_trimmed = copy.spoilt(landed[a:b])
            bare += is_bare
            trimmed += is_trimmed
    all_off = np.concatenate(each) if each else np.empty(0)
    return Outcome(loads, missed, cut * len(copies), bare, trimmed, worst, 0.0, worst_load, worst_at), all_off


def _copies(files: Files, ticket: Any) -> list[Copy]:
    """The copies on the sheet, each with places along its cuts and with its print, looked at once a piece."""
    if not any(name.endswith(".plt") for name in files):
        raise NotFound("The package holds no cut file.", "It is printed only; there is nothing to cut.")
    cuts = _places(files, ticket)
    views: dict[int, tuple[Inked, Floats]] = {}
    page, art = _art(files, ticket)
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
        out.append(Copy(cuts[number], linear, first[2] - move @ linear, inked, over, blank))
    return out


def _art(files: Files, ticket: Any) -> tuple[Page | None, bytes | None]:
    """The print without its lines; nothing where it is cut only."""
    if ticket.get("makes") == "cut":
        return None, None
    artwork = read_bytes(_file(files, "-print.pdf", "print PDF"))
    page = artwork.pages[0]
    return page, art_alone(artwork, page, line_objects(artwork, page, SHIPPED[ticket["destination"]]))


def _seen(art: bytes | None, page: Page | None, placement: Any) -> Inked:
    x0, y0, x1, y1 = placement["bounds"]
    box = grow((x0, y0, x1, y1), ROOM_MM)
    if art is None or page is None:
        return Inked(np.zeros((1, 1), np.float32), box, 1.0)
    ppi = min(PPI, 4e4 / max(box[2] - box[0], box[3] - box[1]) * 25.4 / 10)
    with PageView.of_art(art, page) as view:
        drawn = view.render(box, ppi)
    covered = (drawn.min(axis=2) < 250).astype(np.float32)
    return Inked(covered, box, ppi / 25.4)


def _places(files: Files, ticket: Any) -> dict[int, Floats]:
    """Places along the cuts of each copy, at most a millimetre apart, in mm on the sheet; of what is cut in front."""
    origin = (float(ticket["origin_mm"][0]), float(ticket["origin_mm"][1]))
    front = [op for op in ticket["operations"] if op["side"] == "front"]
    name = next((n for n in sorted(files) if n.endswith("-cut.plt") and not n.endswith("-back-cut.plt")), None)
    if name is None:
        return {}
    drawn = read_hpgl(files[name], origin, Dialect(**ticket["dialect"]))
    found: dict[int, list[Floats]] = {}
    for number, op in enumerate(front):
        strokes = [stroke.points for stroke in drawn if stroke.operation == number]
        whose = np.repeat([copy for copy, _ in op["copies"]], [count for _, count in op["copies"]])
        if op["role"] == "crease" or op["aligning"] or not len(strokes):
            continue
        # scored ties make more strokes in the file than were planned: each goes to whose it lies beside
        whose = whose[np.linspace(0, len(whose) - 1, len(strokes)).round().astype(int)]
        for points, copy in zip(strokes, whose.tolist(), strict=True):
            if copy >= 0:
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
