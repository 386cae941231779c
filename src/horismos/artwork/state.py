"""The graphics and text state while content is run (ISO 32000-1, 8.4 and 9.3)."""

import copy

from horismos.artwork.fonts import UsedFont
from horismos.artwork.model import BLACK, NO_DASH, Paint, PaintState
from horismos.artwork.spaces import DEVICE_SPACES, Space
from horismos.paths.contour import Matrix

__all__ = ["IDENTITY", "GraphicsState", "multiply"]

IDENTITY: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


def multiply(m: Matrix, n: Matrix) -> Matrix:
    """The matrix that applies ``m`` first and ``n`` behind it.

    >>> multiply((1, 0, 0, 1, 5, 0), (2, 0, 0, 2, 0, 0))
    (2, 0, 0, 2, 10, 0)
    """
    a, b, c, d, e, f = m
    g, h, i, j, k, o = n
    return (
        a * g + b * i,
        a * h + b * j,
        c * g + d * i,
        c * h + d * j,
        e * g + f * i + k,
        e * h + f * j + o,
    )


class GraphicsState:
    """Mutable; ``q`` copies it. Fields as in PaintState, with what only text needs."""

    def __init__(self, ctm: Matrix) -> None:
        self.ctm = ctm
        self.stroke_space: Space = DEVICE_SPACES["DeviceGray"]
        self.fill_space: Space = DEVICE_SPACES["DeviceGray"]
        self.stroke: Paint = BLACK
        self.fill: Paint = BLACK
        self.line_width = 1.0
        self.dash = NO_DASH
        self.overprint_stroke = False
        self.overprint_fill = False
        self.overprint_mode = 0
        self.alpha_stroke = 1.0
        self.alpha_fill = 1.0
        self.blend = "Normal"
        self.soft_mask = False
        self.clip = -1
        self.grouped = False
        self.font: UsedFont | None = None
        self.font_size = 0.0
        self.char_space = 0.0
        self.word_space = 0.0
        self.scale = 1.0
        self.leading = 0.0
        self.rise = 0.0
        self.rendering_mode = 0
        self._made: tuple[tuple[int, ...], PaintState] | None = None

    def saved(self) -> "GraphicsState":
        """A copy to be restored by ``Q``."""
        return copy.copy(self)

    def changed(self) -> None:
        """Forget the values made of this state."""
        self._made = None

    def values(self, layers: tuple[int, ...]) -> PaintState:
        """The state as a value, shared by all that is painted until it changes."""
        if self._made is None or self._made[0] is not layers:
            made = PaintState(
                self.ctm,
                self.stroke,
                self.fill,
                self.line_width,
                self.dash,
                self.overprint_stroke,
                self.overprint_fill,
                self.overprint_mode,
                self.alpha_stroke,
                self.alpha_fill,
                self.blend,
                self.soft_mask,
                self.clip,
                layers,
                self.grouped,
            )
            self._made = (layers, made)
        return self._made[1]

    def enter_group(self) -> None:
        """Begin a transparency group: what it is drawn with applies to it as a whole."""
        self.grouped = self.grouped or (
            self.alpha_fill < 1 or self.blend not in ("Normal", "Compatible") or self.soft_mask
        )
        self.alpha_fill = self.alpha_stroke = 1.0
        self.blend, self.soft_mask = "Normal", False
        self.changed()
