"""Takes dash patterns off lines: the cutter makes a perforation, not the drawing."""

from horismos.artwork.lines import Line
from horismos.mending.lines.paint import paint_mend


def _dashed(line: Line) -> bool:
    return line.strokes and bool(line.object.state.dash[0])


paint_mend(
    "solid", "Draw the {role} without dashes", ("line.dashed",), _dashed,
    "Draws {lines} without the dash pattern. How a perforation is cut stays with its tool.", "is solid",
    lambda line, names: b"[] 0 d", 17,
)
