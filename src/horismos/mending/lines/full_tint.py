"""Sets lines to 100 % of their one ink."""

from horismos.artwork.lines import FULL, Line
from horismos.mending.lines.paint import InkNames, paint_mend


def _state(line: Line, names: InkNames) -> bytes:
    name = names.of(line)
    stroke = f"/{name} CS 1 SCN " if line.strokes else ""
    return (stroke + (f"/{name} cs 1 scn" if line.fills else "")).encode()


paint_mend(
    "full-tint", "Set the {role} to 100 %", ("line.tinted",), lambda line: line.tint < FULL or line.inks > 1,
    "Sets {lines} to 100 % of the line ink and takes every other ink out of them.", "is 100 % of one ink",
    _state, 16,
)
