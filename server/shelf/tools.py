"""The shelf of tool settings: by destination, material and role, typed in or corrected by what a test cut has shown."""

from dataclasses import dataclass

from bench.test_cuts import must_correct
from django.http import HttpRequest
from jobs import models
from jobs.api.bodies import Key, Words
from jobs.api.common import find
from jobs.api.wants import EDIT_SHELF, WORK
from jobs.store.decisions import may_edit_shelf
from jobs.store.shop_tools import ShopToolShown, keep_seen, keep_tool, shop_tools_shown
from ninja import Router, Schema

from horismos.cutting import Tool
from horismos.cutting.depth import CutOutcome
from horismos.roles import LineRole
from horismos.simulation.bed import Side
from horismos.workflow.showing.sheet import ToolShown

__all__ = ["router"]

router = Router()


@dataclass(frozen=True)
class ShopTools:
    """The settings of every role on a material at a destination's cutter, and whether who asks may change them."""

    destination: str
    material: str
    tools: list[ShopToolShown]
    may_edit: bool


class ToolGiven(Schema):
    """A setting that is typed in."""

    destination: Key
    material: Key
    tool: ToolShown
    note: Words = ""


class SeenGiven(Schema):
    """What a test cut has shown: on which sheet that lies before the cutter, with which version of the setting."""

    release: int
    side: Side = Side.FRONT
    role: LineRole
    version: int
    seen: CutOutcome


def _shown(request: HttpRequest, destination: str, material: str) -> ShopTools:
    return ShopTools(destination, material, shop_tools_shown(destination, material), may_edit_shelf(request.user))


@router.get("/shelf/tools", response=ShopTools)
def shop_tools(request: HttpRequest, destination: str, material: str) -> ShopTools:
    """The settings of every role on a material at a destination's cutter."""
    return _shown(request, destination, material)


@router.post("/shelf/tools", response=ShopTools, auth=EDIT_SHELF)
def save_tool(request: HttpRequest, body: ToolGiven) -> ShopTools:
    """Keep a setting as the newest version, with the right to."""
    values = {name: getattr(body.tool, name) for name in body.tool.__dataclass_fields__ if name != "role"}
    keep_tool(body.destination, body.material, Tool(role=body.tool.role, **values), request.user.pk, body.note)
    return _shown(request, body.destination, body.material)


@router.post("/shelf/tools/seen", response=ShopTools, auth=WORK)
def test_cut(request: HttpRequest, body: SeenGiven) -> ShopTools:
    """Correct a setting by what a test cut has shown on a sheet that lies there; whoever cuts may say that."""
    made = find(models.Release.objects.select_related("job"), body.release)
    must_correct(made, body.side, body.role)
    destination, material = str(made.ticket["destination"]), str(made.ticket["material"]["id"])
    keep_seen(
        destination, material, body.role, body.version, body.seen, request.user.pk, may_edit_shelf(request.user),
    )
    return _shown(request, destination, material)
