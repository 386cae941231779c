"""What a line does to the media, what an ink is for, and the standard's names for both."""

from enum import StrEnum

__all__ = ["CUT_ORDER", "ISO_STEPS", "InkRole", "LineRole", "role_of_step"]


class LineRole(StrEnum):
    """What a line does to the media."""

    KISS_CUT = "kiss-cut"
    THROUGH_CUT = "through-cut"
    PERFORATION = "perforation"
    BACK_CUT = "back-cut"
    CREASE = "crease"

    @property
    def words(self) -> str:
        """The role in plain words, as it stands in sentences."""
        return self.value.replace("-", " ")


class InkRole(StrEnum):
    """What a printing ink beside the process inks is for."""

    WHITE = "white"
    VARNISH = "varnish"

    @property
    def words(self) -> str:
        """The role in plain words."""
        return self.value


CUT_ORDER = (
    LineRole.CREASE,
    LineRole.KISS_CUT,
    LineRole.PERFORATION,
    LineRole.THROUGH_CUT,
    LineRole.BACK_CUT,
)
"""[practice] kiss, then perforation, then through, since a loose piece cannot be cut. A crease is
pressed while the sheet is still whole; a back cut is a job of its own on the turned sheet."""

ISO_STEPS: dict[LineRole | InkRole, tuple[str, str | None]] = {
    LineRole.THROUGH_CUT: ("Structural", "Cutting"),
    LineRole.KISS_CUT: ("Structural", "PartialCutting"),
    LineRole.BACK_CUT: ("Structural", "ReversePartialCutting"),
    LineRole.PERFORATION: ("Structural", "Perforating"),
    LineRole.CREASE: ("Structural", "Creasing"),
    InkRole.WHITE: ("White", None),
    InkRole.VARNISH: ("Varnish", None),
}
"""[standard, keys from memory] ISO 19593-1: GTS_ProcStepsGroup and GTS_ProcStepsType."""


def role_of_step(group: str, kind: str | None) -> LineRole | InkRole | None:
    """The role that an ISO 19593-1 processing step stands for, or None.

    >>> role_of_step("Structural", "PartialCutting")
    <LineRole.KISS_CUT: 'kiss-cut'>
    """
    for role, (its_group, its_kind) in ISO_STEPS.items():
        if its_group == group and its_kind in (None, kind):
            return role
    return None
