"""Tool settings: holder, blade, force, speed, passes and perforation for one role on one material."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import Field, changed, choice, number, object_of, object_schema, optional
from horismos.roles import LineRole

__all__ = ["DEFAULT_TOOLS", "FIELDS", "MOST_GF", "Blade", "Tool", "tools_from_json", "tools_schema"]

MOST_GF = 1000
"""The greatest force that a tool can be set to, in gf; a cutter may give less. [ours]"""


class Blade(StrEnum):
    """What is in the holder: a blade that trails behind it, one that is turned, a wheel that cuts, one that creases."""

    DRAG = "drag"
    TANGENTIAL = "tangential"
    ROTARY = "rotary"
    WHEEL = "wheel"

    @property
    def is_turned(self) -> bool:
        """Whether the machine turns it, so that it has to be lifted at a corner."""
        return self is not Blade.DRAG


@dataclass(frozen=True, kw_only=True)
class Tool:
    """A tool setting; ``number`` is the holder or slot.

    ``force_gf`` and ``speed_mm_s`` are None where they are left to the machine. ``cut_mm`` and ``tie_mm`` are the
    perforation's, None for a whole cut, with at least ``least_ties`` ties a piece; ``tie_force_gf`` is the force in a
    tie: 0 leaves it whole, a little scores it. ``blade`` None: the line itself is written, and what a blade needs is
    left to the machine. ``offset_mm`` is how far the tip of a drag blade trails behind the middle of its holder;
    ``overcut_mm`` how far a closed cut runs on over its beginning. ``age_m`` is what the blade has cut, and each km
    of that adds ``wear_gf_km`` to the force. ``passed`` says that a test cut with just this setting came out right on
    the very material: what was seen there goes before the model of depth.
    """

    role: LineRole
    number: int
    force_gf: float | None
    speed_mm_s: float | None
    passes: int = 1
    cut_mm: float | None = None
    tie_mm: float | None = None
    least_ties: int = 0
    tie_force_gf: float = 0.0
    blade: Blade | None = None
    offset_mm: float = 0.0
    overcut_mm: float = 0.0
    acceleration_mm_s2: float | None = None
    age_m: float = 0.0
    wear_gf_km: float = 0.0
    passed: bool = False

    def __post_init__(self) -> None:
        """Refuse what no cutter can do, naming the value."""
        checks = {
            "tool number": 1 <= self.number <= 8,
            "force": self.force_gf is None or 0 < self.force_gf <= MOST_GF,
            "speed": self.speed_mm_s is None or 0 < self.speed_mm_s <= 2000,
            "acceleration": self.acceleration_mm_s2 is None or 10 <= self.acceleration_mm_s2 <= 100_000,
            "number of passes": 1 <= self.passes <= 10,
            "cut length": self.cut_mm is None or 0.2 <= self.cut_mm <= 500,
            "number of ties": 0 <= self.least_ties <= 10_000,
            "tie length": self.tie_mm is None or 0.05 <= self.tie_mm <= 100,
            "force in the tie": 0 <= self.tie_force_gf <= MOST_GF,
            "blade offset": 0 <= self.offset_mm <= 3,
            "overcut": 0 <= self.overcut_mm <= 20,
            "age of the blade": 0 <= self.age_m <= 1e6 and 0 <= self.wear_gf_km <= 1000,
        }
        for what, fine in checks.items():
            if not fine:
                raise BadValue(f"The {what} for the {self.role.words} is out of range.")
        if self.offset_mm and self.blade is not None and self.blade.is_turned:
            raise BadValue(f"The {self.role.words} has a blade offset, and a blade that is turned.", "Give one.")
        if (self.cut_mm is None) != (self.tie_mm is None):
            raise BadValue(f"The {self.role.words} has a cut or a tie length without the other.", "Give both.")
        if self.tie_force_gf and self.force_gf is None:
            raise BadValue(f"The {self.role.words} scores its ties, and its force is left to the machine.")

    @classmethod
    def kept(cls, role: LineRole, data: Mapping[str, Any]) -> "Tool":
        """A setting as it was kept as plain values, of all but the role. Raises BadValue."""
        blade = data.get("blade")
        return cls(role=role, **{**data, "blade": None if blade is None else Blade(blade)})

    @property
    def perforates(self) -> bool:
        """Whether it leaves ties."""
        return self.cut_mm is not None

    @property
    def sent_gf(self) -> float | None:
        """The force that is sent: with what the blade's age adds."""
        return None if self.force_gf is None else round(self.force_gf + self.wear_gf_km * self.age_m / 1000, 1)

    @property
    def trails_mm(self) -> float:
        """How far the tip trails behind the holder; 0 where that is left to the machine, or the blade is turned."""
        return 0.0 if self.blade is not None and self.blade.is_turned else self.offset_mm

    @property
    def lifts_at_corners(self) -> bool:
        """Whether it has to be lifted and turned at a corner."""
        return self.blade is not None and self.blade.is_turned


def tools_from_json(data: object, name: str, known: Mapping[LineRole, Tool] | None = None) -> dict[LineRole, Tool]:
    """Tool settings by role: what is not given is as known of that role, or as shipped.

    Raises BadValue for roles, keys and figures that cannot be meant.
    """
    given = object_of(data, name, [role.value for role in LineRole])
    out = {}
    for word, value in given.items():
        before = (known or DEFAULT_TOOLS)[LineRole(word)]
        after = changed(f"{name}: {word}", before, value, FIELDS)
        out[before.role] = after if after == before else replace(after, passed=False)
    return out


FIELDS: Mapping[str, Field] = MappingProxyType({
    "number": Field(number(1, 8, whole=True), "the holder or slot"),
    "blade": Field(optional(choice(Blade)), "what is in it; null: what a blade needs is left to the machine"),
    "offset_mm": Field(number(0, 3), "how far the tip trails behind the holder", "mm"),
    "overcut_mm": Field(number(0, 20), "how far a closed cut runs on over its beginning", "mm"),
    "force_gf": Field(optional(number(0.1, MOST_GF)), "the force; null: left to the machine", "gf"),
    "tie_force_gf": Field(number(0, MOST_GF), "the force in a tie: 0 leaves it whole", "gf"),
    "speed_mm_s": Field(optional(number(0.1, 2000)), "the speed; null: left to the machine", "mm/s"),
    "acceleration_mm_s2": Field(optional(number(10, 100_000)), "how fast it gets faster; null: the machine", "mm/s²"),
    "passes": Field(number(1, 10, whole=True), "how often it goes over"),
    "cut_mm": Field(optional(number(0.2, 500)), "a perforation's cut; null: a whole cut", "mm"),
    "tie_mm": Field(optional(number(0.05, 100)), "a perforation's tie; null: a whole cut", "mm"),
    "least_ties": Field(number(0, 10_000, whole=True), "at least so many ties a piece"),
    "age_m": Field(number(0, 1e6), "what the blade has cut", "m"),
    "wear_gf_km": Field(number(0, 1000), "what each km of that adds to the force", "gf"),
})
"""What may be said of a tool; what is left out is as known of its role."""


def tools_schema() -> dict[str, Any]:
    """Tools by role, as JSON Schema has it."""
    return {
        "type": "object", "additionalProperties": False,
        "properties": {role.value: object_schema(FIELDS) for role in LineRole},
    }


DEFAULT_TOOLS: dict[LineRole, Tool] = {
    tool.role: tool
    for tool in (
        # [practice] kiss about 90 gf, perforation or through about 200 gf on a 100 µm film;
        # [ours] tool numbers, speeds and the perforation's lengths. Always test-cut.
        Tool(role=LineRole.KISS_CUT, number=1, force_gf=90, speed_mm_s=400),
        Tool(role=LineRole.PERFORATION, number=2, force_gf=200, speed_mm_s=250, cut_mm=4.0, tie_mm=0.5),
        Tool(role=LineRole.THROUGH_CUT, number=3, force_gf=200, speed_mm_s=200),
        Tool(role=LineRole.CREASE, number=4, force_gf=250, speed_mm_s=200),
        Tool(role=LineRole.BACK_CUT, number=5, force_gf=90, speed_mm_s=300),
    )
}
