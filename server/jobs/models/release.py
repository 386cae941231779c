"""What was handed over to the machines, and how far the machines have come with it."""

from django.conf import settings
from django.db import models

from jobs.models.job import Job, Revision
from jobs.models.shelf import ShelfItem

__all__ = ["Loading", "PointerOffset", "Release", "RipState", "StackPackage"]


class RipState(models.TextChoices):
    """What has become of a print PDF at the RIP."""

    WAITING = "waiting"
    DONE = "done"
    REFUSED = "refused"


class Release(models.Model):
    """A package that was handed over; files by content hash.

    ``key`` is what it was made of, as of an analysis: the same is released once.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="releases")
    shared = models.ForeignKey("jobs.SharedSheet", null=True, on_delete=models.PROTECT, related_name="releases")
    sheet_number = models.PositiveIntegerField(default=1)
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT)
    key = models.CharField(max_length=64, null=True)
    files = models.JSONField()
    ticket = models.JSONField()
    worst_off_mm = models.FloatField()
    rip_state = models.CharField(max_length=12, choices=RipState.choices, default=RipState.WAITING)
    rip_refused = models.TextField(blank=True)
    plates = models.JSONField(default=list)
    preset = models.CharField(max_length=20, blank=True)
    """The hot folder by which it was printed."""
    printed = models.DateTimeField(null=True)
    picture = models.CharField(max_length=64, blank=True)
    """The sheet as it came out of the printer, as PNG by its content."""
    longer = models.FloatField(default=0)
    """By which fraction it came out longer along the feed."""
    dry = models.BooleanField(default=False)
    """Whether somebody has waited for it to dry."""
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One for each sheet of a state of a job."""

        constraints = [models.UniqueConstraint(fields=["job", "key", "sheet_number"], name="one_release_of_a_state")]


class StackPackage(models.Model):
    """The files of a stack of fabric, by content hash, and how far the machines have come with them.

    ``key`` is what it was made of: the same is written once. ``facts`` is what is told of it, with what the machines
    need to know of each layer. ``cut`` are the layers that were cut, in their order, each with where the zero was then,
    in mm from the first; ``origin`` is where it is now.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="stacks")
    revision = models.ForeignKey(Revision, on_delete=models.PROTECT)
    key = models.CharField(max_length=64)
    stack = models.JSONField()
    files = models.JSONField()
    facts = models.JSONField()
    cut = models.JSONField(default=list)
    origin = models.JSONField(default=list)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One for a state of a job's stack."""

        constraints = [models.UniqueConstraint(fields=["job", "key"], name="one_package_of_a_stack")]


class Loading(models.Model):
    """A released sheet laid into the cutter: how it lies, what was seen of its marks, how far its cut has come.

    ``laying`` is the core's; ``seen`` are the marks with where each lies before the cutter. ``front`` is the loading
    with which the front was cut, of a sheet that lies face down. ``shifts`` are origins set anew between operations.
    """

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="loadings")
    laying = models.JSONField()
    front = models.ForeignKey("self", null=True, on_delete=models.SET_NULL)
    seen = models.JSONField(default=list)
    code = models.CharField(max_length=200, null=True)
    shifts = models.JSONField(default=dict)
    stood_s = models.FloatField(default=0)
    cut = models.BooleanField(default=False)
    """Whether it has been cut to the end."""
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    created = models.DateTimeField(auto_now_add=True)


class PointerOffset(models.Model):
    """Where the pointer of a destination's cutter shines, from the blade, in mm; the last one counts."""

    destination = models.ForeignKey(ShelfItem, on_delete=models.CASCADE, related_name="+")
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    when = models.DateTimeField(auto_now_add=True)
