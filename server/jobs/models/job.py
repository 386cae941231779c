"""Jobs: a customer's artwork, what was asked for, its revisions, what people decided and did."""

from django.conf import settings
from django.db import models

from jobs.models.shelf import ShelfItem

__all__ = ["Customer", "Decision", "Fault", "Job", "JobState", "Order", "Revision", "ToolSetting"]


class Customer(models.Model):
    """What is remembered of a customer: how layers, pens and colours were bound, and the last order.

    ``known`` are inks, colours and layers that a person has made lines in this customer's PDFs, with their roles.
    """

    name = models.CharField(max_length=200, unique=True)
    binding = models.JSONField(default=dict)
    known = models.JSONField(default=dict)
    order = models.JSONField(default=dict)
    declined = models.JSONField(default=list)
    """Mends that were offered to be done always, and that somebody has said no to, as the core's JSON."""


class JobState(models.TextChoices):
    """What a job needs from a person: the groups of the Desk, in the order of a job's way."""

    ANSWER = "answer"
    COMING = "coming"
    UNREADABLE = "unreadable"
    LETTER = "letter"
    MEND = "mend"
    LOOK = "look"
    READY = "ready"
    RELEASED = "released"


class Job(models.Model):
    """One piece of work: an artwork and what was asked for.

    ``original`` is the customer's file by its content. ``intake`` holds what was said about it and
    what taking it in noted; ``asks`` the questions that are open. ``version`` goes up with every change that
    a person makes, so that nobody changes what he has not seen.
    """

    original = models.CharField(max_length=64, blank=True)
    original_name = models.CharField(max_length=255, blank=True)
    intake = models.JSONField(default=dict)
    asks = models.JSONField(default=list)
    name = models.CharField(max_length=200)
    customer = models.CharField(max_length=200, blank=True)
    due = models.DateField(null=True, blank=True)
    page = models.PositiveIntegerField(default=1)
    destination = models.ForeignKey(ShelfItem, on_delete=models.PROTECT, related_name="+")
    material = models.ForeignKey(ShelfItem, on_delete=models.PROTECT, related_name="+")
    kept = models.JSONField(default=dict)
    """What it was released with of the Shelf, as plain values with the numbers of their versions; empty: as it is."""
    layout = models.JSONField(default=dict)
    rehearsal = models.JSONField(default=dict)
    """What came of rehearsing the job, with the key of what was rehearsed."""
    stack = models.JSONField(default=dict)
    """The stack of fabric that is made of it, as the core's JSON; empty: none."""
    revision = models.ForeignKey("Revision", null=True, on_delete=models.SET_NULL, related_name="+")
    version = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=12, choices=JobState.choices, default=JobState.COMING)
    """With the four below, what follows from all that is known of it: brought up to date by ``store.job_state``."""
    verdict = models.CharField(max_length=8, blank=True)
    """As a report's, without what people let stand; empty while it was never checked, as stops and looks are None."""
    stops = models.PositiveIntegerField(null=True)
    looks = models.PositiveIntegerField(null=True)
    station = models.PositiveSmallIntegerField(default=0)
    """How many stations are done."""
    first_state = models.CharField(max_length=12, choices=JobState.choices, blank=True)
    """What it needed when it had come in and all that needs no person was done; empty until then."""
    ready_at = models.DateTimeField(null=True)
    """When it was ready, or released, for the first time; None also where that was before anybody kept it."""
    found_by = models.TextField(blank=True)
    """What it is found by beside its names: its inks, and the codes of its released sheets."""
    again_of = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="+")
    """The job that is ordered again with it."""
    like = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="+")
    """The job whose file this one may be a correction of, until somebody has said."""

    class Meta:
        """Due first."""

        ordering = [models.F("due").asc(nulls_last=True), "id"]
        indexes = [models.Index(fields=["state", "due", "id"], name="job_by_state")]


class Fault(models.Model):
    """What a check found on a customer's file as it came, before anything was mended."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="faults")
    check_id = models.CharField(max_length=40)
    severity = models.CharField(max_length=8)

    class Meta:
        """Once for a kind and severity."""

        constraints = [models.UniqueConstraint(fields=["job", "check_id", "severity"], name="one_fault_of_a_kind")]
        indexes = [models.Index(fields=["check_id"], name="fault_by_kind")]


class Order(models.Model):
    """The order of a job, as the core's JSON."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE)
    data = models.JSONField(default=dict)


class ToolSetting(models.Model):
    """A job's own tool setting for one role, where it differs from the default."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="tools")
    role = models.CharField(max_length=20)
    data = models.JSONField()

    class Meta:
        """One setting for a role."""

        constraints = [models.UniqueConstraint(fields=["job", "role"], name="one_tool_per_role")]


class Revision(models.Model):
    """A state of the artwork in its working form; the first one comes from the customer's file."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.PROTECT)
    sha256 = models.CharField(max_length=64)
    file_name = models.CharField(max_length=255)
    said = models.TextField(blank=True)
    steps = models.JSONField(default=list)
    """The mends that made it, as the core's JSON: what a recipe is made of."""
    by_itself = models.BooleanField(default=False)
    """Whether no person has asked for it: what is safe, and what is always done for the customer."""
    proof = models.JSONField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        """Numbered from 1 within a job."""

        constraints = [models.UniqueConstraint(fields=["job", "number"], name="revision_number")]


class Decision(models.Model):
    """A finding that a person let stand, with the reason. It holds while the finding stays as it was."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="decisions")
    key = models.CharField(max_length=40)
    check_id = models.CharField(max_length=40)
    subject = models.CharField(max_length=200, blank=True)
    severity = models.CharField(max_length=8)
    message = models.TextField()
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    reason = models.TextField()
    when = models.DateTimeField(auto_now_add=True)

    class Meta:
        """One for a finding."""

        constraints = [models.UniqueConstraint(fields=["job", "key"], name="one_decision_per_finding")]
