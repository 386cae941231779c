"""SVG path data (SVG 1.1, 8.3): absolute M, L, C and Z, y upwards as everywhere in the core."""

from collections.abc import Iterable

from horismos.paths import Contour
from horismos.paths.pen import draw

__all__ = ["svg_path"]


class _PathData:
    def __init__(self, decimals: int) -> None:
        self.form = f"{{:.{decimals}f}} {{:.{decimals}f}}"
        self.parts: list[str] = []

    def move_to(self, x: float, y: float) -> None:
        self.parts.append("M" + self.form.format(x, y))

    def line_to(self, x: float, y: float) -> None:
        self.parts.append("L" + self.form.format(x, y))

    def curve_to(self, *points: float) -> None:
        ends = (self.form.format(points[i], points[i + 1]) for i in (0, 2, 4))
        self.parts.append("C" + " ".join(ends))

    def close(self) -> None:
        self.parts.append("Z")


def svg_path(contours: Iterable[Contour], decimals: int = 3) -> str:
    """Contours as path data in their own units.

    >>> from horismos.paths import rectangle
    >>> svg_path([rectangle(0, 0, 2, 1)], 0)
    'M0 0L2 0L2 1L0 1L0 0Z'
    """
    pen = _PathData(decimals)
    draw(contours, pen)
    return "".join(pen.parts)
