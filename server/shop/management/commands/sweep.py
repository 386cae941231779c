"""Removes what the shop no longer wants to keep."""

import os
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from shop.keeping import Rule, sweep


def _days(name: str, otherwise: float | None) -> float | None:
    said = os.environ.get(name, "")
    return float(said) if said else otherwise


class Command(BaseCommand):
    """``manage sweep``. The shop's rule stands in the environment; an option goes before it."""

    help = "Remove old jobs, ended work, log-ins that are over, and files that nothing refers to."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        """After how many days."""
        parser.add_argument(
            "--jobs-days", type=float, default=_days("HORISMOS_KEEP_JOBS_DAYS", None),
            help="jobs on which nothing has happened for so long; without it they are kept",
        )
        parser.add_argument("--works-days", type=float, default=_days("HORISMOS_KEEP_WORKS_DAYS", 30))
        parser.add_argument("--views-days", type=float, default=_days("HORISMOS_KEEP_VIEWS_DAYS", 30))
        parser.add_argument("--try", action="store_true", dest="trying", help="only say what would go")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        rule = Rule(options["jobs_days"], options["works_days"], options["views_days"])
        swept = sweep(rule, not options["trying"])
        parts = ", ".join(f"{count} {what}" for what, count in vars(swept).items() if what != "bytes")
        self.stdout.write(f"{'Would go' if options['trying'] else 'Gone'}: {parts}; {swept.bytes / 1e6:.1f} MB")
