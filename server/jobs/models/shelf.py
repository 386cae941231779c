"""What a shop keeps on its Shelf: things of all kinds, each with all of its versions; and the shop itself."""

import secrets

from django.conf import settings
from django.db import models

from horismos.shelf import Kind

__all__ = ["Media", "ShelfItem", "ShelfVersion", "Shop"]

KINDS = [(kind.value, kind.value) for kind in Kind]


def _state() -> str:
    return secrets.token_hex(16)


class Shop(models.Model):
    """The one row of the shop. ``state`` is another one after each change of the Shelf; ``begun`` ends the guide."""

    name = models.CharField(max_length=120, blank=True)
    unit = models.CharField(max_length=2, default="mm")
    currency = models.CharField(max_length=8, blank=True)
    sorts = models.BooleanField(default=False)
    """Whether what comes in is mended by itself as far as no person is needed."""
    state = models.CharField(max_length=32, default=_state)
    begun = models.BooleanField(default=False)

    def touch(self) -> None:
        """Note that the Shelf is another now."""
        self.state = _state()
        self.save()


class ShelfItem(models.Model):
    """A thing as it stands now: ``data`` as its kind in the core has it. No two have one id, of whatever kinds.

    Those of a kind with the lowest ``position`` are the usual ones. What was in use is retired, and never deleted.
    """

    id = models.CharField(primary_key=True, max_length=80)
    kind = models.CharField(max_length=20, choices=KINDS)
    title = models.CharField(max_length=200)
    data = models.JSONField(default=dict)
    retired = models.BooleanField(default=False)
    position = models.PositiveIntegerField(default=0)
    number = models.PositiveIntegerField(default=1)
    """The number of the version that counts."""

    class Meta:
        """The usual one first."""

        verbose_name = "thing on the Shelf"
        ordering = ["position", "id"]
        indexes = [models.Index(fields=["kind", "position", "id"], name="item_by_kind")]


class ShelfVersion(models.Model):
    """A state of a thing, who made it, when and why. Never changed.

    ``about`` is what else is known of how it came about: of a tool setting, what a test cut had shown.
    """

    item = models.ForeignKey(ShelfItem, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    title = models.CharField(max_length=200)
    data = models.JSONField()
    retired = models.BooleanField(default=False)
    about = models.JSONField(default=dict)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=200, blank=True)
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within a thing."""

        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["item", "number"], name="item_version_number")]


class Media(models.Model):
    """A roll or sheet of a material that the shop has, by its true size; an offcut names the sheet that left it."""

    material = models.ForeignKey(ShelfItem, on_delete=models.CASCADE, related_name="media")
    title = models.CharField(max_length=80)
    width_mm = models.FloatField()
    length_mm = models.FloatField(null=True)
    roll = models.BooleanField(default=True)
    loaded = models.BooleanField(default=False)
    left_by = models.CharField(max_length=200, blank=True)

    class Meta:
        """Offcuts first, so that they are used up."""

        ordering = ["-left_by", "width_mm", "id"]
