"""Roles, which are made of rights; and who always has to be there: somebody who may manage people."""

from collections.abc import Iterable
from dataclasses import dataclass

from django.contrib.auth import get_user_model
from django.contrib.auth.models import Group, Permission, User
from django.db.models import Q
from jobs.store.rights import ROLES, Right, among, codename

from horismos.errors import BadValue, NotFound, NotReady

__all__ = ["RoleShown", "begin_roles", "keep_role", "keep_somebody", "remove_role", "roles_called", "roles_shown"]

MOST_NAME = 60


@dataclass(frozen=True)
class RoleShown:
    """A role with its rights, and how many people have it."""

    id: int
    name: str
    rights: tuple[Right, ...]
    people: int


def begin_roles() -> None:
    """Make the roles that a shop begins with, where it has none at all."""
    if not Group.objects.exists():
        for name, rights in ROLES.items():
            _keep(Group.objects.create(name=name), rights)


def _keep(group: Group, rights: Iterable[Right]) -> None:
    names = [codename(right) for right in rights]
    group.permissions.set(Permission.objects.filter(content_type__app_label="people", codename__in=names))


def rights_in(group: Group) -> tuple[Right, ...]:
    """The rights of a role."""
    known = {codename(right): right for right in Right}
    return among(known[one.codename] for one in group.permissions.all() if one.codename in known)


def roles_shown() -> list[RoleShown]:
    """All roles, those with the most rights first."""
    groups = Group.objects.prefetch_related("permissions", "user_set")
    shown = [RoleShown(group.pk, group.name, rights_in(group), len(group.user_set.all())) for group in groups]
    return sorted(shown, key=lambda one: (-len(one.rights), one.name))


def roles_called(ids: Iterable[int]) -> list[Group]:
    """Roles by their numbers. Raises NotFound."""
    wanted = set(ids)
    found = list(Group.objects.filter(pk__in=wanted))
    if len(found) != len(wanted):
        raise NotFound("One of these roles is not there any more.", "Choose another.")
    return found


def keep_role(role_id: int | None, name: str, rights: Iterable[Right]) -> Group:
    """Make a role, or change one. Raises BadValue for a name that is taken, NotFound, NotReady."""
    name = name.strip()
    if not 0 < len(name) <= MOST_NAME or not name.isprintable():
        raise BadValue("The role has no name.", f"Give it one of at most {MOST_NAME} letters.")
    if Group.objects.filter(name__iexact=name).exclude(pk=role_id or 0).exists():
        raise BadValue(f"There is another role “{name}”.", "Give it another name.")
    group = Group() if role_id is None else roles_called([role_id])[0]
    group.name = name
    group.save()
    _keep(group, rights)
    keep_somebody()
    return group


def remove_role(role_id: int) -> str:
    """Take a role away that nobody has; gives its name. Raises NotFound, NotReady."""
    (group,) = roles_called([role_id])
    count = group.user_set.count()
    if count:
        raise NotReady(f"{count} people are “{group.name}”.", "Give them another role first.")
    name = group.name
    group.delete()
    return name


def keep_somebody() -> None:
    """Raise NotReady where nobody would be left who may manage people; called in the transaction that would do it."""
    may = Q(groups__permissions__codename=codename(Right.MANAGE_PEOPLE)) | Q(is_superuser=True)
    users: type[User] = get_user_model()
    if users.objects.exists() and not users.objects.filter(may, is_active=True).exists():
        raise NotReady("Nobody would be left who manages people.", "Give that right to somebody else first.")
