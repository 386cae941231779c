"""Lines across an edge: every place near an edge lies on the line through the point of the edge that is nearest to it.

Such lines fan out round a corner on one side and meet in the middle between two edges on the other, so that stitches
along them cover a band beside the edge once, whatever its shape. How far a line belongs to its own point is found by a
ball that shrinks until it holds no other point of the edge: Ma, Bae and Choi, 3D medial axis point approximation using
nearest neighbors and the normal field, The Visual Computer 28 (2012).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from horismos.paths.contour import Floats
from horismos.paths.flatten import parted
from horismos.stitching.layers import MITRE_LIMIT
from horismos.stitching.stack import Join

__all__ = ["Across", "Edges", "lines_across"]

STEP_MM = 0.1
"""[ours] how near to each other the points of the edge lie of which the nearest is looked for."""
SHARP = np.radians(15.0)
"""[ours] what turns by more is a corner, and less is a curve."""
FAN_STEPS = 12
ROUNDS = 16
TOUCHING_MM = 0.01


class Edges:
    """All edges of a layer, to be asked how far a line from one of them stays nearest to it."""

    def __init__(self, rings: Sequence[Floats]) -> None:
        """Rings of shape (n, 2), closed."""
        points = []
        for ring in rings:
            steps = np.maximum(np.ceil(np.hypot(*np.diff(ring, axis=0).T) / STEP_MM).astype(np.int64), 1)
            points.append(parted(ring, steps)[:-1])
        self.points = np.concatenate(points)
        self._tree = scipy.spatial.cKDTree(self.points)

    def reach(self, at: Floats, way: Floats, most_mm: float | Floats) -> Floats:
        """How far, in mm, lines from points of the edges, both of shape (n, 2), stay nearer to them than to others."""
        out = np.broadcast_to(np.asarray(most_mm, np.float64), (len(at),)).copy()
        left = np.flatnonzero(out > TOUCHING_MM)
        for _ in range(ROUNDS):
            if not len(left):
                break
            distance, nearest = self._tree.query(at[left] + way[left] * out[left, None])
            near = distance < out[left] - TOUCHING_MM
            left, nearest = left[near], nearest[near]
            to = self.points[nearest] - at[left]
            along = (to * way[left]).sum(axis=1)
            ball = (to**2).sum(axis=1) / (2 * np.maximum(along, 1e-9))
            closer = ball < out[left] - 1e-6
            left = left[closer]
            out[left] = ball[closer]
        return out


@dataclass(frozen=True, eq=False)
class Across:
    """Lines across one ring, as functions of the way along its longer side, ``length_mm`` in all.

    ``nodes`` are the ways at which what follows is known, and between which it changes evenly: points of the edge
    (n, 2), the angle at which a line points outwards, and how much longer it is there to reach a mitre. ``flat`` says
    of each stretch between two nodes whether it is no corner.
    """

    nodes: Floats
    at: Floats
    angle: Floats
    outside: Floats
    flat: np.ndarray

    @property
    def length_mm(self) -> float:
        """How long the longer side is."""
        return float(self.nodes[-1])

    def lines(self, way: Floats) -> tuple[Floats, Floats, Floats]:
        """Lines at ways along it: points and unit vectors outwards, both (n, 2), and how much longer each is there."""
        way = np.mod(way, self.length_mm)
        at = np.stack([np.interp(way, self.nodes, self.at[:, i]) for i in range(2)], axis=1)
        angle = np.interp(way, self.nodes, self.angle)
        out = np.stack([np.cos(angle), np.sin(angle)], axis=1)
        return at, out, np.interp(way, self.nodes, self.outside)

    def is_flat(self, way: Floats) -> np.ndarray:
        """Whether there is no corner at ways along it."""
        index = np.searchsorted(self.nodes, np.mod(way, self.length_mm), side="right") - 1
        kept: np.ndarray = self.flat[np.clip(index, 0, len(self.flat) - 1)]
        return kept


def lines_across(ring: Floats, outset_mm: float, inset_mm: float, join: Join) -> Across:
    """Lines across a closed ring, shape (n, 2), with the fabric on its left: outwards is to the right of it.

    ``outset_mm`` and ``inset_mm`` are how far they go; ``join`` is how the outer rim goes round a corner.
    """
    ring = ring[np.concatenate([[True], np.hypot(*np.diff(ring, axis=0).T) > 1e-6])]
    if np.hypot(*(ring[0] - ring[-1])) > 1e-6:
        ring = np.vstack([ring, ring[:1]])
    chords = np.diff(ring, axis=0)
    lengths = np.hypot(*chords.T)
    heading = np.arctan2(chords[:, 1], chords[:, 0])
    turns = np.mod(np.roll(heading, -1) - heading + np.pi, 2 * np.pi) - np.pi
    normal = heading - np.pi / 2
    normal = normal[0] + np.concatenate([[0.0], np.cumsum(turns[:-1])])
    rows = [(0.0, *ring[0].tolist(), float(normal[0]), 1.0)]
    flat: list[bool] = []
    way = 0.0
    for i, (length, turn) in enumerate(zip(lengths.tolist(), turns.tolist(), strict=True)):
        way += length
        x, y = ring[i + 1].tolist()
        rows.append((way, x, y, float(normal[i]), 1.0))
        flat.append(True)
        if abs(turn) <= 1e-9:
            continue
        far = outset_mm if turn > 0 else inset_mm
        if join is Join.MITRE and turn > SHARP and far > 0:
            share, longer, along = _mitre(turn)
        else:
            share, longer, along = np.ones(1), np.ones(1), np.array([abs(turn)])
        for part, more, on in zip(share.tolist(), longer.tolist(), (way + along * far).tolist(), strict=True):
            rows.append((on, x, y, float(normal[i]) + turn * part, more))
        flat += [abs(turn) <= SHARP] * len(share)
        way = rows[-1][0]
    table = np.array(rows)
    return Across(table[:, 0], table[:, 1:3], table[:, 3], table[:, 4], np.array(flat))


def _mitre(turn: float) -> tuple[Floats, Floats, Floats]:
    """A mitred corner of a band one unit wide: shares of the turn, how far the rim lies there, and the way along it."""
    half = turn / 2
    limited = 1 / np.cos(half) > MITRE_LIMIT if half < np.pi / 2 else True
    share = np.linspace(0, 1, 2 * FAN_STEPS + 1)
    from_side = np.minimum(share, 1 - share) * turn
    far = 1 / np.maximum(np.cos(np.minimum(from_side, np.pi / 2 - 1e-6)), 1e-6)
    if limited:
        far = np.minimum(far, MITRE_LIMIT / np.maximum(np.cos(half - from_side), 1e-6))
    rim = np.stack([np.cos(share * turn), np.sin(share * turn)], axis=1) * far[:, None]
    along = np.cumsum(np.hypot(*np.diff(rim, axis=0).T))
    return share[1:], far[1:], along
