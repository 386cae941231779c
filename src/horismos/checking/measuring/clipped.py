"""How much of a line is clipped away."""

import numpy as np
import shapely

from horismos.artwork.extent import extent_of
from horismos.artwork.lines import Line
from horismos.paths import bounds, flatten, union_bounds

__all__ = ["OUT_MM", "clipped_away"]

OUT_MM = 0.05
"""[ours] a line that leaves the page or its clip by less does not leave it."""


def clipped_away(line: Line) -> float:
    """How far a line reaches out of its clip, in mm; its whole size where all of it is clipped away."""
    if line.object.state.clip < 0 or not line.contours:
        return 0.0
    region, shape = extent_of(line.page).clip(line.object.state.clip)
    box = union_bounds(bounds(contour) for contour in line.contours)
    if region is None:
        return max(box[2] - box[0], box[3] - box[1]) if box else 0.0
    inside = shape if shape is not None else shapely.box(*region)
    points = np.concatenate([flatten(contour, 0.02) for contour in line.contours])
    return float(shapely.distance(inside, shapely.points(points)).max())
