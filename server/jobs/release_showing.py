"""A release as screens show it: its files, what the RIP made of it, and the sheet of it that is next at the cutter."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.utils import timezone

from horismos.destinations import destination_of
from horismos.machines import Preset
from horismos.release.following import RipReport
from horismos.roles import InkRole, LineRole
from horismos.sheet import Makes
from horismos.simulation.bed import Side
from horismos.workflow.floor import SheetStage, Wait
from jobs import models
from jobs.store.drying import dry_at, is_dry
from jobs.store.floor import current_sheet, print_stage, sheet_value, turn_of_cut, turn_of_print
from jobs.store.shelf import known_shelf

__all__ = ["ReleaseShown", "SheetOnFloor", "release_shown"]


@dataclass(frozen=True)
class FileShown:
    """A file of a package."""

    name: str
    sha256: str
    bytes: int


@dataclass(frozen=True)
class PlateShown:
    """A plate that the RIP made."""

    ink: str
    role: LineRole | InkRole | None
    prints: bool
    coverage: float
    sha256: str


@dataclass(frozen=True)
class PdfXShown:
    """Whether a print PDF follows the standard for exchange, and what keeps it from that."""

    standard: str
    follows: bool
    hindered_by: list[str]


@dataclass(frozen=True, kw_only=True)
class SheetOnFloor:
    """A sheet between printer and finished piece; ``turn`` is its turn at the cutter.

    ``waits_for`` is what has to come first. ``refused`` is why its cut cannot follow its print, ``findings`` are checks
    that find something at the scale that was printed, ``said`` is why it stands as it does. ``unsure``: nobody knows
    how far its cut has come.
    """

    id: int
    repeat: int
    repeats: int
    stage: SheetStage
    held: bool
    turn: int | None
    waits_for: Wait | None
    early: str
    early_by: str
    laminates: bool
    known: bool
    unsure: bool
    refused: str
    findings: list[str]
    said: str
    pieces: int
    done: list[int]
    spoilt: list[int]
    ordered: list[int]
    """The spoilt pieces that are ordered again."""
    size_mm: list[float]
    picture: str


@dataclass(frozen=True, kw_only=True)
class ReleaseShown:
    """A package that was handed over, with the state of the machines: which sides were laid in, and which are cut."""

    id: int
    job_id: int
    job_name: str
    files: list[FileShown]
    worst_off_mm: float
    rip_state: models.RipState
    rip_refused: str
    plates: list[PlateShown]
    shared_id: int | None
    sheet_number: int
    sheets_in_all: int
    makes: Makes
    ink_order: list[str]
    pdf_x: PdfXShown | None
    sheet_mm: list[float]
    created: datetime
    preset: str
    printed: datetime | None
    picture: str
    dry_at: datetime | None
    ink_percent: float
    """How much ink lies on its heaviest place, all inks together; 0 while it is not printed."""
    dry: bool
    longer: float
    sides: list[Side]
    marks: int
    presets: list[Preset]
    usual_preset: str
    """The hot folder that its destination's prints go to, where nobody says otherwise."""
    loaded: list[Side]
    cut: list[Side]
    code: str | None
    held: bool
    turn: int | None
    """Its turn at the RIP, of those that wait."""
    report: list[str]
    """What the RIP did to it, in words."""
    sheet: SheetOnFloor | None
    """The sheet of it that is next at the cutter."""


def _usual_preset(made: models.Release) -> str:
    """The hot folder that the destination says, where its printer has it; else the second, which is the usual one."""
    known = [one.id for one in destination_of(made.ticket).rip.presets]
    item = known_shelf().shelf.get(str(made.ticket["destination"]))
    wanted = item.data.get("preset") if item else None
    return wanted if wanted in known else known[min(1, len(known) - 1)]


def release_shown(made: models.Release) -> ReleaseShown:
    """A release with the state of the machines."""
    sheet = made.ticket["sheet"]
    now = current_sheet(made)
    loadings = [one for one in made.loadings.all() if now is None or one.sheet_id == now.pk]
    lies = {one.laying["side"]: one for one in sorted(loadings, key=lambda one: one.pk)}
    return ReleaseShown(
        id=made.pk, job_id=made.job_id, job_name=made.job.name, files=[FileShown(**f) for f in made.files],
        worst_off_mm=made.worst_off_mm, rip_state=print_stage(made), rip_refused=made.rip_refused,
        plates=[_plate(plate) for plate in made.plates], shared_id=made.shared_id, sheet_number=made.sheet_number,
        sheets_in_all=made.ticket.get("sheets_in_all", 1), makes=Makes(made.ticket.get("makes", Makes.BOTH)),
        ink_order=list(made.ticket.get("ink_order", [])), pdf_x=_pdf_x(made.ticket),
        sheet_mm=[sheet["width_mm"], sheet["length_mm"]], created=made.created, preset=made.preset,
        printed=made.printed, picture=made.picture, dry_at=dry_at(made), ink_percent=made.ink_percent,
        dry=is_dry(made), longer=made.longer,
        sides=sorted({Side(op["side"]) for op in made.ticket["operations"]}, reverse=True),
        marks=len(made.ticket["marks"]), presets=list(destination_of(made.ticket).rip.presets),
        usual_preset=_usual_preset(made),
        loaded=[Side(side) for side in lies], cut=[Side(side) for side, one in lies.items() if one.cut],
        code=made.ticket.get("code"), held=made.held, turn=turn_of_print(made),
        report=RipReport.from_json(made.report).words if made.report else [], sheet=_on_floor(made),
    )


def _on_floor(made: models.Release) -> SheetOnFloor | None:
    row = current_sheet(made)
    if row is None:
        return None
    value, size = sheet_value(row), row.own_ticket["sheet"]
    waits = None if value.stage.is_over else value.waits_for(timezone.now())
    return SheetOnFloor(
        id=row.pk, repeat=row.repeat, repeats=max(one.repeat for one in made.sheets.all()), stage=value.stage,
        held=row.held, turn=turn_of_cut(row), waits_for=waits,
        early=value.early.reason if value.early else "", early_by=value.early.who if value.early else "",
        laminates=value.laminates, known=value.known, unsure=value.unsure, refused=row.refused,
        findings=list(row.findings), said=row.said,
        pieces=len(value.pieces), done=sorted(value.cut), spoilt=sorted(value.spoilt), ordered=list(row.ordered),
        size_mm=[size["width_mm"], size["length_mm"]], picture=row.picture or made.picture,
    )


def _pdf_x(ticket: Mapping[str, Any]) -> PdfXShown | None:
    return PdfXShown(**ticket["pdf_x"]) if ticket.get("pdf_x") else None


def _plate(kept: Mapping[str, Any]) -> PlateShown:
    role = kept["role"]
    known = None if role is None else LineRole(role) if role in set(LineRole) else InkRole(role)
    return PlateShown(**{**kept, "role": known})
