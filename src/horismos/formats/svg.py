"""SVG path data (SVG 1.1, 8.3): absolute M, L, C and Z, y upwards as everywhere in the core."""

from collections.abc import Iterable, Mapping, Sequence
from xml.sax.saxutils import quoteattr

from horismos.paths import Contour
from horismos.paths.contour import Floats
from horismos.paths.pen import draw

__all__ = ["svg_path", "write_lines"]


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


def write_lines(
    layers: Mapping[str, Sequence[Floats]], origin_mm: tuple[float, float], size_mm: tuple[float, float],
    colours: Mapping[str, str],
) -> bytes:
    """A drawing of polylines in mm on a sheet, a group a layer; its zero is the origin, y downwards as SVG has it."""
    (ox, oy), (wide, long) = origin_mm, size_mm
    rows = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{long:g}mm" '
        f'viewBox="{-ox:.4f} {oy - long:.4f} {wide:.4f} {long:.4f}">'
    ]
    for name, lines in layers.items():
        label = quoteattr(name)
        rows.append(f'<g data-layer={label} fill="none" stroke="{colours[name]}" stroke-width="0.1">')
        for line in lines:
            places = ((line - origin_mm) * (1, -1)).tolist()
            rows.append('<path d="M' + "L".join(f"{x:.4f} {y:.4f}" for x, y in places) + '"/>')
        rows.append("</g>")
    return "\n".join([*rows, "</svg>\n"]).encode()
