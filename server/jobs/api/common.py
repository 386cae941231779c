"""What every part of the API does: find the job, answer with a picture or a download."""

from typing import Any
from urllib.parse import quote

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from horismos.rendering.png import png_of
from jobs import models
from jobs.showing import JobShown, job_shown
from jobs.store.decisions import may_waive

__all__ = ["download", "find_job", "picture", "whole"]

DAY = "private, max-age=86400"


def find_job(job_id: int) -> models.Job:
    """A job with what is always asked of it; answers 404 where there is none."""
    jobs = models.Job.objects.select_related("order", "material", "revision", "analysis")
    return get_object_or_404(jobs, pk=job_id)


def whole(request: HttpRequest, job_id: int) -> JobShown:
    """A job as it stands now, for who asks."""
    return job_shown(find_job(job_id), may_waive(request.user))


def picture(pixels: Any, immutable: bool = True) -> HttpResponse:
    """Pixels as PNG, to be kept by the browser; an address that names its content stays right for ever."""
    answer = HttpResponse(png_of(pixels), content_type="image/png")
    answer["Cache-Control"] = f"{DAY}, immutable" if immutable else DAY
    return answer


def download(data: bytes, name: str, kind: str = "application/pdf") -> HttpResponse:
    """Bytes as a download with a safe name."""
    answer = HttpResponse(data, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{quote(name)}"'
    return answer
