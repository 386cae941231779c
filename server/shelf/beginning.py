"""What a shop begins with: examples that ship, put on the Shelf by choice, and names read out of a file that worked."""

from dataclasses import dataclass
from typing import Annotated, Any

from django.http import HttpRequest
from jobs.api.bodies import Key
from jobs.api.wants import EDIT_SHELF
from jobs.store.arriving import safe_file_name
from jobs.store.children import run_step
from jobs.store.files import content_of
from jobs.store.shelf import known_shelf, put_examples
from jobs.store.uploads import kept
from ninja import File, Router, Schema, UploadedFile
from pydantic import Field

from horismos.errors import NotFound
from horismos.roles import InkRole, LineRole
from horismos.shelf import Kind, examples, kind_of, referred

__all__ = ["router"]

router = Router()


@dataclass(frozen=True)
class ExampleShown:
    """A thing that ships, and whether it lies on the Shelf already."""

    kind: Kind
    one: str
    id: str
    title: str
    data: dict[str, Any]
    here: bool


@dataclass(frozen=True)
class SpotName:
    """A spot ink of a file, letter for letter, and the role that it seems to say."""

    name: str
    role: LineRole | InkRole | None


class ExamplesWanted(Schema):
    """Examples by their ids; without any, all of them."""

    ids: Annotated[list[Key], Field(max_length=200)] = []


@router.get("/shelf/examples", response=list[ExampleShown])
def shipped(request: HttpRequest) -> list[ExampleShown]:
    """The things that ship."""
    here = known_shelf().shelf
    return [
        ExampleShown(item.kind, kind_of(item.kind).one, item.id, item.title, dict(item.data), item.id in here)
        for item in examples().values()
    ]


@router.post("/shelf/examples", response=list[ExampleShown], auth=EDIT_SHELF)
def put(request: HttpRequest, body: ExamplesWanted) -> list[ExampleShown]:
    """Put examples on the Shelf, with what they are made of; what is there already stays as it is."""
    known = examples()
    wanted = dict.fromkeys(body.ids or known)
    for id in list(wanted):
        if id not in known:
            raise NotFound(f"There is no example “{id}”.", "Choose one of those that there are.")
        wanted.update(dict.fromkeys(other for _, other in referred(known[id])))
    put_examples([item for item in known.values() if item.id in wanted], request.user.pk)
    return shipped(request)


@router.post("/shelf/names-in-file", response=list[SpotName], auth=EDIT_SHELF)
def names_in_file(request: HttpRequest, file: File[UploadedFile]) -> list[SpotName]:
    """The spot names of a PDF that went through the RIP before. The file is no job, and goes with the next sweep."""
    name, original = safe_file_name(file.name or "artwork"), kept(file)
    found = run_step("job:spot_names", content_of(original), name, key=original, what="Reading the names")
    roles = {role.value: role for role in (*LineRole, *InkRole)}
    return [SpotName(one["name"], roles.get(one["role"])) for one in found]
