"""People on the command line: made, given roles, given a password, locked out, listed."""

import getpass
import sys
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.models import Group, User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from jobs.store.log import log_person

from people.second_step import put_off

PLAIN, ALL = "Technician", "Owner"
"""What somebody is of whom nothing is said, and with all rights."""


class Command(BaseCommand):
    """``manage user``. A password comes from standard input or is asked for; never as an argument."""

    help = "Make and change people: add, password, roles, off, on, list, one-step (without a second step)."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        """One word for what to do, a name, and roles."""
        parser.add_argument("what", choices=["add", "password", "roles", "off", "on", "list", "one-step"])
        parser.add_argument("name", nargs="?", default="")
        parser.add_argument("--role", action="append", default=[], help="a role by its name; once for each")
        parser.add_argument("--all-rights", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it; in a data folder that is new, the database is made first."""
        call_command("migrate", verbosity=0)
        what, name = options["what"], options["name"].strip()
        if what == "list":
            self._list()
            return
        if not name:
            raise CommandError("Say the name of the person.")
        user: User | None = get_user_model().objects.filter(username=name).first()
        named = [ALL] if options["all_rights"] else options["role"]
        if what == "add":
            if user is not None:
                raise CommandError(f"“{name}” is there already.")
            user = get_user_model()(username=name)
            user.full_clean(exclude=["password"])
            self._password(user)
            others = get_user_model().objects.exclude(pk=user.pk).exists()
            self._roles(user, named or [PLAIN if others else ALL])
        elif user is None:
            raise CommandError(f"There is nobody called “{name}”. See: ./horismos user list")
        elif what == "password":
            self._password(user)
        elif what == "roles":
            self._roles(user, named)
        elif what == "one-step":
            put_off(user)
            log_person(user, None, "The second step was put off on the command line")
        else:
            user.is_active = what == "on"
            user.save(update_fields=["is_active"])
            log_person(user, None, f"Was switched {what} on the command line")
        self.stdout.write(self._line(user))

    def _password(self, user: User) -> None:
        if sys.stdin.isatty():
            password = getpass.getpass(f"Password for {user.get_username()}: ")
            if password != getpass.getpass("Once more: "):
                raise CommandError("The two differ. Nothing was changed.")
        else:
            password = sys.stdin.readline().rstrip("\r\n")
        try:
            validate_password(password, user)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from None
        user.set_password(password)
        user.save()

    def _roles(self, user: User, names: list[str]) -> None:
        found = list(Group.objects.filter(name__in=names))
        missing = set(names) - {group.name for group in found}
        if missing:
            known = ", ".join(Group.objects.order_by("name").values_list("name", flat=True))
            raise CommandError(f"There is no role “{min(missing)}”. Known: {known}.")
        user.groups.set(found)
        log_person(user, None, f"Is {', '.join(sorted(names)) or 'of no role'} now, by the command line")

    def _line(self, user: User) -> str:
        roles = ", ".join(sorted(user.groups.values_list("name", flat=True))) or "no role"
        return f"{user.get_username()}: {roles}{'' if user.is_active else ', off'}"

    def _list(self) -> None:
        for user in get_user_model().objects.order_by("username"):
            self.stdout.write(self._line(user))
