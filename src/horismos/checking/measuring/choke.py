"""How far white is pulled in under the colour, along its own edge."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from horismos.checking.measuring.edge_map import ACCURACY_MM
from horismos.paths import Contour
from horismos.rendering.edges import EdgeProfile, View, measure_edges

__all__ = ["Margin", "margins"]

REACH_MM = 1.0
"""[ours] white that lies further from the edge of the colour was not meant to lie under it."""


@dataclass(frozen=True, eq=False)
class Margin:
    """The edge of white along one contour: ``margin`` in mm at each sample, where it is ``short`` of what is wanted.

    Positive: colour runs on beyond the white. Negative: the white peeps out beyond the colour. ``close`` says where
    it was meant to lie under the colour at all.
    """

    profile: EdgeProfile
    margin: NDArray[np.float64]
    close: NDArray[np.bool_]
    short: NDArray[np.bool_]


def margins(view: View, contours: Sequence[Contour], wanted_mm: float) -> list[Margin]:
    """The margins along the contours of white, against the colour in ``view``."""
    out = []
    for profile in measure_edges(view, contours, max(REACH_MM, wanted_mm + REACH_MM / 2)):
        margin = np.where(profile.coloured, profile.outside, -profile.inside)
        near = np.where(profile.coloured, True, profile.inside < REACH_MM)
        out.append(Margin(profile, margin, near, near & (margin < wanted_mm - ACCURACY_MM)))
    return out
