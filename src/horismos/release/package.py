"""Writes a package and proves it: what was written is read back, and has to be what was meant."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import zxingcpp

from horismos.artwork.lines import line_objects, lines_by_role
from horismos.artwork.model import Artwork
from horismos.artwork.read import read_bytes
from horismos.checking import Severity
from horismos.cutting import CutPlan
from horismos.cutting.shop_facts import ShopFacts
from horismos.destinations import Destination
from horismos.errors import CannotWrite, DoesNotFit, StopsOpen
from horismos.paths import flatten, greatest_distance
from horismos.paths.box import grow
from horismos.release.cut_files import cut_files
from horismos.release.printpdf import print_pdf
from horismos.release.ticket import Ordered, SheetNumber, Written, ticket
from horismos.release.xjdf import xjdf
from horismos.rendering.composite import PageView
from horismos.sheet import Sheet
from horismos.words import safe_name

__all__ = ["Package", "write_package"]

PRINT_OFF_MM = 0.01
"""[ours] how far a line in the print PDF may lie from where it was meant."""
CODE_PPI, CODE_ROOM_MM = 150.0, 2.0
ONLY, NOTHING = SheetNumber(), ShopFacts()
Progress = Callable[[float, str], None]
OnPaper = Callable[[Mapping[str, Any], Mapping[str, bytes]], Mapping[str, bytes]]


@dataclass(frozen=True, eq=False)
class Package:
    """The files by name, and the greatest distance between cut as meant and cut as written.

    ``hindered`` is what keeps the print PDF from following PDF/X-4.
    """

    files: Mapping[str, bytes]
    worst_off_mm: float
    ticket: Mapping[str, Any]
    hindered: tuple[str, ...] = ()


def write_package(
    name: str, jobs: Sequence[Ordered], destination: Destination, sheet: Sheet, plan: CutPlan,
    papers: Mapping[str, bytes] | None = None, progress: Progress = lambda share, what: None,
    standing: SheetNumber = ONLY, also: Sequence[str] = (), facts: ShopFacts = NOTHING,
    on_paper: OnPaper = lambda ticket, files: {},
) -> Package:
    """Write the package of a sheet. ``name`` becomes the beginning of the files' names.

    ``on_paper`` makes what the ticket is on paper, by the ends of files' names.

    ``jobs`` are those that lie on it. ``also`` are formats beside HP-GL that the lines are written in. ``papers`` go
    into the package too, by the end of their names; the ticket names them as it does every other file. Raises
    StopsOpen while a stop is open, DoesNotFit while copies lie in each other, CannotWrite where what was written, read
    back, is not what was meant.
    """
    stops = [finding for job in jobs for finding in job.report.findings if finding.severity is Severity.STOP]
    if stops:
        raise StopsOpen(
            f"{len(stops)} stop{'s are' if len(stops) > 1 else ' is'} open "
            f"({', '.join(dict.fromkeys(s.id for s in stops))}).",
            "Mend them first; nothing was released.",
        )
    if any(clash.into for clash in sheet.clashes):
        raise DoesNotFit("Copies lie in each other.", "Move them apart; nothing was released.")
    base = safe_name(name) + (f"-{standing.number}-of-{standing.count}" if standing.count > 1 else "")
    files: dict[str, bytes] = {}
    hindered: tuple[str, ...] = ()
    print_off = 0.0
    if sheet.makes.prints:
        progress(0.1, "writing the print PDF")
        printed = print_pdf(sheet, destination, name)
        files[f"{base}-print.pdf"], hindered = printed.data, printed.hindered
        progress(0.5, "reading the print PDF back")
        again = read_bytes(printed.data)
        print_off = _print_off(again, sheet, destination)
        _read_code(again, sheet)
    progress(0.7, "writing the cut files")
    kinds = dict.fromkeys(["hpgl", *also])
    cuts = [cut for kind in kinds for cut in cut_files(base, plan, sheet, destination, kind)]
    off = {cut.name: cut.off_mm for cut in cuts}
    files |= {cut.name: cut.data for cut in cuts}
    files |= {f"{base}-{end}": data for end, data in (papers or {}).items()}
    def told() -> dict[str, Any]:
        written = Written(files, off, print_off, hindered)
        return ticket(name, jobs, destination, sheet, plan, written, standing, facts)

    files[f"{base}-ticket.xjdf"] = xjdf(told())
    files |= {f"{base}-{end}": data for end, data in on_paper(told(), files).items()}
    data = told()
    files[f"{base}-ticket.json"] = json.dumps(data, indent=2, ensure_ascii=False).encode()
    progress(1.0, "released")
    return Package(files, max(off.values(), default=0.0), data, hindered)


def _read_code(printed: Artwork, sheet: Sheet) -> None:
    """The code in the print PDF, drawn and read, has to say what the sheet is called. Raises CannotWrite."""
    code = sheet.printed.code
    if code is None:
        return
    with PageView.of_art(printed.data, printed.pages[0]) as view:
        drawn = view.render(grow(code.box, CODE_ROOM_MM), CODE_PPI)
    found = [one.text for one in zxingcpp.read_barcodes(drawn)]
    if found != [code.text]:
        raise CannotWrite(
            f"The code of the sheet reads {', '.join(found) or 'as nothing'} where {code.text} was meant.",
            "Nothing was released. Leave the code out, and report this.",
        )


def _print_off(printed: Artwork, sheet: Sheet, destination: Destination) -> float:
    """Read the print PDF back: every role under its exact name, where it was meant to lie."""
    found = lines_by_role(line_objects(printed, printed.pages[0], destination))
    if set(found) != {role for piece in sheet.pieces for role in piece.lines if sheet.makes.cuts}:
        raise CannotWrite("The print PDF does not hold the lines that were meant.")
    worst, lying = 0.0, sheet.printed
    for role, lines in found.items():
        if any(line.ink != destination.name_of(role) for line in lines):
            raise CannotWrite(f"The print PDF names the {role.words} wrongly.")
        meant = [
            flatten(contour.transformed(copy.matrix))
            for copy in lying.placements for contour in copy.piece.lines.get(role, ())
        ]
        written = [flatten(contour) for line in lines for contour in line.contours]
        worst = max(worst, greatest_distance(meant, written, step_mm=5.0))
    if worst > PRINT_OFF_MM:
        raise CannotWrite(f"The lines in the print PDF lie {worst:.3f} mm from what was meant.")
    return worst
