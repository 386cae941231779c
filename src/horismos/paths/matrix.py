"""Affine matrices as ISO 32000 writes them (ISO 32000-1, 8.3.3)."""

import math

__all__ = ["IDENTITY", "Matrix", "apply", "inverse", "move", "multiply", "scale", "size_of"]

Matrix = tuple[float, float, float, float, float, float]
"""a b c d e f: x' = ax + cy + e, y' = bx + dy + f."""

IDENTITY: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


def multiply(m: Matrix, n: Matrix) -> Matrix:
    """The matrix that applies ``m`` first and ``n`` behind it.

    >>> multiply((1, 0, 0, 1, 5, 0), (2, 0, 0, 2, 0, 0))
    (2, 0, 0, 2, 10, 0)
    """
    a, b, c, d, e, f = m
    g, h, i, j, k, o = n
    return (
        a * g + b * i,
        a * h + b * j,
        c * g + d * i,
        c * h + d * j,
        e * g + f * i + k,
        e * h + f * j + o,
    )


def apply(m: Matrix, x: float, y: float) -> tuple[float, float]:
    """A point under a matrix.

    >>> apply((1, 0, 0, 1, 5, 0), 1, 2)
    (6, 2)
    """
    a, b, c, d, e, f = m
    return a * x + c * y + e, b * x + d * y + f


def inverse(m: Matrix) -> Matrix:
    """The matrix that takes back what another did. Raises ZeroDivisionError where it flattens everything."""
    a, b, c, d, e, f = m
    det = a * d - b * c
    return d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det


def size_of(m: Matrix) -> float:
    """How many times as large a matrix makes lengths: the root of what it makes of areas.

    >>> size_of((2, 0, 0, 8, 5, 5))
    4.0
    """
    a, b, c, d, _, _ = m
    return math.sqrt(abs(a * d - b * c))


def move(dx: float, dy: float) -> Matrix:
    """The matrix that moves by so much."""
    return (1.0, 0.0, 0.0, 1.0, dx, dy)


def scale(factor: float) -> Matrix:
    """The matrix that makes everything larger or smaller about the origin."""
    return (factor, 0.0, 0.0, factor, 0.0, 0.0)
