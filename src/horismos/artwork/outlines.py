"""The bounds of a font's glyphs, each read when it is asked for."""

from collections.abc import Callable

from horismos.paths.box import Bounds

__all__ = ["ASCENT", "DESCENT", "UNREADABLE", "Outlines"]

ASCENT, DESCENT = 0.8, -0.25
"""[ours] the extent of a line of text whose outlines are not known, at size 1."""
UNREADABLE = (Exception,)
"""What the font library raises on a broken program is not listed anywhere."""


class Outlines:
    """The bounds of a font's glyphs by character code, at size 1, each read once."""

    def __init__(self, box_of: Callable[[int], Bounds | None]) -> None:
        self._box_of = box_of
        self._boxes: dict[int, Bounds | None] = {}

    def box(self, code: int) -> Bounds | None:
        """The bounds of a code's glyph; None for one that paints nothing."""
        if code not in self._boxes:
            try:
                self._boxes[code] = self._box_of(code)
            except UNREADABLE:
                self._boxes[code] = (0.0, DESCENT, 0.5, ASCENT)
        return self._boxes[code]
