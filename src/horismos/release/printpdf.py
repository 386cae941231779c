"""The print PDF: art and marks, and each line role on its own layer that is set not to print.

The layer carries the ISO 19593-1 metadata of its role; the line the destination's exact ink name. A sheet may
hold pieces of several files; each keeps its own layers.
"""

from collections.abc import Mapping, Sequence
from contextlib import ExitStack
from dataclasses import dataclass
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.boxes import inherited
from horismos.artwork.edit import save
from horismos.artwork.layering import (
    WHITE_SHOWN,
    add_layers,
    line_form,
    line_layer,
    plain_layer,
    separation,
    take_layers,
)
from horismos.artwork.model import PROCESS_INKS
from horismos.artwork.parting import art_alone
from horismos.artwork.pathdata import path_operators
from horismos.artwork.read import open_pdf, page_content
from horismos.destinations import Destination
from horismos.paths.box import Bounds, grow
from horismos.paths.matrix import IDENTITY, Matrix, multiply, scale
from horismos.release.x4 import VERSION, follow
from horismos.roles import CUT_ORDER, InkRole, LineRole
from horismos.sheet import Placement, Sheet
from horismos.sheet.inks import InkLayer
from horismos.units import MM_PER_POINT, points_from_mm, user_unit_for

__all__ = ["Printed", "laid_down", "print_pdf", "print_sheets"]

PATCH_MM = 3.0
"""[ours] of light ground round a mark on clear or dark media: a sensor looks for dark on light."""


def _numbers(*values: float) -> str:
    return " ".join(f"{v:.6f}".rstrip("0").rstrip(".") for v in values)


@dataclass(frozen=True)
class Printed:
    """A print PDF, and what keeps it from following PDF/X-4, in words; nothing where it follows it."""

    data: bytes
    hindered: tuple[str, ...]


def print_pdf(sheet: Sheet, destination: Destination, title: str) -> Printed:
    """The print PDF of a sheet: the art of each piece parted from its lines, each drawn once for every copy."""
    return print_sheets([sheet], destination, title)


def print_sheets(sheets: Sequence[Sheet], destination: Destination, title: str) -> Printed:
    """The print PDF of several sheets, a page each; a piece that is on more than one is in the file once.

    Where nothing is cut it holds no lines.
    """
    pieces = list({id(piece): piece for sheet in sheets for piece in sheet.pieces}.values())
    with ExitStack() as open_files:
        arts = [
            open_files.enter_context(open_pdf(art_alone(piece.artwork, piece.page, piece.drawn))) for piece in pieces
        ]
        pdf = arts[0]
        forms = {id(piece): _art_form(pdf, art) for piece, art in zip(pieces, arts, strict=True)}
        for art in arts[1:]:
            take_layers(pdf, art)
        cut = {id(piece) for sheet in sheets if sheet.makes.cuts for piece in sheet.pieces}
        lined = [piece for piece in pieces if id(piece) in cut]
        roles = [role for role in CUT_ORDER if any(role in piece.lines for piece in lined)]
        layers = _Layers(
            plain_layer(pdf, "Art"), plain_layer(pdf, "Registration marks"),
            {role: line_layer(pdf, role, destination) for role in roles},
        )
        lines = {
            (role, id(piece)): line_form(pdf, role, piece.lines[role], destination)
            for piece in lined for role in piece.lines
        }
        _rename_doubles(pdf, {"Art", "Registration marks", *(destination.name_of(role) for role in roles)})
        for sheet in sheets:
            page = _page(pdf, sheet.printed, _Forms(forms, lines), layers, destination)
            pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
        del pdf.pages[0]
        add_layers(pdf, [layers.art, layers.marks, *layers.lines.values()], list(layers.lines.values()))
        order = laid_down(sheets[0], destination)
        hindered = follow(pdf, title, [piece.page for piece in pieces], order)
        return Printed(save(pdf, version=VERSION), hindered)


def _rename_doubles(pdf: pikepdf.Pdf, names: set[str]) -> None:
    """Call the art's own layers otherwise than those of the sheet; none of them says any more that it is cut."""
    properties: Any = pdf.Root.get("/OCProperties")
    for group in properties.get("/OCGs", []) if properties is not None else []:
        if str(group.get("/Name", "")) in names:
            group.Name = pikepdf.String(f"Art on {group.Name}")
            if "/GTS_Metadata" in group:
                del group["/GTS_Metadata"]


def laid_down(sheet: Sheet, destination: Destination) -> tuple[str, ...]:
    """The inks of a sheet by name in the order in which they are laid down; white and varnish where it has such."""
    there = {ink for piece in sheet.pieces for ink in piece.page.ink_names}
    if sheet.marks and sheet.material.ground.wants_white:
        there.add(destination.names.get(InkRole.WHITE, ""))
    names: dict[InkLayer, tuple[str, ...]] = {InkLayer.COLOUR: tuple(PROCESS_INKS)}
    for layer, role in ((InkLayer.WHITE, InkRole.WHITE), (InkLayer.VARNISH, InkRole.VARNISH)):
        name = destination.names.get(role, "")
        names[layer] = (name,) if name and name in there else ()
    return tuple(name for layer in sheet.inks for name in names[layer])


@dataclass(frozen=True, eq=False)
class _Layers:
    """The layers of the file."""

    art: Any
    marks: Any
    lines: Mapping[LineRole, Any]


@dataclass(frozen=True, eq=False)
class _Forms:
    """What is drawn for each copy, by the identity of its piece: art, and the lines of each role."""

    art: Mapping[int, Any]
    lines: Mapping[tuple[LineRole, int], Any]


def _page(pdf: pikepdf.Pdf, sheet: Sheet, forms: _Forms, layers: _Layers, destination: Destination) -> Dictionary:
    w, h = points_from_mm(sheet.material.width_mm), points_from_mm(sheet.length_mm)
    user_unit = user_unit_for(max(sheet.material.width_mm, sheet.length_mm))
    on_page = scale(1 / (MM_PER_POINT * user_unit))
    resources = Dictionary(
        XObject=Dictionary(), Properties=Dictionary(Art=layers.art, Marks=layers.marks), ColorSpace=Dictionary(),
        ExtGState=Dictionary(Over=Dictionary(OP=True, op=True, OPM=1)),
    )
    ways = {_way(copy): copy for copy in sheet.placements}
    for way, number in _shown(sheet).items():
        resources.XObject[f"/Art{number}"] = _clipped(pdf, ways[way], forms.art[way[0]])
    white = destination.names.get(InkRole.WHITE) if sheet.material.ground.wants_white else None
    if white:
        resources.ColorSpace["/White"] = separation(Name("/" + white), WHITE_SHOWN)
    parts = [_art_content(sheet, on_page), _marks_content(sheet, on_page, bool(white))]
    numbers = {id(piece): number for number, piece in enumerate(sheet.pieces)}
    for role, layer in layers.lines.items():
        key = role.value.replace("-", "")
        draws = []
        for copy in sheet.placements:
            if sheet.makes.cuts and role in copy.piece.lines:
                name = f"/{key}{numbers[id(copy.piece)]}"
                resources.XObject[name] = forms.lines[role, id(copy.piece)]
                draws.append(f"q {_numbers(*multiply(copy.matrix, on_page))} cm {name} Do Q")
        if draws:
            resources.Properties["/" + key] = layer
            parts.append(f"/OC /{key} BDC\n" + "\n".join(draws) + "\nEMC")
    box = Array([0, 0, w / user_unit, h / user_unit])
    page = Dictionary(
        Type=Name.Page, MediaBox=box, BleedBox=box, TrimBox=box, Resources=resources,
        Contents=pdf.make_stream("\n".join(parts).encode()),
    )
    if user_unit > 1:
        page.UserUnit = user_unit
    return page


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


def _art_content(sheet: Sheet, on_page: Matrix) -> str:
    """Every copy of the art, each showing what it may."""
    shown = _shown(sheet)
    rows = [f"q {_numbers(*multiply(c.matrix, on_page))} cm /Art{shown[_way(c)]} Do Q" for c in sheet.placements]
    return "/OC /Art BDC\n" + "\n".join(rows) + "\nEMC"


def _way(copy: Placement) -> tuple[int, Bounds, int]:
    """What tells apart how copies show their art."""
    return id(copy.piece), copy.shows, id(copy.clip) if copy.clip else 0


def _shown(sheet: Sheet) -> dict[tuple[int, Bounds, int], int]:
    """The ways in which copies show their art, numbered: each is written once."""
    return {way: number for number, way in enumerate(dict.fromkeys(map(_way, sheet.placements)))}


def _clipped(pdf: pikepdf.Pdf, copy: Placement, form: Any) -> Any:
    """A form in the piece's mm: its art, clipped to what a copy may show; the artwork's matrix makes it mm."""
    x0, y0, x1, y1 = copy.shows
    clip = f"{_numbers(x0, y0, x1 - x0, y1 - y0)} re W n\n"
    if copy.clip:
        clip += path_operators(copy.clip, IDENTITY).decode() + " W* n\n"
    made = pdf.make_stream(f"{clip}{_numbers(*copy.piece.page.matrix)} cm /Art Do".encode())
    made.Type, made.Subtype = Name.XObject, Name.Form
    made.BBox = Array([x0, y0, x1, y1])
    made.Resources = Dictionary(XObject=Dictionary(Art=form))
    return made


def _marks_content(sheet: Sheet, on_page: Matrix, white: bool) -> str:
    """Marks, the bar beside the first, and the code, in black; on light patches where the ground hides them."""
    patches = [grow(mark.box, PATCH_MM) for mark in sheet.marks] if white else []
    if white and sheet.code:
        patches.append(grow(sheet.code.box, PATCH_MM))
    light = "".join(f"{_numbers(x0, y0, x1 - x0, y1 - y0)} re\n" for x0, y0, x1, y1 in patches)
    rows = [f"/White cs 1 scn\n{light}f"] if patches else []
    rows.append("0 0 0 1 K 0 0 0 1 k 0 J 0 j")
    for mark in sheet.marks:
        if mark.strokes:
            rows.append(f"{_numbers(mark.weight_mm)} w\n" + path_operators(mark.strokes, IDENTITY).decode() + " S")
        if mark.fills:
            rows.append(path_operators(mark.fills, IDENTITY).decode() + " f")
    boxes = [(x0, y0, x1 - x0, y1 - y0) for x0, y0, x1, y1 in ([sheet.bar] if sheet.bar else [])]
    boxes += sheet.code.runs if sheet.code else []
    if boxes:
        rows.append("".join(f"{_numbers(*box)} re\n" for box in boxes) + "f")
    return f"/OC /Marks BDC q {_numbers(*on_page)} cm\n" + "\n".join(rows) + "\nQ EMC"
