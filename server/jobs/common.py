"""What every part of the API does: find the job, note who did what."""

from django.http import HttpRequest
from django.shortcuts import get_object_or_404

from jobs import models

__all__ = ["decide", "find_job"]


def find_job(job_id: int) -> models.Job:
    """A job with what is always asked of it; answers 404 where there is none."""
    jobs = models.Job.objects.select_related("order", "material", "revision", "analysis")
    return get_object_or_404(jobs, pk=job_id)


def decide(request: HttpRequest, job: models.Job, what: str) -> None:
    """Note who did what to a job."""
    models.Decision.objects.create(job=job, who_id=request.user.pk, what=what)
