"""Writes all of the shop into one file, while it runs."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from horismos.errors import HorismosError
from shop.backup import back_up


class Command(BaseCommand):
    """``manage backup``."""

    help = "Write the shop's database and files into one tar file."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to."""
        parser.add_argument("to", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        try:
            count = back_up(options["to"])
        except (HorismosError, OSError) as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"{options['to']}: the database and {count} files")
