"""The log: who did what to a job, a shared sheet, a thing of the Shelf or a person, and when."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from django.db import connection

from jobs import models

__all__ = ["LogShown", "log", "log_person", "log_shelf", "logged", "seal"]

TOPICS = {models.Job: models.LogTopic.JOB, models.SharedSheet: models.LogTopic.SHEET}
SEALS = {
    "log_is_not_changed": "BEFORE UPDATE ON jobs_logentry", "log_is_not_shortened": "BEFORE DELETE ON jobs_logentry",
}


@dataclass(frozen=True)
class LogShown:
    """Who did what, and when."""

    who: str
    what: str
    when: datetime


def log(on: models.Job | models.SharedSheet, who: int | None, what: str, version: int = 0) -> None:
    """Note who did what to it, and which version of it that made; 0 where it made none."""
    on.log.create(
        who_id=who, who_name=_name(who), what=what, version=version, topic=TOPICS[type(on)], about=on.name[:200]
    )


def log_shelf(item: models.ShelfItem, who: int | None, what: str) -> None:
    """Note who did what to a thing of the Shelf, at the version that it has now."""
    item.log.create(
        who_id=who, who_name=_name(who), what=what, version=item.number, topic=models.LogTopic.SHELF, about=item.title
    )


def log_person(person: User, who: int | None, what: str) -> None:
    """Note who did what to a person, or what that person did to themselves."""
    models.LogEntry.objects.create(
        person=person, who_id=who, who_name=_name(who), what=what, topic=models.LogTopic.PERSON,
        about=person.get_username(),
    )


def _name(who: int | None) -> str:
    found = get_user_model().objects.filter(pk=who).values_list("username", flat=True).first() if who else None
    return str(found or "")


def logged(on: models.Job | models.SharedSheet) -> list[LogShown]:
    """What was done to it, the latest first."""
    return [LogShown(entry.who_name or "someone", entry.what, entry.when) for entry in on.log.order_by("-id")]


def seal() -> None:
    """Let the database itself refuse to change or shorten the log, whoever asks it; once for each database."""
    with connection.cursor() as cursor:
        for name, when in SEALS.items():
            cursor.execute(
                f"CREATE TRIGGER IF NOT EXISTS {name} {when} BEGIN SELECT RAISE(ABORT, 'The log is not changed.'); END"
            )
