"""Runs a shop: makes its database ready, then the web and its workers."""

from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder
from jobs.store.analyses import queue_outdated
from jobs.store.floor import power_was_gone
from jobs.store.log import seal
from people.inviting import first_link

from horismos.errors import NotReady
from horismos.sandbox.jail import offered
from shop.backup import unknown
from shop.serving import claimed, supervise, workers_wanted


class Command(BaseCommand):
    """``manage serve``."""

    help = "Run a shop until told to end."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to listen, and how many workers."""
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8040)
        parser.add_argument("--workers", type=int, default=workers_wanted())

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        host, port = options["host"], options["port"]
        if settings.JAIL and not offered():
            raise CommandError("HORISMOS_JAIL is on, and this machine offers none. Install bubblewrap, or turn it off.")
        if settings.TLS and not settings.TRUSTED_PROXIES:
            raise CommandError(
                "HORISMOS_TLS=1 sends all pages to https, which a proxy before this server has to speak. "
                "Say which: HORISMOS_PROXIES=ADDRESS, and that it sets X-Forwarded-Proto and X-Forwarded-For."
            )
        try:
            with claimed(host, port, settings.VAR):
                newer = unknown(MigrationRecorder(connection).applied_migrations())
                if newer:
                    raise NotReady(
                        f"A newer Horismos has worked on the data in {settings.VAR} ({newer[-1]}).",
                        "Start that one, or bring back a backup of this one into another folder.",
                    )
                call_command("migrate", verbosity=0)
                seal()
                queue_outdated()
                power_was_gone()
                supervise(
                    host, port, options["workers"], lambda: self._greet(host, port), bool(settings.BROKER)
                )
        except NotReady as why:
            raise CommandError(str(why)) from None

    def _greet(self, host: str, port: int) -> None:
        """Say where it runs, now that it does."""
        self.stdout.write(f"Horismos runs at http://{host}:{port}/")
        if not settings.JAIL:
            self.stdout.write("What handles customers' files is limited, and in no jail: see docs/security.md.")
        if not get_user_model().objects.exists():
            self.stdout.write("Nobody can log in yet. Who opens this address, once, becomes the shop's owner:")
            self.stdout.write(first_link(f"http://{host}:{port}"))
        self.stdout.flush()
