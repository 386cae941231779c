"""The print PDF: art and marks, and each line role on its own layer that is set not to print.

The layer carries the ISO 19593-1 metadata of its role; the line the destination's exact ink name.
"""

from collections.abc import Mapping, Sequence
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.boxes import inherited
from horismos.artwork.edit import save
from horismos.artwork.layering import add_layers, line_form, line_layer, plain_layer
from horismos.artwork.model import Page
from horismos.artwork.pathdata import path_operators
from horismos.artwork.read import open_pdf, page_content
from horismos.destinations import Destination
from horismos.paths import Contour
from horismos.paths.matrix import Matrix
from horismos.roles import LineRole
from horismos.sheet import Sheet
from horismos.units import MM_PER_POINT, points_from_mm, user_unit_for

__all__ = ["print_pdf"]


def _numbers(*values: float) -> str:
    return " ".join(f"{v:.6f}".rstrip("0").rstrip(".") for v in values)


def print_pdf(
    art: bytes, page: Page, lines: Mapping[LineRole, Sequence[Contour]], sheet: Sheet,
    destination: Destination, title: str,
) -> bytes:
    """The print PDF of a sheet.

    ``art`` is the art alone of ``page``; ``lines`` are the contours of one piece, in the
    artwork's mm, each drawn once for every placement of the sheet.
    """
    with open_pdf(art) as pdf:
        source = pdf.pages[0].obj
        form = _art_form(pdf, source)
        groups = [plain_layer(pdf, "Art"), plain_layer(pdf, "Registration marks")]
        line_layers = {role: line_layer(pdf, role, destination) for role in lines}
        groups += line_layers.values()
        w, h = points_from_mm(sheet.material.width_mm), points_from_mm(sheet.length_mm)
        user_unit = user_unit_for(max(sheet.material.width_mm, sheet.length_mm))
        resources = Dictionary(
            XObject=Dictionary(Art=form),
            Properties=Dictionary(Art=groups[0], Marks=groups[1]),
            ColorSpace=Dictionary(),
            ExtGState=Dictionary(Over=Dictionary(OP=True, op=True, OPM=1)),
        )
        parts = [_art_content(page, sheet, user_unit), _marks_content(sheet, user_unit)]
        for role, contours in lines.items():
            key = role.value.replace("-", "")
            resources.Properties["/" + key] = line_layers[role]
            resources.XObject["/" + key] = line_form(pdf, role, contours, destination)
            draws = [
                f"q {_numbers(*_to_units(m, user_unit))} cm /{key} Do Q" for m in sheet.placements
            ]
            parts.append(f"/OC /{key} BDC\n" + "\n".join(draws) + "\nEMC")
        box = Array([0, 0, w / user_unit, h / user_unit])
        page_dictionary = Dictionary(
            Type=Name.Page, MediaBox=box, BleedBox=box, TrimBox=box, Resources=resources,
            Contents=pdf.make_stream("\n".join(parts).encode()),
        )
        if user_unit > 1:
            page_dictionary.UserUnit = user_unit
        pdf.pages.append(pikepdf.Page(pdf.make_indirect(page_dictionary)))
        del pdf.pages[0]
        add_layers(pdf, groups, list(line_layers.values()))
        with pdf.open_metadata(set_pikepdf_as_editor=False) as metadata:
            metadata["dc:title"] = title
        return save(pdf)


def _to_units(placement: Matrix, user_unit: float) -> Matrix:
    """From mm of the artwork to user units of the sheet."""
    k = MM_PER_POINT * user_unit
    a, b, c, d, e, f = placement
    return a / k, b / k, c / k, d / k, e / k, f / k


def _art_form(pdf: pikepdf.Pdf, source: Any) -> Any:
    """The art's page as a form XObject in its own user space, nothing clipped."""
    content, _ = page_content(source)
    form = pdf.make_stream(content)
    form.Type, form.Subtype = Name.XObject, Name.Form
    form.BBox = inherited(source, "/MediaBox")
    resources = inherited(source, "/Resources")
    form.Resources = resources if resources is not None else Dictionary()
    if "/Group" in source:
        form.Group = source.Group
    return form


def _art_content(page: Page, sheet: Sheet, user_unit: float) -> str:
    """Every copy of the art, clipped to what it may show; the artwork's matrix makes it mm."""
    x0, y0, x1, y1 = sheet.clip
    rows = [
        f"q {_numbers(*_to_units(m, user_unit))} cm "
        f"{_numbers(x0, y0, x1 - x0, y1 - y0)} re W n {_numbers(*page.matrix)} cm /Art Do Q"
        for m in sheet.placements
    ]
    return "/OC /Art BDC\n" + "\n".join(rows) + "\nEMC"


def _marks_content(sheet: Sheet, user_unit: float) -> str:
    scale = _to_units((1, 0, 0, 1, 0, 0), user_unit)
    rows = [
        f"{_numbers(mark.weight_mm)} w\n" + path_operators([mark.contour], (1, 0, 0, 1, 0, 0)).decode() + " S"
        for mark in sheet.marks
    ]
    return f"/OC /Marks BDC q {_numbers(*scale)} cm 0 0 0 1 K 0 J 0 j\n" + "\n".join(rows) + "\nQ EMC"
