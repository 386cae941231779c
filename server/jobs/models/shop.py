"""What the shop has: destinations, materials and their media, settings of tools, patterns."""

from django.conf import settings
from django.db import models

__all__ = ["Destination", "Machine", "MachineKind", "Material", "Media", "PerforationPattern", "ShopTool"]


class MachineKind(models.TextChoices):
    """What a machine of the Shelf does."""

    PRINTER = "printer"
    CUTTER = "cutter"


class Machine(models.Model):
    """A printer with its RIP, or a cutter. ``data`` is all that the core knows of it beside its id and title."""

    id = models.CharField(primary_key=True, max_length=80)
    kind = models.CharField(max_length=8, choices=MachineKind.choices)
    title = models.CharField(max_length=200)
    data = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)


class Destination(models.Model):
    """A printer and a cutter, and the exact ink names that they want, by role. The first one is the usual one."""

    id = models.CharField(primary_key=True, max_length=80)
    title = models.CharField(max_length=200)
    names = models.JSONField(default=dict)
    printer = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="+")
    cutter = models.ForeignKey(Machine, on_delete=models.PROTECT, related_name="+")
    position = models.PositiveIntegerField(default=0)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        """The usual one first."""

        ordering = ["position", "id"]


class Material(models.Model):
    """A material. ``data`` is all that the core knows of it beside its id, title and width. The first is the usual."""

    id = models.CharField(primary_key=True, max_length=80)
    title = models.CharField(max_length=200)
    width_mm = models.FloatField()
    data = models.JSONField(default=dict)
    price_m2 = models.FloatField(null=True)
    """What a square metre costs the shop."""
    position = models.PositiveIntegerField(default=0)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        """The usual one first."""

        ordering = ["position", "id"]


class Media(models.Model):
    """A roll or sheet of a material that the shop has, by its true size; an offcut names the sheet that left it."""

    material = models.ForeignKey(Material, on_delete=models.CASCADE, related_name="media")
    title = models.CharField(max_length=80)
    width_mm = models.FloatField()
    length_mm = models.FloatField(null=True)
    roll = models.BooleanField(default=True)
    loaded = models.BooleanField(default=False)
    left_by = models.CharField(max_length=200, blank=True)

    class Meta:
        """Offcuts first, so that they are used up."""

        ordering = ["-left_by", "width_mm", "id"]


class ShopTool(models.Model):
    """A setting of the shop for a role on a material at a destination's cutter. Never changed; the last one counts.

    ``data`` is a setting as ``cutting.Tool`` has it; ``seen`` what a test cut with the one before has shown, empty
    where it was typed in. ``confirmed`` where whoever kept it may change the Shelf.
    """

    destination = models.ForeignKey(Destination, on_delete=models.CASCADE)
    material = models.ForeignKey(Material, on_delete=models.CASCADE)
    role = models.CharField(max_length=20)
    number = models.PositiveIntegerField()
    data = models.JSONField()
    seen = models.CharField(max_length=20, blank=True)
    confirmed = models.BooleanField(default=False)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    note = models.CharField(max_length=200, blank=True)
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within what it is for."""

        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["destination", "material", "role", "number"], name="shop_tool_version")
        ]


class PerforationPattern(models.Model):
    """A perforation that the shop has given a name: its cuts and ties in mm, and the force in the ties in gf."""

    name = models.CharField(max_length=60, unique=True)
    cut_mm = models.FloatField()
    tie_mm = models.FloatField()
    tie_force_gf = models.FloatField(default=0)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    when = models.DateTimeField(auto_now=True)

    class Meta:
        """By their names."""

        ordering = ["name"]
