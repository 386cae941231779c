"""Rights: what a person may do, one by one. Roles are made of them; they are Django's permissions and groups."""

from collections.abc import Iterable
from enum import StrEnum

from django.contrib.auth.models import AbstractBaseUser, AnonymousUser, PermissionsMixin

__all__ = ["ROLES", "SAYS", "Person", "Right", "codename", "holds", "rights_of"]

Person = AbstractBaseUser | AnonymousUser


class Right(StrEnum):
    """What somebody may do."""

    SEE = "see"
    TAKE_IN = "take-in"
    WORK = "work"
    WAIVE = "waive"
    RELEASE = "release"
    EDIT_SHELF = "edit-shelf"
    MANAGE_PEOPLE = "manage-people"


SAYS = {
    Right.SEE: "look at jobs, machines and the Shelf",
    Right.TAKE_IN: "take in files, and say what an order wants",
    Right.WORK: "mend, make lines, lay out, and run the machines",
    Right.WAIVE: "let a stop pass",
    Right.RELEASE: "release jobs to the machines",
    Right.EDIT_SHELF: "change the Shelf",
    Right.MANAGE_PEOPLE: "invite people, and say what they may do",
}
"""Each right, as it follows “you may not”."""
ROLES = {
    "Owner": tuple(Right),
    "Lead technician": tuple(right for right in Right if right is not Right.MANAGE_PEOPLE),
    "Technician": (Right.SEE, Right.TAKE_IN, Right.WORK, Right.RELEASE),
    "Machine operator": (Right.SEE, Right.WORK),
    "Front desk": (Right.SEE, Right.TAKE_IN),
    "Guest": (Right.SEE,),
}
"""The roles that a shop begins with; each may be changed, and others made."""


def codename(right: Right) -> str:
    """How Django calls it."""
    return right.value.replace("-", "_")


def holds(user: Person, right: Right) -> bool:
    """Whether a person has a right, by a role or by themselves."""
    return isinstance(user, PermissionsMixin) and user.has_perm(f"people.{codename(right)}")


def rights_of(user: Person) -> tuple[Right, ...]:
    """All rights of a person."""
    return among(right for right in Right if holds(user, right))


def among(rights: Iterable[Right]) -> tuple[Right, ...]:
    """Rights in their order, each once."""
    found = set(rights)
    return tuple(right for right in Right if right in found)
