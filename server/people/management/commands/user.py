"""People on the command line: made, given rights, given a password, locked out, listed."""

import getpass
import sys
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.models import Permission, User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

RIGHTS = {"waive-stop": "waive_stop", "edit-shelf": "edit_shelf"}
"""What a right is called here, and its codename."""


class Command(BaseCommand):
    """``manage user``. A password comes from standard input or is asked for; never as an argument."""

    help = "Make and change people: add, password, rights, off, on, list."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        """One word for what to do, a name, and rights."""
        parser.add_argument("what", choices=["add", "password", "rights", "off", "on", "list"])
        parser.add_argument("name", nargs="?", default="")
        parser.add_argument("--right", action="append", default=[], choices=sorted(RIGHTS))
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
        rights = sorted(RIGHTS) if options["all_rights"] else options["right"]
        if what == "add":
            if user is not None:
                raise CommandError(f"“{name}” is there already.")
            user = get_user_model()(username=name)
            user.full_clean(exclude=["password"])
            self._password(user)
            self._rights(user, rights)
        elif user is None:
            raise CommandError(f"There is nobody called “{name}”. See: ./horismos user list")
        elif what == "password":
            self._password(user)
        elif what == "rights":
            self._rights(user, rights)
        else:
            user.is_active = what == "on"
            user.save(update_fields=["is_active"])
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

    def _rights(self, user: User, rights: list[str]) -> None:
        codenames = [RIGHTS[right] for right in rights]
        user.user_permissions.set(Permission.objects.filter(content_type__app_label="jobs", codename__in=codenames))

    def _line(self, user: User) -> str:
        has = set(user.user_permissions.values_list("codename", flat=True))
        rights = ", ".join(name for name, codename in sorted(RIGHTS.items()) if codename in has) or "no rights"
        return f"{user.get_username()}: {rights}{'' if user.is_active else ', off'}"

    def _list(self) -> None:
        for user in get_user_model().objects.order_by("username"):
            self.stdout.write(self._line(user))
