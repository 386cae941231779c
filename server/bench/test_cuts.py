"""Test cuts: a figure for each tool on the sheet that lies before the cutter, sent by itself."""

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse
from jobs import models
from jobs.api.common import download, find
from jobs.api.wants import WORK
from jobs.store.children import run_step
from jobs.store.shop_tools import shop_tools, version_of
from jobs.store.snapshots import pool_key, snapshot_of
from ninja import Router, Schema
from pydantic import TypeAdapter

from bench.loadings import loading_of
from horismos.cutting import Tool
from horismos.cutting.depth import CutOutcome, through_laminate, tools_for
from horismos.errors import NotFound, NotReady
from horismos.materials import Stratum, material_of
from horismos.roles import LineRole
from horismos.simulation.bed import Side
from horismos.words import safe_name
from horismos.workflow.figures import Tested, roles_weeded
from horismos.workflow.showing.sheet import ToolShown

__all__ = ["must_correct", "router"]

router = Router()
FIGURE = TypeAdapter(Tested)


class FigureGiven(Schema):
    """The role whose tool cuts the figure."""

    side: Side = Side.FRONT
    role: LineRole


@dataclass(frozen=True, kw_only=True)
class TestCutShown:
    """A test cut: where it stands, how deep it went of what was wanted, in µm, and what is seen when it is weeded.

    ``own`` says that the setting is the job's alone, so that it corrects nothing on the Shelf; ``version`` is the
    number of the shop's, 0 as shipped.
    """

    role: LineRole
    tool: ToolShown
    at: list[float]
    path: str
    strata: list[Stratum]
    wanted_um: float
    reached_um: float
    seen: CutOutcome
    own: bool
    version: int
    destination: str
    material: str


def _tool(made: models.Release, role: LineRole) -> tuple[Tool, bool]:
    """The setting as it stands now: the job's own, the shop's, the shipped; and whether it is the job's own."""
    destination, material = made.ticket["destination"], made.ticket["material"]["id"]
    job = snapshot_of(made.job)
    own = job.own_tools
    if made.shared_id is None and role in own:
        return own[role], True
    over, shop = material_of(made.ticket), shop_tools(destination, material)
    known = {**tools_for(over), **(through_laminate(shop, over) if made.ticket.get("laminate") else shop)}
    return known[role], bool(made.ticket.get("laminate"))


def must_correct(made: models.Release, side: Side, role: LineRole) -> None:
    """Raise NotReady or NotFound where a test cut on a package's sheet says nothing of the shop's setting."""
    _must_lie(made, side, role)
    if _tool(made, role)[1]:
        why = "under a laminate" if made.ticket.get("laminate") else "with a setting of this job alone"
        raise NotReady(f"The {role.words} is cut {why}.", "Change it in the job's Cut.")


def _must_lie(made: models.Release, side: Side, role: LineRole) -> None:
    """Raise NotReady or NotFound where no sheet of a package lies there, or none that has such a line."""
    if loading_of(made, side) is None:
        raise NotReady("No sheet lies before the cutter.", "Load it first.")
    if role not in roles_weeded(made.ticket, side):
        raise NotFound(f"This sheet has no {role.words}.", "Choose one of its operations.")


def _cut(made: models.Release, side: Side, role: LineRole) -> tuple[Tested, bool]:
    _must_lie(made, side, role)
    tool, own = _tool(made, role)
    found = run_step("bench:figure", made.ticket, side, role, tool, key=pool_key(made.job), what="Cutting the figure")
    return FIGURE.validate_python(found), own


def _made(release_id: int) -> models.Release:
    return find(models.Release.objects.select_related("job"), release_id)


@router.post("/bench/{release_id}/test-cut", response=TestCutShown, auth=WORK)
def test_cut(request: HttpRequest, release_id: int, body: FigureGiven) -> TestCutShown:
    """Cut the figure with the tool of a role, as it is set now."""
    made = _made(release_id)
    found, own = _cut(made, body.side, body.role)
    destination, material = made.ticket["destination"], made.ticket["material"]["id"]
    return TestCutShown(
        role=found.role, tool=ToolShown.of(found.tool), at=list(found.at), path=found.path, strata=list(found.strata),
        wanted_um=found.wanted_um, reached_um=found.reached_um, seen=found.seen, own=own,
        version=version_of(destination, material, body.role), destination=destination, material=material
    )


@router.get("/bench/{release_id}/test-cut/{role}")
def test_file(request: HttpRequest, release_id: int, role: LineRole, side: Side = Side.FRONT) -> HttpResponse:
    """The file of a test cut, for a cutter that takes it from a stick."""
    made = _made(release_id)
    found, _ = _cut(made, side, role)
    name = f"{safe_name(str(made.ticket['job']))}-test-{role.value}.{made.ticket['dialect']['suffix']}"
    return download(found.hpgl, name, "application/octet-stream")
