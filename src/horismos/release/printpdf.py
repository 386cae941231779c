"""The print PDF: art and marks, and each line role on its own layer that is set not to print.

The layer carries the ISO 19593-1 metadata of its role; the line the destination's exact ink name. A sheet may
hold pieces of several files; each keeps its own layers.
"""

from contextlib import ExitStack
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.boxes import inherited
from horismos.artwork.edit import save
from horismos.artwork.layering import add_layers, line_form, line_layer, plain_layer, take_layers
from horismos.artwork.parting import art_alone
from horismos.artwork.pathdata import path_operators
from horismos.artwork.read import open_pdf, page_content
from horismos.destinations import Destination
from horismos.paths.matrix import IDENTITY, Matrix, multiply, scale
from horismos.roles import CUT_ORDER
from horismos.sheet import Piece, Sheet
from horismos.units import MM_PER_POINT, points_from_mm, user_unit_for

__all__ = ["print_pdf"]


def _numbers(*values: float) -> str:
    return " ".join(f"{v:.6f}".rstrip("0").rstrip(".") for v in values)


def print_pdf(sheet: Sheet, destination: Destination, title: str) -> bytes:
    """The print PDF of a sheet: the art of each piece parted from its lines, each drawn once for every copy."""
    with ExitStack() as open_files:
        arts = [
            open_files.enter_context(open_pdf(art_alone(piece.artwork, piece.page, piece.drawn)))
            for piece in sheet.pieces
        ]
        pdf = arts[0]
        forms = [_art_form(pdf, art) for art in arts]
        for art in arts[1:]:
            take_layers(pdf, art)
        return _written(pdf, sheet, forms, destination, title)


def _written(pdf: pikepdf.Pdf, sheet: Sheet, forms: list[Any], destination: Destination, title: str) -> bytes:
    roles = [role for role in CUT_ORDER if any(role in piece.lines for piece in sheet.pieces)]
    art_layer, mark_layer = plain_layer(pdf, "Art"), plain_layer(pdf, "Registration marks")
    line_layers = {role: line_layer(pdf, role, destination) for role in roles}
    w, h = points_from_mm(sheet.material.width_mm), points_from_mm(sheet.length_mm)
    user_unit = user_unit_for(max(sheet.material.width_mm, sheet.length_mm))
    to_units = scale(1 / (MM_PER_POINT * user_unit))
    resources = Dictionary(
        XObject=Dictionary(), Properties=Dictionary(Art=art_layer, Marks=mark_layer), ColorSpace=Dictionary(),
        ExtGState=Dictionary(Over=Dictionary(OP=True, op=True, OPM=1)),
    )
    for number, form in enumerate(forms):
        resources.XObject[f"/Art{number}"] = form
    parts = [_art_content(sheet, to_units), _marks_content(sheet, to_units)]
    for role in roles:
        key = role.value.replace("-", "")
        resources.Properties["/" + key] = line_layers[role]
        draws = []
        for number, piece in enumerate(sheet.pieces):
            if role in piece.lines:
                resources.XObject[f"/{key}{number}"] = line_form(pdf, role, piece.lines[role], destination)
                draws += [
                    f"q {_numbers(*multiply(copy.matrix, to_units))} cm /{key}{number} Do Q"
                    for copy in sheet.copies_of(piece)
                ]
        parts.append(f"/OC /{key} BDC\n" + "\n".join(draws) + "\nEMC")
    box = Array([0, 0, w / user_unit, h / user_unit])
    page = Dictionary(
        Type=Name.Page, MediaBox=box, BleedBox=box, TrimBox=box, Resources=resources,
        Contents=pdf.make_stream("\n".join(parts).encode()),
    )
    if user_unit > 1:
        page.UserUnit = user_unit
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
    del pdf.pages[0]
    add_layers(pdf, [art_layer, mark_layer, *line_layers.values()], list(line_layers.values()))
    with pdf.open_metadata(set_pikepdf_as_editor=False) as metadata:
        metadata["dc:title"] = title
    return save(pdf)


def _art_form(pdf: pikepdf.Pdf, art: pikepdf.Pdf) -> Any:
    """The page of an art as a form XObject in its own user space, nothing clipped; a copy of another file's."""
    source = art.pages[0].obj
    content, _ = page_content(source)
    form = art.make_stream(content)
    form.Type, form.Subtype = Name.XObject, Name.Form
    form.BBox = inherited(source, "/MediaBox")
    resources = inherited(source, "/Resources")
    form.Resources = resources if resources is not None else Dictionary()
    if "/Group" in source:
        form.Group = source.Group
    return form if art is pdf else pdf.copy_foreign(form)


def _art_content(sheet: Sheet, to_units: Matrix) -> str:
    """Every copy of the art, clipped to what it may show; the artwork's matrix makes it mm."""
    rows = []
    numbers = {id(piece): number for number, piece in enumerate(sheet.pieces)}
    for copy in sheet.placements:
        x0, y0, x1, y1 = copy.shows
        piece: Piece = copy.piece
        rows.append(
            f"q {_numbers(*multiply(copy.matrix, to_units))} cm {_numbers(x0, y0, x1 - x0, y1 - y0)} re W n "
            f"{_numbers(*piece.page.matrix)} cm /Art{numbers[id(piece)]} Do Q"
        )
    return "/OC /Art BDC\n" + "\n".join(rows) + "\nEMC"


def _marks_content(sheet: Sheet, to_units: Matrix) -> str:
    rows = [
        f"{_numbers(mark.weight_mm)} w\n" + path_operators([mark.contour], IDENTITY).decode() + " S"
        for mark in sheet.marks
    ]
    return f"/OC /Marks BDC q {_numbers(*to_units)} cm 0 0 0 1 K 0 J 0 j\n" + "\n".join(rows) + "\nQ EMC"
