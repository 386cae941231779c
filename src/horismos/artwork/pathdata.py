"""Path construction operators (ISO 32000-1, 8.5.2) into contours, whole runs as arrays."""

import re
from collections.abc import Sequence

import numpy as np

from horismos.artwork.scan import NUMBER
from horismos.paths.box import union_bounds
from horismos.paths.contour import Contour, Floats
from horismos.paths.matrix import Matrix
from horismos.paths.measure import bounds
from horismos.paths.pen import Point, draw

__all__ = ["contours_of", "hull_boxes", "parse_path", "path_operators"]

LETTERS_TO_SPACE = bytes.maketrans(b"mlcvyhre\0", b" " * 9)
NOT_OPERATORS = b"0123456789.+-eE \t\r\n\f\0"
COUNTS = np.zeros(256, dtype=int)
for _letter, _count in zip(b"mlcvyhr", (2, 2, 6, 4, 4, 0, 4), strict=True):
    COUNTS[_letter] = _count
M, L, C, V, Y, H, R = b"mlcvyhr"


def parse_path(data: bytes) -> tuple[np.ndarray, Floats]:
    """Operators, shape (n,) as letter codes with ``re`` as r, and all their numbers in a row."""
    if b"%" in data:
        data = re.sub(rb"%[^\r\n]*", b" ", data)
    codes = np.frombuffer(data.translate(None, NOT_OPERATORS), dtype=np.uint8)
    text = data.translate(LETTERS_TO_SPACE)
    try:
        numbers = np.array(text.split(), dtype=bytes).astype(float)
    except ValueError:
        numbers = np.array([_tolerant(n) for n in NUMBER.findall(text)], dtype=float)
    codes = codes[COUNTS[codes] + (codes == H) > 0]
    needed = np.cumsum(COUNTS[codes])
    codes = codes[needed <= len(numbers)]
    return codes, numbers[: int(COUNTS[codes].sum())]


def hull_boxes(paths: Sequence[tuple[bytes, Matrix]]) -> Floats:
    """For each path, with its matrix to mm, a box round all its points, its controls included; shape (n, 4).

    Never smaller than the path's bounds, and found for thousands of paths in one go; nan where a path has no
    points or is not plain numbers and operators.
    """
    out = np.full((len(paths), 4), np.nan)
    plain = [i for i, (data, _) in enumerate(paths) if b"re" not in data and b"%" not in data]
    for i in set(range(len(paths))) - set(plain):
        found = union_bounds(map(bounds, contours_of(*paths[i])))
        if found is not None:
            out[i] = found
    joined = b" nan ".join(paths[i][0].translate(LETTERS_TO_SPACE) for i in plain)
    try:
        numbers = np.array(joined.split(), dtype=bytes).astype(float) if plain else np.empty(0)
    except ValueError:
        return out
    ends = np.append(np.flatnonzero(np.isnan(numbers)), len(numbers))
    starts = np.append(0, ends[:-1] + 1)
    owner = np.repeat(np.arange(len(plain)), ends - starts)
    values = numbers[~np.isnan(numbers)]
    even = ((ends - starts) % 2 == 0) & (ends > starts)
    keep = even[owner] if len(owner) else np.empty(0, bool)
    points, owner = values[keep].reshape(-1, 2), owner[keep][::2]
    if not len(points):
        return out
    m = np.array([paths[i][1] for i in plain])[owner]
    x = points[:, 0] * m[:, 0] + points[:, 1] * m[:, 2] + m[:, 4]
    y = points[:, 0] * m[:, 1] + points[:, 1] * m[:, 3] + m[:, 5]
    first = np.flatnonzero(np.diff(owner, prepend=-1))
    rows = np.array(plain)[owner[first]]
    for column, values, least in ((0, x, True), (1, y, True), (2, x, False), (3, y, False)):
        out[rows, column] = (np.minimum if least else np.maximum).reduceat(values, first)
    return out


def _tolerant(raw: bytes) -> float:
    return float(re.sub(rb"^[-+]+(?=[-+])", b"", raw))


def _plain(codes: np.ndarray, numbers: Floats) -> tuple[np.ndarray, Floats]:
    """Rectangles as move, lines and close; a move where a segment follows a close."""
    after_close = np.zeros(len(codes), dtype=bool)
    after_close[1:] = (codes[:-1] == H) | (codes[:-1] == R)
    after_close &= (codes != M) & (codes != R) & (codes != H)
    if not (codes == R).any() and not after_close.any():
        return codes, numbers
    out_codes: list[int] = []
    out: list[Floats] = []
    at = 0
    start = np.zeros(2)
    for code, reopen in zip(codes, after_close, strict=True):
        own = numbers[at : at + COUNTS[code]]
        at += COUNTS[code]
        if reopen:
            out_codes.append(M)
            out.append(start)
        if code == R:
            x, y, w, h = own
            out_codes += [M, L, L, L, H]
            out.append(np.array([x, y, x + w, y, x + w, y + h, x, y + h]))
            start = np.array([x, y])
            continue
        if code == M:
            start = own
        out_codes.append(int(code))
        out.append(own)
    return np.array(out_codes, dtype=np.uint8), np.concatenate(out) if out else numbers[:0]


def contours_of(data: bytes, matrix: Matrix, close_last: bool = False) -> list[Contour]:
    """The contours, in mm, of the path construction in ``data`` under a matrix to mm.

    A subpath of a move alone gives no contour. ``close_last`` closes the last one, as the
    painting operators ``s b b*`` do.
    """
    codes, numbers = _plain(*parse_path(data))
    if not len(codes):
        return []
    counts = COUNTS[codes]
    behind = np.cumsum(counts)
    first = behind - counts
    subpath = np.cumsum(codes == M) - 1
    if subpath[0] < 0:  # segments before any move: nothing to start from
        codes, counts, behind, first = (a[subpath >= 0] for a in (codes, counts, behind, first))
        subpath = subpath[subpath >= 0]
        if not len(codes):
            return []
    points = numbers.reshape(-1, 2)
    last = np.maximum(behind // 2 - 1, 0)
    moves = np.flatnonzero(codes == M)
    starts = points[first[moves] // 2]
    ends = np.where((codes == H)[:, None], starts[subpath], points[last])
    before = np.vstack([ends[:1], ends[:-1]])

    drawn = codes != M
    p0, p3 = before[drawn], ends[drawn]
    kinds, head = codes[drawn], first[drawn] // 2
    p1, p2 = p0 + (p3 - p0) / 3, p3 - (p3 - p0) / 3
    is_c, is_v, is_y = kinds == C, kinds == V, kinds == Y
    p1[is_c], p2[is_c] = points[head[is_c]], points[head[is_c] + 1]
    p1[is_v], p2[is_v] = p0[is_v], points[head[is_v]]
    p1[is_y], p2[is_y] = points[head[is_y]], p3[is_y]
    segments = np.stack([p0, p1, p2, p3], axis=1)
    straight = (kinds == L) | (kinds == H)
    owner = subpath[drawn]
    closing = kinds == H
    closed = np.zeros(len(moves), dtype=bool)
    closed[owner[closing]] = True
    if close_last and len(moves):
        closed[-1] = True

    nothing = closing & (np.abs(p3 - p0).sum(axis=1) == 0)
    segments, straight, owner = segments[~nothing], straight[~nothing], owner[~nothing]
    a, b, c, d, e, f = matrix
    segments = segments @ np.array([[a, b], [c, d]]) + (e, f)
    cuts = np.flatnonzero(np.diff(owner)) + 1
    out = []
    for piece, flags, of in zip(
        np.split(segments, cuts), np.split(straight, cuts), np.split(owner, cuts), strict=True
    ):
        if len(piece):
            out.append(_closed(piece, flags) if closed[of[0]] else Contour(piece, flags, False))
    return out


def _closed(segments: Floats, straight: np.ndarray) -> Contour:
    """A closed contour, with the closing segment that the operator draws if the ends differ."""
    start, end = segments[0, 0], segments[-1, 3]
    if np.abs(end - start).sum() > 0:
        closing = np.stack([end, end + (start - end) / 3, start - (start - end) / 3, start])
        segments = np.concatenate([segments, closing[None]])
        straight = np.append(straight, True)
    return Contour(segments, straight, True)


def path_operators(contours: Sequence[Contour], matrix: Matrix) -> bytes:
    """The path construction operators that draw contours (mm) under a matrix to mm.

    Written to a millionth of a user-space unit. Raises ValueError for a matrix that cannot be
    turned round.
    """
    a, b, c, d, e, f = matrix
    det = a * d - b * c
    if abs(det) < 1e-18:
        raise ValueError("The matrix flattens everything to a line.")
    inverse = (d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det)
    pen = _Operators()
    draw((contour.transformed(inverse) for contour in contours), pen)
    return "\n".join(pen.parts).encode()


class _Operators:
    """Writes path construction operators (ISO 32000-1, table 59)."""

    def __init__(self) -> None:
        self.parts: list[str] = []

    def moveTo(self, pt: Point, /) -> None:
        self.parts.append(f"{pt[0]:.6f} {pt[1]:.6f} m")

    def lineTo(self, pt: Point, /) -> None:
        self.parts.append(f"{pt[0]:.6f} {pt[1]:.6f} l")

    def curveTo(self, *points: Point) -> None:
        self.parts.append(" ".join(f"{x:.6f} {y:.6f}" for x, y in points) + " c")

    def closePath(self) -> None:
        self.parts.append("h")

    def endPath(self) -> None:
        pass
