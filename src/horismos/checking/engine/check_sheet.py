"""Check sheets: the limits and severities that a shop works with. Values; storing them is not done here."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import text

__all__ = ["SCOPES", "CheckSheet", "Severity", "check_sheet_schema", "graver", "merged"]

FORMAT = "horismos check sheet"
SCOPES = ("shop", "destination", "material", "customer")
"""What a sheet can be for; a later one of the row goes before an earlier one."""
MOST = 1e6


class Severity(StrEnum):
    """``stop`` cannot be released, ``look`` is for a person to decide, ``note`` is for knowing.

    A check sheet may also set a check ``off``; then it is not run.
    """

    STOP = "stop"
    LOOK = "look"
    NOTE = "note"
    OFF = "off"


GRAVE = [Severity.OFF, Severity.NOTE, Severity.LOOK, Severity.STOP]


def graver(one: str, other: str) -> bool:
    """Whether a severity weighs more than another; a word that is none weighs nothing.

    >>> graver("stop", "look"), graver("look", "look"), graver("note", "")
    (True, False, True)
    """
    return _weight(one) > _weight(other)


def _weight(severity: str) -> int:
    return GRAVE.index(Severity(severity)) if severity in set(Severity) else 0


@dataclass(frozen=True)
class CheckSheet:
    """Limits and severities by check id, where they differ from the shipped ones.

    A check with more than one limit has the others under ``id:name``, such as ``line.sharp:kiss-cut``.
    ``version`` says which state of which sheets it is, in words.
    """

    name: str = "Shipped"
    limits: Mapping[str, float] = field(default_factory=dict)
    severities: Mapping[str, Severity] = field(default_factory=dict)
    version: str = "shipped"

    def to_json(self) -> dict[str, Any]:
        """The sheet as plain values."""
        return {
            "format": FORMAT, "name": self.name, "version": self.version,
            "limits": dict(sorted(self.limits.items())), "severities": dict(sorted(self.severities.items())),
        }

    @classmethod
    def from_json(cls, data: object, known: Mapping[str, Any] | None = None) -> "CheckSheet":
        """A sheet from its plain values; with ``known`` limits (id or ``id:name``) others are refused.

        Raises BadValue naming the entry.
        """
        if not isinstance(data, Mapping):
            raise BadValue("The check sheet is not a JSON object.", "Export one to see its form.")
        if data and data.get("format", FORMAT) != FORMAT:
            raise BadValue(f"This is no check sheet but “{data.get('format')}”.", "Export one to see its form.")
        name, version = text(200)("The check sheet: name", data.get("name", "Shipped")), data.get("version", "shipped")
        text(200)("The check sheet: version", version)
        limits, severities = data.get("limits", {}), data.get("severities", {})
        if not isinstance(limits, Mapping) or not isinstance(severities, Mapping):
            raise BadValue("Limits and severities have to be JSON objects.", "Export a sheet to see its form.")
        for key, value in limits.items():
            if known is not None and key not in known:
                raise BadValue(f"There is no limit “{key}”.", "Take it out of the sheet.")
            if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= MOST:
                raise BadValue(f"The limit of {key} is {value}.", "Give a number from 0 on.")
            if not math.isfinite(value):
                raise BadValue(f"The limit of {key} is {value}.", "Give a number from 0 on.")
        for key, value in severities.items():
            if known is not None and key not in known:
                raise BadValue(f"There is no check “{key}”.", "Take it out of the sheet.")
            if not isinstance(value, str) or value not in set(Severity):
                raise BadValue(f"The severity of {key} is “{value}”.", f"Give one of {', '.join(Severity)}.")
        return cls(
            str(name), {str(k): float(v) for k, v in limits.items()},
            {str(k): Severity(v) for k, v in severities.items()}, str(version),
        )


def check_sheet_schema(known: Iterable[str]) -> dict[str, Any]:
    """What a check sheet may be, as JSON Schema 2020-12, with these limits."""
    keys = list(known)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Check sheet", "type": "object",
        "properties": {
            "format": {"const": FORMAT},
            "name": {"description": "what it is called", **text(200).schema},
            "version": {"description": "which state of it this is", **text(200).schema},
            "limits": {
                "description": "limits where they differ from the shipped ones", "type": "object",
                "additionalProperties": False,
                "properties": {key: {"type": "number", "minimum": 0, "maximum": MOST} for key in keys},
            },
            "severities": {
                "description": "how grave a check is where that differs", "type": "object",
                "additionalProperties": False,
                "properties": {key: {"enum": [one.value for one in Severity]} for key in keys},
            },
        },
    }


def merged(sheets: Sequence[CheckSheet]) -> CheckSheet:
    """Sheets laid over each other; a later one goes before an earlier one.

    >>> shop, film = CheckSheet("Shop", {"edge.bleed": 3}, {}, "1"), CheckSheet("Film", {"edge.bleed": 4}, {}, "2")
    >>> merged([shop, film]).limits
    {'edge.bleed': 4}
    >>> merged([shop, film]).version
    'Shop 1, Film 2'
    """
    if not sheets:
        return CheckSheet()
    limits: dict[str, float] = {}
    severities: dict[str, Severity] = {}
    for sheet in sheets:
        limits.update(sheet.limits)
        severities.update(sheet.severities)
    said = ", ".join(f"{sheet.name} {sheet.version}" for sheet in sheets)
    return CheckSheet(" + ".join(sheet.name for sheet in sheets), limits, severities, said)
