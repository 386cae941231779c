"""Who works, and how long each step takes: what whoever runs the shop looks at."""

from django.db import models

from jobs.models.work import Weight

__all__ = ["StepTime", "Worker"]


class Worker(models.Model):
    """A worker as it was last heard of: of this machine, or at the broker (``remote``).

    ``doing`` are the steps that a remote one carries out now; of one of this machine the rows of work tell.
    """

    name = models.CharField(max_length=120, primary_key=True)
    machine = models.CharField(max_length=80)
    version = models.CharField(max_length=20)
    slots = models.PositiveIntegerField(default=1)
    weights = models.JSONField(default=list)
    doing = models.JSONField(default=list)
    remote = models.BooleanField(default=False)
    seen = models.DateTimeField()


class StepTime(models.Model):
    """How many steps of a kind took less than so many seconds, and not less than the next lower bound: a histogram."""

    step = models.CharField(max_length=40)
    weight = models.CharField(max_length=10, choices=Weight.choices)
    below_s = models.FloatField()
    count = models.PositiveBigIntegerField(default=0)
    failed = models.PositiveBigIntegerField(default=0)
    seconds = models.FloatField(default=0)

    class Meta:
        """One row a kind, weight and bound."""

        constraints = [models.UniqueConstraint(fields=["step", "weight", "below_s"], name="step_time_once")]
