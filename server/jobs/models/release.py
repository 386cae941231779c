"""What was handed over to the machines, and how far the machines have come with it."""

from typing import Any

from django.conf import settings
from django.db import models

from jobs.models.job import Job, Revision
from jobs.models.shelf import ShelfItem

__all__ = ["Loading", "PointerOffset", "Release", "RipState", "Sheet", "StackPackage"]


class RipState(models.TextChoices):
    """What has become of a print PDF at the RIP: the core's ``PrintStage``."""

    WAITING = "waiting"
    PRINTING = "printing"
    DONE = "done"
    REFUSED = "refused"
    FAILED = "failed"
    CANCELLED = "cancelled"


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
    ink_percent = models.FloatField(default=0)
    """How much ink lies on its heaviest place, all inks together."""
    dry = models.BooleanField(default=False)
    """Whether somebody has waited for it to dry."""
    place = models.PositiveBigIntegerField(default=0)
    """Its place in the queue of the RIP."""
    held = models.BooleanField(default=False)
    report = models.JSONField(default=dict)
    """What the RIP reports that it did to the sheet; empty: nothing."""
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One for each sheet of a state of a job."""

        constraints = [models.UniqueConstraint(fields=["job", "key", "sheet_number"], name="one_release_of_a_state")]


class Sheet(models.Model):
    """A sheet on its way from the printer to the finished piece, one for each repeat: the core's ``PrintedSheet``.

    ``place`` is its place in the queue of the cutter. ``ticket`` and ``files`` are its own where the RIP has done
    something to it, None and empty where it is as it was released; ``refused`` says why its cut cannot follow, and
    ``findings`` are checks that find something at the scale that was printed. ``said`` is why it stands as it does.
    ``ordered`` are the spoilt pieces that are ordered again.
    """

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="sheets")
    repeat = models.PositiveIntegerField(default=1)
    stage = models.CharField(max_length=12, default="unprinted")
    place = models.PositiveBigIntegerField(default=0)
    held = models.BooleanField(default=False)
    printed = models.DateTimeField(null=True)
    laminated = models.DateTimeField(null=True)
    early = models.JSONField(null=True)
    known = models.BooleanField(default=False)
    unsure = models.BooleanField(default=False)
    cut = models.JSONField(default=list)
    spoilt = models.JSONField(default=list)
    ordered = models.JSONField(default=list)
    ticket = models.JSONField(null=True)
    files = models.JSONField(default=list)
    picture = models.CharField(max_length=64, blank=True)
    refused = models.TextField(blank=True)
    findings = models.JSONField(default=list)
    said = models.TextField(blank=True)

    class Meta:
        """One for each repeat of a print."""

        constraints = [models.UniqueConstraint(fields=["release", "repeat"], name="one_sheet_of_a_repeat")]

    @property
    def own_ticket(self) -> dict[str, Any]:
        """Its ticket as it lies on the media."""
        found: dict[str, Any] = self.release.ticket if self.ticket is None else self.ticket
        return found

    @property
    def own_files(self) -> list[dict[str, Any]]:
        """The files that it is cut and looked at by."""
        found: list[dict[str, Any]] = self.files or self.release.files
        return found


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
    sheet = models.ForeignKey(Sheet, null=True, on_delete=models.CASCADE, related_name="loadings")
    truly = models.ForeignKey(Sheet, null=True, on_delete=models.SET_NULL, related_name="+")
    """What was laid in, where that is another sheet than was meant: only the camera and a person's eye can tell."""
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
