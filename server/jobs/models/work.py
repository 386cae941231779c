"""Long work as rows, which are the queue."""

from django.db import models
from django.utils import timezone

from horismos.workflow.weights import Weight as Heaviness
from jobs.models.job import Job

__all__ = ["Weight", "Work", "WorkKind", "WorkState"]


class WorkKind(models.TextChoices):
    """What the worker can be asked for."""

    TAKE_IN = "take-in"
    ANALYSE = "analyse"
    TRY_SHEET = "try-sheet"
    TRY_SHELF = "try-shelf"
    MEND = "mend"
    PREVIEW = "preview"
    RELEASE = "release"
    RIP = "rip"
    SCAN = "scan"
    REHEARSE = "rehearse"
    NEST = "nest"
    SHEET = "sheet"
    STACK = "stack"


class WorkState(models.TextChoices):
    """How far a piece of work is, or how it ended. Stopped by a person is no failure."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class Weight(models.TextChoices):
    """How heavy the files of a piece of work are, as the core has it."""

    SMALL = Heaviness.SMALL.value
    USUAL = Heaviness.USUAL.value
    LARGE = Heaviness.LARGE.value


class Work(models.Model):
    """A piece of long work as people see it: what it does, how far it is, how it ended. The rows are the queue.

    The one whose ``turn`` is earliest goes first.

    A worker that takes a row holds it until ``leased_until``, and puts that off while it works. When the worker
    dies the lease runs out, and the row is taken up again: at most so many times.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="works")
    shared = models.ForeignKey("jobs.SharedSheet", null=True, on_delete=models.CASCADE, related_name="works")
    kind = models.CharField(max_length=20, choices=WorkKind.choices)
    arguments = models.JSONField(default=dict)
    state = models.CharField(max_length=12, choices=WorkState.choices, default=WorkState.WAITING)
    share = models.FloatField(default=0)
    what = models.CharField(max_length=200, default="waiting")
    error = models.TextField(blank=True)
    code = models.CharField(max_length=40, blank=True)
    cancel = models.BooleanField(default=False)
    result = models.JSONField(null=True)
    worker = models.CharField(max_length=60, blank=True)
    attempts = models.PositiveIntegerField(default=0)
    weight = models.CharField(max_length=10, choices=Weight.choices, default=Weight.SMALL)
    turn = models.DateTimeField(default=timezone.now)
    leased_until = models.DateTimeField(null=True)
    stamp = models.PositiveBigIntegerField(default=0)
    """Higher than that of every other whenever it has begun, ended, or shows something else."""
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Found quickly by their state."""

        indexes = [
            models.Index(fields=["state", "turn", "id"], name="work_by_turn"),
            models.Index(fields=["stamp"], name="work_by_stamp"),
        ]
