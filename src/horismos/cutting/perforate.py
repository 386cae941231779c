"""Perforation: the cuts that a tool makes along a contour, ties left between them."""

import numpy as np

from horismos.cutting.tools import Tool
from horismos.making.pattern import pattern_along
from horismos.paths import Contour, flatten
from horismos.paths.along import parts_along
from horismos.paths.contour import Floats

__all__ = ["begun_near", "cuts_along"]


def cuts_along(contour: Contour, tool: Tool, fine_mm: float) -> list[Floats]:
    """The cuts of a tool that perforates, as polylines no further from the curve than ``fine_mm``.

    The pattern belongs to the contour, wherever the tool begins: fitted so that it closes, ties off corners.
    """
    assert tool.cut_mm is not None and tool.tie_mm is not None
    pattern = pattern_along(contour, tool.cut_mm, tool.tie_mm, tool.least_ties)
    return parts_along(flatten(contour, fine_mm), pattern.parts)


def begun_near(cuts: list[Floats], closed: bool, at: Floats) -> list[Floats]:
    """The same cuts, begun with the one nearest to where the tool is; an open line from its nearer end."""
    if closed:
        first = int(np.hypot(*(np.array([cut[0] for cut in cuts]) - at).T).argmin())
        return cuts[first:] + cuts[:first]
    if float(np.hypot(*(cuts[-1][-1] - at))) < float(np.hypot(*(cuts[0][0] - at))):
        return [cut[::-1] for cut in reversed(cuts)]
    return cuts
