"""Looks through all that the shop keeps."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from shop.keeping import faults, referred


class Command(BaseCommand):
    """``manage verify``. Ends with 1 where something is wrong."""

    help = "Look through the database and every file that it refers to."
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        found = list(faults())
        for line in found:
            self.stderr.write(line)
        if found:
            raise CommandError(f"{len(found)} faults.")
        self.stdout.write(f"Whole: the database and {len(referred())} files.")
