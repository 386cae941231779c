"""Settings of mends: what a person may choose, with unit and range. Made into forms, options and recipes."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue
from horismos.roles import LineRole

__all__ = ["ROLE", "Kind", "Setting", "Value", "read_settings"]

Value = str | float


class Kind(StrEnum):
    """What sort of thing a setting is."""

    ROLE = "role"
    NAME = "name"
    """An ink, by its name letter for letter."""
    NUMBER = "number"


@dataclass(frozen=True)
class Setting:
    """One thing to be chosen.

    ``words`` name it on a form. A setting with a ``default`` may be left out; numbers lie between ``least`` and
    ``most``, in the ``unit``.
    """

    name: str
    kind: Kind
    words: str
    default: Value | None = None
    unit: str = ""
    least: float = 0.0
    most: float = math.inf

    def read(self, value: object) -> Value:
        """A value of this setting. Raises BadValue naming it."""
        if self.kind is Kind.NUMBER:
            try:
                number = float(value)  # type: ignore[arg-type]
            except (TypeError, ValueError):
                raise BadValue(f"{self.words} is “{value}”.", "Give a number.") from None
            if isinstance(value, bool) or not self.least <= number <= self.most:
                raise BadValue(f"{self.words} is {value}.", f"Give {self.range_words}.")
            return number
        if not isinstance(value, str) or not value:
            raise BadValue(f"{self.words} is missing.", "Say it.")
        if self.kind is Kind.ROLE and value not in set(LineRole):
            raise BadValue(f"There is no line role “{value}”.", f"Give one of {', '.join(LineRole)}.")
        return str(value)

    @property
    def range_words(self) -> str:
        """What a number may be, in words."""
        unit = f" {self.unit}" if self.unit else ""
        return f"{self.least:g}{unit} or more" if math.isinf(self.most) else f"{self.least:g} to {self.most:g}{unit}"


ROLE = Setting("role", Kind.ROLE, "The line role")


def read_settings(wanted: tuple[Setting, ...], given: Mapping[str, Any]) -> tuple[tuple[str, Value], ...]:
    """Values for all settings, the defaults where nothing is given. Raises BadValue for a strange or missing one.

    >>> read_settings((ROLE,), {"role": "kiss-cut"})
    (('role', 'kiss-cut'),)
    """
    strange = set(given) - {setting.name for setting in wanted}
    if strange:
        raise BadValue(f"There is no setting “{min(strange)}”.", f"Known: {', '.join(s.name for s in wanted)}.")
    out = []
    for setting in wanted:
        value = given.get(setting.name)
        if value in (None, "") and setting.default is not None:
            value = setting.default
        out.append((setting.name, setting.read(value)))
    return tuple(out)
