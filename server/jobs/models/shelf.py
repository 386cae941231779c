"""What a person keeps on the Shelf in versions: recipes and check sheets."""

from django.conf import settings
from django.db import models

__all__ = ["CheckSheet", "CheckSheetVersion", "Recipe", "RecipeVersion"]


class Recipe(models.Model):
    """A sequence of mends under a name; its steps stand in its versions."""

    name = models.CharField(max_length=200, unique=True)


class RecipeVersion(models.Model):
    """A state of a recipe. Never changed; the last one counts.

    ``bound`` says to which customers, destinations and kinds of findings it fits, each a list.
    """

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    steps = models.JSONField()
    bound = models.JSONField(default=dict)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=200, blank=True)
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within a recipe."""

        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["recipe", "number"], name="recipe_version_number")]


class CheckSheet(models.Model):
    """The check sheet of the shop, a destination, a material or a customer; its limits stand in its versions."""

    scope = models.CharField(max_length=12)
    subject = models.CharField(max_length=200, blank=True)

    class Meta:
        """One for each thing."""

        constraints = [models.UniqueConstraint(fields=["scope", "subject"], name="one_sheet_per_thing")]
        permissions = [("edit_shelf", "May change what lies on the Shelf")]


class CheckSheetVersion(models.Model):
    """A state of a check sheet, as the core's JSON. Never changed; the last one counts."""

    sheet = models.ForeignKey(CheckSheet, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    data = models.JSONField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=200, blank=True)
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within a sheet."""

        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["sheet", "number"], name="sheet_version_number")]
