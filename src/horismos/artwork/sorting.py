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
from horismos.artwork.parting import edits_without, leave_out, show_whole
from horismos.destinations import Destination
from horismos.names import recognise
from horismos.roles import InkRole

__all__ = ["art_without", "ink_alone", "inks_for", "painted_in"]


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


def ink_alone(artwork: Artwork, page: Page, keep: Collection[int], inks: Collection[str]) -> bytes:
    """A PDF of one page with some objects only, by index, their inks drawn black."""
    edits = leave_out(page, (i for i in range(len(page.objects)) if i not in keep), {})
    with reopened(artwork) as pdf:
        for obj in pdf.objects:
            _blacken(obj, inks, 0)
        edit_page(pdf, page, edits, {})
        show_whole(pdf, page)
        return save(pdf, compress=False)


def _blacken(obj: Any, inks: Collection[str], depth: int) -> None:
    """Give every Separation of these inks below an object a tint of black for its alternate."""
    if depth > 12:
        return
    if isinstance(obj, Array):
        if len(obj) >= 4 and obj[0] == Name.Separation and str(obj[1])[1:] in inks:
            obj[2] = Name.DeviceGray
            obj[3] = Dictionary(FunctionType=2, Domain=[0, 1], C0=[1], C1=[0], N=1)
            return
        children: list[Any] = list(obj)
    elif isinstance(obj, Dictionary | pikepdf.Stream):
        children = [obj.get(key) for key in obj.keys()]
    else:
        return
    for child in children:
        if isinstance(child, Array | Dictionary) and not child.is_indirect:
            _blacken(child, inks, depth + 1)
