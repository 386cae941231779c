"""Links by which people join the shop: each for one person, for a while; what is kept cannot be turned into one."""

import hashlib
import secrets
from collections.abc import Iterable
from datetime import timedelta

from django.contrib.auth import get_user_model
from django.contrib.auth.models import Group, User
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.validators import UnicodeUsernameValidator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from horismos.errors import BadValue, NotFound
from people.models import Invite

__all__ = ["first_link", "invite", "invited", "join", "open_invites", "path_of"]

LASTS = timedelta(days=7)
LEAST_NAME, MOST_NAME = 2, 60


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def path_of(token: str) -> str:
    """Where the link leads."""
    return f"/join/{token}"


def invite(roles: Iterable[Group], note: str, who: int | None) -> str:
    """Make an invitation; gives its secret, which is shown once."""
    token = secrets.token_urlsafe(24)
    made = Invite.objects.create(digest=_digest(token), note=note, who_id=who, ends=timezone.now() + LASTS)
    made.roles.set(roles)
    return token


def first_link(address: str) -> str:
    """The link by which the first person of a shop joins as its owner; those given before lead nowhere."""
    Invite.objects.filter(who=None, used=None).delete()
    owner = Group.objects.filter(name="Owner")
    return f"{address}{path_of(invite(owner, 'The first person', None))}"


def open_invites() -> list[Invite]:
    """Those that nobody has used, and that have not ended."""
    found = Invite.objects.filter(used=None, ends__gt=timezone.now())
    return list(found.prefetch_related("roles").select_related("who").order_by("-made"))


def invited(token: str) -> Invite:
    """The invitation of a link. Raises NotFound for one that was used, has ended, or never was.

    What the machine gave to the first person leads nowhere once there is anybody.
    """
    found = Invite.objects.filter(digest=_digest(token), used=None, ends__gt=timezone.now()).first()
    late = found is not None and found.who_id is None and get_user_model().objects.exists()  # an owner's link
    if found is None or late:
        raise NotFound("This link leads nowhere: it was used, it has ended, or it is not whole.", "Ask for a new one.")
    return found


def join(token: str, name: str, password: str) -> User:
    """Make the account of somebody who was invited; the link is used up. Raises NotFound, BadValue."""
    users: type[User] = get_user_model()
    with transaction.atomic():
        found = invited(token)
        name = name.strip()
        try:
            UnicodeUsernameValidator()(name)
        except ValidationError:
            raise BadValue(f"“{name}” cannot be a name here.", "Use letters, figures and . + - _, no spaces.") from None
        if not LEAST_NAME <= len(name) <= MOST_NAME:
            raise BadValue(f"A name has {LEAST_NAME} to {MOST_NAME} letters.", "Type it again.")
        if users.objects.filter(username__iexact=name).exists():
            raise BadValue(f"Somebody is called “{name}” already.", "Choose another name.")
        user = users(username=name)
        try:
            validate_password(password, user)
        except ValidationError as error:
            raise BadValue(" ".join(error.messages), "Choose another password.") from None
        user.set_password(password)
        user.save()
        user.groups.set(found.roles.all())
        used = Invite.objects.filter(pk=found.pk, used=None).update(used=timezone.now())
        if not used:
            raise NotFound("This link was used just now.", "Ask for a new one.")
    return user
