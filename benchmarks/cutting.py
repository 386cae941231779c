"""The way of the blade: travel against a lower bound and against always the nearest, on 24, 500 and 5,000 contours.

The bound is that of Held and Karp: the least spanning tree of the places, whose ends are weighed so that no place has
more than two neighbours (a one-tree for a way that begins at the zero and ends anywhere); no order is shorter. Wanted:
travel within 5 % of it for the places at which the plan begins its contours, never more than the nearest-neighbour
order, and 5,000 contours planned in 5 s. Peer for speed: scipy's minimum spanning tree of the same places.
"""

import time

import numpy as np
from scipy.sparse.csgraph import minimum_spanning_tree
from scipy.spatial.distance import cdist

from horismos.artwork import read_bytes
from horismos.cutting import plan_cut
from horismos.destinations import DEFAULT
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.sheet import Item, Layout, Turn, piece_of
from horismos.sheet.filling import fill_sheets
from tests.shapes import Drawing, circle, line_in, write

COUNTS = (24, 500, 5000)
ROUNDS = 120
WANTED, WANTED_S = 1.05, 5.0
"""The ratio to the bound that is wanted at most, and the seconds for the most contours."""


def scattered(count: int, seed: int = 1) -> bytes:
    """A page with circles and stars of 3 to 9 mm, scattered without order; every fifth has a hole."""
    rng = np.random.default_rng(seed)
    columns = int(np.ceil(np.sqrt(count / 0.9)))
    side = 14.0 * columns
    cells = rng.permutation(columns * columns)[:count]
    lines = []
    for i, cell in enumerate(cells.tolist()):
        x, y = (np.array([cell % columns, cell // columns]) + 0.5) * 14 + rng.uniform(-3, 3, 2)
        r = rng.uniform(1.5, 4.0)
        if i % 2:
            lines.append(circle(x, y, r))
        else:
            at = rng.uniform(0, 6) + np.arange(10) * np.pi / 5
            places = [(x + r * (1 if k % 2 else 0.5) * np.cos(a), y + r * (1 if k % 2 else 0.5) * np.sin(a))
                      for k, a in enumerate(at)]
            lines.append(" ".join(f"{a:.3f} {b:.3f} {'l' if k else 'm'}" for k, (a, b) in enumerate(places)) + " h ")
    box = (0, 0, side, side)
    return write(Drawing("".join(line_in(line) for line in lines), size=(side, side), trim=box, bleed=box))


def bound(begins: np.ndarray, start: np.ndarray) -> float:
    """The bound of Held and Karp, raised step by step by weights on the places."""
    places = np.vstack([start, begins])
    far = cdist(places, places)
    count = len(places)
    weights, best, step = np.zeros(count), 0.0, float(far[far > 0].min(initial=1.0)) + far.mean() / 50
    for _ in range(ROUNDS):
        # the end of the way is free: a place of its own, at no distance, takes the longest chord's part
        tree, degree = _tree(far + weights[:, None] + weights[None, :])
        free = weights.copy()
        free[0] = np.inf
        end = int(free.argmin())
        degree[end] += 1
        degree[0] += 1
        value = tree + float(weights[end]) + float(weights[0]) - 2 * float(weights.sum())
        best = max(best, value)
        weights += step * (degree - 2)
        step *= 0.96
    return best


def _tree(far: np.ndarray) -> tuple[float, np.ndarray]:
    """The weight of the least spanning tree, and how many neighbours each place has in it (Prim)."""
    count = len(far)
    near, come = far[0].copy(), np.zeros(count, int)
    free = np.ones(count, bool)
    free[0], degree, total = False, np.zeros(count), 0.0
    for _ in range(count - 1):
        i = int(np.where(free, near, np.inf).argmin())
        total += near[i]
        degree[i] += 1
        degree[come[i]] += 1
        free[i] = False
        closer = far[i] < near
        near[closer], come[closer] = far[i][closer], i
    return total, degree


def nearest(begins: np.ndarray, start: np.ndarray) -> float:
    """The length of the way that goes always on to the nearest."""
    left, at, total = list(range(len(begins))), start, 0.0
    while left:
        far = np.hypot(*(begins[left] - at).T)
        k = int(far.argmin())
        total += float(far[k])
        at = begins[left.pop(k)]
    return total


def main() -> None:
    """Print the figures."""
    for count in COUNTS:
        artwork = read_bytes(scattered(count))
        piece = piece_of(artwork, artwork.pages[0], Order(), DEFAULT, 0.0)
        one, plain = Item(piece, 1, Turn.NONE, 1.0), Layout(code=False)
        (sheet,) = fill_sheets([one], MATERIALS["film-1370"], DEFAULT, plain).sheets
        began = time.perf_counter()
        plan = plan_cut(sheet)
        took = time.perf_counter() - began
        begins = np.array([stroke.holder[0] for stroke in plan.operations[0].strokes])
        start = np.array(plan.origin_mm)
        least, greedy = bound(begins, start), nearest(begins, start)
        began = time.perf_counter()
        minimum_spanning_tree(cdist(begins, begins))
        peer = time.perf_counter() - began
        print(
            f"{count:5} contours: travel {plan.travel_mm / least:.3f} of the bound (wanted {WANTED}), "
            f"{plan.travel_mm / greedy:.3f} of the nearest-neighbour order; {took:.2f} s, "
            f"{took / peer:.1f} x a spanning tree" + (f" (wanted {WANTED_S:.0f} s)" if count == COUNTS[-1] else "")
        )


if __name__ == "__main__":
    main()
