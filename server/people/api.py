"""Logging in and out."""

from django.contrib.auth import authenticate, login, logout
from django.core.cache import cache
from django.http import HttpRequest
from ninja import Router, Schema, Status

__all__ = ["router"]

router = Router()
FAILED_LOGINS = 8
WAIT_S = 300


class Me(Schema):
    """Who is logged in; an empty name for nobody."""

    name: str


class Login(Schema):
    """A name and its password."""

    name: str
    password: str


class Problem(Schema):
    """What could not be done, in words, with the code of the error."""

    message: str
    code: str = ""


@router.post("/login", auth=None, response={200: Me, 401: Problem, 429: Problem})
def log_in(request: HttpRequest, body: Login) -> Me | Status[Problem]:
    """Log in; after too many failures from one address there is a pause."""
    key = f"failed:{request.META.get('REMOTE_ADDR')}"
    if cache.get(key, 0) >= FAILED_LOGINS:
        return Status(429, Problem(message="Too many attempts. Wait five minutes."))
    user = authenticate(request, username=body.name, password=body.password)
    if user is None:
        cache.set(key, cache.get(key, 0) + 1, WAIT_S)
        return Status(401, Problem(message="Name and password do not fit together."))
    cache.delete(key)
    login(request, user)
    return Me(name=user.get_username())


@router.post("/logout", response=Me)
def log_out(request: HttpRequest) -> Me:
    """Log out."""
    logout(request)
    return Me(name="")


@router.get("/me", response=Me)
def me(request: HttpRequest) -> Me:
    """Who is logged in."""
    return Me(name=request.user.get_username())
