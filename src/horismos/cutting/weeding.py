"""The figure of a test cut, to be weeded by hand: a square with sharp corners, a narrow neck, a round head.

It is cut where it wastes nothing: in the leader, or wherever the sheet is blank.
"""

from collections.abc import Sequence

import numpy as np

from horismos.cutting.strokes import Prepared, Stroke
from horismos.cutting.tools import Tool
from horismos.errors import DoesNotFit
from horismos.paths import Contour, contour_from_points
from horismos.paths.box import Bounds

__all__ = ["FIGURE_MM", "figure", "figure_strokes", "place_of_figures"]

SQUARE_MM, NECK_MM, NECK_LONG_MM, HEAD_MM = 8.0, 1.5, 3.0, 2.5
"""[ours] the side of the square, width and length of the neck, the radius of the head."""
FIGURE_MM = (SQUARE_MM + NECK_LONG_MM + 2 * HEAD_MM, SQUARE_MM)
APART_MM = 4.0
"""[ours] from figure to figure, and from all else on the sheet."""
STEP_MM = 5.0


def figure(x: float, y: float) -> Contour:
    """The figure with the lower left corner of its square at a place, in mm; one closed contour."""
    middle, half = SQUARE_MM / 2, NECK_MM / 2
    centre = SQUARE_MM + NECK_LONG_MM + HEAD_MM
    opens = np.arcsin(half / HEAD_MM)
    round_ = np.linspace(-np.pi + opens, np.pi - opens, 97)
    head = np.column_stack([centre + HEAD_MM * np.cos(round_), middle + HEAD_MM * np.sin(round_)])
    points = np.concatenate([
        [(0.0, 0.0), (SQUARE_MM, 0.0), (SQUARE_MM, middle - half)], head,
        [(SQUARE_MM, middle + half), (SQUARE_MM, SQUARE_MM), (0.0, SQUARE_MM)],
    ])
    return contour_from_points(points + np.array([x, y]), closed=True)


def figure_strokes(tool: Tool, x: float, y: float) -> list[Stroke]:
    """What a tool does to cut the figure, in all its passes."""
    prepared = Prepared(figure(x, y), tool)
    return [stroke for _ in range(tool.passes) for stroke in prepared.strokes(0)]


def place_of_figures(
    count: int, size_mm: tuple[float, float], side_mm: float, taken: Sequence[Bounds]
) -> list[tuple[float, float]]:
    """Where so many figures stand side by side on a sheet, nearest to its leading edge; boxes that are taken are left.

    ``side_mm`` is what the rollers need on both sides. Raises DoesNotFit where there is no blank place.
    """
    wide = count * (FIGURE_MM[0] + APART_MM) - APART_MM
    boxes = np.array(taken, float).reshape(-1, 4) + APART_MM * np.array([-1, -1, 1, 1])
    xs = np.arange(side_mm, size_mm[0] - side_mm - wide + 1e-9, STEP_MM)
    for y in np.arange(APART_MM, size_mm[1] - FIGURE_MM[1] - APART_MM + 1e-9, STEP_MM):
        for x in xs:
            beside = (boxes[:, 0] >= x + wide) | (boxes[:, 2] <= x)
            if (beside | (boxes[:, 1] >= y + FIGURE_MM[1]) | (boxes[:, 3] <= y)).all():
                return [(float(x) + i * (FIGURE_MM[0] + APART_MM), float(y)) for i in range(count)]
    raise DoesNotFit("There is no blank place on this sheet for a test cut.", "Test on a scrap of the same material.")
