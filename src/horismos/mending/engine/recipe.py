"""A sequence of steps under a name, to be carried out on many files."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from horismos.errors import BadValue
from horismos.mending.engine.registry import Step, step_from

__all__ = ["Recipe"]

MOST_STEPS = 100


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
        if not isinstance(version, int) or isinstance(version, bool) or version < 1:
            raise BadValue(f"The recipe's version is {version!r}.", "Count from 1.")
        if not isinstance(steps, list) or not 0 < len(steps) <= MOST_STEPS:
            raise BadValue("The recipe has no steps.", f"Give it 1 to {MOST_STEPS}.")
        return cls(name, version, tuple(step_from(one) for one in steps))
