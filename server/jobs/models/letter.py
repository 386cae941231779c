"""What was written to customers about their files, and what they answered."""

from django.conf import settings
from django.db import models

from jobs.models.job import Job, Revision

__all__ = ["Letter", "LetterAnswer", "LetterKind"]


class LetterKind(models.TextChoices):
    """What is sent: points to be changed, or a proof to be signed."""

    POINTS = "points"
    PROOF = "proof"


class LetterAnswer(models.TextChoices):
    """What came back: nothing yet, another file, or a yes or no to a proof."""

    OPEN = "open"
    FILE = "file"
    APPROVED = "approved"
    REFUSED = "refused"


class Letter(models.Model):
    """A letter that was sent; never changed but for its answer. ``files`` are what went with it, by content.

    ``signed_by`` and ``signed_on`` are the name and date on a proof that came back, ``answered`` when that was noted.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="letters")
    customer = models.CharField(max_length=200, blank=True)
    kind = models.CharField(max_length=8, choices=LetterKind.choices)
    to = models.CharField(max_length=254, blank=True)
    subject = models.CharField(max_length=300)
    text = models.TextField()
    checks = models.JSONField(default=list)
    """The ids of the checks that it is about."""
    files = models.JSONField(default=list)
    eml = models.CharField(max_length=64)
    """The message as it was handed to the mail service, by its content."""
    revision = models.ForeignKey(Revision, null=True, on_delete=models.SET_NULL, related_name="+")
    """What it shows."""
    proves = models.CharField(max_length=64, blank=True)
    """The content of that revision, and so what a signed proof goes for."""
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    sent = models.DateTimeField(auto_now_add=True)
    answer = models.CharField(max_length=8, choices=LetterAnswer.choices, default=LetterAnswer.OPEN)
    signed_by = models.CharField(max_length=200, blank=True)
    signed_on = models.DateField(null=True)
    note = models.TextField(blank=True)
    answered = models.DateTimeField(null=True)
    answered_to = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    """Who noted it."""

    class Meta:
        """The latest first."""

        ordering = ["-id"]
        indexes = [models.Index(fields=["customer", "-id"], name="letter_by_customer")]
