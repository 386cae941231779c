"""Counts in sentences, and names of files."""

import re
import unicodedata

__all__ = ["are", "plural", "safe_name"]


def plural(count: int, word: str, many: str = "") -> str:
    """A count with its word.

    >>> plural(2, "line"), plural(1, "line"), plural(2, "stretch", "stretches")
    ('2 lines', '1 line', '2 stretches')
    """
    return f"{count} {word if count == 1 else many or word + 's'}"


def are(count: int, one: str = "is", many: str = "are") -> str:
    """The verb that goes with a count."""
    return one if count == 1 else many


def safe_name(name: str) -> str:
    """A name that is safe as the beginning of a file's name on any system; accents fall away.

    >>> safe_name("Wader trail / round"), safe_name("Möwe und Strandläufer"), safe_name("海鳥")
    ('wader-trail-round', 'mowe-und-strandlaufer', 'job')
    """
    plain = unicodedata.normalize("NFKD", name.casefold()).encode("ascii", "ignore").decode()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:60].strip("-") or "job"
