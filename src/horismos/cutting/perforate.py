"""Perforation: cuts with ties between them along a polyline."""

import numpy as np

from horismos.paths.along import part_along
from horismos.paths.contour import Floats

__all__ = ["perforated"]


def perforated(line: Floats, cut_mm: float, tie_mm: float) -> list[Floats]:
    """The cuts along a polyline, shape (n, 2), with uncut ties between.

    The pattern is stretched or shrunk a little so that a whole number of repeats fits. A closed
    line has as many ties as cuts; an open one begins and ends with a cut.

    >>> import numpy as np
    >>> [c[[0, -1], 0].tolist() for c in perforated(np.array([[0., 0.], [9., 0.]]), 4, 1)]
    [[0.0, 4.0], [5.0, 9.0]]
    """
    steps = np.hypot(*np.diff(line, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    total = float(along[-1])
    closed = bool(np.allclose(line[0], line[-1]))
    repeats = max(1, round((total if closed else total + tie_mm) / (cut_mm + tie_mm)))
    if repeats == 1 and (not closed or total <= cut_mm + tie_mm):
        return [line] if not closed else [part_along(line, along, 0.0, max(total - tie_mm, total / 2))]
    span = total if closed else total * repeats * (cut_mm + tie_mm) / (
        repeats * (cut_mm + tie_mm) - tie_mm
    )
    pitch = span / repeats
    cut = pitch * cut_mm / (cut_mm + tie_mm)
    return [part_along(line, along, i * pitch, i * pitch + cut) for i in range(repeats)]
