"""What a hand changes on a line: nodes moved, added, taken away, made corners or curves, lines opened and joined.

An edit names a node by where it is, not by its number: so it still finds it when the steps before have changed the
line a little, and says so when it does not.
"""

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np

from horismos.errors import BadValue
from horismos.making.edit_values import Do
from horismos.paths.contour import Contour, Floats, straight_segments
from horismos.paths.fit import one_cubic
from horismos.paths.flatten import points_at
from horismos.paths.pen import ContourPen

__all__ = ["edited", "path_drawn"]

NEAR_MM = 0.6
"""[ours] so far from where it was a node may be and still be meant."""
TOKENS = re.compile(r"([MLCZ])|(-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?)")
MOST_TOKENS = 200_000
THIRD = 1 / 3


class NotThere(Exception):
    """An edit's place is on no line any more."""


# -- paths drawn by hand -----------------------------------------------------------------------------------------------


def path_drawn(data: str) -> list[Contour]:
    """The contours of SVG path data (SVG 1.1, 8.3) with absolute M, L, C and Z, in mm. Raises BadValue.

    >>> [c.node_count for c in path_drawn("M 0 0 L 9 0 L 9 9 Z")]
    [3]
    """
    pen, command, begun = ContourPen(), "", False
    numbers: list[float] = []
    rest = TOKENS.sub("", data).replace(",", " ").strip()
    found = TOKENS.findall(data)
    if rest or len(found) > MOST_TOKENS:
        raise BadValue(f"The path holds “{rest[:20]}”.", "Draw it with M, L, C and Z.")
    wants = {"M": 2, "L": 2, "C": 6}
    for letter, number in found:
        if letter:
            if numbers or (letter != "M" and not begun):
                raise BadValue("The path has too few numbers.", "Draw it anew.")
            command = letter
            if letter == "Z":
                pen.closePath()
            continue
        numbers.append(float(number))
        if command not in wants:
            raise BadValue("The path does not begin with M.", "Draw it anew.")
        if len(numbers) == wants[command]:
            first, *more = zip(numbers[::2], numbers[1::2], strict=True)
            if command == "M":
                pen.moveTo(first)
                begun, command = True, "L"
            elif command == "L":
                pen.lineTo(first)
            else:
                pen.curveTo(first, *more)
            numbers = []
    if numbers:
        raise BadValue("The path has too few numbers.", "Draw it anew.")
    return pen.contours


# -- edits -------------------------------------------------------------------------------------------------------------


def edited(contours: Sequence[Contour], edits: Sequence[Mapping[str, Any]]) -> tuple[list[Contour], list[str]]:
    """Contours after edits, one after the other, and what is to be said of those that found nothing."""
    out, lost = list(contours), 0
    for edit in edits:
        try:
            out = EDITS[Do(edit["do"])](out, edit)
        except NotThere:
            lost += 1
    words = [f"{lost} of {len(edits)} changes by hand found no node where they were made."] if lost else []
    return out, words


def _node(contours: Sequence[Contour], at: Sequence[float]) -> tuple[int, int]:
    """The contour and the node of it nearest to a place; an open one's last node counts as one more."""
    best = (NEAR_MM, -1, -1)
    for i, contour in enumerate(contours):
        nodes = _nodes(contour)
        far = np.hypot(*(nodes - at).T)
        j = int(far.argmin())
        if far[j] <= best[0]:
            best = (float(far[j]), i, j)
    if best[1] < 0:
        raise NotThere
    return best[1], best[2]


def _nodes(contour: Contour) -> Floats:
    nodes = contour.segments[:, 0]
    return nodes if contour.closed else np.vstack([nodes, contour.segments[-1:, 3]])


def _sides(contour: Contour, node: int) -> tuple[int | None, int | None]:
    """The segments that come to a node and go from it."""
    count = len(contour.segments)
    if contour.closed:
        return (node - 1) % count, node
    return (node - 1 if node else None), (node if node < count else None)


def _with(contours: Sequence[Contour], index: int, *new: Contour) -> list[Contour]:
    return [*contours[:index], *new, *contours[index + 1 :]]


def _changed(contour: Contour, change: Callable[[Floats, np.ndarray], None]) -> Contour:
    segments, straight = contour.segments.copy(), contour.straight.copy()
    change(segments, straight)
    flat = straight_segments(segments[straight][:, [0, 3]].reshape(-1, 2))[::2] if straight.any() else None
    if flat is not None:
        segments[straight] = flat
    return Contour(segments, straight, contour.closed)


def _move(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, node = _node(contours, edit["at"])
    contour = contours[i]
    by = np.asarray(edit["to"]) - _nodes(contour)[node]
    comes, goes = _sides(contour, node)

    def change(segments: Floats, straight: np.ndarray) -> None:
        if comes is not None:
            segments[comes, 2:] += by
        if goes is not None:
            segments[goes, :2] += by

    return _with(contours, i, _changed(contour, change))


def _handle(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, node = _node(contours, edit["at"])
    contour = contours[i]
    comes, goes = _sides(contour, node)
    own = comes if edit["side"] == "in" else goes
    if own is None:
        raise NotThere
    here, to = _nodes(contour)[node], np.asarray(edit["to"], float)
    smooth = comes is not None and goes is not None and _is_smooth(contour, comes, goes)

    def change(segments: Floats, straight: np.ndarray) -> None:
        straight[own] = False
        segments[own, 2 if edit["side"] == "in" else 1] = to
        other = goes if edit["side"] == "in" else comes
        if smooth and other is not None and not straight[other]:
            place = 1 if edit["side"] == "in" else 2
            long = np.hypot(*(segments[other, place] - here))
            way = (here - to) / max(float(np.hypot(*(here - to))), 1e-9)
            segments[other, place] = here + way * long

    return _with(contours, i, _changed(contour, change))


def _is_smooth(contour: Contour, comes: int, goes: int) -> bool:
    one = contour.segments[comes, 3] - contour.segments[comes, 2]
    other = contour.segments[goes, 1] - contour.segments[goes, 0]
    long = float(np.hypot(*one) * np.hypot(*other))
    return long > 0 and float(one @ other) / long > 0.9995


def _nearest(contours: Sequence[Contour], at: Sequence[float]) -> tuple[int, int, float]:
    """The contour, the segment and the parameter on it nearest to a place."""
    best = (float("inf"), -1, -1, 0.0)
    t = np.linspace(0, 1, 65)
    for i, contour in enumerate(contours):
        count = len(contour.segments)
        points = points_at(np.repeat(contour.segments, len(t), axis=0), np.tile(t, count))
        far = np.hypot(*(points - at).T)
        k = int(far.argmin())
        if far[k] < best[0]:
            best = (float(far[k]), i, k // len(t), float(t[k % len(t)]))
    if best[0] > NEAR_MM * 5:
        raise NotThere
    return best[1:]


def _add(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, segment, t = _nearest(contours, edit["at"])
    if not 0.001 < t < 0.999:
        raise NotThere
    contour = contours[i]
    p = contour.segments[segment]
    a, b, c = (p[k] + (p[k + 1] - p[k]) * t for k in range(3))
    d, e = a + (b - a) * t, b + (c - b) * t
    m = d + (e - d) * t
    two = np.stack([np.stack([p[0], a, d, m]), np.stack([m, e, c, p[3]])])
    segments = np.concatenate([contour.segments[:segment], two, contour.segments[segment + 1 :]])
    straight = np.insert(contour.straight, segment, contour.straight[segment])
    return _with(contours, i, Contour(segments, straight, contour.closed))


def _delete(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, node = _node(contours, edit["at"])
    contour = contours[i]
    comes, goes = _sides(contour, node)
    least = 3 if contour.closed and contour.straight.all() else 2
    if len(contour.segments) <= (least if contour.closed else 1):
        return _with(contours, i)
    if comes is None or goes is None:
        kept = slice(1, None) if comes is None else slice(None, -1)
        return _with(contours, i, Contour(contour.segments[kept], contour.straight[kept], False))
    first, second = contour.segments[comes], contour.segments[goes]
    both = contour.straight[comes] and contour.straight[goes]
    made = straight_segments(np.stack([first[0], second[3]]))[0] if both else _one_of_two(first, second)
    segments, straight = contour.segments.copy(), contour.straight.copy()
    segments[comes], straight[comes] = made, both
    keep = np.arange(len(segments)) != goes
    return _with(contours, i, Contour(segments[keep], straight[keep], contour.closed))


def _one_of_two(first: Floats, second: Floats) -> Floats:
    """One cubic for two: with their directions at the ends, as near to both as one comes."""
    t = np.linspace(0, 1, 40)
    points = np.vstack([points_at(np.repeat(first[None], 40, 0), t), points_at(np.repeat(second[None], 40, 0), t)[1:]])
    return one_cubic(points, first[1] - first[0], second[2] - second[3])


def _corner(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, node = _node(contours, edit["at"])
    contour = contours[i]
    comes, goes = _sides(contour, node)

    def change(segments: Floats, straight: np.ndarray) -> None:
        if comes is not None and not straight[comes]:
            p = segments[comes]
            p[2] = p[3] + (p[0] - p[3]) * THIRD
        if goes is not None and not straight[goes]:
            p = segments[goes]
            p[1] = p[0] + (p[3] - p[0]) * THIRD

    return _with(contours, i, _changed(contour, change))


def _curve(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, node = _node(contours, edit["at"])
    contour = contours[i]
    comes, goes = _sides(contour, node)
    if comes is None or goes is None:
        raise NotThere
    before, here, after = contour.segments[comes, 0], contour.segments[goes, 0], contour.segments[goes, 3]
    way = (after - before) / max(float(np.hypot(*(after - before))), 1e-9)

    def change(segments: Floats, straight: np.ndarray) -> None:
        straight[comes] = straight[goes] = False
        segments[comes, 2] = here - way * float(np.hypot(*(here - before))) * THIRD
        segments[goes, 1] = here + way * float(np.hypot(*(after - here))) * THIRD

    return _with(contours, i, _changed(contour, change))


def _open(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, node = _node(contours, edit["at"])
    contour = contours[i]
    if contour.closed:
        turned = contour.started_at(node)
        return _with(contours, i, Contour(turned.segments, turned.straight, False))
    if not 0 < node < len(contour.segments):
        raise NotThere
    parts = (slice(None, node), slice(node, None))
    return _with(contours, i, *(Contour(contour.segments[part], contour.straight[part], False) for part in parts))


def _join(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    one, a = _node(contours, edit["at"])
    other, b = _node(contours, edit["to"])
    ends = [node in (0, len(contours[i].segments)) and not contours[i].closed for i, node in ((one, a), (other, b))]
    if not all(ends) or (one == other and a == b):
        raise NotThere
    first = contours[one] if a else contours[one].reversed()
    if one == other:
        parts, straight = [first.segments], [first.straight]
        gap = np.stack([first.end, first.start])
    else:
        second = contours[other] if not b else contours[other].reversed()
        parts, straight = [first.segments, second.segments], [first.straight, second.straight]
        gap = np.stack([first.end, second.start])
    if float(np.hypot(*(gap[1] - gap[0]))) > 1e-6:
        parts.insert(1, straight_segments(gap))
        straight.insert(1, np.ones(1, bool))
    joined = Contour(np.concatenate(parts), np.concatenate(straight), one == other)
    kept = [c for i, c in enumerate(contours) if i not in (one, other)]
    return [*kept, joined]


def _take(contours: Sequence[Contour], edit: Mapping[str, Any]) -> list[Contour]:
    i, _, _ = _nearest(contours, edit["at"])
    return _with(contours, i)


EDITS: Mapping[Do, Callable[[Sequence[Contour], Mapping[str, Any]], list[Contour]]] = {
    Do.MOVE: _move, Do.HANDLE: _handle, Do.ADD: _add, Do.DELETE: _delete, Do.CORNER: _corner, Do.CURVE: _curve,
    Do.OPEN: _open, Do.JOIN: _join, Do.TAKE: _take,
}
"""How each is done."""
