"""Parts art by ink: the colour without white and varnish, and each of these two alone.

On screen a white ink is drawn by its alternate colour, which is often no colour at all; here the ink that
is left alone is drawn black, so that it can be seen.
"""

from collections.abc import Collection, Sequence
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import edit_page, reopened, save
from horismos.artwork.lines import Line
from horismos.artwork.model import Artwork, Page, PaintedObject
from horismos.artwork.paints import paints_of
from horismos.artwork.parting import art_alone, edits_without, leave_out, show_whole
from horismos.artwork.read import open_pdf
from horismos.destinations import Destination
from horismos.names import recognise
from horismos.roles import InkRole

WHITE_SHOWN = (0.25, 0.05, 0.02, 0)
"""[ours] how white ink is shown on a screen that is white itself, in CMYK."""

__all__ = ["art_without", "colour_on_white", "ink_alone", "inks_for", "painted_in"]


def inks_for(page: Page, role: InkRole, destination: Destination) -> tuple[str, ...]:
    """The names on a page that say an ink role."""
    found = ((name, recognise(name, destination)) for name in page.ink_names)
    return tuple(name for name, said in found if said is not None and said.role is role)


def painted_in(page: Page, inks: Collection[str]) -> tuple[int, ...]:
    """The objects, by index, that are painted in nothing but some of these inks."""
    return tuple(i for i, obj in enumerate(page.objects) if inks and _only(obj, inks))


def _only(obj: PaintedObject, inks: Collection[str]) -> bool:
    named = [name for paint, _ in paints_of(obj) for name, _ in paint.inks]
    plain = any(paint.additive or not paint.inks for paint, _ in paints_of(obj))
    return bool(named) and not plain and all(name in inks for name in named)


def art_without(artwork: Artwork, page: Page, lines: Sequence[Line], without: Collection[int]) -> bytes:
    """A PDF of one page: its art without lines and without some objects, by index."""
    edits = edits_without(lines)
    taken = {line.index for line in lines}
    leave_out(page, (i for i in without if i not in taken), edits)
    with reopened(artwork) as pdf:
        edit_page(pdf, page, edits, {})
        show_whole(pdf, page)
        return save(pdf, compress=False)


def colour_on_white(artwork: Artwork, page: Page, lines: Sequence[Line], destination: Destination) -> bytes:
    """A PDF of one page as it is looked at: the art without lines, white below all colour, varnish left out.

    White is often drawn over the colour, overprinting, and a screen would show nothing else; here it is drawn first,
    in a light blue, so that it is seen where it peeps out.
    """
    white = painted_in(page, inks_for(page, InkRole.WHITE, destination))
    varnish = painted_in(page, inks_for(page, InkRole.VARNISH, destination))
    if not white and not varnish:
        return art_alone(artwork, page, lines)
    colour = art_without(artwork, page, lines, {*white, *varnish})
    if not white:
        return colour
    inks = inks_for(page, InkRole.WHITE, destination)
    below = ink_alone(artwork, page, white, inks, Name.DeviceCMYK, (0, 0, 0, 0), WHITE_SHOWN)
    with open_pdf(colour) as pdf, open_pdf(below) as other:
        drawn = other.pages[0]
        drawn.obj.TrimBox = drawn.obj.MediaBox  # which the form takes for its own
        form = pdf.copy_foreign(drawn.as_form_xobject(False))
        target = pdf.pages[0]
        name = target.add_resource(form, Name.XObject, Name("/HzWhite"))
        target.contents_add(f"q {name} Do Q\n".encode(), prepend=True)
        return save(pdf, compress=False)


def ink_alone(
    artwork: Artwork, page: Page, keep: Collection[int], inks: Collection[str], space: Any = Name.DeviceGray,
    none: Sequence[float] = (1,), full: Sequence[float] = (0,),
) -> bytes:
    """A PDF of one page with some objects only, by index, their inks drawn black, or between two colours of a space."""
    edits = leave_out(page, (i for i in range(len(page.objects)) if i not in keep), {})
    with reopened(artwork) as pdf:
        for obj in pdf.objects:
            _redraw(obj, inks, (space, list(none), list(full)), 0)
        edit_page(pdf, page, edits, {})
        show_whole(pdf, page)
        return save(pdf, compress=False)


def _redraw(obj: Any, inks: Collection[str], shown: tuple[Any, list[float], list[float]], depth: int) -> None:
    """Give every Separation of these inks below an object another look: its space, no tint, full tint."""
    if depth > 12:
        return
    if isinstance(obj, Array):
        if len(obj) >= 4 and obj[0] == Name.Separation and str(obj[1])[1:] in inks:
            obj[2] = shown[0]
            obj[3] = Dictionary(FunctionType=2, Domain=[0, 1], C0=shown[1], C1=shown[2], N=1)
            return
        children: list[Any] = list(obj)
    elif isinstance(obj, Dictionary | pikepdf.Stream):
        children = [obj.get(key) for key in obj.keys()]
    else:
        return
    for child in children:
        if isinstance(child, Array | Dictionary) and not child.is_indirect:
            _redraw(child, inks, shown, depth + 1)
