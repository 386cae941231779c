"""Shapes known exactly, drawn into pixels as an anti-aliasing renderer does: each pixel by the area that is covered."""

import io

import numpy as np
import shapely
from PIL import Image
from shapely import affinity

PPI = 300.0
PX_MM = 25.4 / PPI
SIDE_MM = 60.0
ROWS_A_PIXEL = 16


def coverage(shape: shapely.Geometry, side_mm: float = SIDE_MM, ppi: float = PPI) -> np.ndarray:
    """How much of each pixel a shape in mm (y up) covers, 0 to 255: exact along x, by sixteen rows along y."""
    k = ppi / 25.4
    size = round(side_mm * k)
    rings = [np.asarray(r.coords) for p in shapely.get_parts(shape) for r in (p.exterior, *p.interiors)]
    sides = np.vstack([np.hstack([r[:-1], r[1:]]) for r in rings]) * k
    sides[:, [1, 3]] = size - sides[:, [1, 3]]
    out = np.zeros((size, size + 1))
    for row in range(size * ROWS_A_PIXEL):
        y = (row + 0.5) / ROWS_A_PIXEL
        crossed = sides[(sides[:, 1] <= y) != (sides[:, 3] <= y)]
        x0, y0, x1, y1 = crossed.T
        x = np.sort(x0 + (y - y0) / (y1 - y0) * (x1 - x0))
        line = out[row // ROWS_A_PIXEL]
        for a, b in zip(x[::2], x[1::2], strict=True):
            first, last = int(a), int(b)
            if first == last:
                line[first] += b - a
            else:
                line[first] += first + 1 - a
                line[first + 1 : last] += 1
                line[last] += b - last
    return np.rint(out[:, :size] / ROWS_A_PIXEL * 255).astype(np.uint8)


def png(alpha: np.ndarray, ppi: float = PPI) -> bytes:
    """A picture in one colour with this alpha."""
    pixels = np.zeros((*alpha.shape, 4), np.uint8)
    pixels[..., :3], pixels[..., 3] = (40, 110, 90), alpha
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", dpi=(ppi, ppi))
    return out.getvalue()


def _cubics(nodes: list[tuple[float, float]]) -> np.ndarray:
    """A smooth closed curve through nodes, as points: a cubic from each to the next."""
    at = np.array(nodes)
    way = (np.roll(at, -1, axis=0) - np.roll(at, 1, axis=0)) / 6
    t = np.linspace(0, 1, 300, endpoint=False)[:, None]
    parts = []
    for i in range(len(at)):
        a, d = at[i], at[(i + 1) % len(at)]
        b, c = a + way[i], d - way[(i + 1) % len(at)]
        parts.append((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d)
    return np.vstack(parts)


def star(points: int, outer: float, inner: float, turned: float = 0.1) -> shapely.Geometry:
    """A star about the middle."""
    angle = turned + np.arange(2 * points) * np.pi / points
    radius = np.where(np.arange(2 * points) % 2, inner, outer)
    return shapely.Polygon(SIDE_MM / 2 + radius[:, None] * np.column_stack([np.sin(angle), np.cos(angle)]))


def gear(teeth: int = 12) -> shapely.Geometry:
    """A gear with straight teeth."""
    turns = ((18, 0.0), (18, 0.4), (24, 0.47), (24, 0.93))
    at = [(r, 2 * np.pi * (i + share) / teeth) for i in range(teeth) for r, share in turns]
    return shapely.Polygon([(SIDE_MM / 2 + r * np.cos(a), SIDE_MM / 2 + r * np.sin(a)) for r, a in at])


MIDDLE = shapely.Point(SIDE_MM / 2, SIDE_MM / 2)
WAVE = shapely.LineString(_cubics([(8, 20), (24, 40), (40, 18), (54, 36), (30, 56)])[40:860])
SHAPES: dict[str, shapely.Geometry] = {
    "circle": MIDDLE.buffer(27, quad_segs=1000),
    "blob": shapely.Polygon(_cubics([(12, 9), (47, 16), (50, 40), (30, 53), (7, 37)])),
    "star": star(5, 27, 11),
    "sharp star": star(9, 27, 10, 0.05),
    "gear": gear(),
    "rounded square": shapely.box(14, 16, 46, 44).buffer(5, quad_segs=300),
    "small corners": shapely.box(11.3, 12.2, 48.1, 46.4).buffer(1.0, quad_segs=100),
    "turned square": affinity.rotate(shapely.box(15, 15, 45, 45), 17),
    "thin stroke": WAVE.buffer(0.35, quad_segs=32, cap_style="flat"),
    "ring": MIDDLE.buffer(24, quad_segs=600).difference(MIDDLE.buffer(18, quad_segs=600)),
}


def apart(one: list[np.ndarray], other: shapely.Geometry) -> float:
    """The greatest distance in mm between outlines, shape (n, 2) each, and the edge of a shape, from both sides."""
    edge = shapely.boundary(other)
    lines = shapely.MultiLineString([np.vstack([p, p[:1]]) for p in one])
    there = shapely.get_coordinates(shapely.segmentize(lines, 0.05))
    back = shapely.get_coordinates(shapely.segmentize(edge, 0.05))
    return max(
        float(shapely.distance(shapely.points(there), edge).max()),
        float(shapely.distance(shapely.points(back), lines).max()),
    )
