"""Parts of a polyline by how far along it they begin and end."""

import numpy as np

from horismos.paths.contour import Floats

__all__ = ["part_along", "parts_along"]


def parts_along(line: Floats, parts: Floats) -> list[Floats]:
    """Parts of a polyline, shape (n, 2), from where to where, shape (m, 2) in mm; past a closed one's end they go on.

    >>> line = np.array([[0., 0.], [9., 0.]])
    >>> [part[[0, -1], 0].tolist() for part in parts_along(line, np.array([[0., 4.], [5., 9.]]))]
    [[0.0, 4.0], [5.0, 9.0]]
    """
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    total = float(along[-1])
    out = []
    for start, end in parts.tolist():
        if end <= total:
            out.append(part_along(line, along, start, end))
        elif start >= total:
            out.append(part_along(line, along, start - total, end - total))
        else:
            first, rest = part_along(line, along, start, total), part_along(line, along, 0.0, end - total)
            out.append(np.concatenate([first, rest[1:]]))
    return out


def part_along(line: Floats, along: Floats, start: float, end: float) -> Floats:
    """The part of a polyline between two lengths along it; ``along`` are those of its points."""
    end = min(end, float(along[-1]))
    inside = line[(along > start) & (along < end)]
    ends = np.stack([np.interp([start, end], along, line[:, axis]) for axis in (0, 1)], axis=1)
    return np.concatenate([ends[:1], inside, ends[1:]])
