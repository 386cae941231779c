"""The shortest way through places, each visited once: near the shortest, by a local search, never worse than the next.

The search is that of fast_tsp (Lin-Kernighan moves, seconds bounded). Up to twenty places it is exact.
"""

from functools import lru_cache

import numpy as np
import scipy
from numpy.typing import NDArray

from horismos.paths.contour import Floats

__all__ = ["MOST_PLACES", "tour", "travelled"]

MOST_PLACES = 5_500
"""[ours] places that are searched as one: their distances take 2 bytes a pair."""
SECONDS_A_PLACE, MOST_SECONDS, LEAST_SECONDS = 2e-4, 0.6, 0.02
LARGEST = 65_535
Ints = NDArray[np.intp]


def travelled(begins: Floats, ends: Floats, order: Ints, start: Floats, stop: Floats | None = None) -> float:
    """How far it is from ``start`` through places in an order: to where each begins, on from where it ends."""
    come, go = begins[order], np.concatenate([start[None], ends[order]])
    last = 0.0 if stop is None else float(np.hypot(*(stop - go[-1])))
    return float(np.hypot(*(come - go[:-1]).T).sum()) + last


def tour(begins: Floats, ends: Floats, start: Floats, stop: Floats | None = None, time_share: float = 1.0) -> Ints:
    """The order in which places are visited, from ``start``, to end anywhere or near ``stop``.

    ``begins`` and ``ends``, shape (n, 2), are where each is entered and left. ``time_share`` takes that share of the
    time.
    """
    count = len(begins)
    if count <= 1:
        return np.arange(count)
    nearest = _nearest(begins, ends, start)
    found = np.array(_searched(
        begins.tobytes(), ends.tobytes(), start.tobytes(), b"" if stop is None else stop.tobytes(), time_share
    ), dtype=np.intp) if count <= MOST_PLACES else nearest
    return min((found, nearest), key=lambda order: travelled(begins, ends, order, start, stop))


def _nearest(begins: Floats, ends: Floats, start: Floats) -> Ints:
    """Always on to the next."""
    left, coming = np.arange(len(begins)), begins.T.copy()
    at, out = start, np.empty(len(begins), np.intp)
    for k in range(len(begins) - 1, -1, -1):
        x, y = coming[:, : k + 1]
        i = int(((x - at[0]) ** 2 + (y - at[1]) ** 2).argmin())
        out[-k - 1] = left[i]
        at = ends[left[i]]
        left[i], coming[:, i] = left[k], coming[:, k]
    return out


@lru_cache(maxsize=64)
def _searched(
    begins_raw: bytes, ends_raw: bytes, start_raw: bytes, stop_raw: bytes, time_share: float
) -> tuple[int, ...]:
    """The way that the search finds. Two places more close it: the start, and one that joins its end to the start."""
    begins, ends = (np.frombuffer(raw).reshape(-1, 2) for raw in (begins_raw, ends_raw))
    start = np.frombuffer(start_raw)
    n = len(begins)
    from_start = np.hypot(*(begins - start).T)
    to_end = np.zeros(n) if not stop_raw else np.hypot(*(ends - np.frombuffer(stop_raw)).T)
    between = scipy.spatial.distance.cdist(ends, begins).astype(np.float32)
    if not np.array_equal(begins, ends):
        between = (between + between.T) / 2
        np.fill_diagonal(between, 0)
    beyond = max(float(between.max()), float(from_start.max()))
    k = LARGEST / max(beyond + float(to_end.max()), 1e-9)
    between *= k
    whole = np.zeros((n + 2, n + 2), np.uint16)
    np.rint(between, out=between)
    whole[:n, :n] = between
    whole[n, :n] = whole[:n, n] = np.rint(from_start * k)
    whole[n + 1, :n] = whole[:n, n + 1] = np.rint((beyond + to_end) * k)
    seconds = time_share * min(max(LEAST_SECONDS, n * SECONDS_A_PLACE), MOST_SECONDS)
    from fast_tsp import find_tour  # only who plans a cut needs it

    found = find_tour(whole, duration_seconds=seconds, max_threads=1, candidates="nearest")
    at = found.index(n)
    around = [*found[at:], *found[:at]]
    if around[1] == n + 1:
        around = [around[0], *around[:0:-1]]
    return tuple(i for i in around if i < n)
