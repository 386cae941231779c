"""Perforation: the cuts that a tool makes along a contour, ties left between them, or scored."""

import numpy as np

from horismos.cutting.starts import MOST, Starts
from horismos.cutting.tools import Tool
from horismos.making.pattern import pattern_along
from horismos.paths import Contour, flatten
from horismos.paths.contour import Floats
from horismos.paths.polyline_parts import parts_along

__all__ = ["cuts_and_ties", "perforated_starts"]


def cuts_and_ties(contour: Contour, tool: Tool, fine_mm: float) -> tuple[list[Floats], list[Floats]]:
    """The cuts of a tool that perforates, no further from the curve than ``fine_mm``, and the tie behind each.

    The pattern belongs to the contour, wherever the tool begins: fitted so that it closes, ties off corners. Behind the
    last cut of an open line there is no tie.
    """
    assert tool.cut_mm is not None and tool.tie_mm is not None
    pattern = pattern_along(contour, tool.cut_mm, tool.tie_mm, tool.least_ties)
    line, cuts = flatten(contour, fine_mm), pattern.parts
    ties = np.column_stack([cuts[:-1, 1], cuts[1:, 0]])
    if pattern.closed:
        ties = np.vstack([ties, [cuts[-1, 1], cuts[0, 0] + pattern.length_mm]])
    return parts_along(line, cuts), parts_along(line, ties)


def perforated_starts(cuts: list[Floats], loops: bool) -> tuple[Starts, list[int]]:
    """Where perforating may begin, at the beginning of a cut, and which cut that is; of an open line at either end."""
    if not loops:
        ends = np.stack([cuts[0][0], cuts[-1][-1]])
        return Starts(np.concatenate(cuts), ends, ends[::-1]), [0, -1]
    which = np.unique(np.linspace(0, len(cuts) - 1, min(MOST, len(cuts))).round().astype(int)).tolist()
    begins = np.stack([cuts[i][0] for i in which])
    return Starts(np.concatenate(cuts), begins, np.stack([cuts[i - 1][-1] for i in which])), which
