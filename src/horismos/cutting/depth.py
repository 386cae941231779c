"""How deep a blade goes: by its force, what it has cut already, and what the material resists.

[ours] a blade goes as deep as its force over what each micrometre resists, stratum by stratum; the figures follow
common practice: about 90 gf for the face of a 100 µm film, about 200 gf through film and liner.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from enum import StrEnum

from horismos.cutting.tools import DEFAULT_TOOLS, MOST_GF, Tool
from horismos.materials import LAMINATE, Material, Stratum
from horismos.roles import LineRole

__all__ = [
    "IMPRESSION_UM", "CutOutcome", "depth_um", "outcome_at", "outcome_of", "reached_um", "through_laminate",
    "tools_for", "wanted_um",
]

IMPRESSION_UM = 25.0
"""[ours] a kiss cut may mark the liner so deep: an impression, not a cut. [practice] the liner shows an impression."""
AIM_UM = 5.0
"""[ours] how much deeper than wanted a shipped force goes, so that all of it is parted."""
ROUND_GF = 10.0


class CutOutcome(StrEnum):
    """What a test cut shows: what the operator sees when the figure is weeded."""

    SHALLOW = "too-shallow"
    RIGHT = "right"
    LINER = "into-the-liner"
    THROUGH = "through"


def wanted_um(role: LineRole, strata: Sequence[Stratum]) -> float:
    """How deep a role has to go, in µm from the side from which it is cut: through all strata that it parts."""
    order = list(reversed(strata)) if role.facts.from_behind else list(strata)
    parted = [i for i, stratum in enumerate(order) if stratum.part in role.facts.through]
    return float(sum(s.thickness_um for s in order[: parted[-1] + 1])) if parted else 0.0


def depth_um(force_gf: float, strata: Sequence[Stratum], from_behind: bool = False, lost_gf: float = 0.0) -> float:
    """How deep a blade goes under a force, in µm, of which an old blade loses ``lost_gf``; at most through all.

    >>> from horismos.materials import MATERIALS
    >>> depth_um(90, MATERIALS["film-1370"].strata)
    120.0
    """
    left, deep = max(force_gf - lost_gf, 0.0), 0.0
    for stratum in reversed(strata) if from_behind else strata:
        taken = min(left / stratum.resists_gf_um, stratum.thickness_um)
        deep += taken
        left -= taken * stratum.resists_gf_um
        if taken < stratum.thickness_um:
            break
    return round(deep, 3)


def reached_um(tool: Tool, strata: Sequence[Stratum]) -> float:
    """How deep a tool goes in all its passes: each goes on where the one before ended [ours: by half as much].

    One that passed a test cut goes as deep as was seen: through what it parts, and not into what is to stay whole.
    """
    if tool.sent_gf is None:
        return wanted_um(tool.role, strata)
    force = sum(tool.sent_gf * 0.5**i for i in range(tool.passes))
    deep = depth_um(force, strata, tool.role.facts.from_behind, tool.wear_gf_km * tool.age_m / 1000)
    wanted = wanted_um(tool.role, strata)
    return min(max(deep, wanted), wanted + IMPRESSION_UM) if tool.passed and wanted else deep


def outcome_of(tool: Tool, strata: Sequence[Stratum]) -> CutOutcome:
    """What a test cut with a tool would show on a material."""
    if not tool.role.facts.through:
        return CutOutcome.RIGHT
    return outcome_at(reached_um(tool, strata), tool.role, strata)


def outcome_at(reached: float, role: LineRole, strata: Sequence[Stratum]) -> CutOutcome:
    """What is seen of a role where a blade went so many µm deep."""
    wanted, whole = wanted_um(role, strata), float(sum(s.thickness_um for s in strata))
    if reached < wanted:
        return CutOutcome.SHALLOW
    if wanted < whole and reached >= whole:
        return CutOutcome.THROUGH
    return CutOutcome.LINER if reached > wanted + IMPRESSION_UM and wanted < whole else CutOutcome.RIGHT


def through_laminate(tools: Mapping[LineRole, Tool], material: Material) -> dict[LineRole, Tool]:
    """Settings that were found without a laminate, for a material that has one now: with the force that it takes too.

    Nobody has tested them so; a cut from behind does not meet it.
    """
    laminate = next((stratum for stratum in material.strata if stratum.kind == LAMINATE), None)
    more = laminate.thickness_um * laminate.resists_gf_um if laminate else 0.0
    return {
        role: tool if tool.force_gf is None or role.facts.from_behind or not more
        else replace(tool, force_gf=min(-(-(tool.force_gf + more) // ROUND_GF) * ROUND_GF, MOST_GF), passed=False)
        for role, tool in tools.items()
    }


def tools_for(material: Material) -> Mapping[LineRole, Tool]:
    """The shipped settings for a material: as those for a plain film, with the force that its strata ask for.

    What asks for more than any tool can be set to gets that; the test cut then shows that it is too shallow.
    """
    out = {}
    for role, tool in DEFAULT_TOOLS.items():
        force, left = 0.0, wanted_um(role, material.strata) + AIM_UM
        for stratum in reversed(material.strata) if role.facts.from_behind else material.strata:
            taken = min(left, stratum.thickness_um)
            force, left = force + taken * stratum.resists_gf_um, left - taken
        whole = left > 0
        force = -(-(force + (AIM_UM if whole else 0.0)) // ROUND_GF) * ROUND_GF
        out[role] = replace(tool, force_gf=min(force, MOST_GF)) if wanted_um(role, material.strata) else tool
    return out
