"""Logging in and out, and one's own password."""

import logging
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from django.contrib.auth import authenticate, get_user_model, login, logout, update_session_auth_hash
from django.contrib.auth.models import AbstractBaseUser
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import csrf_protect
from jobs.store.decisions import may_edit_shelf, may_waive
from ninja import Router, Schema, Status
from ninja.decorators import decorate_view
from pydantic import StringConstraints

from horismos.errors import BadValue, NotPermitted
from people import address, log_ins
from people.address import crowded, too_often
from people.door import DOOR
from people.models import Habit

__all__ = ["router"]

router = Router()
log = logging.getLogger("horismos.people")
Secret = Annotated[str, StringConstraints(min_length=1, max_length=1_000)]
Account = Annotated[str, StringConstraints(min_length=1, max_length=150)]


Unit = Literal["mm", "in"]


class Me(Schema):
    """Who is logged in, and what that person may do; an empty name for nobody."""

    name: str
    may_waive: bool = False
    may_edit_shelf: bool = False
    unit: Unit = "mm"


class HabitChange(Schema):
    """How the person wants to see things from now on."""

    unit: Unit


class Login(Schema):
    """A name and its password."""

    name: Account
    password: Secret


@dataclass(frozen=True)
class LogInShown:
    """One log-in of the person who asks: from where, with which browser, since when, and when it was last used."""

    id: int
    address: str
    browser: str
    began: datetime
    seen: datetime
    this: bool


@dataclass(frozen=True)
class PersonShown:
    """Somebody who may log in: what that person may do, and when and in how many browsers they were here last."""

    name: str
    may_waive: bool
    may_edit_shelf: bool
    browsers: int
    seen: datetime | None


class NewPassword(Schema):
    """A password instead of the present one."""

    present: Secret
    new: Secret


class Problem(Schema):
    """What could not be done, in words, with the code of the error."""

    message: str
    code: str = ""


def _me(request: HttpRequest) -> Me:
    user = request.user
    inches = Habit.objects.filter(user=user.pk or 0, unit="in").exists()
    return Me(
        name=user.get_username(), may_waive=may_waive(user), may_edit_shelf=may_edit_shelf(user),
        unit="in" if inches else "mm",
    )


@router.post("/login", auth=None, response={200: Me, 401: Problem, 429: Problem})
@decorate_view(csrf_protect)
def log_in(request: HttpRequest, body: Login) -> Me | Status[Problem] | HttpResponse:
    """Log in; after too many failures there is a pause, for a name at an address, for the address, and for all."""
    with DOOR.trying(address.of(request)) as may:
        if not may:
            return crowded(request)
        user = authenticate(request, username=body.name, password=body.password)
    if getattr(request, "axes_locked_out", False):
        return too_often(request)
    if user is None:
        DOOR.wrong(address.of(request))
        return Status(401, Problem(message="Name and password do not fit together."))
    login(request, user)
    return _me(request)


@router.post("/logout", response=Me)
def log_out(request: HttpRequest) -> Me:
    """Log out."""
    logout(request)
    return Me(name="")


@router.get("/me", response=Me)
def me(request: HttpRequest) -> Me:
    """Who is logged in."""
    log_ins.seen(request)
    return _me(request)


@router.patch("/me", response=Me)
def change_habit(request: HttpRequest, body: HabitChange) -> Me:
    """See lengths in another unit, on every screen of this person."""
    Habit.objects.update_or_create(user_id=request.user.pk or 0, defaults={"unit": body.unit})
    return _me(request)


@router.get("/people", response=list[PersonShown])
def people(request: HttpRequest) -> list[PersonShown]:
    """Who works here, and who may do what, by name."""
    found = log_ins.by_person()
    everybody = get_user_model().objects.filter(is_active=True).prefetch_related("user_permissions")
    return [
        PersonShown(user.get_username(), may_waive(user), may_edit_shelf(user), *found.get(user.pk, (0, None)))
        for user in everybody.order_by("username")
    ]


@router.get("/me/log-ins", response=list[LogInShown])
def own_log_ins(request: HttpRequest) -> list[LogInShown]:
    """Where this person is logged in, this browser first."""
    own = request.session.session_key
    return [
        LogInShown(one.pk, one.address, one.browser, one.began, one.seen, one.session == own)
        for one in log_ins.of(request)
    ]


@router.delete("/me/log-ins/{log_in_id}", response=list[LogInShown])
def end_log_in(request: HttpRequest, log_in_id: int) -> list[LogInShown]:
    """End one of one's own log-ins; whoever uses it has to log in again."""
    log_ins.end(request, log_in_id)
    log.info("%s ended a log-in", request.user.get_username())
    return own_log_ins(request)


@router.post("/me/password", response={200: Me, 429: Problem})
def change_password(request: HttpRequest, body: NewPassword) -> Me | HttpResponse:
    """Take another password. All other log-ins of this person end."""
    with DOOR.trying(address.of(request)) as may:
        if not may:
            return crowded(request)
        user = authenticate(request, username=request.user.get_username(), password=body.present)
    if getattr(request, "axes_locked_out", False):
        return too_often(request)
    if not isinstance(user, AbstractBaseUser):
        raise NotPermitted("That is not your present password.", "Type it again.")
    try:
        validate_password(body.new, user)
    except ValidationError as error:
        raise BadValue(" ".join(error.messages), "Choose another.") from None
    user.set_password(body.new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    log_ins.keep_only(request)
    log.info("%s changed the password", user.get_username())
    return _me(request)
