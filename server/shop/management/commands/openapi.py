"""Prints the API's OpenAPI document, from which the front end's types are made."""

from typing import Any

from django.core.management.base import BaseCommand

from shop.api import openapi


class Command(BaseCommand):
    """Print the document."""

    help = __doc__
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        self.stdout.write(openapi(), ending="")
