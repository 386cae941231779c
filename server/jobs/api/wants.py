"""Who may ask for what: each address of the API wants one right, or only that somebody is logged in."""

from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

from horismos.errors import NotPermitted
from jobs.store.rights import SAYS, Right, holds

__all__ = [
    "EDIT_SHELF", "LOGGED_IN", "MANAGE_PEOPLE", "READ_LOG", "RELEASE", "SEE", "TAKE_IN", "TAKE_IN_OR_WORK", "WAIVE",
    "WORK", "Wants", "refused",
]


class Wants(SessionAuth):
    """Lets those in who are logged in and have one of these rights; without any, all who are logged in."""

    def __init__(self, *rights: Right) -> None:
        super().__init__()
        self.rights = rights

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """The person. Raises NotPermitted for one without the right; None for a stranger."""
        person = super().authenticate(request, key)
        if person is not None and self.rights and not any(holds(request.user, right) for right in self.rights):
            raise refused(self.rights[0])
        return person


def refused(right: Right) -> NotPermitted:
    """What is said to somebody without a right."""
    return NotPermitted(f"You may not {SAYS[right]}.", "Ask somebody who manages people for that right.")


SEE, TAKE_IN, WORK, WAIVE, RELEASE, EDIT_SHELF, MANAGE_PEOPLE = map(Wants, Right)
LOGGED_IN = Wants()
READ_LOG = Wants(Right.MANAGE_PEOPLE, Right.EDIT_SHELF)
TAKE_IN_OR_WORK = Wants(Right.TAKE_IN, Right.WORK)
"""Some of what can be changed there wants the one, some the other."""
