"""What a file leaves open, and what a person has said about it. Values only."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields
from typing import Any

from horismos.errors import BadValue
from horismos.questions import Choice
from horismos.roles import LineRole

__all__ = ["ART", "LEAVE_OUT", "UNITS", "Answers", "unbound"]

ART, LEAVE_OUT = "art", "leave-out"
"""What a layer, pen or colour can be bound to beside a line role."""
BINDINGS = frozenset([ART, LEAVE_OUT, *(role.value for role in LineRole)])
UNITS = ("mm", "cm", "m", "inch", "foot", "point")
"""What a drawing that does not say its unit may be in."""


@dataclass(frozen=True)
class Answers:
    """What has been said about a file; everything may be left open.

    ``pages`` are numbers from 1; several of them become pieces of one job. ``width_mm`` and
    ``height_mm`` are the finished size of the whole picture or drawing. ``unit`` is one of
    UNITS. ``binding`` maps keys such as ``layer:Cut`` or ``pen:2`` to a role, to ``art`` or to
    ``leave-out``.
    """

    password: str = ""
    pages: tuple[int, ...] = ()
    width_mm: float | None = None
    height_mm: float | None = None
    unit: str = ""
    binding: Mapping[str, str] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """Refuse what cannot be meant."""
        for name in ("width_mm", "height_mm"):
            value = getattr(self, name)
            if value is not None and not 0.1 <= value <= 100_000:
                raise BadValue(f"The {name[:-3]} is {value} mm.", "Give 0.1 to 100,000 mm.")
        if self.unit and self.unit not in UNITS:
            raise BadValue(f"There is no unit “{self.unit}”.", f"Give one of {', '.join(UNITS)}.")
        for key, value in self.binding.items():
            if value not in BINDINGS:
                known = ", ".join(sorted(BINDINGS))
                raise BadValue(f"“{key}” cannot be bound to “{value}”.", f"Give one of {known}.")
        if any(page < 1 for page in self.pages):
            raise BadValue("Pages count from 1.", "Choose another page.")

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Answers":
        """Make answers from their plain form. Raises BadValue for what is none."""
        known = {f.name for f in fields(cls)}
        values = {key: value for key, value in data.items() if key in known and value is not None}
        try:
            if "pages" in values:
                values["pages"] = tuple(int(page) for page in values["pages"])
            if "binding" in values:
                values["binding"] = {str(k): str(v) for k, v in dict(values["binding"]).items()}
            for name in ("width_mm", "height_mm"):
                if name in values:
                    values[name] = float(values[name])
            return cls(**values)
        except (TypeError, ValueError) as error:
            raise BadValue(f"That is no answer: {error}.") from None

    def to_json(self) -> dict[str, Any]:
        """The answers as plain values, without what they leave open and without the password."""
        values: dict[str, Any] = {
            "pages": list(self.pages), "width_mm": self.width_mm, "height_mm": self.height_mm, "unit": self.unit,
            "binding": dict(self.binding),
        }
        return {key: value for key, value in values.items() if value}



def unbound(choices: Sequence[Choice], answers: Answers) -> list[Choice]:
    """The choices that nothing is said about yet."""
    return [choice for choice in choices if not answers.binding.get(choice.key) and not choice.said]
