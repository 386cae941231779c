"""SVG path data (SVG 1.1, 8.3): absolute M, L, C and Z, y upwards as everywhere in the core."""

from collections.abc import Iterable, Mapping, Sequence
from xml.sax.saxutils import quoteattr

from horismos.paths import Contour
from horismos.paths.contour import Floats
from horismos.paths.pen import Point, draw

__all__ = ["svg_path", "write_lines"]


class _PathData:
    def __init__(self, decimals: int) -> None:
        self.form = f"{{:.{decimals}f}} {{:.{decimals}f}}"
        self.parts: list[str] = []

    def moveTo(self, pt: Point, /) -> None:
        self.parts.append("M" + self.form.format(*pt))

    def lineTo(self, pt: Point, /) -> None:
        self.parts.append("L" + self.form.format(*pt))

    def curveTo(self, *points: Point) -> None:
        self.parts.append("C" + " ".join(self.form.format(*pt) for pt in points))

    def closePath(self) -> None:
        self.parts.append("Z")

    def endPath(self) -> None:
        pass


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
