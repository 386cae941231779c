"""ISO 6983 code for flat tables: straight and circular moves with feed, tools and pauses. In mm, absolute.

[standard, from memory] ISO 6983-1: G0 travels, G1 cuts straight, G2 clockwise and G3 counter-clockwise round I and J,
which count from where the arc begins; G21 mm, G90 absolute, F mm a minute, T with M6 changes the tool, M0 waits for a
person, M30 ends. [ours] The tool is down at Z0, which the table sets for its depth, and up at Z5; no force can be told,
so that it is only said, and what is tied with less force is tied by lifting the tool.
"""

import math
import re
from collections.abc import Sequence

import numpy as np

from horismos.cutting import Operation
from horismos.cutting.proof import worst_of_lines
from horismos.errors import CannotWrite
from horismos.formats.gcode import TableStroke, read_gcode
from horismos.machines import Dialect
from horismos.paths import greatest_distance
from horismos.paths.contour import Floats
from horismos.release.cut_formats.register import CutFormat, Cutting, register

__all__: list[str] = []

UP_MM = 5.0
ROUND_MM = 0.003
"""[ours] points that lie on a circle within so much are cut as an arc."""
LEAST_ON_ARC, MOST_RADIUS_MM, MOST_SWEEP = 5, 5_000.0, math.radians(170)
SAME_FEED = 0.01


def _to_table(points: Floats, origin_mm: tuple[float, float], dialect: Dialect) -> Floats:
    """Places as the table counts them, with the zero and the axes that the cutter has in HP-GL."""
    placed = (points - origin_mm) * (-1 if dialect.right else 1, 1)
    return placed[:, ::-1] if dialect.turned else placed


def _to_sheet(points: Floats, origin_mm: tuple[float, float], dialect: Dialect) -> Floats:
    placed = points[:, ::-1] if dialect.turned else points
    return placed * (-1 if dialect.right else 1, 1) + origin_mm


# -- writing ---------------------------------------------------------------------------------------------------------


def _write(cutting: Cutting) -> bytes:
    plan, holders = cutting.plan, cutting.plan.cutter.holders
    words = {pause.before: pause.words for pause in plan.pauses}
    numbers = {id(operation): i for i, operation in enumerate(plan.operations)}
    out = ["G21", "G90", f"G0 Z{UP_MM:g}"]
    tool: int | None = None
    told = False
    for operation in cutting.operations:
        own = operation.tool
        if own.number != tool:
            said = words.get(numbers[id(operation)], "")
            if said or (tool is None and own.number > holders):
                out.append(f"M0 ({_comment(said or f'Put tool {own.number} in.')})")
            out.append(f"T{own.number} M6")
            tool = own.number
        force = "" if own.sent_gf is None else f", {own.sent_gf:g} gf"
        out.append(f"({_comment(operation.words + force)})")
        # a feed holds until another is said: who is left to the machine gets what it cuts with, not the last tool's
        speed = own.speed_mm_s or (plan.cutter.cut_speed_mm_s if told else None)
        told = told or own.speed_mm_s is not None
        feed = "" if speed is None else f" F{speed * 60:g}"
        for line in _cut_lines(operation):
            out += _stroke(_to_table(line, plan.origin_mm, plan.cutter.dialect), feed)
    return "\n".join([*out, "M30", ""]).encode("ascii")


def _comment(text: str) -> str:
    """What a control shows: plain letters, and none of the brackets that would end it."""
    return re.sub(r"[^ -~]|[()]", "", text)


def _cut_lines(operation: Operation) -> list[Floats]:
    """What is cut with the tool down, in mm on the sheet: ties of less force are left out."""
    own = operation.tool
    if not (own.perforates and own.tie_force_gf):
        return [stroke.holder for stroke in operation.strokes]
    parts = [part for stroke in operation.strokes for part in stroke.parts]
    return [part.points for part in parts if part.force_gf != own.tie_force_gf and len(part.points) > 1]


def _stroke(points: Floats, feed: str) -> list[str]:
    """One stroke: a travel to its begin, the tool down, its moves, the tool up."""
    points = points.round(4)
    points = points[np.concatenate([[True], np.any(np.diff(points, axis=0) != 0, axis=1)])]
    if len(points) < 2:
        return []  # shorter than the table can tell
    out = [f"G0 X{_mm(points[0, 0])} Y{_mm(points[0, 1])}", f"G1 Z0{feed}"]
    at = 0
    while at < len(points) - 1:
        arc = _arc_from(points, at)
        if arc is None:
            at += 1
            out.append(f"G1 X{_mm(points[at, 0])} Y{_mm(points[at, 1])}{feed}")
            continue
        end, middle, left = arc
        i, j = middle - points[at]
        at = end
        word = "G3" if left else "G2"
        out.append(f"{word} X{_mm(points[at, 0])} Y{_mm(points[at, 1])} I{_mm(i)} J{_mm(j)}{feed}")
    return [*out, f"G0 Z{UP_MM:g}"]


def _mm(value: float) -> str:
    """A length to a ten-thousandth, without a point that nothing follows.

    >>> _mm(-0.00001), _mm(12.5), _mm(3.0)
    ('0', '12.5', '3')
    """
    text = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _arc_from(points: Floats, at: int) -> tuple[int, Floats, bool] | None:
    """The longest arc that goes along points from one of them: its last point, its middle, whether it turns left."""
    best, size = None, LEAST_ON_ARC
    while at + size <= len(points):
        found = _circle(points[at : at + size])
        if found is None:
            break
        best = (at + size - 1, *found)
        if at + size == len(points):
            break
        size = min(size * 2, len(points) - at)
    if best is None:
        return None
    low, high = best[0] - at + 1, min(size, len(points) - at)
    while low < high:  # between the last that is one and the first that is none
        middle = (low + high + 1) // 2
        found = _circle(points[at : at + middle])
        if found is None:
            high = middle - 1
        else:
            low, best = middle, (at + middle - 1, *found)
    return best


def _circle(points: Floats) -> tuple[Floats, bool] | None:
    """The middle of the circle through the first, middle and last of points that all lie along it, and its sense."""
    a, b, c = points[0], points[len(points) // 2], points[-1]
    u, v = b - a, c - a
    cross = float(u[0] * v[1] - u[1] * v[0])
    if abs(cross) < 1e-9:
        return None
    uu, vv = float(u @ u), float(v @ v)
    middle = a + np.array([v[1] * uu - u[1] * vv, u[0] * vv - v[0] * uu]) / (2 * cross)
    # the end is written, and the radius has to be the same there
    radius = float(np.hypot(*(a - middle)))
    if radius > MOST_RADIUS_MM or np.abs(np.hypot(*(points - middle).T) - radius).max() > ROUND_MM:
        return None
    turns = np.unwrap(np.arctan2(*(points - middle).T[::-1]))
    steps = np.diff(turns)
    left = bool(steps[0] > 0)
    if not ((steps > 0) == left).all() or abs(float(turns[-1] - turns[0])) > MOST_SWEEP:
        return None
    # between two points an arc leaves their chord: further than points that follow a bend would be apart
    bulge = radius * (1 - np.cos(np.abs(steps).max() / 2))
    return None if bulge > 10 * ROUND_MM else (middle, left)


# -- read back --------------------------------------------------------------------------------------------------------


def _off(data: bytes, cutting: Cutting) -> float:
    plan = cutting.plan
    strokes = read_gcode(data)
    worst, at = 0.0, 0
    for operation in cutting.operations:
        planned = [line for line in _cut_lines(operation) if len(np.unique(line.round(4), axis=0)) > 1]
        own = strokes[at : at + len(planned)]
        at += len(planned)
        if len(own) != len(planned) or any(not _as_set(one, operation) for one in own):
            raise CannotWrite(f"The code has other strokes, another tool or feed for the {operation.words}.")
        written = [_to_sheet(one.points, plan.origin_mm, plan.cutter.dialect) for one in own]
        worst = max(worst, _worst(operation, planned, written))
    if at != len(strokes):
        raise CannotWrite("The code has another number of strokes than the plan.")
    return worst


def _as_set(stroke: TableStroke, operation: Operation) -> bool:
    own = operation.tool
    feed = None if own.speed_mm_s is None else own.speed_mm_s * 60
    return stroke.tool == own.number and (feed is None or abs((stroke.feed_mm_min or 0.0) - feed) < SAME_FEED)


def _worst(operation: Operation, planned: Sequence[Floats], written: Sequence[Floats]) -> float:
    if not planned:
        return 0.0
    if operation.tool.perforates and operation.tool.tie_force_gf:
        return greatest_distance(planned, written)
    return worst_of_lines(operation, written)


register(CutFormat("gcode", "ISO 6983 code", _write, _off, lambda cutter: "nc"))
