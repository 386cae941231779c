"""Notes who logs in and out."""

import logging
from typing import Any

from django.apps import AppConfig
from django.apps import apps as registry
from django.db.models.signals import post_migrate

log = logging.getLogger("horismos.people")


class PeopleConfig(AppConfig):
    """The people of the shop; Django's own accounts."""

    name = "people"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        """Listen to log-ins, and let a new shop begin with some roles."""
        from django.contrib.auth import signals

        post_migrate.connect(_begin, sender=self)

        signals.user_logged_in.connect(_in, dispatch_uid="people in")
        signals.user_logged_out.connect(_out, dispatch_uid="people out")
        signals.user_login_failed.connect(_failed, dispatch_uid="people failed")


def _begin(apps: Any = registry, **more: Any) -> None:
    from people.roles import begin_roles

    if "invite" in apps.all_models["people"]:  # a state before it has no such roles yet
        begin_roles()


def _in(sender: Any, request: Any, user: Any, **more: Any) -> None:
    from people import log_ins
    from people.address import of

    log_ins.note(request, user.pk)
    log.info("%s logged in from %s", user.get_username(), of(request))


def _out(sender: Any, user: Any, request: Any = None, **more: Any) -> None:
    from people import log_ins

    if user is not None:
        log_ins.forget(request)
        log.info("%s logged out", user.get_username())


def _failed(sender: Any, credentials: Any, request: Any = None, **more: Any) -> None:
    from people.address import of

    log.warning("log-in failed for %r from %s", str(credentials.get("username"))[:150], of(request) if request else "-")
