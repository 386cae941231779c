"""What the core found on a job."""

from django.db import models

from jobs.models.job import Job

__all__ = ["Analysis"]


class Analysis(models.Model):
    """What the core found on a revision under an order; ``key`` tells which of both."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE)
    key = models.CharField(max_length=64)
    seen = models.JSONField(default=dict)
    """Page, boxes, inks, layers and the lines to be drawn."""
    report = models.JSONField(default=dict)
    cards = models.JSONField(default=list)
    """The findings as they are shown, with the mends that answer them."""
    sheet = models.JSONField(default=dict)
    cut = models.JSONField(default=dict)
    more = models.JSONField(default=dict)
    """Further sheets and how they are cut, where the copies take more than one."""
    art_sha256 = models.CharField(max_length=64, blank=True)
    plates = models.JSONField(default=dict)
    """The plates of the page, as one array by its content, with the inks and the ink load."""
    summary = models.JSONField(default=dict)
    """What a list of jobs needs of all this, so that it need not be read for that."""
    thumb = models.JSONField(default=list)
    """The lines of a small picture of the page."""
    edges = models.CharField(max_length=64, blank=True)
    """The edge map, as JSON by its content."""
    terms = models.CharField(max_length=64, blank=True)
    """What the check went by beside the artwork and its limits: only then an outcome may be carried over."""
    checked = models.CharField(max_length=64, blank=True)
    """The content of the revision that was checked."""
    code = models.CharField(max_length=64, blank=True)
    """The fingerprint of the code that found it."""
    when = models.DateTimeField(auto_now=True)
    error = models.TextField(blank=True)
