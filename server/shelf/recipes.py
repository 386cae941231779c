"""The shelf of recipes: kept with their versions, exported and imported, and run over many jobs."""

import json
from dataclasses import dataclass
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from jobs import models
from jobs.api.bodies import Key, MendGiven, Name, Words
from jobs.api.common import download, find_job
from jobs.api.wants import EDIT_SHELF, WORK
from jobs.listing import WorkShown, work_shown
from jobs.store.changing import changing
from jobs.store.decisions import may_edit_shelf
from jobs.store.queue import begin, require_idle
from jobs.store.recipes import (
    MendKnown,
    RecipeShown,
    known_mends,
    recipe_of,
    recipes_shown,
    retire_recipe,
    save_recipe,
)
from ninja import File, Router, Schema, UploadedFile
from ninja.errors import HttpError
from pydantic import Field

from horismos.errors import HorismosError
from horismos.mending import Recipe
from horismos.words import safe_name
from horismos.workflow.showing.findings import MendShown, mend_shown

__all__ = ["router"]

router = Router()
MOST_RECIPE_BYTES = 200_000
MOST_JOBS = 500


@dataclass(frozen=True)
class Recipes:
    """Every recipe, the mends that one can be made of, and whether who asks may change them."""

    recipes: list[RecipeShown]
    mends: list[MendKnown]
    may_edit: bool


class RecipeDraft(Schema):
    """A recipe that is being written; under a name that there is it becomes the next version."""

    name: Name
    steps: Annotated[list[MendGiven], Field(min_length=1, max_length=100)]
    customers: Annotated[list[Words], Field(max_length=1_000)] = []
    destinations: Annotated[list[Key], Field(max_length=100)] = []
    findings: Annotated[list[Key], Field(max_length=100)] = []
    materials: Annotated[list[Key], Field(max_length=100)] = []
    note: Words = ""


class JobSeen(Schema):
    """A job, of the version that the person has seen."""

    id: int
    version: Annotated[int, Field(ge=1)]


class RunOver(Schema):
    """The jobs that a recipe is to be run over."""

    jobs: Annotated[list[JobSeen], Field(min_length=1, max_length=MOST_JOBS)]


@dataclass(frozen=True)
class RunShown:
    """What became of the wish to run a recipe over one job: the work that was begun, or why none was."""

    job_id: int
    name: str
    work: WorkShown | None
    why: str


@dataclass(frozen=True)
class RecipeRead:
    """A recipe as a file holds it; nothing is kept yet."""

    name: str
    version: int
    steps: list[MendShown]


def _shelf(request: HttpRequest) -> Recipes:
    return Recipes(recipes_shown(), known_mends(), may_edit_shelf(request.user))


@router.get("/recipes", response=Recipes)
def recipes(request: HttpRequest) -> Recipes:
    """Every recipe with its versions, and the mends that there are."""
    return _shelf(request)


@router.post("/recipes", response=Recipes, auth=EDIT_SHELF)
def save(request: HttpRequest, body: RecipeDraft) -> Recipes:
    """Keep a recipe, or a new version of it, with the right to."""
    steps = [{"mend": step.kind, **step.settings} for step in body.steps]
    bound = {
        "customers": body.customers, "destinations": body.destinations, "findings": body.findings,
        "materials": body.materials,
    }
    save_recipe(body.name, steps, bound, request.user.pk, body.note)
    return _shelf(request)


@router.post("/recipes/import", response=RecipeRead, auth=EDIT_SHELF)
def read_file(request: HttpRequest, file: File[UploadedFile]) -> RecipeRead:
    """Read a JSON file into a draft; nothing is kept yet."""
    if (file.size or 0) > MOST_RECIPE_BYTES:
        raise HttpError(413, "That is too large for a recipe.")
    try:
        data = json.loads(file.read().decode("utf-8"))
    except (ValueError, RecursionError) as error:
        raise HttpError(400, f"{file.name} is not JSON: {error}.") from None
    recipe = Recipe.from_json(data)
    return RecipeRead(recipe.name, recipe.version, [mend_shown(step) for step in recipe.steps])


@router.delete("/recipes/{recipe_id}", response=Recipes, auth=EDIT_SHELF)
def remove(request: HttpRequest, recipe_id: str) -> Recipes:
    """Take a recipe off the Shelf."""
    retire_recipe(recipe_id, request.user.pk)
    return _shelf(request)


@router.get("/recipes/{recipe_id}/export")
def export(request: HttpRequest, recipe_id: str) -> HttpResponse:
    """The last version of a recipe as a JSON file: its name, version and steps."""
    recipe = recipe_of(recipe_id)
    text = json.dumps(recipe.to_json(), indent=1, ensure_ascii=False) + "\n"
    return download(text.encode(), f"recipe-{safe_name(recipe.name)}.json", "application/json")


@router.post("/recipes/{recipe_id}/run", response=list[RunShown], auth=WORK)
def run(request: HttpRequest, recipe_id: str, body: RunOver) -> list[RunShown]:
    """Run a recipe over jobs: each becomes a new revision, or says why it does not; one does not hold up the others."""
    recipe = recipe_of(recipe_id)
    return [_begun(recipe, one, request.user.pk) for one in body.jobs]


def _begun(recipe: Recipe, one: JobSeen, who: int | None) -> RunShown:
    try:
        with changing(one.id, one.version, who) as change:
            require_idle(change.job)
            change.done(f"Recipe “{recipe.name}”, version {recipe.version}")
            work = begin(change.job, models.WorkKind.MEND, {"recipe": recipe.to_json()})
            return RunShown(one.id, change.job.name, work_shown(work), "")
    except HorismosError as error:
        return RunShown(one.id, _name_of(one.id), None, str(error))


def _name_of(job_id: int) -> str:
    try:
        return find_job(job_id).name
    except HorismosError:
        return f"job {job_id}"
