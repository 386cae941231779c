"""Reads a cut file back and says how far it lies from what was meant: the tip of the blade from the curves."""

from collections.abc import Sequence

import numpy as np

from horismos.cutting.operations import Operation
from horismos.cutting.trailing import trailed_all
from horismos.errors import CannotWrite
from horismos.formats.hpgl import PlotterStroke
from horismos.machines import Dialect
from horismos.paths import flatten, greatest_distance
from horismos.paths.contour import CLOSED_WITHIN_MM, Floats
from horismos.paths.distance import distances_along, farthest_from, from_chords

__all__ = ["MOST_OFF_MM", "worst_distance", "worst_of_lines"]

MOST_OFF_MM = 0.05
"""[ours] two plotter units; a file further off is not released."""
MEANT_MM = 0.002
"""How finely the meant curves are drawn for the comparison."""
STEP_MM = 0.5
CLOSE_MM = 0.03
"""What two polylines look further apart than this is measured once more, exactly."""
PLAIN = Dialect()


def worst_distance(operations: Sequence[Operation], drawn: Sequence[PlotterStroke], dialect: Dialect = PLAIN) -> float:
    """The greatest distance in mm between the curves as meant and what the strokes as written cut.

    Operation by operation, so that a line under the wrong tool does not hide behind another one.
    Raises CannotWrite where tools, forces or speeds differ, or an operation is missing.
    """
    with_strokes = [operation for operation in operations if operation.strokes]
    if len({d.operation for d in drawn}) != len(with_strokes):
        raise CannotWrite("The cut file has another number of operations than the plan.")
    worst = 0.0
    for number, operation in enumerate(with_strokes):
        written = [d for d in drawn if d.operation == number]
        _same_settings(operation, written, dialect)
        worst = max(worst, worst_of_lines(operation, [d.points for d in written]))
    return worst


def worst_of_lines(operation: Operation, written: Sequence[Floats]) -> float:
    """How far, in mm, what a tool cuts along polylines as written lies from the curves as meant, and these from it.

    Stroke by stroke where the file has those that were planned and each goes along a whole contour; else, and where
    that finds one too far off, all against all.
    """
    tool, of = operation.tool, operation.of
    if len(written) == len(operation.strokes) and not tool.perforates and not tool.lifts_at_corners and of:
        meant = _meant(operation)
        tips = _tips(operation, written)
        beside = [_begun_near(meant[number], tip) for number, tip in zip(of, tips, strict=True)]
        laps = [tip if len(tip) < 2 else tip[: _lap(tip, line)] for tip, line in zip(tips, beside, strict=True)]
        off = np.maximum(distances_along(tips, beside), distances_along(beside, laps))
        for i in np.flatnonzero(off > CLOSE_MM):
            off[i] = greatest_distance([beside[i]], [tips[i]])
        if off.max() <= MOST_OFF_MM:
            return float(off.max())
    tips = _tips(operation, _joined(written))
    if tool.perforates and not tool.tie_force_gf:
        # a pattern belongs to its contour as drawn: the cuts as planned have to lie on it, and those written on these
        cuts = [stroke.tip for stroke in operation.strokes]
        curves = _meant(operation)
        return max(greatest_distance(cuts, tips), farthest_from(cuts, curves, STEP_MM))
    return greatest_distance(_meant(operation), tips)


def _begun_near(line: Floats, tip: Floats) -> Floats:
    """A line begun as a path beside it is: a closed one at the nearest place, an open one at the nearer end."""
    if np.hypot(*(line[-1] - line[0])) > CLOSED_WITHIN_MM:
        back = np.hypot(*(line[-1] - tip[0])) < np.hypot(*(line[0] - tip[0]))
        return line[::-1] if back else line
    first = int(from_chords(np.broadcast_to(tip[0], (len(line) - 1, 2)), line[:-1], line[1:]).argmin())
    way = line[first + 1] - line[first]
    share = float(np.clip((tip[0] - line[first]) @ way / max(float(way @ way), 1e-18), 0, 1))
    begin = (line[first] + share * way)[None]
    return np.concatenate([begin, line[first + 1 : -1], line[: first + 1], begin])


def _lap(tip: Floats, line: Floats) -> int:
    """How many points of a path lie within the length of a line: what goes on over its beginning does not."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(tip, axis=0).T))])
    long = float(np.hypot(*np.diff(line, axis=0).T).sum())
    return max(int(np.searchsorted(along, long)) + 1, 2)


def _same_settings(operation: Operation, written: Sequence[PlotterStroke], dialect: Dialect) -> None:
    tool = operation.tool
    force = (tool.sent_gf or 0.0) if dialect.force else 0.0
    speed = (tool.speed_mm_s or 0.0) if dialect.speed else 0.0
    forces = {force, tool.tie_force_gf} if tool.perforates and tool.tie_force_gf and dialect.force else {force}
    for d in written:
        if d.tool != tool.number or abs(d.speed_mm_s - speed) > 1e-3 or all(
            abs(d.force_gf - one) > 1e-3 for one in forces
        ):
            raise CannotWrite(f"The cut file has another setting for the {operation.words}.")


def _joined(written: Sequence[Floats]) -> list[Floats]:
    """Strokes, those joined that go on where one before ended: between them only the force changes."""
    out: list[list[Floats]] = []
    for points in written:
        if out and np.abs(out[-1][-1][-1] - points[0]).max() < 1e-9:
            out[-1].append(points[1:])
        else:
            out.append([points])
    return [np.concatenate(parts) for parts in out]


def _tips(operation: Operation, holders: Sequence[Floats]) -> list[Floats]:
    """What the tip cuts where the holder goes along."""
    off, first = operation.tool.trails_mm, operation.strokes[0]
    return trailed_all(holders, off, (first.holder[0] - first.tip[0]) / off) if off else list(holders)


def _meant(operation: Operation) -> list[Floats]:
    """The curves as meant, one a contour."""
    return [flatten(contour, MEANT_MM) for contour in operation.contours]
