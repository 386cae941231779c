"""The page as something else than it is: one layer alone, hidden layers shown, chosen objects only."""

from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import edit_page, reopened, save
from horismos.artwork.model import Artwork, Page
from horismos.artwork.parting import leave_out, show_whole
from horismos.artwork.recolour import with_long_names

__all__ = ["layer_alone", "named_at_length", "page_whole"]

PLAIN = frozenset({"/Type", "/Pages", "/OCProperties", "/Version", "/Metadata", "/OutputIntents", "/ViewerPreferences"})
"""Entries of a catalog that do not touch what is drawn; with others the page is taken out of its file."""


def page_whole(artwork: Artwork, page: Page) -> bytes:
    """A PDF of one page as the file shows it, the whole media box in view.

    A file that is just that already is given as it is.
    """
    plain = len(artwork.pages) == 1 and not page.annotations and page.boxes.crop == page.boxes.media
    if plain and not artwork.encrypted and not artwork.repairs and artwork.catalog <= PLAIN:
        return artwork.data
    with reopened(artwork) as pdf:
        show_whole(pdf, page)
        pdf.remove_unreferenced_resources()
        return save(pdf)


def named_at_length(artwork: Artwork, page: Page) -> bytes | None:
    """The same, with colour spaces of a name that is short for another called otherwise; None where there is none."""
    with reopened(artwork) as pdf:
        edits, resources = with_long_names(pdf, page)
        if not edits:
            return None
        edit_page(pdf, page, edits, resources)
        show_whole(pdf, page)
        pdf.remove_unreferenced_resources()
        return save(pdf)


def layer_alone(artwork: Artwork, page: Page, layer: int | None) -> bytes:
    """A PDF of what a page paints on one layer, shown even where the layer is off.

    ``layer`` is an index into the artwork's layers, or None for what is on no layer at all.
    """
    others = (
        i for i, obj in enumerate(page.objects)
        if not (layer in obj.state.layers if layer is not None else not obj.state.layers)
    )
    with reopened(artwork) as pdf:
        edit_page(pdf, page, leave_out(page, others, {}), {})
        properties = pdf.Root.get("/OCProperties")
        if properties is not None:
            properties.D = Dictionary(BaseState=Name.ON, ON=Array(list(properties.get("/OCGs", []))))
        show_whole(pdf, page)
        return save(pdf)
