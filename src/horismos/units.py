"""Lengths and their conversion. Nothing else."""

MM_PER_INCH = 25.4
"""[standard] by definition."""

POINTS_PER_INCH = 72.0
"""[standard] ISO 32000-1, 8.3.2.3: the default user unit is 1/72 inch."""

MM_PER_POINT = MM_PER_INCH / POINTS_PER_INCH

PLOTTER_UNIT_MM = 0.025
"""[standard, from memory] HP-GL: one plotter unit is 0.025 mm, 40 to the millimetre."""

HAIRLINE_PT = 0.25
"""[practice] the widest stroke that still counts as a hairline."""


def mm_from_points(points: float) -> float:
    """Millimetres from points.

    >>> round(mm_from_points(72), 3)
    25.4
    """
    return points * MM_PER_POINT


def points_from_mm(mm: float) -> float:
    """Points from millimetres.

    >>> round(points_from_mm(25.4), 3)
    72.0
    """
    return mm / MM_PER_POINT
