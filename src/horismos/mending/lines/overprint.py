"""Sets lines to overprint, so that they leave no unprinted hair in the art below."""

from horismos.artwork.lines import Line
from horismos.mending.lines.paint import InkNames, paint_mend


def _state(line: Line, names: InkNames) -> bytes:
    return f"/{names.overprint(line.strokes and not line.takes_all, line.fills and not line.takes_all)} gs".encode()


paint_mend(
    "overprint", "Set the {role} to overprint", ("line.knocks-out",), lambda line: not line.overprints,
    "Sets {lines} to overprint, so that the art below is printed whole.", "overprints", _state, 40,
)
