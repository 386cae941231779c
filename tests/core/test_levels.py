"""Level lines of grids, corners of polylines, curves through points, and parts of a line."""

import math

import numpy as np
import pytest
import shapely

from horismos.errors import LimitExceeded
from horismos.paths import contour_from_points, flatten, rectangle
from horismos.paths.areas import area_of, outlines_of, rims_of, traced
from horismos.paths.corners import corner_places, vertex_corners
from horismos.paths.fit import fit, fit_loops, fit_simple
from horismos.paths.levels import level_lines
from horismos.paths.polyline_parts import parts_along

HALF = 0.5


def around(loop: np.ndarray) -> float:
    """The signed area of a loop, as its coordinates have it."""
    x, y = loop.T
    return float((x[:-1] * y[1:] - x[1:] * y[:-1]).sum() / 2)


def grid(*rows: str) -> np.ndarray:
    return np.array([[float(c == "#") for c in row] for row in rows])


# -- level lines -------------------------------------------------------------------------------------------------------


def test_a_loop_closes_and_a_hole_runs_the_other_way() -> None:
    loops = level_lines(grid(".....", ".###.", ".#.#.", ".###.", "....."), HALF)
    assert len(loops) == 2 and all((loop[0] == loop[-1]).all() for loop in loops)
    outer, hole = sorted((around(loop) for loop in loops), key=abs, reverse=True)
    # each corner of a square of pixels is cut by an eighth of a pixel
    assert abs(outer) == pytest.approx(9 - 4 / 8) and abs(hole) == pytest.approx(4 / 8)
    assert outer * hole < 0


def test_what_touches_the_frame_is_closed_at_it() -> None:
    (loop,) = level_lines(np.ones((3, 5)), HALF)
    assert abs(around(loop)) == pytest.approx(15 - 4 / 8)
    assert (loop.min(), loop[:, 0].max(), loop[:, 1].max()) == (0, 5, 3)


def test_the_line_lies_between_pixels_where_the_value_passes_the_level() -> None:
    edge = np.tile(np.array([0.0, 0.25, 1.0, 1.0, 0.0]), (6, 1))
    (loop,) = level_lines(edge, HALF)
    along = loop[np.abs(loop[:, 1] - 3) < 1.6]
    # 0.5 lies a third of the way from 0.25 to 1: from the middle of pixel 1 at 1.5
    assert along[:, 0].min() == pytest.approx(1.5 + 1 / 3)
    assert along[:, 0].max() == pytest.approx(4.0)


@pytest.mark.parametrize(("beside", "count"), [(0.0, 2), (0.49, 1)])
def test_corner_to_corner_the_mean_decides_whether_two_pieces_are_one(beside: float, count: int) -> None:
    saddle = np.zeros((4, 4))
    saddle[1, 1] = saddle[2, 2] = 1.0
    saddle[1, 2] = saddle[2, 1] = beside
    assert len(level_lines(saddle, 0.6)) == count


def test_specks_are_left_out_by_their_area_and_nothing_gives_nothing() -> None:
    dots = np.zeros((20, 20))
    dots[2, 2] = 1.0
    dots[8:14, 8:14] = 1.0
    assert len(level_lines(dots, HALF)) == 2
    (kept,) = level_lines(dots, HALF, least_area=2.0)
    assert abs(around(kept)) > 30
    assert level_lines(np.zeros((5, 5)), HALF) == []


def test_noise_is_refused_before_it_takes_for_ever() -> None:
    noise = np.random.default_rng(4).integers(0, 256, (1200, 1200)).astype(np.uint8)
    with pytest.raises(LimitExceeded, match="noise"):
        level_lines(noise, 128)


def test_pixels_become_an_area_in_mm_with_y_up() -> None:
    values = np.zeros((40, 60))
    values[10:30, 20:50] = 1.0
    values[15:25, 30:40] = 0.0
    area = traced(values, HALF, origin=(100.0, 50.0), per_mm=(10.0, 5.0))
    assert area.bounds == pytest.approx((102.0, 44.0, 105.0, 48.0))
    assert area.area == pytest.approx(3 * 4 - 1 * 2, rel=2e-3) and len(area.geoms[0].interiors) == 1
    assert traced(np.zeros((4, 4)), HALF, (0, 0), (1, 1)).is_empty


# -- areas -------------------------------------------------------------------------------------------------------------


def test_areas_count_what_is_enclosed_an_odd_number_of_times() -> None:
    nested = [rectangle(0, 0, 10, 10), rectangle(2, 2, 8, 8), rectangle(4, 4, 6, 6)]
    assert area_of(nested).area == 100 - 36 + 4
    assert area_of([rectangle(0, 0, 4, 4), rectangle(2, 0, 6, 4)]).area == 16
    assert area_of([rectangle(0, 0, 4, 4), rectangle(2, 1, 6, 5)]).area == 32 - 2 * 6
    assert area_of([rectangle(0, 0, 4, 4), rectangle(4, 4, 6, 6), rectangle(0, 4, 2, 6)]).area == 24
    assert area_of([rectangle(0, 0, 4, 4)] * 3).area == 16 and area_of([rectangle(0, 0, 4, 4)] * 2).is_empty
    bow = contour_from_points([(0, 0), (4, 4), (4, 0), (0, 4)], closed=True)
    assert area_of([bow]).area == pytest.approx(8)
    assert area_of([]).is_empty


def test_rims_leave_out_specks_and_slivers() -> None:
    shape = shapely.MultiPolygon([
        shapely.box(0, 0, 10, 10) - shapely.box(4, 4, 4.5, 4.5) - shapely.box(6, 6, 8, 8),
        shapely.box(20, 0, 20.3, 0.3), shapely.box(30, 0, 30.05, 10),
    ])
    assert len(rims_of(shape, 0.0)) == 5
    assert len(rims_of(shape, 0.4)) == 3
    left = rims_of(shape, 0.4, least_wide_mm=0.2)
    assert [round(around(rim)) for rim in left] == [100, -4]


def test_curves_round_a_noisy_area_lie_within_their_distance() -> None:
    assert outlines_of(shapely.Polygon(), 0.05, 0.0) == []
    angle = np.linspace(0, 2 * math.pi, 3000, endpoint=False)
    radius = 20 + np.random.default_rng(7).normal(0, 0.01, len(angle))
    rough = shapely.Polygon(np.column_stack([radius * np.cos(angle), radius * np.sin(angle)]))
    (smooth,) = outlines_of(rough, 0.1, 0.0)
    far = np.abs(np.hypot(*flatten(smooth, 0.001).T) - 20)
    assert far.max() < 0.1 and smooth.node_count <= 12


# -- corners and curves ------------------------------------------------------------------------------------------------


def test_corners_are_found_through_zigzag_that_has_none_of_its_own() -> None:
    side = np.linspace(0, 10, 201)
    points = np.vstack([np.column_stack([side, 0 * side]), np.column_stack([0 * side[1:] + 10, side[1:]])])
    points += np.random.default_rng(2).uniform(-0.01, 0.01, points.shape)
    places = corner_places(points, False, 0.05)
    assert len(places) == 1 and np.hypot(*(points[places[0]] - (10, 0))) < 0.1
    angle = np.linspace(0, 2 * math.pi, 400)
    assert len(corner_places(20 * np.column_stack([np.cos(angle), np.sin(angle)]), True, 0.05)) == 0


def test_the_corners_of_an_open_polyline_are_none_of_its_ends() -> None:
    bent = np.array([[0, 0], [5, 0], [5, 5], [9, 5.5]], float)
    assert vertex_corners(bent, False).tolist() == [1, 2]


@pytest.mark.parametrize("tolerance", [0.005, 0.02, 0.1])
def test_a_fitted_line_is_nowhere_further_off_than_it_says(tolerance: float) -> None:
    t = np.linspace(0, 4 * math.pi, 900)
    wave = np.column_stack([3 * t, 4 * np.sin(t) + 0.4 * np.cos(3 * t)])
    made = fit(contour_from_points(wave, closed=False), tolerance)
    line, back = shapely.LineString(wave), shapely.LineString(flatten(made, tolerance / 20))
    assert shapely.hausdorff_distance(line, back, densify=0.05) <= tolerance
    assert made.node_count < 60 and not made.closed
    assert (made.start == wave[0]).all() and (made.end == wave[-1]).all()


def test_curves_that_would_cross_in_a_thin_part_are_fitted_closer() -> None:
    """Two sides a tenth of a mm apart, and a tolerance of half a mm."""
    t = np.linspace(0, math.pi, 200)
    upper = np.column_stack([20 * t, 5 * np.sin(t) + 0.05])
    lower = np.column_stack([20 * t, 5 * np.sin(t) - 0.05])[::-1]
    ring = np.vstack([upper, lower, upper[:1]])
    corners = np.array([0, 199, 200, 399])
    (made,) = fit_simple([ring], [corners], 0.5, 0.25)
    assert shapely.LinearRing(flatten(made, 0.005)).is_simple
    apart = shapely.hausdorff_distance(shapely.LinearRing(ring), shapely.LinearRing(flatten(made, 0.005)), densify=0.05)
    assert apart <= 0.5


def test_many_loops_at_once_come_to_what_each_alone_comes_to() -> None:
    rings = [np.asarray(shapely.box(0, 0, s, s).buffer(s / 5).exterior.coords) for s in (4, 9, 15)]
    none: list[np.ndarray] = [np.array([], np.int64)] * 3
    together = fit_loops(rings, none, True, True, 0.02, 0.25)
    alone = [fit_loops([ring], [none[0]], True, True, 0.02, 0.25)[0] for ring in rings]
    assert [c.node_count for c in together] == [c.node_count for c in alone]
    assert fit_loops([], [], True, True, 0.02, 0.25) == []


def test_a_part_of_a_closed_line_goes_on_past_its_end() -> None:
    ring = flatten(rectangle(0, 0, 10, 10))
    over, beyond = parts_along(ring, np.array([[35.0, 45.0], [42.0, 44.0]]))
    assert over.tolist() == [[0, 5], [0, 0], [5, 0]]
    assert beyond.tolist() == [[2, 0], [4, 0]]
