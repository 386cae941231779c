"""The things of the Shelf, whatever they are: listed, made, changed, tried, retired, with their versions and uses."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Annotated, Any

from django.db.models import Count
from django.http import HttpRequest
from jobs import models
from jobs.api.bodies import Key, Words
from jobs.api.common import find_job
from jobs.api.wants import EDIT_SHELF, WORK
from jobs.listing import WorkShown, work_shown
from jobs.store.decisions import may_edit_shelf
from jobs.store.queue import begin
from jobs.store.shelf import item_of, known_materials, known_shelf, shop_name
from jobs.store.shelf_changes import keep_item, remove_item, retire_item, row_called, used_in, usual_first
from ninja import Router, Schema
from pydantic import Field

from horismos.errors import BadValue
from horismos.intake.file_names import NamePattern
from horismos.reporting.letter import sample_letter
from horismos.reporting.letter_texts import LetterTexts
from horismos.shelf import Kind, ShelfItem, ShelfKind, kind_of, registered
from horismos.shelf.differences import Difference, differences
from horismos.shelf.kinds.cutter import cutter_of
from horismos.workflow.dialect_trial import DialectTried, try_dialect

__all__ = ["router"]

router = Router()
TRIED_ON_JOBS = frozenset([
    Kind.PRINTER, Kind.CUTTER, Kind.MARKS, Kind.DESTINATION, Kind.MATERIAL, Kind.HOLDER, Kind.TOOL, Kind.CHECK_SHEET,
    Kind.CUSTOMER, Kind.FABRIC,
])
MOST_NAMES = 100


@dataclass(frozen=True)
class ShelfKindShown:
    """A kind of thing. ``schema`` is what its data may be, as JSON Schema; ``refers`` names fields that hold ids.

    ``on_jobs`` says that a draft can be tried on a job.
    """

    kind: Kind
    one: str
    many: str
    says: str
    schema: dict[str, Any]
    begins: dict[str, Any]
    refers: dict[str, Kind]
    on_jobs: bool


@dataclass(frozen=True)
class ShelfThing:
    """A thing as it stands; ``usual``: the first of its kind that is offered.

    ``used_by`` counts the things that are made of it, ``jobs`` the jobs that go there or are made of it.
    """

    kind: Kind
    id: str
    title: str
    data: dict[str, Any]
    retired: bool
    number: int
    usual: bool
    used_by: int
    jobs: int


@dataclass(frozen=True)
class ThingVersion:
    """A version of a thing: who kept it, when and why, and what it changed of the one before."""

    number: int
    title: str
    data: dict[str, Any]
    retired: bool
    who: str
    when: datetime
    note: str
    changes: tuple[Difference, ...]


@dataclass(frozen=True)
class ThingUser:
    """Another thing that says this one."""

    kind: Kind
    one: str
    id: str
    title: str


@dataclass(frozen=True)
class JobNamed:
    """A job by its number and name."""

    id: int
    name: str


@dataclass(frozen=True)
class ShelfThingWhole:
    """A thing with its versions, the newest first, and where it is in use; ``released`` jobs went by a version of it.
    """

    thing: ShelfThing
    versions: list[ThingVersion]
    things: list[ThingUser]
    jobs: list[JobNamed]
    job_count: int
    released: int
    may_edit: bool


@dataclass(frozen=True)
class ShelfThings:
    """All things of a kind, those that are offered first, and whether who asks may change them."""

    kind: ShelfKindShown
    things: list[ShelfThing]
    may_edit: bool


Data = Annotated[dict[str, Any], Field(max_length=200)]


class ShelfThingGiven(Schema):
    """A thing as somebody writes it; its kind reads ``data``."""

    kind: Kind
    title: Key
    data: Data
    note: Words = ""


class ShelfThingChanged(Schema):
    """A thing as it is to be from now on; ``seen`` is the version that the person has looked at."""

    title: Key
    data: Data
    note: Words = ""
    seen: Annotated[int, Field(ge=1)]


class ThingRetired(Schema):
    """That a thing is to be offered no more, or again."""

    retired: bool
    note: Words = ""
    seen: Annotated[int, Field(ge=1)]


class ThingTried(Schema):
    """A draft, of a new thing or of the one of this ``id``, and a job to try it on."""

    kind: Kind
    id: Key | None = None
    title: Key
    data: Data
    job: Annotated[int, Field(ge=1)]


class NamesTried(Schema):
    """A name pattern, and names of files to try it on."""

    pattern: Key
    names: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=MOST_NAMES)]


@dataclass(frozen=True)
class NameTried:
    """What a pattern reads out of a name: where it ``fits``, each field with what it says."""

    name: str
    fits: bool
    said: dict[str, str]


def _kind(kind: ShelfKind) -> ShelfKindShown:
    return ShelfKindShown(
        kind.kind, kind.one, kind.many, kind.says, dict(kind.read.schema), dict(kind.begins), dict(kind.refers),
        kind.kind in TRIED_ON_JOBS,
    )


JOBS_BY = {Kind.DESTINATION: "destination", Kind.MATERIAL: "material"}
"""What a job names by its id."""


def _jobs_of(kind: Kind) -> dict[str, int]:
    """How many jobs there are of each thing of a kind."""
    by = JOBS_BY.get(kind)
    if by is None:
        return {}
    return dict(models.Job.objects.order_by().values_list(by).annotate(count=Count("pk")))


def _shown(item: ShelfItem, jobs: Mapping[str, int]) -> ShelfThing:
    known = known_shelf()
    usual = next(iter(known.offered(item.kind)), None)
    return ShelfThing(
        item.kind, item.id, item.title, dict(item.data), item.retired, known.numbers[item.id],
        usual is not None and usual.id == item.id, len(known.shelf.referring(item.id)),
        jobs.get(item.id, 0),
    )


@router.get("/shelf/kinds", response=list[ShelfKindShown])
def kinds(request: HttpRequest) -> list[ShelfKindShown]:
    """The kinds of things, in the order in which they stand on the Shelf."""
    return [_kind(kind) for kind in registered().values()]


@router.get("/shelf/things", response=ShelfThings)
def things(request: HttpRequest, kind: Kind) -> ShelfThings:
    """All things of a kind, those that are retired last."""
    jobs = _jobs_of(kind)
    listed = sorted(known_shelf().shelf.of(kind), key=lambda item: item.retired)
    return ShelfThings(_kind(kind_of(kind)), [_shown(item, jobs) for item in listed], may_edit_shelf(request.user))


@router.post("/shelf/things", response=ShelfThingWhole, auth=EDIT_SHELF)
def make(request: HttpRequest, body: ShelfThingGiven) -> ShelfThingWhole:
    """Make a thing; its id comes of its name."""
    row = keep_item(body.kind, None, body.title, body.data, request.user.pk, body.note)
    return thing(request, row.pk)


@router.get("/shelf/things/{thing_id}", response=ShelfThingWhole)
def thing(request: HttpRequest, thing_id: str) -> ShelfThingWhole:
    """A thing with all of its versions, and where it is in use."""
    row = row_called(thing_id)
    used = used_in(row)
    return ShelfThingWhole(
        _shown(item_of(row), {row.pk: used.job_count}), _versions(row),
        [ThingUser(one.kind, kind_of(one.kind).one, one.id, one.title) for one in used.items],
        [JobNamed(*one) for one in used.jobs], used.job_count, used.released, may_edit_shelf(request.user),
    )


def _versions(row: models.ShelfItem) -> list[ThingVersion]:
    rows = list(row.versions.select_related("who").order_by("number"))
    states = [
        ShelfItem(kind=Kind(row.kind), id=row.pk, title=one.title, data=one.data, retired=one.retired) for one in rows
    ]
    changes = [(), *(differences(before, after) for before, after in pairwise(states))]
    return [
        ThingVersion(
            one.number, one.title, one.data, one.retired, one.who.get_username() if one.who else "", one.when, one.note,
            change,
        )
        for one, change in zip(rows, changes, strict=True)
    ][::-1]


@router.put("/shelf/things/{thing_id}", response=ShelfThingWhole, auth=EDIT_SHELF)
def change(request: HttpRequest, thing_id: str, body: ShelfThingChanged) -> ShelfThingWhole:
    """Keep the next version of a thing."""
    kind = Kind(row_called(thing_id).kind)
    keep_item(kind, thing_id, body.title, body.data, request.user.pk, body.note, body.seen)
    return thing(request, thing_id)


@router.post("/shelf/things/{thing_id}/retire", response=ShelfThingWhole, auth=EDIT_SHELF)
def retire(request: HttpRequest, thing_id: str, body: ThingRetired) -> ShelfThingWhole:
    """Offer a thing no more, or again; what was made with it stays."""
    retire_item(thing_id, body.retired, request.user.pk, body.note, body.seen)
    return thing(request, thing_id)


@router.post("/shelf/things/{thing_id}/usual", response=ShelfThingWhole, auth=EDIT_SHELF)
def usual(request: HttpRequest, thing_id: str) -> ShelfThingWhole:
    """Let a thing be the usual one of its kind."""
    usual_first(thing_id, request.user.pk)
    return thing(request, thing_id)


@router.delete("/shelf/things/{thing_id}", response=ShelfThings, auth=EDIT_SHELF)
def remove(request: HttpRequest, thing_id: str) -> ShelfThings:
    """Take away a thing that was never in use."""
    kind = Kind(row_called(thing_id).kind)
    remove_item(thing_id, request.user.pk)
    return things(request, kind)


# -- tried ---------------------------------------------------------------------------------------------------------


@router.post("/shelf/try", response=WorkShown, auth=WORK)
def try_on_job(request: HttpRequest, body: ThingTried) -> WorkShown:
    """Find out what a draft would change in a job, before it is kept."""
    if body.kind not in TRIED_ON_JOBS:
        raise BadValue(f"A {kind_of(body.kind).one} is not tried on a job.")
    said: dict[str, object] = {
        "kind": body.kind.value, "id": body.id, "title": body.title, "data": drafted(body).data, "job": body.job,
    }
    return work_shown(begin(find_job(body.job), models.WorkKind.TRY_SHELF, said))


def drafted(body: ThingTried) -> ShelfItem:
    """The thing that a draft would be. Raises BadValue."""
    return kind_of(body.kind).item(body.id or "draft", body.title, body.data)


@router.post("/shelf/names/try", response=list[NameTried], auth=WORK)
def try_names(request: HttpRequest, body: NamesTried) -> list[NameTried]:
    """Say what a name pattern reads out of names of files. Raises BadValue for a pattern that cannot be meant."""
    pattern, titles = NamePattern(body.pattern), {id: one.title for id, one in known_materials().items()}
    out = []
    for name in body.names:
        found = pattern.read(name, titles)
        said: Mapping[str, Any] = {} if found is None else {
            key: value for key, value in (("customer", found.customer), ("title", found.title), *found.order.items())
            if value != ""
        }
        out.append(NameTried(name, found is not None, {key: _said(value) for key, value in said.items()}))
    return out


class LetterTried(Schema):
    """The words of a letter, as a draft has them."""

    data: Data


class CutterTried(Schema):
    """A cutter, as a draft has it."""

    title: str
    data: Data


@router.post("/shelf/cutter/try", response=DialectTried, auth=WORK)
def try_cutter(request: HttpRequest, body: CutterTried) -> DialectTried:
    """Write a figure in the language of a drafted cutter, and read it back. Raises BadValue."""
    item = kind_of(Kind.CUTTER).item("draft", body.title, body.data)
    return try_dialect(cutter_of(item, known_shelf().shelf))


@dataclass(frozen=True)
class LetterSample:
    """A letter with made-up findings, in these words."""

    text: str


@router.post("/shelf/letter/try", response=LetterSample, auth=WORK)
def try_letter(request: HttpRequest, body: LetterTried) -> LetterSample:
    """Write a letter about made-up findings in the words of a draft. Raises BadValue."""
    return LetterSample(sample_letter(LetterTexts.from_json(body.data), shop_name()).text())


def _said(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(map(str, value))
    return f"{value:g}" if isinstance(value, int | float) and not isinstance(value, bool) else str(value)
