"""Counts in sentences, names of colours, and names of files."""

import colorsys
import re
import unicodedata
from collections.abc import Sequence

__all__ = ["are", "colour_name", "plural", "safe_name"]


def plural(count: int, word: str, many: str = "") -> str:
    """A count with its word.

    >>> plural(2, "line"), plural(1, "line"), plural(2, "stretch", "stretches")
    ('2 lines', '1 line', '2 stretches')
    """
    return f"{count} {word if count == 1 else many or word + 's'}"


def are(count: int, one: str = "is", many: str = "are") -> str:
    """The verb that goes with a count."""
    return one if count == 1 else many


HUES = (
    (15, "red"), (42, "orange"), (68, "yellow"), (155, "green"), (175, "turquoise"), (205, "cyan"), (255, "blue"),
    (290, "violet"), (320, "magenta"), (345, "pink"), (361, "red"),
)
"""[ours] hues in degrees, each up to where the next begins."""


def colour_name(values: Sequence[float]) -> str:
    """What somebody would call a colour of the screen (RGB) or of the press (CMYK), each component 0 to 1.

    A name to find it by; its components stand beside it where it matters which one it is.

    >>> colour_name((0.8, 0, 1, 0)), colour_name((1, 0, 0)), colour_name((0, 0, 0, 0.4)), colour_name((0.4, 0.2, 0))
    ('green', 'red', 'grey', 'brown')
    """
    c, m, y, k = (*values, 0.0)[:4]
    rgb = tuple(values) if len(values) == 3 else tuple((1 - ink) * (1 - k) for ink in (c, m, y))
    hue, saturation, value = colorsys.rgb_to_hsv(*rgb)
    strong = saturation * value
    if strong < 0.12:
        return "black" if value < 0.2 else "dark grey" if value < 0.4 else "grey" if value < 0.75 else (
            "light grey" if value < 0.97 or strong > 0.03 else "white"
        )
    name = next(name for upto, name in HUES if hue * 360 < upto)
    if name == "orange" and value < 0.65:
        return "brown"
    return f"dark {name}" if value < 0.45 else f"light {name}" if strong < 0.4 and value > 0.75 else name


def safe_name(name: str) -> str:
    """A name that is safe as the beginning of a file's name on any system; accents fall away.

    >>> safe_name("Wader trail / round"), safe_name("Möwe und Strandläufer"), safe_name("海鳥")
    ('wader-trail-round', 'mowe-und-strandlaufer', 'job')
    """
    plain = unicodedata.normalize("NFKD", name.casefold()).encode("ascii", "ignore").decode()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:60].strip("-") or "job"
