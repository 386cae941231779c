"""A PDF of lines alone: each operation on its own layer, with its role's metadata, in the exact ink."""

from collections.abc import Mapping, Sequence

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import save
from horismos.artwork.layering import add_layers, line_layer, separation
from horismos.destinations import Destination
from horismos.paths.contour import Floats
from horismos.roles import LineRole
from horismos.units import HAIRLINE_MM, MM_PER_POINT, user_unit_for

__all__ = ["lines_pdf"]


def lines_pdf(
    layers: Mapping[str, Sequence[Floats]], roles: Sequence[LineRole], origin_mm: tuple[float, float],
    size_mm: tuple[float, float], destination: Destination,
) -> bytes:
    """Polylines in mm on the sheet, by the names of their layers; the zero of user space is the origin.

    ``roles`` are those of the layers. Hairlines at 100 % of the destination's ink.
    """
    pdf = pikepdf.new()
    unit = user_unit_for(max(size_mm))
    k = 1 / (MM_PER_POINT * unit)
    groups, parts = [], []
    resources = Dictionary(Properties=Dictionary(), ColorSpace=Dictionary())
    for i, ((name, lines), role) in enumerate(zip(layers.items(), roles, strict=True)):
        layer = line_layer(pdf, role, destination)
        layer.Name = pikepdf.String(name)
        groups.append(layer)
        resources.Properties[f"/L{i}"] = layer
        resources.ColorSpace[f"/C{i}"] = separation(Name("/" + destination.name_of(role)), role.facts.screen_cmyk)
        paths = "\n".join(_path((line - origin_mm) * k) for line in lines)
        parts.append(f"/OC /L{i} BDC /C{i} CS 1 SCN {HAIRLINE_MM * k:.6f} w\n{paths}\nEMC")
    x0, y0 = -origin_mm[0] * k, -origin_mm[1] * k
    box = Array([x0, y0, x0 + size_mm[0] * k, y0 + size_mm[1] * k])
    page = Dictionary(
        Type=Name.Page, MediaBox=box, TrimBox=box, Resources=resources,
        Contents=pdf.make_stream("\n".join(parts).encode()),
    )
    if unit > 1:
        page.UserUnit = unit
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
    add_layers(pdf, groups, [])
    return save(pdf)


def _path(line: Floats) -> str:
    rows = [f"{x:.5f} {y:.5f} {'l' if i else 'm'}" for i, (x, y) in enumerate(line.tolist())]
    return " ".join(rows) + " S"
