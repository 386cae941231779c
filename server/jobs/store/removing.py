"""Taking a job away with all that is of it alone; its log stays, and so does the content that others have too."""

from jobs import models

__all__ = ["remove_job"]


def remove_job(job: models.Job) -> None:
    """Delete a job that nothing was released of, in the caller's transaction."""
    models.Job.objects.filter(pk=job.pk).update(revision=None)
    for revision in job.revisions.order_by("-number"):
        revision.delete()
    job.delete()
