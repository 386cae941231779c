"""The page as something else than it is: one layer alone, hidden layers shown, chosen objects only."""

from collections.abc import Collection

from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import Edit, edit_page, reopened, save
from horismos.artwork.model import Artwork, Page, PathObject
from horismos.artwork.parting import clip_operator, show_whole

__all__ = ["layer_alone", "page_whole"]


def page_whole(artwork: Artwork, page: Page) -> bytes:
    """A PDF of one page as the file shows it, the whole media box in view.

    A file that is just that already is given as it is.
    """
    plain = len(artwork.pages) == 1 and not page.annotations and page.boxes.crop == page.boxes.media
    if plain and not artwork.encrypted and not artwork.active:
        return artwork.data
    with reopened(artwork) as pdf:
        show_whole(pdf, page)
        pdf.remove_unreferenced_resources()
        return save(pdf)


def layer_alone(artwork: Artwork, page: Page, layer: int | None) -> bytes:
    """A PDF of what a page paints on one layer, shown even where the layer is off.

    ``layer`` is an index into the artwork's layers, or None for what is on no layer at all.
    """
    keep = {
        i for i, obj in enumerate(page.objects)
        if (layer in obj.state.layers if layer is not None else not obj.state.layers)
    }
    with reopened(artwork) as pdf:
        edit_page(pdf, page, _without(page, keep), {})
        properties = pdf.Root.get("/OCProperties")
        if properties is not None:
            properties.D = Dictionary(BaseState=Name.ON, ON=Array(list(properties.get("/OCGs", []))))
        show_whole(pdf, page)
        return save(pdf)


def _without(page: Page, keep: Collection[int]) -> dict[int, list[Edit]]:
    """Edits that leave out every object that is not kept; paths stay as clips."""
    edits: dict[int, list[Edit]] = {}
    for index, obj in enumerate(page.objects):
        if index in keep:
            continue
        if isinstance(obj, PathObject):
            data = page.streams[obj.stream].data
            edit = Edit(obj.path_end, obj.end, clip_operator(data[obj.path_end : obj.end]) + b" n ")
        else:
            edit = Edit(obj.start, obj.end, b" ")
        edits.setdefault(obj.stream, []).append(edit)
    return edits
