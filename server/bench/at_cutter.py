"""What a person at the cutter needs of a sheet, by its code: how it is loaded, with which tools, what was said."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from django.http import HttpRequest
from jobs import models
from jobs.api.common import find
from jobs.api.wants import WORK
from jobs.release_showing import ReleaseShown, release_shown
from jobs.store.floor import current_sheet
from jobs.store.log import log
from ninja import Router, Schema

from horismos.errors import NotFound
from horismos.roles import LineRole
from horismos.simulation.bed import Side

__all__ = ["router"]

router = Router()


class MarksSaid(StrEnum):
    """What a person says of the marks."""

    FOUND = "found"
    LOST = "lost"


class SaidGiven(Schema):
    """What a person at the cutter says of the marks of a sheet."""

    marks: MarksSaid


@dataclass(frozen=True, kw_only=True)
class ToolAtCutter:
    """A tool in its turn, with who tested just this setting and when; empty where nobody has."""

    role: LineRole
    side: Side
    tool: int
    force_gf: float | None
    speed_mm_s: float | None
    passes: int
    tested: str
    aligning: bool


@dataclass(frozen=True)
class PauseAtCutter:
    """A pause before the operation of a number, counted from 1, and what is done there."""

    before: int
    words: str


@dataclass(frozen=True)
class PlacedPiece:
    """A piece by its number, and its cuts' bounds on the sheet in mm."""

    number: int
    bounds: list[float]


@dataclass(frozen=True, kw_only=True)
class AtCutter:
    """A sheet for who stands at the cutter; ``look_out`` is what was let pass, and what else is to be known."""

    release: ReleaseShown
    code: str | None
    material: str
    kept_at: str
    mirrored: bool
    leader_mm: float
    marks: int
    tools: list[ToolAtCutter]
    pauses: list[PauseAtCutter]
    pieces: list[PlacedPiece]
    look_out: list[str]
    time_s: float


@router.get("/at-the-cutter/{code}", response=AtCutter)
def at_the_cutter(request: HttpRequest, code: str) -> AtCutter:
    """The sheet of a code, the newest that has it. Raises NotFound."""
    wanted = code.strip().upper()
    made = models.Release.objects.filter(ticket__code=wanted).select_related("job").order_by("-pk").first()
    if made is None:
        raise NotFound(f"No sheet here has the code {code.strip() or '–'}.", "Read it again, letter for letter.")
    return shown(made)


@router.get("/at-the-cutter/package/{release_id}", response=AtCutter)
def of_package(request: HttpRequest, release_id: int) -> AtCutter:
    """The same of a package whose sheet has no code."""
    return shown(find(models.Release.objects.select_related("job"), release_id))


def shown(made: models.Release) -> AtCutter:
    """A package as who stands at the cutter sees it."""
    sheet = current_sheet(made)
    ticket: dict[str, Any] = sheet.own_ticket if sheet else made.ticket
    passed = [f"{one['message']} {one['reason']}" for job in ticket["jobs"] for one in job.get("let_pass", ())]
    return AtCutter(
        release=release_shown(made), code=ticket.get("code"), material=str(ticket["material"].get("title", "")),
        kept_at=str(ticket.get("kept_at", "")), mirrored=bool(ticket.get("mirrored")),
        leader_mm=float(ticket["sheet"]["leader_mm"]), marks=len(ticket["marks"]),
        tools=[_tool(op) for op in ticket["operations"]],
        pauses=[PauseAtCutter(one["before"] + 1, one["words"]) for one in ticket["pauses"] if one["words"]],
        pieces=[PlacedPiece(n, [float(v) for v in p["bounds"]]) for n, p in enumerate(ticket["placements"], 1)],
        look_out=[*passed, *map(str, ticket.get("notes", ()))], time_s=float(ticket["time_s"]),
    )


def _tool(op: dict[str, Any]) -> ToolAtCutter:
    tested = op.get("tested")
    return ToolAtCutter(
        role=LineRole(op["role"]), side=Side(op["side"]), tool=op["tool"], force_gf=op["force_gf"],
        speed_mm_s=op["speed_mm_s"], passes=op["passes"], aligning=op["aligning"],
        tested=f"{tested['who']}, {tested['when']}" if tested else "",
    )


@router.post("/bench/{release_id}/marks-said", response=AtCutter, auth=WORK)
def say_marks(request: HttpRequest, release_id: int, body: SaidGiven) -> AtCutter:
    """Note in the log whether the cutter has found the marks of a sheet."""
    made = find(models.Release.objects.select_related("job"), release_id)
    lost = body.marks is MarksSaid.LOST
    log(made.job, request.user.pk, "The cutter did not find the marks" if lost else "The cutter has found the marks")
    return shown(made)
