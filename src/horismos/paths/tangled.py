"""How often lines cross, estimated from a sample: whoever works out all crossings has to know beforehand."""

from collections.abc import Sequence

import numpy as np
import shapely

from horismos.paths.contour import Contour

__all__ = ["crossings_about"]

FEW = 2_000
"""Fewer segments are no trouble however they cross."""
TRIED, AGAINST = 300, 20_000
NEIGHBOURS = 2.0
"""Each segment touches the one before it and the one after."""


def crossings_about(contours: Sequence[Contour]) -> float:
    """About how many pairs of segments cross; curves count by their chords. 0 where there are few segments.

    >>> from horismos.paths import rectangle
    >>> crossings_about([rectangle(0, 0, 9, 9)])
    0.0
    """
    count = sum(len(contour.segments) for contour in contours)
    if count <= FEW:
        return 0.0
    chords = np.concatenate([contour.segments[:, [0, -1]] for contour in contours])
    chance = np.random.default_rng(1)
    against = chance.choice(count, min(count, AGAINST), replace=False)
    tried = chance.choice(against, min(len(against), TRIED), replace=False)
    tree = shapely.STRtree(shapely.linestrings(chords[against]))
    hits = float(tree.query(shapely.linestrings(chords[tried]), predicate="intersects").shape[1]) / len(tried)
    each = (hits - 1) * count / len(against)  # a segment meets itself
    return max(each - NEIGHBOURS, 0.0) * count / 2
