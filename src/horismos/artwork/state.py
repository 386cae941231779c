"""The graphics and text state while content is run (ISO 32000-1, 8.4 and 9.3)."""

from collections.abc import Sequence
from typing import Any

from horismos.artwork.fonts import UsedFont
from horismos.artwork.layers import Membership
from horismos.artwork.model import BLACK, NO_DASH, Paint, PaintState
from horismos.artwork.spaces import DEVICE_SPACES, Space
from horismos.paths.box import Bounds
from horismos.paths.matrix import IDENTITY, Matrix

__all__ = ["GraphicsState", "matrix_of", "numbers_of", "rectangle_of"]

def numbers_of(args: Sequence[Any], count: int) -> list[float]:
    """The last ``count`` operands as numbers; missing ones are 0."""
    values = [float(v) if isinstance(v, int | float) else 0.0 for v in args[-count:]]
    return [0.0] * (count - len(values)) + values


def matrix_of(values: Any) -> Matrix:
    """Six numbers as a matrix; the identity for anything else."""
    try:
        a, b, c, d, e, f = map(float, values)
    except (TypeError, ValueError):
        return IDENTITY
    return (a, b, c, d, e, f)


def rectangle_of(values: Any) -> Bounds | None:
    """Four numbers as a box with its corners in order; None for anything else."""
    try:
        x0, y0, x1, y1 = map(float, values)
    except (TypeError, ValueError):
        return None
    return min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)


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
        self.group = -1
        self.line_cap = 0
        self.line_join = 0
        self.miter_limit = 10.0
        self.flatness = 0.0
        self.font: UsedFont | None = None
        self.font_size = 0.0
        self.char_space = 0.0
        self.word_space = 0.0
        self.scale = 1.0
        self.leading = 0.0
        self.rise = 0.0
        self.rendering_mode = 0
        self.named: dict[bool, tuple[int, str, Any]] = {}
        """The spaces chosen by name for strokes (true) and fills: in which run, under which name, which object."""
        self.set_by: dict[bool, int] = {}
        """Which colour operators of the page set the stroke (true) and the fill; only where they are noted."""
        self._made: tuple[Membership, PaintState] | None = None

    def saved(self) -> "GraphicsState":
        """A copy to be restored by ``Q``."""
        copy = GraphicsState.__new__(GraphicsState)
        copy.__dict__.update(self.__dict__)
        return copy

    def changed(self) -> None:
        """Forget the values made of this state."""
        self._made = None

    def values(self, member: Membership) -> PaintState:
        """The state as a value, shared by all that is painted until it changes."""
        if self._made is None or self._made[0] is not member:
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
                member.layers,
                self.grouped,
                self.group,
                member.visible,
                member.prints,
                self.line_cap,
                self.line_join,
                self.miter_limit,
                self.flatness,
            )
            self._made = (member, made)
        return self._made[1]

    def enter_group(self, index: int) -> None:
        """Begin a transparency group: what it is drawn with applies to it as a whole."""
        self.group = index
        self.grouped = self.grouped or (
            self.alpha_fill < 1 or self.blend not in ("Normal", "Compatible") or self.soft_mask
        )
        self.alpha_fill = self.alpha_stroke = 1.0
        self.blend, self.soft_mask = "Normal", False
        self.changed()
