"""Takes in what is put into the watched folders."""

from typing import Any

from django.core.management.base import BaseCommand

from shop.watching import watch


class Command(BaseCommand):
    """``manage watch``."""

    help = "Take in what is put into the watched folders, until told to end."
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        watch()
