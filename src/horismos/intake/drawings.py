"""HP-GL and DXF: lines only, by pen or layer, onto a page of their own."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import save
from horismos.artwork.kinds import FileKind
from horismos.artwork.layering import add_layers, plain_layer, put_lines
from horismos.destinations import Destination
from horismos.errors import CannotRead, LimitExceeded
from horismos.formats.dxf import read_dxf
from horismos.formats.hpgl import read_plot
from horismos.paths import Contour, bounds, union_bounds
from horismos.roles import LineRole
from horismos.units import points_from_mm, user_unit_for

__all__ = ["LineDrawing", "pdf_of_lines", "read_drawing"]

MARGIN_MM = 10.0
"""[ours] of blank page round lines that come without a page."""
MOST_MM = 100_000.0
MOST_CONTOURS = 200_000


@dataclass(frozen=True, eq=False)
class LineDrawing:
    """Lines by key (``pen:N`` or ``layer:NAME``) in their own units. ``unit_mm`` is None where the
    file does not say what a unit is.
    """

    strands: dict[str, list[Contour]]
    unit_mm: float | None
    notes: tuple[str, ...]


def read_drawing(data: bytes, kind: FileKind) -> LineDrawing:
    """Read an HP-GL or DXF file. Raises CannotRead for one that holds no line."""
    strands: dict[str, list[Contour]] = {}
    unit: float | None = 1.0
    if kind is FileKind.HPGL:
        plot = read_plot(data)
        for stroke in plot.strokes:
            strands.setdefault(f"pen:{stroke.tool}", []).append(stroke.contour)
        left_out = plot.left_out
        notes = ["The plot is scaled to limits that it does not state; check its size."] if plot.scaled else []
    else:
        drawing = read_dxf(data)
        strands = {f"layer:{name}": of for name, of in drawing.layers.items()}
        unit, left_out = drawing.unit_mm, drawing.left_out
        notes = [f"Mended on reading: {repair}" for repair in drawing.repairs]
    if left_out:
        listed = ", ".join(f"{count} × {name}" for name, count in sorted(left_out.items())[:8])
        notes.append(f"Left out, since it is no line: {listed}.")
    if not strands:
        raise CannotRead("The file holds no line that could be cut.", "Ask for the cut lines.")
    if sum(map(len, strands.values())) > MOST_CONTOURS:
        raise LimitExceeded("The file holds more than 200,000 lines.", "Ask for the cut lines alone.")
    return LineDrawing(strands, unit, tuple(notes))


def pdf_of_lines(
    lines: Mapping[LineRole, Sequence[Contour]], art: Mapping[str, Sequence[Contour]], unit_mm: float,
    destination: Destination,
) -> bytes:
    """A page just large enough, its trim box round the lines; art by the names of the layers that it is put on.

    Raises LimitExceeded beyond 100 m.
    """
    scaled = {
        role: [c.transformed((unit_mm, 0, 0, unit_mm, 0, 0)) for c in of] for role, of in lines.items() if of
    }
    drawn = {name: [c.transformed((unit_mm, 0, 0, unit_mm, 0, 0)) for c in of] for name, of in art.items()}
    box = union_bounds(bounds(c) for of in [*scaled.values(), *drawn.values()] for c in of)
    if box is None:
        raise CannotRead("Everything in the file was left out.", "Bind a layer or pen to a cut.")
    x0, y0, x1, y1 = box
    if not max(x1 - x0, y1 - y0) <= MOST_MM:
        raise LimitExceeded(f"The lines are {max(x1 - x0, y1 - y0) / 1000:.0f} m long.", "Choose another unit.")
    dx, dy = MARGIN_MM - x0, MARGIN_MM - y0
    moved = {role: [c.transformed((1, 0, 0, 1, dx, dy)) for c in of] for role, of in scaled.items()}
    width, height = x1 - x0 + 2 * MARGIN_MM, y1 - y0 + 2 * MARGIN_MM
    with pikepdf.new() as pdf:
        w, h = points_from_mm(width), points_from_mm(height)
        unit = user_unit_for(max(width, height))
        inner = [MARGIN_MM, MARGIN_MM, width - MARGIN_MM, height - MARGIN_MM]
        media = Array([0, 0, w / unit, h / unit])
        page = Dictionary(
            Type=Name.Page, MediaBox=media, BleedBox=media,
            TrimBox=Array([points_from_mm(v) / unit for v in inner]), Resources=Dictionary(),
            Contents=pdf.make_stream(b""),
        )
        if unit > 1:
            page.UserUnit = unit
        pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
        if drawn:
            placed = {name: [c.transformed((1, 0, 0, 1, dx, dy)) for c in of] for name, of in drawn.items()}
            _put_art(pdf, pdf.pages[0].obj, placed, unit)
        put_lines(pdf, pdf.pages[0].obj, moved, destination)
        return save(pdf)


def _put_art(pdf: pikepdf.Pdf, page: Any, art: Mapping[str, Sequence[Contour]], unit: float) -> None:
    """What was bound to art: thin black strokes, each pen or layer on a layer of its own."""
    from horismos.artwork.pathdata import path_operators

    k = points_from_mm(1.0) / unit
    layers = [plain_layer(pdf, name) for name in art]
    page.Resources.Properties = Dictionary({f"/Art{i}": layer for i, layer in enumerate(layers)})
    bodies = (path_operators(of, (1, 0, 0, 1, 0, 0)).decode() for of in art.values())
    drawn = "\n".join(f"/OC /Art{i} BDC\n{body}\nS EMC" for i, body in enumerate(bodies))
    page.Contents = pdf.make_stream(f"q {k:.8f} 0 0 {k:.8f} 0 0 cm 0 0 0 1 K 0.25 w\n{drawn}\nQ".encode())
    add_layers(pdf, layers, [])
