"""The one Django application: jobs and all that belongs to them."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    """Jobs."""

    name = "jobs"
    default_auto_field = "django.db.models.BigAutoField"
