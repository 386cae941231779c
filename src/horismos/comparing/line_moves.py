"""What became of the lines of a page in a later one: which came, went, moved, and are painted otherwise."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from horismos.artwork.lines import Line
from horismos.paths import Contour, bounds, flatten
from horismos.paths.box import Bounds
from horismos.paths.contour import Floats
from horismos.paths.distance import greatest_distance

__all__ = ["LineMoves", "RoleMoves", "line_moves"]

FLATTEN_MM = 0.002
STEP_MM = 0.25
UNMOVED_MM = 0.01
"""[ours] what rounding in a file that was written anew moves a line by at most."""
COUNTERPART_MM = 5.0
"""Farther away than this a line is another one."""


@dataclass(frozen=True)
class RoleMoves:
    """How many contours of a role came, went, moved, and are painted otherwise: width, tint, dashes or overprint."""

    added: int = 0
    removed: int = 0
    moved: int = 0
    painted: int = 0

    def __add__(self, other: "RoleMoves") -> "RoleMoves":
        """Both together."""
        return RoleMoves(
            self.added + other.added, self.removed + other.removed, self.moved + other.moved,
            self.painted + other.painted,
        )


@dataclass(frozen=True)
class LineMoves:
    """The greatest distance between counterparts in mm, and what became of the contours by role or ink.

    ``places`` are the boxes of these contours in mm, each with its role or ink and the field of ``RoleMoves``.
    """

    moved_mm: float = 0.0
    by_role: Mapping[str, RoleMoves] = field(default_factory=dict)
    places: tuple[tuple[str, str, Bounds], ...] = ()

    @property
    def same(self) -> bool:
        """Whether nothing became of any."""
        return not self.by_role


@dataclass(frozen=True, eq=False)
class _Course:
    """A contour with the line that it is of, as a polyline in mm, and its box."""

    line: Line
    points: Floats
    box: Floats


def line_moves(old: Iterable[Line], new: Iterable[Line]) -> LineMoves:
    """What became of lines; both in mm of their trim."""
    was, now = _by_name(old), _by_name(new)
    moved, out, places = 0.0, dict[str, RoleMoves](), list[tuple[str, str, Bounds]]()
    for name in sorted({*was, *now}):
        before, after = was.get(name, []), now.get(name, [])
        pairs = _counterparts(before, after)
        far = [distance for _, _, distance in pairs]
        moved = max([moved, *far])
        kept, still = {i for i, _, _ in pairs}, {j for _, j, _ in pairs}
        became = {
            "added": [one for j, one in enumerate(after) if j not in still],
            "removed": [one for i, one in enumerate(before) if i not in kept],
            "moved": [after[j] for _, j, distance in pairs if distance > UNMOVED_MM],
            "painted": [after[j] for i, j, _ in pairs if _painted(before[i].line, after[j].line)],
        }
        found = RoleMoves(**{what: len(of) for what, of in became.items()})
        if found != RoleMoves():
            out[name] = found
            places += [(name, what, _bounds(one)) for what, of in became.items() for one in of]
    return LineMoves(moved, out, tuple(places))


def _bounds(course: _Course) -> Bounds:
    x0, y0, x1, y1 = (float(side) for side in course.box)
    return x0, y0, x1, y1


def _by_name(lines: Iterable[Line]) -> dict[str, list[_Course]]:
    out: dict[str, list[_Course]] = {}
    for line in lines:
        name = line.role.value if line.role else line.ink
        out.setdefault(name, []).extend(_course(line, contour) for contour in line.contours)
    return out


def _course(line: Line, contour: Contour) -> _Course:
    return _Course(line, flatten(contour, FLATTEN_MM), np.array(bounds(contour)))


def _painted(old: Line, new: Line) -> bool:
    return _paint(old) != _paint(new)


def _paint(line: Line) -> tuple[object, ...]:
    """Width and dashes in mm to a thousandth, the tint to a thousandth, and whether it overprints."""
    state, width = line.object.state, line.width_mm
    scale = width / state.line_width if state.line_width else 1.0
    dashes, phase = state.dash
    return (
        round(width, 3), round(line.tint, 3), line.overprints, line.strokes, line.fills,
        tuple(round(one * scale, 3) for one in dashes), round(phase * scale, 3) if dashes else 0.0,
    )


def _counterparts(old: Sequence[_Course], new: Sequence[_Course]) -> list[tuple[int, int, float]]:
    """Which contour of before is which of now, each at most once, and how far apart they lie; the nearest first.

    Two lie no nearer than the sides of their boxes, so that few have to be measured.
    """
    if not old or not new:
        return []
    boxes = np.stack([one.box for one in new])
    by_box = [np.abs(boxes - one.box).max(axis=1) for one in old]
    near = [
        (float(apart[j]), i, int(j)) for i, apart in enumerate(by_box) for j in np.nonzero(apart <= COUNTERPART_MM)[0]
    ]
    left, right = set(range(len(old))), set(range(len(new)))
    found: list[tuple[int, int, float]] = []
    measured: list[tuple[float, int, int]] = []
    for apart, i, j in sorted(near):
        if i in left and j in right:
            distance = greatest_distance([old[i].points], [new[j].points], STEP_MM)
            if distance <= UNMOVED_MM:  # nothing lies nearer
                found.append((i, j, distance))
                left.discard(i)
                right.discard(j)
            elif distance <= COUNTERPART_MM:
                measured.append((max(distance, apart), i, j))
    for distance, i, j in sorted(measured):
        if i in left and j in right:
            found.append((i, j, distance))
            left.discard(i)
            right.discard(j)
    return found
