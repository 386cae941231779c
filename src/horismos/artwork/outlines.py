"""The bounds and the contours of a font's glyphs, each read when it is asked for."""

from collections.abc import Callable
from typing import Any

from horismos.paths.box import Bounds
from horismos.paths.contour import Contour

__all__ = ["ASCENT", "DESCENT", "UNREADABLE", "Draw", "Outlines"]

ASCENT, DESCENT = 0.8, -0.25
"""[ours] the extent of a line of text whose outlines are not known, at size 1."""
UNREADABLE = (Exception,)
"""What the font library raises on a broken program is not listed anywhere."""


class Outlines:
    """The bounds and contours of a font's glyphs by character code, at size 1, each read once."""

    def __init__(
        self, box_of: Callable[[int], Bounds | None], contours_of: Callable[[int], list[Contour]] | None = None
    ) -> None:
        self._box_of = box_of
        self._contours_of = contours_of
        self._boxes: dict[int, Bounds | None] = {}
        self._contours: dict[int, list[Contour] | None] = {}

    def box(self, code: int) -> Bounds | None:
        """The bounds of a code's glyph; None for one that paints nothing."""
        if code not in self._boxes:
            try:
                self._boxes[code] = self._box_of(code)
            except UNREADABLE:
                self._boxes[code] = (0.0, DESCENT, 0.5, ASCENT)
        return self._boxes[code]

    def contours(self, code: int) -> list[Contour] | None:
        """The contours of a code's glyph, none for one that paints nothing; None where they cannot be had."""
        if code not in self._contours:
            try:
                self._contours[code] = self._contours_of(code) if self._contours_of else None
            except UNREADABLE:
                self._contours[code] = None
        return self._contours[code]


Draw = Callable[[int, Any], None]
"""Draws a code's glyph, in units of its font, with a pen of the font library; nothing where there is none."""
