"""The log: who did what to a job or to a shared sheet, and when."""

from dataclasses import dataclass
from datetime import datetime

from jobs import models

__all__ = ["LogShown", "log", "logged"]


@dataclass(frozen=True)
class LogShown:
    """Who did what, and when."""

    who: str
    what: str
    when: datetime


def log(on: models.Job | models.SharedSheet, who: int | None, what: str, version: int = 0) -> None:
    """Note who did what to it, and which version of it that made; 0 where it made none."""
    on.log.create(who_id=who, what=what, version=version)


def logged(on: models.Job | models.SharedSheet) -> list[LogShown]:
    """What was done to it, the latest first."""
    return [
        LogShown(entry.who.get_username() if entry.who else "someone", entry.what, entry.when)
        for entry in on.log.select_related("who").order_by("-id")
    ]
