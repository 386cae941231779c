"""Writes the cut files of a released sheet anew for where its print lies, proves each, and says how it then lies."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from horismos.cutting import Operation
from horismos.errors import DoesNotFit
from horismos.release.cut_files import CutFile, cut_files
from horismos.release.cut_formats import cut_names
from horismos.release.following.as_it_lies import FollowedFile, ticket_as_it_lies
from horismos.release.following.laid import Laid, cut_box, planned_side
from horismos.release.following.landing import landing_of, marks_of_ticket, refuse_what_is_cut_off
from horismos.release.following.released import Released
from horismos.release.following.rip_report import RipReport
from horismos.sheet import Sheet
from horismos.sheet.layout import Makes

__all__ = ["Followed", "follow"]


@dataclass(frozen=True, eq=False)
class Followed:
    """The cut files for where a print lies, and each repeat's ticket as it then is.

    ``worst_off_mm`` is how far a file, read back, lies from where its lines lie.
    """

    report: RipReport
    files: tuple[FollowedFile, ...]
    tickets: tuple[Mapping[str, Any], ...]
    worst_off_mm: float


def follow(
    released: Released, report: RipReport, progress: Callable[[float, str], None] = lambda share, what: None
) -> Followed:
    """The cut that follows what a RIP reports.

    Raises DoesNotFit, in words, where the cut cannot follow; CannotRead where the package does not hold what its ticket
    says; CannotWrite where what was written, read back, is not what was meant.
    """
    ticket = released.ticket
    if Makes(ticket["makes"]) is Makes.PRINT or not ticket["operations"]:
        raise DoesNotFit("Nothing of this sheet is cut: it is printed only.", "There is no cut to follow the print.")
    if Makes(ticket["makes"]) is Makes.CUT and not report.is_plain:
        raise DoesNotFit("Nothing of this sheet is printed: it is cut only.", "Take its own cut files.")
    if report.is_plain:
        return _as_released(released, report)
    _refuse_what_it_cannot(released, report)
    landing = landing_of(report, (ticket["sheet"]["width_mm"], ticket["sheet"]["length_mm"]))
    marks = marks_of_ticket(ticket)
    media = released.material.width_mm, released.material.length_mm
    refuse_what_is_cut_off(landing, {mark.number: mark.box for mark in marks}, cut_box(released), media)
    progress(0.2, "planning the cut for where it lies")
    laid = Laid(released, report, landing, Sheet(
        material=released.material, placements=(), marks=tuple(landing.mark(mark) for mark in marks),
        cutter=released.destination.room, length_mm=landing.length_mm,
    ))
    sides = [planned_side(laid, side) for side in ("front", "back")]
    kinds = cut_names(released.files, released.destination.cutter, False) or {"hpgl": ""}
    written: list[CutFile] = []
    for i, kind in enumerate(kinds):
        progress(0.4 + 0.5 * i / len(kinds), "writing the cut files")
        for side in sides:
            if side.operations:
                written += cut_files("", side, laid.sheet, released.destination, kind)
    files = tuple(
        FollowedFile(_name(released.base, file.name, repeat, report), repeat, _contours(file.operations), file.data)
        for repeat in range(1, report.copies + 1) for file in written
    )
    tickets = tuple(ticket_as_it_lies(laid, sides, files, repeat) for repeat in range(1, report.copies + 1))
    return Followed(report, files, tickets, max((file.off_mm for file in written), default=0.0))


def _refuse_what_it_cannot(released: Released, report: RipReport) -> None:
    if report.is_uniform:
        return
    said = f"It was {report.words[0]}"
    if any(op["perforation"] for op in released.ticket["operations"]):
        raise DoesNotFit(
            f"{said}: a perforation is dealt out for one scale, and its ties would not be what was ordered.",
            "Print it again at one scale.",
        )
    names = cut_names(released.files, released.destination.cutter, False)
    if "gcode" in names:
        raise DoesNotFit(
            f"{said}: {names['gcode']} cuts arcs of circles, and these are none any more.",
            "Print it again at one scale.",
        )


def _as_released(released: Released, report: RipReport) -> Followed:
    """The package's own cut files: nothing was done."""
    files = []
    for back in (False, True):
        names = cut_names(released.files, released.destination.cutter, back)
        count = sum(
            op["contours"] for op in released.ticket["operations"]
            if op["side"] == ("back" if back else "front") and not op["aligning"]
        )
        files += [FollowedFile(name, 1, count, released.files[name]) for name in names.values()]
    off = max(released.ticket["worst_off_mm"].values(), default=0.0)
    return Followed(report, tuple(files), (released.ticket,), float(off))


def _contours(operations: Sequence[Operation]) -> int:
    return sum(len(op.contours) for op in operations if not op.aligning)


def _name(base: str, own: str, repeat: int, report: RipReport) -> str:
    """The name of a cut file: the package's own where it is cut once, else with the number of the repeat."""
    return f"{base}{own}" if report.copies == 1 else f"{base}-repeat-{repeat}{own}"
