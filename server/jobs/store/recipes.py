"""Recipes in the database: their versions, which of them fit a job, and what the mends are that they are made of."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from horismos.checking import Report
from horismos.checking import registered as checks
from horismos.errors import BadValue, NotFound
from horismos.mending import Recipe, Setting, registered
from horismos.workflow.showing.findings import MendShown, mend_shown
from jobs import models
from jobs.store.shelf import known_destinations, known_materials

__all__ = [
    "BOUND", "MendKnown", "RecipeShown", "SettingKnown", "fitting", "known_mends", "recipe_of", "recipes_shown",
    "remove_recipe", "save_recipe",
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

    id: int
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
    """All recipes, by name."""
    rows = models.Recipe.objects.prefetch_related("versions__who").order_by("name")
    return [_shown(row) for row in rows]


def _shown(row: models.Recipe) -> RecipeShown:
    versions = sorted(row.versions.all(), key=lambda v: -v.number)
    last = versions[0]
    bound = {name: list(last.bound.get(name, [])) for name in BOUND}
    return RecipeShown(
        row.pk, row.name, last.number, _steps(row.name, last), bound["customers"], bound["destinations"],
        bound["findings"], bound["materials"], [
            RecipeVersionShown(
                v.number, v.who.get_username() if v.who else "someone", v.when, v.note, _steps(row.name, v)
            )
            for v in versions
        ],
    )


def _steps(name: str, version: models.RecipeVersion) -> list[MendShown]:
    return [mend_shown(step) for step in _value(name, version).steps]


def _value(name: str, version: models.RecipeVersion) -> Recipe:
    return Recipe.from_json({"name": name, "version": version.number, "steps": version.steps})


def recipe_of(recipe_id: int) -> Recipe:
    """The last version of a recipe as a value. Raises NotFound."""
    last = models.RecipeVersion.objects.filter(recipe=recipe_id).select_related("recipe").order_by("-number").first()
    if last is None:
        raise NotFound(f"There is no recipe {recipe_id} here.", "Look on the Shelf which there are.")
    return _value(last.recipe.name, last)


def save_recipe(
    name: str, steps: Sequence[Mapping[str, Any]], bound: Mapping[str, Sequence[str]], who: int | None, note: str
) -> models.RecipeVersion:
    """Keep a recipe, or a new version of the one of that name. Raises BadValue naming what is wrong."""
    made = Recipe.from_json({"name": name.strip(), "steps": [dict(step) for step in steps]})
    kept = {key: sorted(set(bound.get(key, ()))) for key in BOUND}
    for key, known, what in (
        ("destinations", set(known_destinations()), "destination"), ("findings", set(checks()), "check"),
        ("materials", set(known_materials()), "material"),
    ):
        strange = set(kept[key]) - known
        if strange:
            raise BadValue(f"There is no {what} “{min(strange)}”.", f"Known: {', '.join(sorted(known))}.")
    with transaction.atomic():
        row, _ = models.Recipe.objects.get_or_create(name=made.name)
        last = row.versions.order_by("-number").first()
        return models.RecipeVersion.objects.create(
            recipe=row, number=last.number + 1 if last else 1, steps=[step.to_json() for step in made.steps],
            bound=kept, who_id=who, note=note[:200],
        )


def remove_recipe(recipe_id: int) -> None:
    """Take a recipe off the Shelf with its versions; what it has done to jobs stays. Raises NotFound."""
    if not models.Recipe.objects.filter(pk=recipe_id).delete()[0]:
        raise NotFound(f"There is no recipe {recipe_id} here.", "Look on the Shelf which there are.")


def fitting(job: models.Job, report: Report | None) -> list[RecipeShown]:
    """The recipes that are bound to something of a job: its customer, material, destination, or what was found on it.

    One that is bound to several sorts of things fits where all of these do.
    """
    found = {finding.id for finding in report.findings} if report else set()
    own = {"customers": {job.customer} - {""}, "destinations": {job.destination_id}, "findings": found,
           "materials": {job.material_id or ""} - {""}}
    out = []
    for recipe in recipes_shown():
        bound = {key: set(getattr(recipe, key)) for key in BOUND}
        if any(bound.values()) and all(not wanted or wanted & own[key] for key, wanted in bound.items()):
            out.append(recipe)
    return out


