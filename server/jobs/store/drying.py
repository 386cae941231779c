"""Prints dry: from when on one may be cut, or laminated and then cut."""

from datetime import datetime, timedelta

from django.utils import timezone

from horismos.destinations import destination_of
from horismos.errors import NotReady
from horismos.materials import material_of
from jobs import models

__all__ = ["dry_at", "is_dry", "must_be_dry"]


def dry_at(made: models.Release) -> datetime | None:
    """From when on a print is dry enough: to be laminated, where its material is, else to be cut; None if unprinted."""
    if made.printed is None:
        return None
    preset = destination_of(made.ticket).rip.preset(made.preset)
    material = material_of(made.ticket)
    laminated = any(stratum.kind == "laminate" for stratum in material.strata)
    own, usual = (material.laminate_h, preset.laminate_h) if laminated else (material.dry_h, preset.dry_h)
    return made.printed + timedelta(hours=usual if own is None else own)


def is_dry(made: models.Release) -> bool:
    """Whether a print has dried: by the clock, or since somebody has waited."""
    when = dry_at(made)
    return when is not None and (made.dry or timezone.now() >= when)


def must_be_dry(made: models.Release) -> None:
    """Raise NotReady where the print is not made yet, or wet."""
    if made.ticket.get("makes") == "cut":
        return
    when = dry_at(made)
    if when is None:
        raise NotReady("It is not printed yet.", "Let the RIP take it first.")
    if not is_dry(made):
        raise NotReady(f"The print is wet until {when:%H:%M} UTC on {when.day} {when:%B}.", "Wait until it is dry.")
