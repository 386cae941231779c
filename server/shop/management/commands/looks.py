"""Prints how line roles and severities look, from the core's tables, for the front end."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from horismos import palette
from horismos.release.cut_formats import registered
from horismos.roles import ROLES
from horismos.sheet.mark_kinds import registered as mark_kinds


class Command(BaseCommand):
    """Print the module."""

    help = __doc__
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        rows = [
            {"role": role.value, "words": facts.words, "colour": facts.colour, "shape": facts.shape.value}
            for role, facts in ROLES.items()
        ]
        formats = [{"id": one.id, "words": one.words} for one in registered().values()]
        marks = [
            {"id": kind.id, "words": kind.words, "size": kind.size_words, "stroked": kind.stroked}
            for kind in mark_kinds().values()
        ]
        colours = {"stop": palette.STOP, "look": palette.LOOK, "note": palette.NOTE, "ink": palette.INK}
        values = {"roles": rows, "formats": formats, "marks": marks, **colours}
        self.stdout.write("/** Made from the core's tables: ./horismos manage looks > web/src/api/looks.ts */\n")
        self.stdout.write(f"export const looks = {json.dumps(values, indent=2)};\n", ending="")
