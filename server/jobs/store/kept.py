"""What of the Shelf a job goes by: as it is now, or as it was when the job was released, and what is newer since."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from horismos.checking import CheckSheet
from horismos.cutting import Tool
from horismos.destinations import READ as READ_DESTINATION
from horismos.destinations import Destination, destination_to_json
from horismos.json_readers import plain, plain_fields
from horismos.materials import READ as READ_MATERIAL
from horismos.materials import Material
from horismos.roles import LineRole
from horismos.shelf import Kind, kind_of
from jobs import models
from jobs.store.check_sheets import check_sheet_of, sheets_for
from jobs.store.shelf import destination_of, known_shelf, material_of
from jobs.store.shop_tools import shop_tools, tools_for_pair

__all__ = ["NewerShown", "ShelfTerms", "kept_standing", "newer_than_kept", "standing_of", "to_keep"]


@dataclass(frozen=True)
class ShelfTerms:
    """What of the Shelf a job goes by. ``versions`` are the numbers of all things that this is made of, by their ids.
    """

    destination: Destination
    material: Material
    tools: Mapping[LineRole, Tool]
    check_sheet: CheckSheet
    versions: Mapping[str, int]


@dataclass(frozen=True)
class NewerShown:
    """A thing of the Shelf that is another now than when a job was released; a version is 0 where there was none."""

    kind: Kind
    one: str
    id: str
    title: str
    kept: int
    now: int


def standing_of(job: models.Job) -> ShelfTerms:
    """What of the Shelf goes for a job now."""
    return ShelfTerms(
        destination_of(job.destination), material_of(job.material), shop_tools(job.destination_id, job.material_id),
        check_sheet_of(job), _versions(job),
    )


def _versions(job: models.Job) -> dict[str, int]:
    known = known_shelf()
    said = known.shelf[job.destination_id].data
    tools = tools_for_pair(job.destination_id, job.material_id)
    ids = [
        job.destination_id, said["printer"], said["cutter"], job.material_id, *(tool.id for tool in tools),
        *(tool.data["holder"] for tool in tools), *(sheet.id for sheet in sheets_for(job)),
    ]
    return {id: known.numbers[id] for id in ids if id}


def to_keep(standing: ShelfTerms) -> dict[str, Any]:
    """What a job keeps of the Shelf that it is released with."""
    return {
        "destination": destination_to_json(standing.destination), "material": plain(standing.material),
        "tools": {role.value: _tool(tool) for role, tool in standing.tools.items()},
        "check_sheet": standing.check_sheet.to_json(), "versions": dict(standing.versions),
    }


def _tool(tool: Tool) -> dict[str, Any]:
    return {key: value for key, value in plain_fields(tool).items() if key != "role"}


def kept_standing(job: models.Job) -> ShelfTerms | None:
    """What a job keeps of the Shelf; None where it goes by the Shelf as it is."""
    kept = job.kept
    if not kept or (kept["destination"]["id"], kept["material"]["id"]) != (job.destination_id, job.material_id):
        return None
    return ShelfTerms(
        READ_DESTINATION("The destination that is kept", kept["destination"]),
        READ_MATERIAL("The material that is kept", kept["material"]),
        {LineRole(role): Tool.kept(LineRole(role), data) for role, data in kept["tools"].items()},
        CheckSheet.from_json(kept["check_sheet"]), kept["versions"],
    )


def newer_than_kept(job: models.Job) -> list[NewerShown]:
    """What of the Shelf is another now than what a job keeps of it."""
    if kept_standing(job) is None:
        return []
    kept, now, shelf = job.kept["versions"], _versions(job), known_shelf().shelf
    return [
        NewerShown(shelf[id].kind, kind_of(shelf[id].kind).one, id, shelf[id].title, kept.get(id, 0), now.get(id, 0))
        for id in dict.fromkeys((*kept, *now)) if id in shelf and kept.get(id, 0) != now.get(id, 0)
    ]
