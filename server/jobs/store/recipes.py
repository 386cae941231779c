"""Recipes in the database: their versions, which of them fit a job, and what the mends are that they are made of."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from horismos.checking import Report
from horismos.errors import NotFound, NothingToDo
from horismos.mending import Recipe, Setting, Step, registered
from horismos.shelf import Kind, ShelfItem
from horismos.workflow.showing.findings import MendShown, mend_shown
from jobs import models
from jobs.store.customers import customer_called
from jobs.store.habits import learnt_of
from jobs.store.shelf import known_shelf
from jobs.store.shelf_changes import keep_item, retire_item

__all__ = [
    "BOUND", "MendKnown", "RecipeShown", "SettingKnown", "drop_habit", "fitting", "known_mends",
    "recipe_of", "recipes_shown", "retire_recipe", "save_recipe", "say_always",
]

BOUND = ("customers", "destinations", "findings", "materials")
"""What a recipe can be bound to; bound to nothing it fits every job that asks for it."""


@dataclass(frozen=True)
class SettingKnown:
    """A setting of a mend, as a form shows it. ``most`` is None where there is no upper end."""

    name: str
    kind: str
    words: str
    default: str | float | None
    unit: str
    least: float
    most: float | None
    options: list[str]
    optional: bool


@dataclass(frozen=True)
class MendKnown:
    """A mend that there is, with the checks that it answers and its settings."""

    id: str
    title: str
    answers: list[str]
    safe: bool
    settings: list[SettingKnown]


@dataclass(frozen=True)
class RecipeVersionShown:
    """A version of a recipe: its steps, who kept it, when and why."""

    number: int
    who: str
    when: datetime
    note: str
    steps: list[MendShown]


@dataclass(frozen=True)
class RecipeShown:
    """A recipe with its last version, what it is bound to, and its older versions, the newest first."""

    id: str
    name: str
    version: int
    steps: list[MendShown]
    customers: list[str]
    destinations: list[str]
    findings: list[str]
    materials: list[str]
    versions: list[RecipeVersionShown]


def known_mends() -> list[MendKnown]:
    """Every mend, in the order in which they are done."""
    return [
        MendKnown(
            mend.id, _title(mend.id), list(mend.answers), mend.safe, [_setting(setting) for setting in mend.settings]
        )
        for mend in registered().values()
    ]


def _title(mend: str) -> str:
    return mend.replace("-", " ").capitalize()


def _setting(setting: Setting) -> SettingKnown:
    plain = setting.default if isinstance(setting.default, str | float) else None
    return SettingKnown(
        setting.name, setting.kind.value, setting.words, plain, setting.unit, setting.least,
        setting.most if setting.most < 1e8 else None, list(setting.options), setting.optional,
    )


def recipes_shown() -> list[RecipeShown]:
    """All recipes that are offered, by name, each with its versions."""
    listed = known_shelf().offered(Kind.RECIPE)
    versions: dict[str, list[models.ShelfVersion]] = {}
    for row in models.ShelfVersion.objects.filter(item__in=[one.id for one in listed]).select_related("who"):
        versions.setdefault(row.item_id, []).append(row)
    return [
        _shown(item, versions.get(item.id, [])) for item in sorted(listed, key=lambda one: one.title.casefold())
    ]


def _shown(item: ShelfItem, versions: Sequence[models.ShelfVersion] = ()) -> RecipeShown:
    bound = {name: list(item.data[name]) for name in BOUND}
    return RecipeShown(
        item.id, item.title, known_shelf().numbers[item.id], _steps(item.data), bound["customers"],
        bound["destinations"], bound["findings"], bound["materials"], [
            RecipeVersionShown(
                v.number, v.who.get_username() if v.who else "someone", v.when, v.note, _steps(v.data)
            )
            for v in sorted(versions, key=lambda v: -v.number)
        ],
    )


def _steps(data: Mapping[str, Any]) -> list[MendShown]:
    return [mend_shown(step) for step in Recipe.from_json({"name": "-", "steps": data["steps"]}).steps]


def recipe_of(recipe_id: str) -> Recipe:
    """A recipe as it is now, as a value. Raises NotFound."""
    known = known_shelf()
    item = known.shelf.get(recipe_id)
    if item is None or item.kind is not Kind.RECIPE:
        raise NotFound(f"There is no recipe {recipe_id} here.", "Look on the Shelf which there are.")
    made: Recipe = known.value(item)
    return replace(made, version=known.numbers[item.id])


def save_recipe(
    name: str, steps: Sequence[Mapping[str, Any]], bound: Mapping[str, Sequence[str]], who: int | None, note: str
) -> models.ShelfItem:
    """Keep a recipe, or a new version of the one of that name. Raises BadValue naming what is wrong."""
    data = {"steps": [dict(step) for step in steps], **{key: sorted(set(bound.get(key, ()))) for key in BOUND}}
    same = (one for one in known_shelf().offered(Kind.RECIPE) if one.title.casefold() == name.strip().casefold())
    before = next(same, None)
    return keep_item(Kind.RECIPE, before.id if before else None, name, data, who, note, about={})


def retire_recipe(recipe_id: str, who: int | None) -> None:
    """Take a recipe off the Shelf; what it has done to jobs stays. Raises NotFound."""
    recipe_of(recipe_id)
    retire_item(recipe_id, True, who, "", None)


def fitting(job: models.Job, report: Report | None) -> list[RecipeShown]:
    """The recipes that are bound to something of a job: its customer, material, destination, or what was found on it.

    One that is bound to several sorts of things fits where all of these do.
    """
    found = {finding.id for finding in report.findings} if report else set()
    own = {"customers": {job.customer} - {""}, "destinations": {job.destination_id}, "findings": found,
           "materials": {job.material_id or ""} - {""}}
    out = []
    for recipe in map(_shown, known_shelf().offered(Kind.RECIPE)):
        bound = {key: set(getattr(recipe, key)) for key in BOUND}
        if any(bound.values()) and all(not wanted or wanted & own[key] for key, wanted in bound.items()):
            out.append(recipe)
    return out


def say_always(customer: str, take: bool, who: int | None) -> None:
    """Make a habit of what a customer's files were given alike, or never offer it again. Raises NothingToDo."""
    learnt = learnt_of(customer)
    if learnt is None:
        raise NothingToDo("Nothing was done alike often enough.", "Look again what is offered.")
    if take:
        _keep_habit(customer, learnt.steps, [job.name for job in learnt.jobs], who)
    else:
        _decline_habit(customer, learnt.steps)


def _keep_habit(customer: str, steps: Sequence[Step], jobs: Sequence[str], who: int | None) -> None:
    """Let mends always be done to a customer's files: a recipe of them, on the customer's page of the Shelf."""
    title = f"{customer}: {', '.join(step.label for step in steps)}"[:200]
    why = f"Done alike to {', '.join(jobs)}"[:200]
    data = {"steps": [step.to_json() for step in steps], "customers": [customer]}
    same = (one for one in known_shelf().offered(Kind.RECIPE) if one.title.casefold() == title.casefold())
    found = next(same, None)
    recipe = found.id if found else keep_item(Kind.RECIPE, None, title, data, who, why).pk
    known = customer_called(customer)
    before = dict(known.data) if known else {}
    after = {**before, "recipes": [*before.get("recipes", ()), recipe]}
    keep_item(Kind.CUSTOMER, known.id if known else None, known.title if known else customer, after, who, why)


def _decline_habit(customer: str, steps: Sequence[Step]) -> None:
    """Offer mends never again to be done always to a customer's files."""
    row, _ = models.Customer.objects.get_or_create(name=customer)
    row.declined = [*row.declined, *(step.to_json() for step in steps)]
    row.save(update_fields=["declined"])


def drop_habit(customer: str, thing: str, key: str, declined: bool, who: int | None) -> None:
    """End a habit of a customer, in the caller's transaction: a recipe or line preset, a binding, or what is declined.

    Raises NothingToDo where there is none such.
    """
    item = customer_called(customer)
    row = models.Customer.objects.filter(name=customer).first()
    if thing and item is not None and thing in (*item.data.get("recipes", ()), item.data.get("lines")):
        data = {**item.data, "recipes": [one for one in item.data.get("recipes", ()) if one != thing]}
        if data.get("lines") == thing:
            data["lines"] = None
        title = known_shelf().shelf[thing].title
        keep_item(Kind.CUSTOMER, item.id, item.title, data, who, f"No longer: {title}"[:200])
    elif row is not None and key and (key in row.binding or key in row.known):
        row.binding = {k: v for k, v in row.binding.items() if k != key}
        row.known = {k: v for k, v in row.known.items() if k != key}
        row.save(update_fields=["binding", "known"])
    elif row is not None and declined and row.declined:
        row.declined = []
        row.save(update_fields=["declined"])
    else:
        raise NothingToDo("There is no such habit any more.", "Look at the page again.")
