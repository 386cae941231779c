"""Sends work to the workers of a broker until it is told to end."""

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError


class Command(BaseCommand):
    """``manage dispatch``."""

    help = "Send work to the workers of the broker that HORISMOS_BROKER says; one a shop."
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Run; Celery is imported here alone."""
        if not settings.BROKER:
            raise CommandError("HORISMOS_BROKER says no broker: without one, ./horismos manage work does the work.")
        from worker.dispatching import run

        run()
