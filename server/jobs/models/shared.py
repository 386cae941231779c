"""Sheets that several jobs share."""

from django.db import models

from jobs.models.job import Job
from jobs.models.shelf import ShelfItem

__all__ = ["Share", "SharedSheet"]


class SharedSheet(models.Model):
    """A sheet, or several, that holds copies of several jobs: an object of its own.

    ``found`` is what was laid out, as the core's JSON; ``key`` what that depends on. ``job`` of its work is the first
    job on it.
    """

    name = models.CharField(max_length=200)
    destination = models.ForeignKey(ShelfItem, on_delete=models.PROTECT, related_name="+")
    material = models.ForeignKey(ShelfItem, on_delete=models.PROTECT, related_name="+")
    layout = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)
    found = models.JSONField(default=dict)
    key = models.CharField(max_length=64, blank=True)
    error = models.TextField(blank=True)
    rehearsal = models.JSONField(default=dict)
    """What came of rehearsing the sheet, with the key of what was rehearsed."""
    created = models.DateTimeField(auto_now_add=True)


class Share(models.Model):
    """What a job has on a shared sheet. ``made_of`` is the state of the job that lies there."""

    sheet = models.ForeignKey(SharedSheet, on_delete=models.CASCADE, related_name="shares")
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="shares")
    position = models.PositiveIntegerField(default=0)
    quantity = models.PositiveIntegerField()
    turn = models.CharField(max_length=10, default="quarter")
    made_of = models.CharField(max_length=64, blank=True)
    changed = models.CharField(max_length=200, blank=True)
    """What of the job was made anew since a person has looked at the sheet, in words."""

    class Meta:
        """In the order in which they were put on it."""

        ordering = ["position", "id"]
        constraints = [models.UniqueConstraint(fields=["sheet", "job"], name="one_share_of_a_job")]
