"""Prints what the front end shows of the core's tables: how roles and severities look, and the limits of values."""

import json
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from django.core.management.base import BaseCommand

from horismos import media, orders, palette
from horismos.cutting import tools
from horismos.formats.embroidery import StitchSuffix
from horismos.json_readers import Field, plain_fields
from horismos.making import spec
from horismos.release.cut_formats import registered
from horismos.roles import ROLES
from horismos.sheet import layout, marks
from horismos.sheet.mark_kinds import registered as mark_kinds
from horismos.stitching import stack
from horismos.workflow.stations import Station

TABLES: Mapping[str, Mapping[str, Field]] = {
    "order": orders.FIELDS, "media": media.FIELDS, "layout": layout.FIELDS, "marks": marks.FIELDS,
    "tool": tools.FIELDS, "make": spec.FIELDS, "line": spec.LINE_FIELDS, "stack": stack.FIELDS,
    "layer": stack.LAYER_FIELDS, "sewing": stack.SEWING_FIELDS,
}


def _limits(table: Mapping[str, Field]) -> dict[str, dict[str, float]]:
    """The least and the most of every number in a table."""
    out = {}
    for name, field in table.items():
        schema = field.read.schema
        plain = schema["anyOf"][0] if "anyOf" in schema else schema
        least = plain.get("minimum", plain.get("exclusiveMinimum"))
        if least is not None and "maximum" in plain:
            out[name] = {"least": least, "most": plain["maximum"]}
    return out


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
        stacks = {
            "kinds": [
                {"kind": kind.value, "words": kind.words, "runs": kind.runs, "usual": asdict(stack.Sewing.usual(kind))}
                for kind in stack.StitchKind
            ],
            "layer": plain_fields(stack.Layer("")), "formats": [one.value for one in StitchSuffix],
            "most_layers": stack.MOST_LAYERS, "most_sewings": stack.MOST_SEWINGS, "least_wide_mm": stack.LEAST_WIDE_MM,
        }
        stations = [
            {"id": station.value, "words": station.words, "counted": station.is_counted} for station in Station
        ]
        limits = {name: _limits(table) for name, table in TABLES.items()}
        values = {
            "roles": rows, "stacks": stacks, "stations": stations, "limits": limits, "formats": formats, "marks": marks,
            **colours,
        }
        self.stdout.write("/** Made from the core's tables: ./horismos manage looks > web/src/api/looks.ts */\n")
        self.stdout.write(f"export const looks = {json.dumps(values, indent=2)};\n", ending="")
