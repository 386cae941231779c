"""The log-ins of each person: noted, listed, ended one by one."""

from datetime import datetime, timedelta

from django.contrib.sessions.models import Session
from django.db.models import Count, Exists, Max, OuterRef, QuerySet
from django.http import HttpRequest
from django.utils import timezone

from horismos.errors import NotFound
from people import address
from people.models import LogIn

__all__ = ["by_person", "end", "forget", "keep_only", "note", "of", "seen"]

NOTED_EVERY = timedelta(minutes=10)


def note(request: HttpRequest, user: int) -> None:
    """Note a log-in that a person has just made."""
    if request.session.session_key is None:
        request.session.save()
    browser = "".join(c for c in request.META.get("HTTP_USER_AGENT", "")[:200] if c.isprintable())
    LogIn.objects.update_or_create(
        session=request.session.session_key,
        defaults={"user_id": user, "address": address.of(request), "browser": browser},
    )


def seen(request: HttpRequest) -> None:
    """Note that a log-in is used; every ten minutes is enough."""
    now = timezone.now()
    LogIn.objects.filter(session=request.session.session_key, seen__lt=now - NOTED_EVERY).update(seen=now)


def _lasting() -> QuerySet[LogIn]:
    lasts = Session.objects.filter(session_key=OuterRef("session"), expire_date__gt=timezone.now())
    return LogIn.objects.filter(Exists(lasts))


def by_person() -> dict[int, tuple[int, datetime]]:
    """In how many browsers each person is logged in, and when one of them was used last."""
    found = _lasting().values_list("user").annotate(Count("pk"), Max("seen"))
    return {user: (browsers, seen) for user, browsers, seen in found}


def of(request: HttpRequest) -> list[LogIn]:
    """Where the person who asks is logged in, this one first, then the latest."""
    mine = _lasting().filter(user_id=_who(request)).order_by("-seen")
    return sorted(mine, key=lambda one: one.session != request.session.session_key)


def _who(request: HttpRequest) -> int:
    return int(request.user.pk or 0)


def forget(request: HttpRequest | None) -> None:
    """A log-in is over."""
    if request is not None:
        LogIn.objects.filter(session=request.session.session_key).delete()


def keep_only(request: HttpRequest) -> None:
    """All other log-ins of the person who asks are over."""
    LogIn.objects.filter(user_id=_who(request)).delete()
    note(request, _who(request))


def end(request: HttpRequest, number: int) -> None:
    """End one of the asking person's log-ins. Raises NotFound where there is none of that number."""
    one = LogIn.objects.filter(user_id=_who(request), pk=number).first()
    if one is None:
        raise NotFound("You are not logged in there.", "It may have ended by itself.")
    Session.objects.filter(session_key=one.session).delete()
    one.delete()
