"""Steps: what a mend is asked to do. Values only; `mending` says and does it."""

from dataclasses import dataclass
from enum import StrEnum

from horismos.errors import BadValue
from horismos.roles import LineRole

__all__ = ["Step", "StepKind"]


class StepKind(StrEnum):
    """The mends there are."""

    RENAME = "rename"
    HAIRLINE = "hairline"
    CLOSE = "close"
    OVERPRINT = "overprint"


@dataclass(frozen=True)
class Step:
    """One mend: ``rename`` takes an ink to another name, the others work on a line role."""

    kind: StepKind
    role: LineRole | None = None
    ink: str = ""
    to: str = ""

    def __post_init__(self) -> None:
        """Refuse a step that lacks what it needs."""
        if self.kind is StepKind.RENAME and not (self.ink and self.to):
            raise BadValue("To rename an ink, give its name and the new one.")
        if self.kind is not StepKind.RENAME and self.role is None:
            raise BadValue(f"The mend “{self.kind}” needs a line role.")

    @property
    def label(self) -> str:
        """What a button for the step says."""
        role = self.role.words if self.role else ""
        return {
            StepKind.RENAME: f"Rename to {self.to}",
            StepKind.HAIRLINE: f"Make the {role} a hairline",
            StepKind.CLOSE: f"Close the {role}",
            StepKind.OVERPRINT: f"Set the {role} to overprint",
        }[self.kind]

    def to_json(self) -> dict[str, str]:
        """The step as plain values, without what it does not need."""
        role = self.role.value if self.role else ""
        values = {"kind": self.kind.value, "role": role, "ink": self.ink, "to": self.to}
        return {key: value for key, value in values.items() if value}
