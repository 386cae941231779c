"""The simulated cutter: plays a cut file, tool by tool, as the machine would run it.

It reads the HP-GL and the ticket and nothing else.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from horismos.cutting.timing import cut_seconds, travel_seconds
from horismos.formats.hpgl import read_hpgl
from horismos.machines import Dialect
from horismos.paths.contour import Floats

__all__ = ["Move", "Playback", "play"]

TRAVEL_MM_S = 600.0
OWN_SPEED_MM_S = 300.0
ACCELERATION = 8000.0
LIFT_S = 0.08
TOOL_CHANGE_S = 15.0
# [ours] the simulated machine's own times.


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


@dataclass(frozen=True, eq=False)
class Playback:
    """A whole run: the strokes in order and how long it takes."""

    moves: tuple[Move, ...]
    total_s: float
    cut_mm: float
    travel_mm: float


def play(hpgl: bytes, ticket: Mapping[str, Any]) -> Playback:
    """Play a cut file from the origin that the ticket names.

    Raises CannotRead for what is not HP-GL.
    """
    origin = tuple(float(v) for v in ticket.get("origin_mm", (0.0, 0.0)))
    drawn = read_hpgl(hpgl, (origin[0], origin[1]), Dialect(**ticket.get("dialect", {})))
    moves: list[Move] = []
    at, now, tool = np.array(origin), 0.0, drawn[0].tool if drawn else 0
    cut = travel = 0.0
    for stroke in drawn:
        if stroke.tool != tool:
            now, tool = now + TOOL_CHANGE_S, stroke.tool
        there = float(np.hypot(*(stroke.points[0] - at)))
        length = float(np.hypot(*np.diff(stroke.points, axis=0).T).sum())
        start = now + travel_seconds(np.array([there]), TRAVEL_MM_S, ACCELERATION) + LIFT_S
        end = start + cut_seconds([stroke.points], stroke.speed_mm_s or OWN_SPEED_MM_S, ACCELERATION)
        moves.append(
            Move(
                stroke.operation, stroke.tool, stroke.force_gf, stroke.speed_mm_s, start, end,
                stroke.points,
            )
        )
        at, now = stroke.points[-1], end + LIFT_S
        cut, travel = cut + length, travel + there
    return Playback(tuple(moves), now, cut, travel)
