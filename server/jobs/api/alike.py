"""What many files ask alike: shown once, and answered once for those that are chosen."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from ninja.params.functions import Query
from pydantic import Field

from horismos.errors import BadValue, HorismosError, NotFound, NothingToDo
from horismos.mending import Recipe, Step, step, step_from
from horismos.orders import Order
from horismos.shelf import Kind
from horismos.workflow.pile.alike import chosen
from jobs import models
from jobs.alike import AlikeRow, AlikeShown, alike_rows, alike_shown, asked_by
from jobs.api.bodies import Answered, Key, Reason
from jobs.api.common import same_revision
from jobs.api.wants import TAKE_IN, WORK
from jobs.store.changing import changing
from jobs.store.decisions import settle
from jobs.store.queue import arguments_of, begin, require_idle
from jobs.store.shelf import known_shelf
from jobs.store.taking_in import keep_answers, unlocked

__all__ = ["router"]

router = Router()


class Chosen(Schema):
    """One of the files as the person has seen it, with the keys of its findings that are meant."""

    job_id: Annotated[int, Field(ge=1)]
    version: Annotated[int, Field(ge=1)]
    revision: Annotated[int, Field(ge=0)] = 0
    keys: Annotated[list[Key], Field(max_length=200)] = []


class AllAsked(Schema):
    """The files that are chosen."""

    files: Annotated[list[Chosen], Field(min_length=1, max_length=400)]


class MendAll(AllAsked):
    """A mend by its kind, and by its words where a finding offers several of that kind."""

    kind: Key
    label: Key = ""


class AcceptAll(AllAsked):
    """Why findings may stand: the reason goes for all of them."""

    reason: Reason


class MakeAll(AllAsked):
    """A line preset of the Shelf, by its id."""

    preset: Key


class AnswerAll(AllAsked):
    """What is answered, the same for all."""

    answers: Answered


@dataclass(frozen=True)
class NotDone:
    """A file that was left as it is, and why."""

    job_id: int
    why: str


@dataclass(frozen=True)
class DoneAlike:
    """How many files were given the answer, and which were not."""

    done: int
    refused: list[NotDone]


@router.get("/alike", response=list[AlikeRow])
def groups(request: HttpRequest) -> list[AlikeRow]:
    """What several open jobs ask alike: questions first, then the gravest."""
    return alike_rows()


@router.get("/alike/group", response=AlikeShown | None)
def group(request: HttpRequest, key: str = Query(..., max_length=5_000)) -> AlikeShown | None:
    """A group with its files side by side; null where nothing is asked so any more, as when it has been answered."""
    return alike_shown(key)


@router.post("/alike/mend", response=DoneAlike, auth=WORK)
def mend_all(request: HttpRequest, body: MendAll) -> DoneAlike:
    """Give the chosen files the mend, each as one change of its own that is proved."""

    def mend(one: Chosen) -> None:
        with changing(one.job_id, one.version, request.user.pk) as change:
            require_idle(change.job)
            same_revision(change.job, one.revision)
            meant = [asked for asked in asked_by(change.job) if asked.key in one.keys]
            found = [mend for asked in meant if (mend := chosen(asked, body.kind, body.label)) is not None]
            steps = list(dict.fromkeys(step_from({**mend.settings, "mend": mend.kind}) for mend in found))
            if not steps:
                raise NothingToDo("That is not offered for it any more.", "Look at it by itself.")
            change.done(f"{steps[0].label}, as for {len(body.files)} files alike")
            then = [step_from({**more.settings, "mend": more.kind}) for more in found[0].then]
            begin(change.job, models.WorkKind.MEND, _arguments(steps, then))

    return _each(body, mend)


def _arguments(steps: list[Step], then: list[Step]) -> dict[str, object]:
    if len(steps) == 1:
        return arguments_of(steps[0], then)
    return {"recipe": Recipe("the same for files alike", 1, tuple(steps)).to_json()}


@router.post("/alike/lines", response=DoneAlike, auth=WORK)
def make_all(request: HttpRequest, body: MakeAll) -> DoneAlike:
    """Make lines in the chosen files by a line preset, each from its own artwork, as one change that is proved."""
    known = known_shelf()
    item = known.shelf.get(body.preset)
    if item is None or item.kind is not Kind.LINES or item.retired:
        raise NotFound(f"There is no line preset {body.preset} here.", "Look on the Shelf which there are.")
    made = json.dumps(known.value(item).to_json())

    def make(one: Chosen) -> None:
        with changing(one.job_id, one.version, request.user.pk) as change:
            require_idle(change.job)
            same_revision(change.job, one.revision)
            asked = step("make-lines", make=made, page=change.job.page)
            change.done(f"Make lines by “{item.title}”, as for {len(body.files)} files alike")
            begin(change.job, models.WorkKind.MEND, arguments_of(asked, ()))

    return _each(body, make)


@router.post("/alike/printed", response=DoneAlike, auth=WORK)
def print_all(request: HttpRequest, body: AllAsked) -> DoneAlike:
    """Say that nothing of the chosen files is cut."""

    def printed(one: Chosen) -> None:
        with changing(one.job_id, one.version, request.user.pk) as change:
            require_idle(change.job)
            change.job.order.data = Order.from_json({**change.job.order.data, "roles": []}).to_json()
            change.job.order.save(update_fields=["data"])
            change.done(f"Printed only, as for {len(body.files)} files alike")
            begin(change.job, models.WorkKind.ANALYSE)

    return _each(body, printed)


@router.post("/alike/accept", response=DoneAlike, auth=WORK)
def accept_all(request: HttpRequest, body: AcceptAll) -> DoneAlike:
    """Let the chosen findings stand, with one reason."""

    def accept(one: Chosen) -> None:
        with changing(one.job_id, one.version, request.user.pk) as change:
            made = [settle(change.job, request.user, key, body.reason) for key in one.keys]
            if not made:
                raise BadValue("Say which finding is meant.")
            listed = "; ".join(f"{decision.id}: {decision.message}" for decision in made)
            change.done(f"{made[0].verb.capitalize()}, as for {len(body.files)} files alike: {listed} Reason: "
                        f"{made[0].reason}")

    return _each(body, accept)


@router.post("/alike/answer", response=DoneAlike, auth=TAKE_IN)
def answer_all(request: HttpRequest, body: AnswerAll) -> DoneAlike:
    """Say the same of all chosen files."""
    given = body.answers.model_dump(exclude_unset=True, exclude={"each_page", "password"})

    def answer(one: Chosen) -> None:
        seen = models.Job.objects.filter(pk=one.job_id).first()
        opened = unlocked(seen, body.answers.password) if seen and body.answers.password else ""
        with changing(one.job_id, one.version, request.user.pk) as change:
            require_idle(change.job)
            keep_answers(change.job, request.user.pk, given, body.answers.each_page, opened)
            change.done(f"Answered, as for {len(body.files)} files alike: "
                        f"{', '.join(sorted({*given, *(['password'] if opened else [])}))}")
            begin(change.job, models.WorkKind.TAKE_IN)

    return _each(body, answer)


def _each(body: AllAsked, run: Callable[[Chosen], None]) -> DoneAlike:
    """Do it to one after the other; one that is refused keeps no other from it."""
    refused = []
    for one in body.files:
        try:
            run(one)
        except HorismosError as error:
            refused.append(NotDone(one.job_id, str(error)))
    return DoneAlike(len(body.files) - len(refused), refused)
