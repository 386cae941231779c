"""Which colours are black, and in how many inks."""

from horismos.artwork.model import PROCESS_INKS, Paint

__all__ = ["rich_black"]

BLACKISH = 0.5
"""[ours] a text with less black than this is a coloured one, not a black one in too many inks."""


def rich_black(paint: Paint) -> bool:
    """Whether a colour is black in more than one process ink."""
    tints = {name: tint for name, tint in paint.inks if tint > 0}
    process = {name: tint for name, tint in tints.items() if name in PROCESS_INKS}
    if len(process) < 2:
        return False
    coloured = [process.get(name, 0) for name in PROCESS_INKS[:3]]
    return process.get("Black", 0) >= BLACKISH or min(coloured) >= BLACKISH
