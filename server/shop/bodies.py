"""Bodies of requests as they come off the wire: of strangers nothing large is kept, and a full disk is said."""

import json
from http.cookies import CookieError, SimpleCookie
from io import BytesIO
from typing import Any

from django.conf import settings
from django.contrib.sessions.backends.db import SessionStore
from django.db import Error as DatabaseError
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.utilities import Error

from shop.requests import SMALL_BYTES

__all__ = ["Channel", "Head"]


class _Refusal(Error):  # type: ignore[misc]
    """An answer without a request that the application would see; in the form of the API's."""

    def __init__(self, status: int, reason: str, message: str) -> None:
        super().__init__(message)
        self.code, self.reason = status, reason

    def to_response(self, ident: str | None = None) -> tuple[str, list[tuple[str, str]], bytes]:
        """Status, headers and body."""
        body = json.dumps({"message": self.body, "code": "refused"}).encode()
        headers = [("Content-Type", "application/json"), ("Cache-Control", "no-store")]
        return f"{self.code} {self.reason}", headers, body


class _Nowhere:
    """Takes what is sent and keeps nothing."""

    def append(self, data: bytes) -> None:
        """Forget it."""

    def __len__(self) -> int:
        return 0

    def getfile(self) -> BytesIO:
        """Nothing."""
        return BytesIO()

    def close(self) -> None:
        """Nothing to close."""


class Head(HTTPRequestParser):  # type: ignore[misc]
    """A request as it comes in. Whose body is large or without a length is asked for once its head is there."""

    error: Error | None = None
    refusal: _Refusal | None = None
    asked = False

    def received(self, data: bytes) -> int:
        """Take a part; gives how much of it was taken."""
        try:
            taken = int(super().received(data))
        except OSError as error:
            self.refusal = _Refusal(
                507, "Insufficient Storage",
                f"The server cannot keep what was sent ({error.strerror}). Nothing was changed. "
                "Tell who looks after the server.",
            )
            self.completed, taken = True, len(data)
        if self.headers_finished and not self.asked:
            self.asked = True
            self._ask()
        if self.completed and self.refusal is not None and self.error is None:
            self.error = self.refusal
        return taken

    def _ask(self) -> None:
        large = self.chunked or self.content_length > SMALL_BYTES
        if self.error is None and self.body_rcv is not None and large and not _known(self.headers.get("COOKIE", "")):
            self.refusal = _Refusal(401, "Unauthorized", "Log in first.")
            self.body_rcv.buf = _Nowhere()


class Channel(HTTPChannel):  # type: ignore[misc]
    """A connection whose requests are read so."""

    parser_class = Head


def _known(cookies: str) -> bool:
    """Whether somebody is logged in under these cookies."""
    try:
        said: Any = SimpleCookie(cookies).get(settings.SESSION_COOKIE_NAME)
        return said is not None and "_auth_user_id" in SessionStore(said.value).load()
    except (CookieError, DatabaseError):
        return False
