"""Brings a shop back from a backup, into an empty data folder."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from horismos.errors import HorismosError
from shop.backup import bring_back
from shop.keeping import faults


class Command(BaseCommand):
    """``manage restore``."""

    help = "Bring a shop back from a backup; the data folder has to be empty."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Where from."""
        parser.add_argument("source", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        connection.close()
        try:
            count = bring_back(options["source"], Path(settings.VAR))
        except (HorismosError, OSError) as error:
            raise CommandError(str(error)) from None
        try:
            call_command("migrate", verbosity=0)
            found = list(faults())
        except Exception as error:
            raise CommandError(
                f"The backup came back, but holds what no shop has written ({type(error).__name__}: {error}). "
                "Take another one, into an empty folder."
            ) from None
        for line in found:
            self.stderr.write(line)
        if found:
            raise CommandError("The backup came back with faults.")
        self.stdout.write(f"{settings.VAR}: the database and {count} files")
