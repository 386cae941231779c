"""Logging in and out, and one's own password."""

import logging
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.models import AbstractBaseUser, User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import csrf_protect
from jobs.api.wants import LOGGED_IN
from jobs.store.log import log_person
from jobs.store.rights import Right, rights_of
from jobs.store.shelf import shop_row
from ninja import Router, Schema, Status
from ninja.decorators import decorate_view
from pydantic import StringConstraints

from horismos.errors import BadValue, NotPermitted
from people import address, log_ins, second_step
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
    rights: list[Right] = []
    unit: Unit = "mm"
    second_step: bool = False


class HabitChange(Schema):
    """How the person wants to see things from now on."""

    unit: Unit


class Login(Schema):
    """A name and its password."""

    name: Account
    password: Secret
    code: Annotated[str, StringConstraints(max_length=40)] = ""


@dataclass(frozen=True)
class LogInShown:
    """One log-in of the person who asks: from where, with which browser, since when, and when it was last used."""

    id: int
    address: str
    browser: str
    began: datetime
    seen: datetime
    this: bool


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
    own = Habit.objects.filter(user=user.pk or 0).values_list("unit", flat=True).first()
    return Me(
        name=user.get_username(), rights=list(rights_of(user)), unit="in" if (own or shop_row().unit) == "in" else "mm",
        second_step=isinstance(user, User) and second_step.has_one(user),
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
    if not isinstance(user, User):
        DOOR.wrong(address.of(request))
        return Status(401, Problem(message="Name and password do not fit together."))
    if second_step.has_one(user):
        if not body.code:
            return Status(401, Problem(message="Type the code that your authenticator shows.", code="wants-code"))
        if not second_step.passes(user, body.code):
            DOOR.wrong(address.of(request))
            said = "That is not the code that it shows now. Wait for the next one, and type that."
            return Status(401, Problem(message=said, code="wants-code"))
    login(request, user)
    log_person(user, user.pk, f"Logged in from {address.of(request)}")
    return _me(request)


@router.post("/logout", response=Me, auth=LOGGED_IN)
def log_out(request: HttpRequest) -> Me:
    """Log out."""
    logout(request)
    return Me(name="")


@router.get("/me", response=Me, auth=LOGGED_IN)
def me(request: HttpRequest) -> Me:
    """Who is logged in."""
    log_ins.seen(request)
    return _me(request)


@router.patch("/me", response=Me, auth=LOGGED_IN)
def change_habit(request: HttpRequest, body: HabitChange) -> Me:
    """See lengths in another unit, on every screen of this person."""
    Habit.objects.update_or_create(user_id=request.user.pk or 0, defaults={"unit": body.unit})
    return _me(request)


@router.get("/me/log-ins", response=list[LogInShown], auth=LOGGED_IN)
def own_log_ins(request: HttpRequest) -> list[LogInShown]:
    """Where this person is logged in, this browser first."""
    own = request.session.session_key
    return [
        LogInShown(one.pk, one.address, one.browser, one.began, one.seen, one.session == own)
        for one in log_ins.of(request)
    ]


@router.delete("/me/log-ins/{log_in_id}", response=list[LogInShown], auth=LOGGED_IN)
def end_log_in(request: HttpRequest, log_in_id: int) -> list[LogInShown]:
    """End one of one's own log-ins; whoever uses it has to log in again."""
    log_ins.end(request, log_in_id)
    log.info("%s ended a log-in", request.user.get_username())
    return own_log_ins(request)


@router.post("/me/password", response={200: Me, 429: Problem}, auth=LOGGED_IN)
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
    if isinstance(user, User):
        log_person(user, user.pk, "Took another password")
    return _me(request)


# -- the second step -----------------------------------------------------------------------------------------------


class Code(Schema):
    """A code that an authenticator shows."""

    code: Annotated[str, StringConstraints(min_length=1, max_length=40)]


class PasswordGiven(Schema):
    """The present password, once more."""

    password: Secret


@dataclass(frozen=True)
class SpareCodes:
    """Codes to be written down, each for one log-in where the authenticator is lost."""

    codes: list[str]


@router.post("/me/second-step", response=second_step.Begun, auth=LOGGED_IN)
def begin_second_step(request: HttpRequest) -> second_step.Begun:
    """Give an authenticator its secret; nothing counts yet."""
    return second_step.begin(_user(request))


@router.post("/me/second-step/confirm", response=SpareCodes, auth=LOGGED_IN)
def confirm_second_step(request: HttpRequest, body: Code) -> SpareCodes:
    """Let a code be wanted at each log-in from now on."""
    codes = second_step.confirm(_user(request), body.code)
    log_person(_user(request), request.user.pk, "Logs in with a second step from now on")
    return SpareCodes(codes)


@router.post("/me/second-step/off", response={200: Me, 429: Problem}, auth=LOGGED_IN)
def end_second_step(request: HttpRequest, body: PasswordGiven) -> Me | HttpResponse:
    """Log in by name and password alone again; the password is asked for once more."""
    with DOOR.trying(address.of(request)) as may:
        if not may:
            return crowded(request)
        fits = _user(request).check_password(body.password)
    if not fits:
        DOOR.wrong(address.of(request))
        raise NotPermitted("That is not your present password.", "Type it again.")
    second_step.put_off(_user(request))
    log_person(_user(request), request.user.pk, "Logs in without a second step again")
    return _me(request)


def _user(request: HttpRequest) -> User:
    assert isinstance(request.user, User), "the address wants somebody who is logged in"
    return request.user
