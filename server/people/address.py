"""Where a request came from, and what is said to whoever has tried too often."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

__all__ = ["crowded", "of", "too_often"]


def of(request: HttpRequest) -> str:
    """The address of whoever sent a request.

    Behind trusted proxies it is the last one that none of them has written; what others claim does not count.
    """
    address = request.META.get("REMOTE_ADDR") or "unknown"
    claimed = [part.strip() for part in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if part.strip()]
    while address in settings.TRUSTED_PROXIES and claimed:
        address = claimed.pop()
    return address[:45]


def too_often(request: HttpRequest, *about: object, **more: object) -> HttpResponse:
    """The refusal of one name at one address for a while."""
    message = "Too many attempts with this name. Wait five minutes."
    return JsonResponse({"message": message, "code": "too-often"}, status=429)


def crowded(request: HttpRequest) -> HttpResponse:
    """The refusal where others try at the same time, or too many were wrong from this address."""
    message = "Too many log-ins are tried just now, or were wrong from here. Try again, after wrong ones in 5 minutes."
    return JsonResponse({"message": message, "code": "too-often"}, status=429, headers={"Retry-After": "5"})
