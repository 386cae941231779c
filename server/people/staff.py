"""Who works here: people and their roles, invited by a link, switched off when they leave; and what roles there are."""

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from django.contrib.auth import get_user_model, login
from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import csrf_protect
from jobs.api.common import find
from jobs.api.wants import MANAGE_PEOPLE
from jobs.store.log import log_person
from jobs.store.rights import SAYS, Right, rights_of
from jobs.store.shelf import shop_row
from ninja import Router, Schema
from ninja.decorators import decorate_view
from pydantic import Field, StringConstraints

from horismos.errors import BadValue
from people import address, inviting, log_ins, roles, second_step
from people.address import crowded
from people.api import Account, Problem, Secret
from people.door import DOOR
from people.models import Invite, LogIn
from people.roles import RoleShown

__all__ = ["router"]

router = Router()
USERS: type[User] = get_user_model()
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]


@dataclass(frozen=True)
class Colleague:
    """Somebody who may log in, for everybody who has to know whom to ask."""

    name: str
    rights: tuple[Right, ...]
    browsers: int
    seen: datetime | None


@dataclass(frozen=True)
class PersonShown:
    """Somebody of the shop, by their roles; in how many browsers they are, and when they were here last."""

    id: int
    name: str
    roles: list[int]
    active: bool
    second_step: bool
    browsers: int
    seen: datetime | None


@dataclass(frozen=True)
class InviteShown:
    """An invitation that is open; its link is not known any more."""

    id: int
    note: str
    roles: list[str]
    who: str
    ends: datetime


@dataclass(frozen=True)
class RightShown:
    """A right, as it follows “may”."""

    right: Right
    says: str


@dataclass(frozen=True)
class Staff:
    """Everybody with what they may do, the roles, and who is invited."""

    people: list[PersonShown]
    roles: list[RoleShown]
    rights: list[RightShown]
    invites: list[InviteShown]


@dataclass(frozen=True)
class Invited:
    """An invitation that was just made: where its link leads, told this once."""

    path: str
    staff: Staff


class InviteGiven(Schema):
    """Whom to invite: in which roles, with a word on who it is."""

    roles: Annotated[list[int], Field(min_length=1, max_length=50)]
    note: Annotated[str, StringConstraints(strip_whitespace=True, max_length=100)] = ""


class PersonChange(Schema):
    """What is to be changed of a person; what is not named stays."""

    roles: Annotated[list[int], Field(max_length=50)] | None = None
    active: bool | None = None


class RoleGiven(Schema):
    """A role by its name and rights."""

    name: Name
    rights: Annotated[list[Right], Field(max_length=len(Right))]


@dataclass(frozen=True)
class Welcome:
    """What whoever opens a link sees first."""

    shop: str
    first: bool


class Joined(Schema):
    """Somebody who opens a link, and takes a name and a password."""

    token: Annotated[str, StringConstraints(min_length=1, max_length=100)]
    name: Account
    password: Secret


@router.get("/people", response=list[Colleague])
def colleagues(request: HttpRequest) -> list[Colleague]:
    """Who works here and may do what, by name."""
    seen = log_ins.by_person()
    return [
        Colleague(one.get_username(), rights_of(one), *seen.get(one.pk, (0, None)))
        for one in USERS.objects.filter(is_active=True).order_by("username")
    ]


@router.get("/staff", response=Staff, auth=MANAGE_PEOPLE)
def staff(request: HttpRequest) -> Staff:
    """Who works here, the roles, and who is invited."""
    seen = log_ins.by_person()
    people = [
        PersonShown(
            one.pk, one.get_username(), sorted(group.pk for group in one.groups.all()), one.is_active,
            second_step.has_one(one), *seen.get(one.pk, (0, None)),
        )
        for one in USERS.objects.prefetch_related("groups").order_by("-is_active", "username")
    ]
    return Staff(people, roles.roles_shown(), [RightShown(right, SAYS[right]) for right in Right], [
        InviteShown(
            one.pk, one.note, sorted(group.name for group in one.roles.all()),
            one.who.get_username() if one.who else "", one.ends,
        )
        for one in inviting.open_invites()
    ])


@router.patch("/staff/{person_id}", response=Staff, auth=MANAGE_PEOPLE)
def change_person(request: HttpRequest, person_id: int, body: PersonChange) -> Staff:
    """Give somebody other roles, or switch them off or on; who is off is logged out everywhere at once."""
    person = find(USERS.objects.all(), person_id)
    with transaction.atomic():
        if body.roles is not None:
            groups = roles.roles_called(body.roles)
            person.groups.set(groups)
            named = ", ".join(sorted(group.name for group in groups))
            log_person(person, request.user.pk, f"Is {named} now" if named else "Has no role now")
        if body.active is not None and body.active != person.is_active:
            if person.pk == request.user.pk:
                raise BadValue("You cannot switch yourself off.", "Ask somebody else who manages people.")
            person.is_active = body.active
            person.save(update_fields=["is_active"])
            log_person(person, request.user.pk, "Was switched on" if body.active else "Was switched off")
            _end_all(person)
        roles.keep_somebody()
    return staff(request)


@router.delete("/staff/{person_id}/log-ins", response=Staff, auth=MANAGE_PEOPLE)
def end_log_ins(request: HttpRequest, person_id: int) -> Staff:
    """Log somebody out everywhere."""
    person = find(USERS.objects.all(), person_id)
    _end_all(person)
    log_person(person, request.user.pk, "Was logged out everywhere")
    return staff(request)


@router.delete("/staff/{person_id}/second-step", response=Staff, auth=MANAGE_PEOPLE)
def put_off_second_step(request: HttpRequest, person_id: int) -> Staff:
    """Let somebody whose authenticator is lost log in without it; they are logged out everywhere."""
    person = find(USERS.objects.all(), person_id)
    second_step.put_off(person)
    _end_all(person)
    log_person(person, request.user.pk, "The second step was put off")
    return staff(request)


def _end_all(person: User) -> None:
    sessions = LogIn.objects.filter(user=person)
    Session.objects.filter(session_key__in=sessions.values("session")).delete()
    sessions.delete()


# -- roles ---------------------------------------------------------------------------------------------------------


@router.post("/roles", response=Staff, auth=MANAGE_PEOPLE)
def make_role(request: HttpRequest, body: RoleGiven) -> Staff:
    """Make a role."""
    with transaction.atomic():
        roles.keep_role(None, body.name, body.rights)
        _log(request, f"Made the role “{body.name}”: {', '.join(body.rights) or 'no rights'}")
    return staff(request)


@router.put("/roles/{role_id}", response=Staff, auth=MANAGE_PEOPLE)
def change_role(request: HttpRequest, role_id: int, body: RoleGiven) -> Staff:
    """Change a role, for all who have it."""
    with transaction.atomic():
        roles.keep_role(role_id, body.name, body.rights)
        _log(request, f"The role “{body.name}” is now: {', '.join(body.rights) or 'no rights'}")
    return staff(request)


@router.delete("/roles/{role_id}", response=Staff, auth=MANAGE_PEOPLE)
def remove_role(request: HttpRequest, role_id: int) -> Staff:
    """Take a role away that nobody has."""
    with transaction.atomic():
        _log(request, f"Took the role “{roles.remove_role(role_id)}” away")
    return staff(request)


def _log(request: HttpRequest, what: str) -> None:
    assert isinstance(request.user, User), "the address wants somebody who is logged in"
    log_person(request.user, request.user.pk, what)


# -- joining -------------------------------------------------------------------------------------------------------


@router.post("/invites", response=Invited, auth=MANAGE_PEOPLE)
def invite(request: HttpRequest, body: InviteGiven) -> Invited:
    """Make a link by which one person joins."""
    groups = roles.roles_called(body.roles)
    path = inviting.path_of(inviting.invite(groups, body.note, request.user.pk))
    _log(request, f"Invited {body.note or 'somebody'} as {', '.join(sorted(group.name for group in groups))}")
    return Invited(path, staff(request))


@router.delete("/invites/{invite_id}", response=Staff, auth=MANAGE_PEOPLE)
def withdraw(request: HttpRequest, invite_id: int) -> Staff:
    """Let a link lead nowhere."""
    one = find(Invite.objects.all(), invite_id)
    _log(request, f"Withdrew the invitation of {one.note or 'somebody'}")
    one.delete()
    return staff(request)


@router.get("/join", response=Welcome, auth=None)
def welcome(request: HttpRequest, token: str) -> Welcome:
    """Whether a link leads somewhere, and to which shop."""
    inviting.invited(token[:100])
    return Welcome(shop_row().name, not USERS.objects.exists())


@router.post("/join", response={200: Welcome, 429: Problem}, auth=None)
@decorate_view(csrf_protect)
def join(request: HttpRequest, body: Joined) -> HttpResponse | Welcome:
    """Join by a link, which is used up, and be logged in."""
    with DOOR.trying(address.of(request)) as may:
        if not may:
            return crowded(request)
        try:
            user = inviting.join(body.token, body.name, body.password)
        except Exception:
            DOOR.wrong(address.of(request))
            raise
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    named = ", ".join(sorted(group.name for group in user.groups.all()))
    log_person(user, user.pk, f"Joined as {named}")
    return Welcome(shop_row().name, False)
