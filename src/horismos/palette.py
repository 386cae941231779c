"""Colours that mean something, alike on screen, in pictures and on paper. The line roles' stand in ``roles``."""

__all__ = ["INK", "LOOK", "NOTE", "STOP", "rgb"]

STOP = "#B3261E"
"""[ours] the only red there is: kept for what stops a job."""
LOOK = "#6B5300"
NOTE = "#6B6B6B"
INK = "#1A1A1A"
"""[ours] of words and of lines whose role is not known."""


def rgb(colour: str) -> tuple[int, int, int]:
    """A colour as red, green and blue, 0 to 255.

    >>> rgb("#B3261E")
    (179, 38, 30)
    """
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)
