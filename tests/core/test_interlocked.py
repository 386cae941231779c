"""Rows that reach into each other: as near as geometry lets them, and never nearer than the gap."""

import math
from typing import Any

import numpy as np
import pytest
import shapely

from horismos.sheet.interlocked import interlocked
from horismos.sheet.nest import nested
from horismos.sheet.rows import Packed, UsableArea, in_rows
from horismos.sheet.turning import Turn

ROOM = UsableArea(600.0, None, 2.0)
ELL = shapely.Polygon([(0, 0), (80, 0), (80, 20), (20, 20), (20, 80), (0, 80)])


def star(points: int, inner: float, outer: float) -> shapely.Polygon:
    turn = np.arange(2 * points) * np.pi / points + np.pi / 2
    reach = np.where(np.arange(2 * points) % 2, inner, outer)
    return shapely.Polygon(reach[:, None] * np.column_stack([np.cos(turn), np.sin(turn)]))


def shapes(packed: Packed, outline: shapely.Polygon) -> list[shapely.Polygon]:
    def lie(points: Any, matrix: tuple[float, ...]) -> Any:
        a, b, c, d, e, f = matrix
        return np.column_stack([a * points[:, 0] + c * points[:, 1] + e, b * points[:, 0] + d * points[:, 1] + f])

    return [shapely.transform(outline, lambda p, m=m: lie(p, m)) for _, m in packed.copies]


def rows_mm(outline: shapely.Polygon, turn: Turn, count: int) -> float:
    return in_rows([outline.bounds], [turn.ways], [count], ROOM).length_mm


@pytest.mark.parametrize("turn", [Turn.NONE, Turn.QUARTER])
@pytest.mark.parametrize(("outline", "count", "saves"), [
    (star(5, 14, 35), 40, 90), (star(9, 22, 40), 40, 60), (ELL, 30, 0), (shapely.Point(0, 0).buffer(30), 40, 30),
    (shapely.Polygon([(0, 0), (60, 0), (30, 50)]), 1, 0), (shapely.box(0, 0, 590, 20), 7, 0),
], ids=["star", "nine points", "ell", "circle", "one", "wide"])
def test_copies_keep_the_gap_and_take_less_than_rows(
    outline: shapely.Polygon, count: int, saves: float, turn: Turn
) -> None:
    packed = interlocked(outline, turn, count, ROOM)
    assert packed is not None and len(packed.copies) == count
    lie = shapes(packed, outline)
    near, other = shapely.STRtree(lie).query(lie, predicate="dwithin", distance=ROOM.gap_mm - 1e-6)
    assert (near == other).all(), "none is nearer to another than the gap"
    x0, y0, x1, y1 = shapely.total_bounds(lie)
    assert x0 >= -1e-6 and x1 <= ROOM.width_mm + 1e-6 and y0 == pytest.approx(0, abs=1e-6)
    assert y1 == pytest.approx(packed.length_mm)
    assert packed.length_mm <= rows_mm(outline, turn, count) - saves + 0.05


def test_circles_come_to_the_densest_rows_that_there_are() -> None:
    """Rows of circles set off by half: each row is sqrt(3)/2 of a diameter and a gap above the last. [standard]"""
    packed = interlocked(shapely.Point(0, 0).buffer(30, quad_segs=90), Turn.NONE, 40, ROOM)
    assert packed is not None
    assert packed.length_mm == pytest.approx(60 + 4 * math.sqrt(3) / 2 * 62, abs=0.1)


def test_triangles_lie_head_to_tail() -> None:
    """Two that are turned against each other make a parallelogram: a row of nine pairs and one is 50 mm high."""
    triangle = shapely.Polygon([(0, 0), (60, 0), (30, 50)])
    packed = interlocked(triangle, Turn.HALF, 17, ROOM)
    assert packed is not None and packed.length_mm == pytest.approx(50, abs=0.01)
    assert interlocked(triangle, Turn.NONE, 17, ROOM).length_mm > 100  # type: ignore[union-attr]


def test_what_is_too_wide_has_no_rows() -> None:
    assert interlocked(shapely.box(0, 0, 700, 20), Turn.HALF, 3, ROOM) is None


def test_the_search_begins_with_them() -> None:
    heard: list[float] = []
    outline = star(5, 14, 35)
    nested([outline], [Turn.HALF], [40], ROOM, 1, lambda packed: heard.append(packed.length_mm))
    assert heard and heard[0] <= rows_mm(outline, Turn.HALF, 40) - 90
    assert heard == sorted(heard, reverse=True), "and only what is shorter comes after"
