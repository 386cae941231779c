"""Contours are measured exactly."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from horismos.artwork.pathdata import contours_of, path_operators
from horismos.paths import bounds, chain, contour_from_points, flatten, greatest_distance, length, signed_area
from tests.shapes import circle

UNIT = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


def test_a_circle_of_four_curves_has_its_handbook_length_and_area() -> None:
    (ring,) = contours_of(circle(3, 4, 10).encode(), UNIT)
    # Four cubics with handle 4/3(√2-1)r lie within 0.03 % of the circle (handbook value).
    assert length(ring) == pytest.approx(2 * math.pi * 10, rel=3e-4)
    assert signed_area(ring) == pytest.approx(math.pi * 100, rel=6e-4)
    assert bounds(ring) == pytest.approx((-7, -6, 13, 14))
    assert ring.closed and ring.node_count == 4


def test_all_path_operators_draw_what_the_standard_says() -> None:
    data = b"0 0 m 10 0 l 10 5 10 10 5 10 c 2 8 0 6 v 1 3 0 2 y h 20 20 5 4 re 1 1 m"
    first, second = contours_of(data, UNIT)
    assert [tuple(s[3]) for s in first.segments] == [(10, 0), (5, 10), (0, 6), (0, 2), (0, 0)]
    assert tuple(first.segments[2][1]) == (5, 10)  # v: the current point is the first control
    assert tuple(first.segments[3][2]) == (0, 2)  # y: the end is the second control
    assert second.closed and signed_area(second) == pytest.approx(20)


def test_flattening_stays_within_its_tolerance() -> None:
    (ring,) = contours_of(circle(0, 0, 50).encode(), UNIT)
    for tolerance in (0.5, 0.05, 0.005):
        assert greatest_distance([flatten(ring, tolerance)], [flatten(ring, 1e-4)], 0.1) <= tolerance


def test_pieces_that_meet_are_one_closed_chain() -> None:
    sides = [[(0, 0), (9, 0)], [(9, 9), (9, 0)], [(9, 9), (0, 9)], [(0, 0.005), (0, 9)]]
    (joined,) = chain([contour_from_points(s, closed=False) for s in sides])
    assert joined.contour.closed and joined.gap_mm == pytest.approx(0.005)


@given(st.lists(st.tuples(*[st.floats(-500, 500)] * 6), min_size=1, max_size=20))
def test_written_and_read_again_a_contour_is_the_same(curves: list[tuple[float, ...]]) -> None:
    data = "1 2 m " + " ".join(" ".join(f"{v:.4f}" for v in c) + " c" for c in curves)
    matrix = (0.3, 0.1, -0.2, 0.4, 5.0, 6.0)
    (before,) = contours_of(data.encode(), matrix)
    (after,) = contours_of(path_operators([before], matrix), matrix)
    assert np.allclose(before.segments, after.segments, atol=1e-4)


@given(st.binary(max_size=200))
def test_no_bytes_break_the_path_reader(data: bytes) -> None:
    for contour in contours_of(data, UNIT):
        assert contour.segments.shape[1:] == (4, 2)
