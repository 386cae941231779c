"""Lengths and their conversion. Nothing else."""

import math
import re

MM_PER_INCH = 25.4
"""[standard] by definition."""

POINTS_PER_INCH = 72.0
"""[standard] ISO 32000-1, 8.3.2.3: the default user unit is 1/72 inch."""

MM_PER_POINT = MM_PER_INCH / POINTS_PER_INCH

PLOTTER_UNIT_MM = 0.025
"""[standard, from memory] HP-GL: one plotter unit is 0.025 mm, 40 to the millimetre."""

UNITS_MM = {
    "mm": 1.0, "cm": 10.0, "m": 1000.0, "inch": MM_PER_INCH, "foot": 12 * MM_PER_INCH, "point": MM_PER_POINT,
    "pica": 12 * MM_PER_POINT, "quarter": 0.25, "pixel": MM_PER_INCH / 96, "decimetre": 100.0, "yard": 36 * MM_PER_INCH,
    "mil": MM_PER_INCH / 1000, "microinch": MM_PER_INCH / 1e6, "micron": 0.001,
}
"""[standard] the units that files may name, in mm; a CSS pixel is 1/96 inch and a quarter a quarter millimetre."""

PLAIN_RATIOS = (2, 4, 5, 8, 10, 20, 25, 50, 100)
"""[practice] scales 1:n at which large work is supplied."""

LONGEST_UNITS = 14_400
"""[standard] ISO 32000-1, annex C: the longest page side that readers promise, in user units."""

HAIRLINE_PT = 0.25
"""[practice] the widest stroke that still counts as a hairline."""
HAIRLINE_MM = HAIRLINE_PT * MM_PER_POINT


def user_unit_for(longest_mm: float) -> int:
    """The smallest whole UserUnit (ISO 32000-1, 14.11) under which a page side of so many mm may be written.

    >>> user_unit_for(1000), user_unit_for(6000)
    (1, 2)
    """
    return max(1, math.ceil(points_from_mm(longest_mm) / LONGEST_UNITS - 1e-9))


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


FIGURE = re.compile(r"\d+(?:\.\d+)?")
LENGTHS = re.compile(r"(\d+(?:\.\d+)?)((?:\s[×x]\s\d+(?:\.\d+)?)*)\s?mm(?![²³\w])")


def in_inches(sentence: str) -> str:
    """A sentence whose lengths are in mm with all of them in inches, two digits finer, four at most.

    >>> in_inches("Colour ends 1.2 mm outside; 59.4 × 76.2 mm were ordered, 12 mm² are bare.")
    'Colour ends 0.047 in outside; 2.339 × 3 in were ordered, 12 mm² are bare.'
    """
    return LENGTHS.sub(lambda found: FIGURE.sub(_inches, found[1] + found[2]) + " in", sentence)


def _inches(found: re.Match[str]) -> str:
    places = min(max(len(found[0].partition(".")[2]) + 2, 2), 4)
    text = f"{float(found[0]) / MM_PER_INCH:.{places}f}"
    return text.rstrip("0").rstrip(".")
