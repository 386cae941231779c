"""The log of the shop: who did what to a job, a shared sheet, a thing of the Shelf, or a person."""

from django.conf import settings
from django.db import models

from jobs.models.job import Job
from jobs.models.shared import SharedSheet
from jobs.models.shelf import ShelfItem

__all__ = ["LogEntry", "LogTopic"]


class LogTopic(models.TextChoices):
    """What an entry is about."""

    JOB = "job"
    SHEET = "sheet"
    SHELF = "shelf"
    PERSON = "person"


class LogEntry(models.Model):
    """Who did what to what, and when. Never changed, and kept when what it is about is gone: so names stand in it.

    ``version`` is that of the job, sheet or thing after it, 0 where it changed none.
    """

    topic = models.CharField(max_length=8, choices=LogTopic.choices)
    job = models.ForeignKey(Job, null=True, on_delete=models.DO_NOTHING, db_constraint=False, related_name="log")
    shared = models.ForeignKey(
        SharedSheet, null=True, on_delete=models.DO_NOTHING, db_constraint=False, related_name="log"
    )
    item = models.ForeignKey(ShelfItem, null=True, on_delete=models.DO_NOTHING, db_constraint=False, related_name="log")
    person = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.DO_NOTHING, db_constraint=False, related_name="+"
    )
    about = models.CharField(max_length=200, blank=True)
    version = models.PositiveIntegerField(default=0)
    who = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.DO_NOTHING, db_constraint=False, related_name="+"
    )
    who_name = models.CharField(max_length=150, blank=True)
    what = models.TextField()
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Found by what it is about, and by when."""

        indexes = [
            models.Index(fields=["topic", "id"], name="log_by_topic"),
            models.Index(fields=["who", "id"], name="log_by_who"),
        ]
