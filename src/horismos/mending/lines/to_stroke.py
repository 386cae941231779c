"""Makes lines that are filled into strokes: a cutter follows strokes."""

import pikepdf

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.lines import Line
from horismos.artwork.model import PathObject
from horismos.artwork.parting import clip_operator, what_stays
from horismos.mending.engine.registry import MendContext
from horismos.mending.lines.paint import InkNames, line_mend, units_per_mm
from horismos.units import HAIRLINE_MM


def _do(before: MendContext, pdf: pikepdf.Pdf, found: list[Line]) -> None:
    names = InkNames(before, pdf)
    edits: dict[int, dict[int, list[Edit]]] = {}
    for line in found:
        obj = line.object
        assert isinstance(obj, PathObject)
        data = line.page.streams[obj.stream].data
        path = data[obj.start : obj.path_end]
        art = b"" if line.takes_all else path + what_stays(line, obj)
        own = f"{obj.state.line_width:g} w" if line.strokes else f"{HAIRLINE_MM * units_per_mm(obj):.6f} w [] 0 d"
        # the tint of the fill is kept where it alone draws the line; to 100 % is a mend of its own
        colour = b"" if line.strokes else f"/{names.of(line)} CS {line.tint:g} SCN ".encode()
        text = art + b" q " + colour + own.encode() + b" " + path + (b" s" if obj.closes else b" S") + b" Q "
        clip = clip_operator(data[obj.path_end : obj.end])
        if clip:
            text += path + clip + b" n "
        edits.setdefault(line.page.number, {}).setdefault(obj.stream, []).append(Edit(obj.start, obj.end, text))
    for number, listed in edits.items():
        edit_page(pdf, before.artwork.pages[number - 1], listed, names.resources)


line_mend(
    "to-stroke", "Stroke the {role} instead of filling", ("line.filled",), lambda line: line.fills,
    "Strokes {lines} with a hairline instead of filling. The contours stay where they are, and so does art that is "
    "drawn with them.", "No {role} is filled.", _do, 15,
)
