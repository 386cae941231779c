"""Contours of straight and cubic segments, in mm: what every other room means by a line."""

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
