"""How heavy a piece of work is, by the bytes of the files that it is on: light ones go before heavy ones."""

from enum import StrEnum

__all__ = ["Weight", "weight_of"]

SMALL_BYTES, LARGE_BYTES = 10_000_000, 80_000_000
"""[ours] most files of a shop are smaller than the first; a file beyond the second takes minutes."""


class Weight(StrEnum):
    """A queue of its own for each, the one that goes first named first."""

    SMALL = "small"
    USUAL = "usual"
    LARGE = "large"


def weight_of(file_bytes: int) -> Weight:
    """The weight of work on files of so many bytes.

    >>> weight_of(300_000_000)
    <Weight.LARGE: 'large'>
    """
    if file_bytes < SMALL_BYTES:
        return Weight.SMALL
    return Weight.USUAL if file_bytes < LARGE_BYTES else Weight.LARGE
