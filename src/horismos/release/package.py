"""Prepares a release, proves it, and names what stands in its way."""


import json
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from horismos.artwork.lines import Line, line_objects, lines_by_role
from horismos.artwork.model import Artwork, Page
from horismos.artwork.parting import art_alone
from horismos.artwork.read import read_bytes
from horismos.checking import CheckSheet, Report, Severity
from horismos.checking.edge_map import EdgeLimits
from horismos.cutting import MOST_OFF_MM, CutPlan, Operation, Tool, plan_cut, worst_distance
from horismos.destinations import Destination
from horismos.errors import CannotWrite, NotFound, StopsOpen
from horismos.formats.hpgl import read_hpgl, write_hpgl
from horismos.orders import Order
from horismos.paths import flatten, greatest_distance
from horismos.release.printpdf import print_pdf
from horismos.release.ticket import ticket
from horismos.roles import LineRole
from horismos.sheet import Layout, Material, Sheet, lay_out, piece_of

__all__ = ["Package", "Prepared", "prepare", "release"]

PRINT_OFF_MM = 0.01
"""[ours] how far a line in the print PDF may lie from where it was meant."""


@dataclass(frozen=True, eq=False)
class Prepared:
    """What a release is made of, before anything is written: the piece, its sheet, its cut."""

    page: Page
    lines: Mapping[LineRole, list[Line]]
    left_out: tuple[LineRole, ...]
    sheet: Sheet
    plan: CutPlan


@dataclass(frozen=True, eq=False)
class Package:
    """The files by name, and the greatest distance between cut as meant and cut as written."""

    files: Mapping[str, bytes]
    worst_off_mm: float
    ticket: Mapping[str, Any]


def prepare(
    artwork: Artwork, order: Order, destination: Destination, material: Material,
    layout: Layout | None = None, tools: Mapping[LineRole, Tool] | None = None, page_number: int = 1,
    check_sheet: CheckSheet | None = None,
) -> Prepared:
    """Lay out the sheet and plan the cut of one page's lines.

    Roles that the order does not want are left out. The bleed is the order's, else the check sheet's.
    Raises DoesNotFit where it does not fit.
    """
    if not 1 <= page_number <= len(artwork.pages):
        raise NotFound(f"There is no page {page_number}.")
    page = artwork.pages[page_number - 1]
    found = line_objects(artwork, page, destination)
    by_role = lines_by_role(found)
    wanted = by_role if order.roles is None else {r: v for r, v in by_role.items() if r in order.roles}
    wanted = {role: lines for role, lines in wanted.items() if any(line.contours for line in lines)}
    bleed = EdgeLimits.of(order, check_sheet or CheckSheet()).bleed
    piece = piece_of(page, [line for lines in wanted.values() for line in lines], order, bleed)
    sheet = lay_out(piece, order, material, destination, layout)
    left_out = tuple(role for role in by_role if role not in wanted)
    return Prepared(page, wanted, left_out, sheet, plan_cut(sheet, wanted, destination, tools))


def release(
    artwork: Artwork,
    order: Order,
    destination: Destination,
    report: Report,
    prepared: Prepared,
    name: str,
    progress: Callable[[float, str], None] = lambda share, what: None,
) -> Package:
    """Write the package. ``name`` becomes the beginning of the files' names.

    Raises StopsOpen while a stop is open, CannotWrite where what was written, read back, is
    not what was meant.
    """
    stops = [finding for finding in report.findings if finding.severity is Severity.STOP]
    if stops:
        raise StopsOpen(
            f"{len(stops)} stop{'s are' if len(stops) > 1 else ' is'} open "
            f"({', '.join(dict.fromkeys(s.id for s in stops))}).",
            "Mend them first; nothing was released.",
        )
    base = safe_name(name)
    progress(0.1, "parting art and lines")
    lines = line_objects(artwork, prepared.page, destination)
    art = art_alone(artwork, prepared.page, lines)
    contours = {role: [c for line in of for c in line.contours] for role, of in prepared.lines.items()}
    progress(0.3, "writing the print PDF")
    printed = print_pdf(art, prepared.page, contours, prepared.sheet, destination, name)
    progress(0.5, "reading the print PDF back")
    printed_off = _print_off(printed, prepared, destination)
    progress(0.7, "writing the cut files")
    files, off = _cut_files(base, prepared.plan)
    worst = max(off.values(), default=0.0)
    files = {f"{base}-print.pdf": printed, **files}
    data = ticket(name, order, destination, report, prepared, files, off, printed_off, artwork.data)
    files[f"{base}-ticket.json"] = json.dumps(data, indent=2, ensure_ascii=False).encode()
    progress(1.0, "released")
    return Package(files, worst, data)


def safe_name(name: str) -> str:
    """A name that is safe as the beginning of a file's name on any system.

    >>> safe_name("Wader trail / round")
    'wader-trail-round'
    """
    return re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-")[:60] or "job"


def _cut_files(base: str, plan: CutPlan) -> tuple[dict[str, bytes], dict[str, float]]:
    """The cut file, and one of its own for the turned sheet; each read back and measured."""
    sides: dict[str, list[Operation]] = {}
    for operation in plan.operations:
        key = f"{base}-back-cut.plt" if operation.mirrored else f"{base}-cut.plt"
        sides.setdefault(key, []).append(operation)
    files, off = {}, {}
    for key, operations in sides.items():
        files[key] = write_hpgl([operation.run for operation in operations], plan.origin_mm)
        off[key] = worst_distance(operations, read_hpgl(files[key], plan.origin_mm))
        if off[key] > MOST_OFF_MM:
            raise CannotWrite(
                f"The cut file lies {off[key]:.3f} mm from what was meant; "
                f"{MOST_OFF_MM} mm is the most.",
                "Nothing was released. Report this; it is a fault of the program.",
            )
    return files, off


def _print_off(printed: bytes, prepared: Prepared, destination: Destination) -> float:
    """Read the print PDF back: every role under its exact name, where it was meant to lie."""
    artwork = read_bytes(printed)
    page = artwork.pages[0]
    found = lines_by_role(line_objects(artwork, page, destination))
    if set(found) != set(prepared.lines):
        raise CannotWrite("The print PDF does not hold the lines that were meant.")
    worst = 0.0
    for role, lines in found.items():
        if any(line.ink != destination.name_of(role) for line in lines):
            raise CannotWrite(f"The print PDF names the {role.words} wrongly.")
        meant = [
            flatten(contour.transformed(matrix))
            for matrix in prepared.sheet.placements
            for line in prepared.lines[role]
            for contour in line.contours
        ]
        written = [flatten(contour) for line in lines for contour in line.contours]
        worst = max(worst, greatest_distance(meant, written, step_mm=5.0))
    if worst > PRINT_OFF_MM:
        raise CannotWrite(f"The lines in the print PDF lie {worst:.3f} mm from what was meant.")
    return worst


