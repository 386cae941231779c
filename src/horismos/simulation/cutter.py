"""The simulated cutter: plays a cut file, tool by tool, as the machine would run it.

It reads the HP-GL and the ticket and nothing else.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from horismos.cutting import Tool
from horismos.cutting.timing import cut_seconds, travel_seconds
from horismos.destinations import destination_of
from horismos.formats.hpgl import read_hpgl
from horismos.machines import Dialect
from horismos.paths.contour import Floats

__all__ = ["FORCE_RATIO", "Move", "OperatorStop", "Playback", "as_brought", "play"]

FORCE_RATIO = 0.93
"""[ours] so much of the force that it is told does the simulated cutter bring to the media: every machine differs."""


def as_brought(tool: Tool) -> Tool:
    """A setting with the force that the simulated cutter truly brings, whatever was seen of it before."""
    truly = replace(tool, passed=False)
    return truly if tool.force_gf is None else replace(truly, force_gf=tool.force_gf * FORCE_RATIO)


@dataclass(frozen=True, eq=False)
class Move:
    """One stroke: from ``start_s`` the blade is down until ``end_s``; points in mm, (n, 2)."""

    operation: int
    tool: int
    force_gf: float
    speed_mm_s: float
    start_s: float
    end_s: float
    points: Floats


@dataclass(frozen=True)
class OperatorStop:
    """A stop of the machine at a time, before an operation; ``words`` for its panel where a person is needed."""

    at_s: float
    before: int
    words: str
    time_s: float


@dataclass(frozen=True, eq=False)
class Playback:
    """A whole run: the strokes in order, where the machine stops between them, and how long it takes."""

    moves: tuple[Move, ...]
    total_s: float
    cut_mm: float
    travel_mm: float
    stops: tuple[OperatorStop, ...] = ()


def play(hpgl: bytes, ticket: Mapping[str, Any], back: bool = False) -> Playback:
    """Play a cut file, of the front or of the back, from the origin that the ticket names.

    Operations are counted from 0 within the file. Raises CannotRead for what is not HP-GL.
    """
    origin = tuple(float(v) for v in ticket.get("origin_mm", (0.0, 0.0)))
    cutter = destination_of(ticket).cutter
    drawn = read_hpgl(hpgl, (origin[0], origin[1]), Dialect(**ticket.get("dialect", {})))
    pauses, settings = _of_side(ticket, back)
    moves: list[Move] = []
    stops: list[OperatorStop] = []
    at, now, operation = np.array(origin), 0.0, 0
    cut = travel = 0.0
    for stroke in drawn:
        if stroke.operation != operation:
            operation = stroke.operation
            pause = pauses.get(operation)
            if pause is not None:
                stops.append(OperatorStop(now, operation, str(pause["words"]), float(pause["time_s"])))
                now += stops[-1].time_s
        there = float(np.hypot(*(stroke.points[0] - at)))
        length = float(np.hypot(*np.diff(stroke.points, axis=0).T).sum())
        travelled = travel_seconds(np.array([there]), cutter.travel_speed_mm_s, cutter.acceleration_mm_s2)
        start = now + travelled + cutter.lift_s
        faster = settings.get(operation, {}).get("acceleration_mm_s2") or cutter.acceleration_mm_s2
        end = start + cut_seconds([stroke.points], stroke.speed_mm_s or cutter.cut_speed_mm_s, faster)
        moves.append(
            Move(
                stroke.operation, stroke.tool, stroke.force_gf, stroke.speed_mm_s, start, end,
                stroke.points,
            )
        )
        at, now = stroke.points[-1], end + cutter.lift_s
        cut, travel = cut + length, travel + there
    return Playback(tuple(moves), now, cut, travel, tuple(stops))


def _of_side(ticket: Mapping[str, Any], back: bool) -> tuple[dict[int, Any], dict[int, Any]]:
    """The pauses and the settings of the operations of a side, by their numbers in its file."""
    side = "back" if back else "front"
    numbers = [i for i, one in enumerate(ticket.get("operations", ())) if one["side"] == side]
    pauses = {numbers.index(p["before"]): p for p in ticket.get("pauses", ()) if p["before"] in numbers}
    pauses.pop(0, None)
    return pauses, {k: ticket["operations"][i].get("setting", {}) for k, i in enumerate(numbers)}
