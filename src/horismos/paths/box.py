"""Boxes with sides along the axes: what holds what, what is common, what is round it."""

from collections.abc import Iterable

from horismos.paths.matrix import Matrix, apply

__all__ = ["Bounds", "around", "common", "grow", "holds", "placed", "union_bounds"]

Bounds = tuple[float, float, float, float]
"""x0, y0, x1, y1, in mm unless something else is said."""


def union_bounds(boxes: Iterable[Bounds]) -> Bounds | None:
    """The bounds of several boxes together, or None of none.

    >>> union_bounds([(0, 0, 1, 1), (3, 2, 4, 3)])
    (0, 0, 4, 3)
    """
    listed = list(boxes)
    if not listed:
        return None
    x0, y0, x1, y1 = zip(*listed, strict=True)
    return min(x0), min(y0), max(x1), max(y1)


def common(a: Bounds, b: Bounds) -> Bounds | None:
    """What two boxes have in common, or None of boxes apart.

    >>> common((0, 0, 2, 2), (1, 1, 3, 3))
    (1, 1, 2, 2)
    """
    x0, y0, x1, y1 = max(a[0], b[0]), max(a[1], b[1]), min(a[2], b[2]), min(a[3], b[3])
    return (x0, y0, x1, y1) if x1 >= x0 and y1 >= y0 else None


def holds(outer: Bounds, inner: Bounds) -> bool:
    """Whether one box lies inside another, edges included."""
    return outer[0] <= inner[0] and outer[1] <= inner[1] and outer[2] >= inner[2] and outer[3] >= inner[3]


def grow(box: Bounds, by: float, by_y: float | None = None) -> Bounds:
    """A box wider by so much on each side.

    >>> grow((0, 0, 2, 2), 1)
    (-1, -1, 3, 3)
    """
    dy = by if by_y is None else by_y
    return box[0] - by, box[1] - dy, box[2] + by, box[3] + dy


def around(x: float, y: float, by: float) -> Bounds:
    """The square round a point that reaches so far on each side."""
    return x - by, y - by, x + by, y + by


def placed(box: Bounds, matrix: Matrix) -> Bounds:
    """The bounds of a box under a matrix; exact where it turns by right angles only.

    >>> placed((0, 0, 2, 1), (0, 1, -1, 0, 0, 0))
    (-1, 0, 0, 2)
    """
    xs, ys = zip(*(apply(matrix, x, y) for x in box[::2] for y in box[1::2]), strict=True)
    return min(xs), min(ys), max(xs), max(ys)
