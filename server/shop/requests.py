"""What holds for every request: a number, headers, no upload by strangers, a line in the log that nobody forges."""

import logging
import re
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

__all__ = ["SMALL_BYTES", "Gate", "NumberFilter", "Numbered", "OneLine", "Refusals", "number"]

Answer = Callable[[HttpRequest], HttpResponse]
log = logging.getLogger("horismos.requests")
number: ContextVar[str] = ContextVar("number", default="-")
"""The number of the request that is being answered; whoever is told of a fault is told it too."""
PERMISSIONS = ", ".join(f"{what}=()" for what in (
    "camera", "microphone", "geolocation", "usb", "serial", "payment", "display-capture", "browsing-topics",
))
SMALL_BYTES = 1_000_000
"""A body above this is read of people who are logged in only."""
READING = frozenset(["GET", "HEAD", "OPTIONS"])


class NumberFilter(logging.Filter):
    """Puts the number of the request into each line of the log."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Note the number; every record passes."""
        record.number = number.get()
        return True


class Refusals(logging.Filter):
    """Takes the trace from what was refused, such as a name of this host that is none: it is no fault of ours."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Every record passes."""
        if record.name.startswith("django.security"):
            record.exc_info = None
        return True


UNPRINTABLE = re.compile(r"[\x00-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff]")
"""What ends a line, moves the cursor, or turns the direction of writing."""


def _escaped(text: str) -> str:
    return UNPRINTABLE.sub(lambda one: one[0].encode("unicode_escape").decode(), text)


class OneLine(logging.Formatter):
    """A record is one line, whatever the values in it; the lines of a trace are set in, so that none passes for one."""

    def formatMessage(self, record: logging.LogRecord) -> str:
        """The line."""
        return _escaped(super().formatMessage(record))

    def formatException(self, ei: Any) -> str:
        """The trace of a fault of ours, each line set in."""
        return "\n".join(f"  | {_escaped(line)}" for line in super().formatException(ei).split("\n"))

    def formatStack(self, stack_info: str) -> str:
        """Where it was logged, each line set in."""
        return "\n".join(f"  | {_escaped(line)}" for line in super().formatStack(stack_info).split("\n"))


class Numbered:
    """Gives a request its number, notes what changed something or was refused, and sets headers on every answer."""

    def __init__(self, answer: Answer) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        number.set(uuid.uuid4().hex[:12])
        began = time.monotonic()
        answer = self._answer(request)
        if request.method not in READING or answer.status_code >= 400:
            who = getattr(getattr(request, "user", None), "pk", None)
            level = logging.WARNING if answer.status_code >= 400 else logging.INFO
            log.log(
                level, "%s %s -> %s, person %s, %.0f ms", request.method, request.path[:200], answer.status_code,
                who or "-", (time.monotonic() - began) * 1000,
            )
        answer["X-Request-Id"] = number.get()
        answer["Permissions-Policy"] = PERMISSIONS
        if request.path.startswith("/api/"):
            answer.setdefault("Cache-Control", "no-store")
        return answer


class Gate:
    """Refuses what is too large by its length, and large things of strangers, before any of it is parsed."""

    def __init__(self, answer: Answer) -> None:
        self._answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or refuse."""
        try:
            length = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            return _refused(400, "The length of what was sent is no number.")
        if length > settings.MOST_UPLOAD_BYTES:
            most = settings.MOST_UPLOAD_BYTES // 1_000_000
            return _refused(413, f"The file is larger than {most} MB. Ask for a smaller one.")
        if length > SMALL_BYTES and not request.user.is_authenticated:
            return _refused(401, "Log in first.")
        return self._answer(request)


def _refused(status: int, message: str) -> HttpResponse:
    return JsonResponse({"message": message, "code": "refused"}, status=status)
