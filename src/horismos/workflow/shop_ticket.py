"""The shop ticket of a released sheet, with the picture of its print."""

import math

from horismos.artwork.lines import line_objects
from horismos.artwork.parting import art_alone
from horismos.artwork.read import read_bytes
from horismos.release.following import Released
from horismos.rendering.composite import PageView
from horismos.reporting.shop_ticket import Shown, shop_ticket_pdf
from horismos.sheet.layout import Makes
from horismos.units import MM_PER_INCH

__all__ = ["shop_ticket_of"]

PICTURE_PIXELS, MOST_PPI = 400_000, 150.0


def shop_ticket_of(released: Released) -> bytes:
    """The ticket on one page as PDF. Raises NotFound or CannotRead where the print cannot be drawn."""
    return shop_ticket_pdf(released.ticket, _shown(released))


def _shown(released: Released) -> Shown:
    """The print without its lines, as it is loaded."""
    if not Makes(released.ticket["makes"]).prints:
        return Shown(None)
    artwork = read_bytes(released.print_pdf)
    page = artwork.pages[0]
    wide, long = page.size_mm
    ppi = min(MOST_PPI, math.sqrt(PICTURE_PIXELS / (wide * long / MM_PER_INCH**2)))
    art = art_alone(artwork, page, line_objects(artwork, page, released.destination))
    with PageView.of_art(art, page) as view:
        return Shown(view.render((0.0, 0.0, wide, long), ppi))
