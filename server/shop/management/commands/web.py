"""Answers requests."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from shop.serving import web


class Command(BaseCommand):
    """``manage web``."""

    help = "Answer requests until told to end."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to listen."""
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8040)

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        web(options["host"], options["port"])
