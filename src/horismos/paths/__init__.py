"""Contours of straight and cubic segments, in mm: what every other room means by a line.

One convention for what is not exact: ``tolerance_mm`` is the greatest distance between what comes out and what was
meant, whether something is flattened, fitted, offset or made an area; ``within_mm`` is how near two places lie that
count as one or as beside each other; ``step_mm`` how far samples lie apart. Numbers without a unit are shares.
"""

from horismos.paths.box import union_bounds
from horismos.paths.contour import Chain, Contour, chain, closed, contour_from_points, rectangle
from horismos.paths.distance import greatest_distance
from horismos.paths.flatten import flatten, sample
from horismos.paths.measure import bounds, enclosing_counts, length, signed_area
from horismos.paths.pen import circle

__all__ = [
    "Chain",
    "Contour",
    "bounds",
    "chain",
    "circle",
    "closed",
    "contour_from_points",
    "enclosing_counts",
    "flatten",
    "greatest_distance",
    "length",
    "rectangle",
    "sample",
    "signed_area",
    "union_bounds",
]
