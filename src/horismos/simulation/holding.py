"""What holds a piece until it is to come off: the sheet round it, then its ties; and what is cut when nothing does."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from horismos.cutting.depth import depth_um
from horismos.materials import Stratum

__all__ = ["breaks", "cut_loose"]

HOLDS_MM = 0.5
"""[ours] so many millimetres of whole tie, in all, hold a piece while the sheet is fed and lifted off."""
FORCE_SPREAD, STRENGTH_SPREAD = 0.05, 0.2
"""[ours] standard deviations, as shares, of the force that reaches the media and of how strong it is."""


def cut_loose(operations: Sequence[Mapping[str, Any]]) -> set[int]:
    """The copies that an operation cuts into after they were cut through: they move under the blade.

    ``operations`` are a ticket's, in the order of cutting.
    """
    free: set[int] = set()
    loose: set[int] = set()
    for one in operations:
        if one["side"] != "front" or one["aligning"]:
            continue
        copies = {copy for copy, _ in one["copies"] if copy >= 0}
        loose |= free & copies
        if one["role"] == "through-cut":
            free |= copies
    return loose


def breaks(
    ties: int, setting: Mapping[str, Any], strata: Sequence[Stratum], loads: int, random: Generator
) -> NDArray[np.bool_]:
    """In which loads, bool of that shape, a piece comes out of so many ties too soon.

    A tie holds as far as it is left whole: scored ones by what the force in them leaves of the material.
    """
    whole = float(sum(stratum.thickness_um for stratum in strata))
    force = float(setting.get("tie_force_gf") or 0.0)
    forces = force * (1 + FORCE_SPREAD * random.normal(size=loads))
    left = np.array([1 - depth_um(float(one), strata) / whole for one in forces]) if force else np.ones(loads)
    strong = np.maximum(1 + STRENGTH_SPREAD * random.normal(size=loads), 0.0)
    held: NDArray[np.bool_] = ties * float(setting["tie_mm"]) * left * strong < HOLDS_MM
    return held
