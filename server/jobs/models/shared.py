"""Sheets that several jobs share, and the log of these and of jobs."""

from django.conf import settings
from django.db import models

from jobs.models.job import Job
from jobs.models.shop import Destination, Material

__all__ = ["LogEntry", "Share", "SharedSheet"]


class SharedSheet(models.Model):
    """A sheet, or several, that holds copies of several jobs: an object of its own.

    ``found`` is what was laid out, as the core's JSON; ``key`` what that depends on. ``job`` of its work is the first
    job on it.
    """

    name = models.CharField(max_length=200)
    destination = models.ForeignKey(Destination, on_delete=models.PROTECT)
    material = models.ForeignKey(Material, on_delete=models.PROTECT)
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


class LogEntry(models.Model):
    """Who did what to a job or to a shared sheet, and when. Never changed.

    ``version`` is that of the job or the sheet after it, 0 where it changed none.
    """

    job = models.ForeignKey(Job, null=True, on_delete=models.CASCADE, related_name="log")
    shared = models.ForeignKey(SharedSheet, null=True, on_delete=models.CASCADE, related_name="log")
    version = models.PositiveIntegerField(default=0)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    what = models.TextField()
    when = models.DateTimeField(auto_now_add=True)
