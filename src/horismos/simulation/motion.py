"""The simulated machine's motion, stepped by the millisecond: it knows no formula for how long a path takes."""

import math

import numpy as np

from horismos.paths.contour import Floats

__all__ = ["STEP_S", "driven"]

STEP_S = 0.001
TOUCH_MM = 1.0
"""[ours] over how long a stretch it rounds a corner: as a circle that touches both sides there."""


def driven(path: Floats, speed: float, acceleration: float) -> float:
    """How many seconds it takes along a path in mm, shape (n, 2), from standing to standing, by steps of 1 ms.

    In every step it speeds up as far as it may, and no further than it can brake from before what comes.
    """
    path = path[np.concatenate([[True], np.any(np.diff(path, axis=0) != 0, axis=1)])]
    if len(path) < 2:
        return 0.0
    places, limits = _speed_limits(path, speed, acceleration)
    gone = now = elapsed = 0.0
    passed = 0
    while gone < places[-1] - 1e-9:
        while passed + 1 < len(places) - 1 and places[passed + 1] <= gone:
            passed += 1
        ahead = passed + 1
        most = speed
        while ahead < len(places):
            room = max(places[ahead] - gone - now * STEP_S, 0.0)
            most = min(most, math.sqrt(limits[ahead] ** 2 + 2 * acceleration * room))
            if room > most * most / (2 * acceleration):
                break
            ahead += 1
        before, now = now, max(min(now + acceleration * STEP_S, most), acceleration * STEP_S / 2)
        step, room = (before + now) / 2 * STEP_S, places[passed + 1] - gone
        if step < room:
            gone, elapsed = gone + step, elapsed + STEP_S
        else:  # a vertex is met within the millisecond: no faster than it may be passed
            gone, elapsed = places[passed + 1], elapsed + STEP_S * room / step
            now = min(before + (now - before) * room / step, limits[passed + 1])
    return elapsed


def _speed_limits(path: Floats, speed: float, acceleration: float) -> tuple[list[float], list[float]]:
    """How far along each vertex is, and how fast it may be passed: no more across than the machine can hold."""
    places, limits = [0.0], [0.0]
    for a, b, c in zip(path, path[1:], [*path[2:], None], strict=False):
        places.append(places[-1] + math.dist(a, b))
        if c is None:
            limits.append(0.0)
            break
        come, go = math.atan2(b[1] - a[1], b[0] - a[0]), math.atan2(c[1] - b[1], c[0] - b[0])
        turn = abs((go - come + math.pi) % (2 * math.pi) - math.pi)
        reach = min(math.dist(a, b), math.dist(b, c), 2 * TOUCH_MM) / 2
        radius = reach / math.tan(turn / 2) if turn > 1e-9 else math.inf
        limits.append(min(speed, math.sqrt(acceleration * radius)))
    return places, limits
