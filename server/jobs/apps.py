"""The one Django application: jobs and all that belongs to them."""

from typing import Any

from django.apps import AppConfig
from django.apps import apps as registry
from django.conf import settings
from django.db.models.signals import post_migrate


class JobsConfig(AppConfig):
    """Jobs."""

    name = "jobs"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Where it is wished, let the Shelf be filled with what ships whenever the database is brought up to date."""
        post_migrate.connect(_fill, sender=self)


def _fill(apps: Any = registry, **_: Any) -> None:
    from jobs.store.shelf import fill  # models are there only now

    if settings.EXAMPLES and "shelfitem" in apps.all_models["jobs"]:  # a state before it has no such Shelf yet
        fill()
