"""Runs a worker until it is told to end."""

import os
from typing import Any

from django.core.management.base import BaseCommand

from worker.loop import run

BEHIND = 10
"""[ours] how much a worker and its children yield to the web."""


class Command(BaseCommand):
    """``manage work``."""

    help = "Run a worker; as many as there are cores may run at a time."
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Run, behind whoever asks the web for something: people wait for that, and for this they do not."""
        os.nice(BEHIND)
        run()
