"""Prints dry: from when on one may be cut, or laminated and then cut."""

from datetime import datetime

from django.utils import timezone

from jobs import models
from jobs.store.floor import current_sheet, dries, waits_for

__all__ = ["dry_at", "is_dry"]


def dry_at(made: models.Release) -> datetime | None:
    """From when on a print is dry enough: to be laminated, where its material is, else to be cut; None if unprinted."""
    sheet = current_sheet(made)
    printed = sheet.printed if sheet is not None else made.printed
    return None if printed is None or made.printed is None else printed + dries(made)


def is_dry(made: models.Release) -> bool:
    """Whether nothing has to come before its cut: it has dried and is laminated, or somebody said why it need not."""
    sheet = current_sheet(made)
    if sheet is not None:
        return waits_for(sheet) is None
    when = dry_at(made)
    return when is not None and (made.dry or timezone.now() >= when)
