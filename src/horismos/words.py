"""Counts in sentences."""

__all__ = ["are", "plural"]


def plural(count: int, word: str, many: str = "") -> str:
    """A count with its word.

    >>> plural(2, "line"), plural(1, "line"), plural(2, "stretch", "stretches")
    ('2 lines', '1 line', '2 stretches')
    """
    return f"{count} {word if count == 1 else many or word + 's'}"


def are(count: int, one: str = "is", many: str = "are") -> str:
    """The verb that goes with a count."""
    return one if count == 1 else many
