"""A sequence of steps under a name, to be carried out on many files."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import number
from horismos.mending.engine.registry import Step, registered, step_from

__all__ = ["Recipe", "recipe_schema"]

MOST_STEPS = 100
VERSION = number(1, 1e9, whole=True)


@dataclass(frozen=True)
class Recipe:
    """Steps in their order; ``version`` counts up each time that they are changed."""

    name: str
    version: int
    steps: tuple[Step, ...]

    def to_json(self) -> dict[str, Any]:
        """The recipe as plain values."""
        return {"name": self.name, "version": self.version, "steps": [step.to_json() for step in self.steps]}

    @classmethod
    def from_json(cls, data: object) -> "Recipe":
        """A recipe from its plain values. Raises BadValue naming what is wrong."""
        if not isinstance(data, Mapping):
            raise BadValue("The recipe is no object.", 'Write {"name", "version", "steps"}.')
        strange = set(data) - {"name", "version", "steps"}
        if strange:
            raise BadValue(f"A recipe has no “{min(map(str, strange))}”.", "It has name, version and steps.")
        name, version, steps = data.get("name"), data.get("version", 1), data.get("steps")
        if not isinstance(name, str) or not 0 < len(name) <= 200:
            raise BadValue("The recipe has no name.", "Give it one of at most 200 letters.")
        version = VERSION("The recipe's version", version)
        if not isinstance(steps, list) or not 0 < len(steps) <= MOST_STEPS:
            raise BadValue("The recipe has no steps.", f"Give it 1 to {MOST_STEPS}.")
        return cls(name, version, tuple(step_from(one) for one in steps))


def recipe_schema() -> dict[str, Any]:
    """What a recipe may be, as JSON Schema 2020-12: each step is a mend of the register with its settings."""
    steps = [
        {
            "title": mend.id, "type": "object", "additionalProperties": False,
            "properties": {"mend": {"const": mend.id}, **{one.name: one.schema for one in mend.settings}},
            "required": ["mend", *(one.name for one in mend.settings if not one.may_be_left_out)],
        }
        for mend in registered().values()
    ]
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Recipe", "type": "object",
        "additionalProperties": False, "required": ["name", "steps"],
        "properties": {
            "name": {"type": "string", "minLength": 1, "maxLength": 200},
            "version": {"description": "it counts up with each change", **VERSION.schema, "default": 1},
            "steps": {"type": "array", "minItems": 1, "maxItems": MOST_STEPS, "items": {"anyOf": steps}},
        },
    }
