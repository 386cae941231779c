"""Settings of mends: what a person may choose, with unit and range. Made into forms, options and recipes."""

import json
import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue
from horismos.making import Make
from horismos.making.spec import make_schema
from horismos.roles import LineRole

__all__ = ["ROLE", "Setting", "SettingKind", "Value", "plain", "read_settings"]

Value = str | float | tuple[float, ...] | tuple[tuple[float, ...], ...]
MOST_POINTS = 10_000


class SettingKind(StrEnum):
    """What sort of thing a setting is."""

    ROLE = "role"
    NAME = "name"
    """An ink or a layer, by its name letter for letter."""
    NUMBER = "number"
    CHOICE = "choice"
    COLOUR = "colour"
    """Three values for RGB or four for CMYK, each 0 to 1."""
    POINTS = "points"
    """Places on the page in mm."""
    MAKE = "make"
    """What lines are made of: as JSON, or the values that it holds."""


@dataclass(frozen=True)
class Setting:
    """One thing to be chosen.

    ``words`` name it on a form. A setting with a ``default`` may be left out; numbers lie between ``least`` and
    ``most``, in the ``unit``; a choice is one of ``options``. A setting that is ``optional`` may stay open: its
    value is then empty, which means all roles, or that another setting says what is meant. A ``habit`` is what a
    customer's files are given the same way each time; all else follows from the file and its order.
    """

    name: str
    kind: SettingKind
    words: str
    default: Value | None = None
    unit: str = ""
    least: float = 0.0
    most: float = math.inf
    options: tuple[str, ...] = ()
    optional: bool = False
    habit: bool = False

    @property
    def may_be_left_out(self) -> bool:
        """Whether a step is whole without it."""
        return self.optional or self.default is not None

    def read(self, value: object) -> Value:
        """A value of this setting. Raises BadValue naming it."""
        listed = self.kind in (SettingKind.COLOUR, SettingKind.POINTS)
        if value is None or value == "" or (listed and value in ((), [])):
            if self.default is not None:
                return self.default
            if self.optional:
                return () if listed else ""
            raise BadValue(f"{self.words} is missing.", f"Say it as “{self.name}”.")
        return READERS[self.kind](self, value)

    @property
    def schema(self) -> dict[str, Any]:
        """What it may be, as JSON Schema has it; null or empty is as left out where it may be."""
        words = f"{self.words} ({self.unit})" if self.unit else self.words
        value = _schema_of(self)
        return {"description": words, **({"anyOf": [value, {"enum": ["", None]}]} if self.may_be_left_out else value)}

    @property
    def range_words(self) -> str:
        """What a number may be, in words."""
        unit = f" {self.unit}" if self.unit else ""
        return f"{self.least:g}{unit} or more" if math.isinf(self.most) else f"{self.least:g} to {self.most:g}{unit}"


def _schema_of(setting: Setting) -> Mapping[str, Any]:
    """What a setting's value may be, as JSON Schema has it."""
    numbers = {"type": "array", "items": {"type": "number"}}
    match setting.kind:
        case SettingKind.ROLE:
            return {"enum": [role.value for role in LineRole]}
        case SettingKind.NAME:
            return {"type": "string"}
        case SettingKind.NUMBER:
            most = {} if math.isinf(setting.most) else {"maximum": setting.most}
            return {"type": "number", "minimum": setting.least, **most}
        case SettingKind.CHOICE:
            return {"enum": list(setting.options)}
        case SettingKind.COLOUR:
            channel = {"type": "number", "minimum": 0, "maximum": 1}
            return {"type": "array", "items": channel, "minItems": 3, "maxItems": 4}
        case SettingKind.POINTS:
            return {"type": "array", "items": {**numbers, "minItems": 2, "maxItems": 2}, "maxItems": MOST_POINTS}
        case SettingKind.MAKE:
            return {key: value for key, value in make_schema().items() if key != "$schema"}


def _number(setting: Setting, value: object) -> float:
    try:
        number = float(value)  # type: ignore[arg-type]
    except (TypeError, ValueError):
        raise BadValue(f"{setting.words} is “{value}”.", "Give a number.") from None
    if isinstance(value, bool) or not setting.least <= number <= setting.most:
        raise BadValue(f"{setting.words} is {value}.", f"Give {setting.range_words}.")
    return number


def _text(setting: Setting, value: object) -> str:
    if not isinstance(value, str):
        raise BadValue(f"{setting.words} is no text.", "Give a name.")
    return str(value)


def _role(setting: Setting, value: object) -> str:
    if not isinstance(value, str) or value not in set(LineRole):
        raise BadValue(f"There is no line role “{value}”.", f"Give one of {', '.join(LineRole)}.")
    return str(value)


def _choice(setting: Setting, value: object) -> str:
    if isinstance(value, int | float) and not isinstance(value, bool):
        value = f"{value:g}"
    if value not in setting.options:
        raise BadValue(f"{setting.words} is “{value}”.", f"Give one of {', '.join(setting.options)}.")
    return str(value)


def _numbers(setting: Setting, value: object) -> tuple[float, ...]:
    listed: Any = value.split(":") if isinstance(value, str) else value
    try:
        found = tuple(float(v) for v in listed)
    except (TypeError, ValueError):
        raise BadValue(f"{setting.words} is {value!r}.", "Give numbers.") from None
    if not all(map(math.isfinite, found)):
        raise BadValue(f"{setting.words} is {value!r}.", "Give plain numbers.")
    return found


def _colour(setting: Setting, value: object) -> tuple[float, ...]:
    found = _numbers(setting, value)
    if len(found) not in (3, 4) or not all(0 <= v <= 1 for v in found):
        raise BadValue(f"{setting.words} is {value!r}.", "Give [c, m, y, k] or [r, g, b], each 0 to 1.")
    return found


def _points(setting: Setting, value: object) -> tuple[tuple[float, ...], ...]:
    if isinstance(value, str):
        value = [part for part in value.split(";") if part]
    if not isinstance(value, list | tuple) or len(value) > MOST_POINTS:
        raise BadValue(f"{setting.words} is no list of points.", "Give [[x, y], …] in mm.")
    if value and not isinstance(value[0], list | tuple | str):
        value = [value]
    found = tuple(_numbers(setting, point) for point in value)
    if any(len(point) != 2 for point in found):
        raise BadValue(f"{setting.words} holds something else than points.", "Give [[x, y], …] in mm.")
    return found


def _make(setting: Setting, value: object) -> str:
    """Always written alike, so that the same make is the same step."""
    try:
        given = json.loads(value) if isinstance(value, str) else value
    except ValueError:
        raise BadValue(f"{setting.words} is no JSON.", "See docs/lines.md for its keys.") from None
    return json.dumps(Make.from_json(given).to_json(), sort_keys=True)


READERS: dict[SettingKind, Callable[[Setting, object], Value]] = {
    SettingKind.NUMBER: _number, SettingKind.NAME: _text, SettingKind.ROLE: _role, SettingKind.CHOICE: _choice,
    SettingKind.COLOUR: _colour, SettingKind.POINTS: _points, SettingKind.MAKE: _make,
}
ROLE = Setting("role", SettingKind.ROLE, "The line role", optional=True)
"""Left open: all roles."""


def plain(wanted: tuple[Setting, ...], settings: tuple[tuple[str, Value], ...]) -> dict[str, Any]:
    """Settings as JSON has them, a making as the object that it is; what stays open is left out."""
    makes = {setting.name for setting in wanted if setting.kind is SettingKind.MAKE}
    return {
        name: json.loads(str(value)) if name in makes else _listed(value)
        for name, value in settings if value not in ("", ())
    }


def _listed(value: Any) -> Any:
    return [_listed(v) for v in value] if isinstance(value, tuple) else value


def read_settings(wanted: tuple[Setting, ...], given: Mapping[str, Any]) -> tuple[tuple[str, Value], ...]:
    """Values for all settings, the defaults where nothing is given. Raises BadValue for a strange or missing one.

    >>> read_settings((ROLE,), {"role": "kiss-cut"})
    (('role', 'kiss-cut'),)
    """
    strange = set(given) - {setting.name for setting in wanted}
    if strange:
        known = ", ".join(s.name for s in wanted) or "none"
        raise BadValue(f"There is no setting “{min(strange)}”.", f"Known: {known}.")
    return tuple((setting.name, setting.read(given.get(setting.name))) for setting in wanted)
