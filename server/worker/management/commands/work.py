"""Runs a worker until it is told to end."""

from typing import Any

from django.core.management.base import BaseCommand

from worker.loop import run


class Command(BaseCommand):
    """``manage work``."""

    help = "Run a worker; as many as there are cores may run at a time."
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        run()
