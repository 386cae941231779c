"""The API under /api/; everything else is the front end's page."""

from pathlib import Path

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from shop.api import api

NONCE = "__nonce__"
"""What stands in the front end's page for the number that its styles have to name."""


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The one page of the front end."""
    index: Path = settings.WEB_INDEX
    if not index.exists():
        return HttpResponse("The front end is not built. Run ./horismos demo.", status=503)
    html = index.read_text(encoding="utf-8").replace(NONCE, str(getattr(request, "csp_nonce", "")))
    return HttpResponse(html, content_type="text/html; charset=utf-8")


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/).*$", page)]
