"""Where the inks of a page come to more than a limit."""

from horismos.artwork.paints import is_additive
from horismos.checking.engine.context import Context
from horismos.rendering.load import HeavyPlaces, load_places

__all__ = ["heavy_places"]


def heavy_places(c: Context, limit: float, area_cm2: float) -> HeavyPlaces:
    """The places inside the bleed where the inks come to more than a limit in %: marks beyond it are meant to.

    What RGB comes to is up to the conversion of the RIP, and not counted: where more than an area is above the
    limit, the plates are made a second time without it.
    """
    cut = {ink.name for ink in c.inks if ink.kind == "line"}
    found = load_places(c.plates, cut, limit, c.page.boxes.bleed)
    if found.above_cm2 > area_cm2 and len(c.counted) < len(c.printed):
        found = load_places(c.plates, cut, limit, c.page.boxes.bleed, c.plates_without(is_additive))
    return found
