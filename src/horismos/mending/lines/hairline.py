"""Makes lines as thin as a hairline."""

from horismos.artwork.lines import Line
from horismos.mending.lines.paint import InkNames, paint_mend, units_per_mm
from horismos.units import HAIRLINE_MM, HAIRLINE_PT


def _state(line: Line, names: InkNames) -> bytes:
    return f"{HAIRLINE_MM * units_per_mm(line.object):.6f} w".encode()


paint_mend(
    "hairline", "Make the {role} a hairline", ("line.wide",), lambda line: line.width_mm > HAIRLINE_MM + 1e-3,
    f"Strokes {{lines}} with a hairline of {HAIRLINE_PT:g} pt. The contours stay where they are.",
    "is a hairline", _state, 20,
)
