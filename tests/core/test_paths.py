"""Contours are measured exactly."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from horismos.artwork.pathdata import contours_of, path_operators
from horismos.paths import (
    Contour,
    batch_measures,
    bounds,
    chain,
    contour_from_points,
    flatten,
    greatest_distance,
    length,
    rectangle,
    sample,
    signed_area,
)
from horismos.paths.curvature import node_directions
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


def test_many_contours_measured_at_once_come_to_what_each_alone_comes_to() -> None:
    chance = np.random.default_rng(7)

    def any_contour() -> Contour:
        segments = chance.normal(size=(chance.integers(1, 9), 4, 2)) * 20
        straight = chance.random(len(segments)) < 0.4
        for i, p in enumerate(segments):
            if i:
                p[0] = segments[i - 1, 3]
            if straight[i]:
                p[1], p[2] = p[0] + (p[3] - p[0]) / 3, p[0] + (p[3] - p[0]) * 2 / 3
        return Contour(segments, straight, bool(chance.random() < 0.5))

    nothing = np.zeros((1, 4, 2)) + 3
    contours = [*(any_contour() for _ in range(60)), Contour(nothing, np.array([True]), False), rectangle(0, 0, 4, 2)]
    alone = [Contour(c.segments, c.straight, c.closed) for c in contours]
    batch_measures.measure_all(contours)
    batch_measures.flatten_all(contours, 0.05)
    batch_measures.sample_all(contours, 0.5)
    batch_measures.directions_all(contours)
    assert len(contours[0].measured) >= 6, "they were measured"
    for one, other in zip(contours, alone, strict=True):
        assert length(one) == pytest.approx(length(other)) and signed_area(one) == pytest.approx(signed_area(other))
        assert bounds(one) == pytest.approx(bounds(other))
        for measure, figures in ((flatten, (0.05,)), (sample, (0.5,)), (node_directions, ())):
            mine, theirs = measure(one, *figures), measure(other, *figures)
            for a, b in zip(*((v if isinstance(v, tuple) else (v,)) for v in (mine, theirs)), strict=True):
                assert a.shape == b.shape and np.allclose(a, b, atol=1e-6)


def test_what_was_measured_of_a_contour_is_kept_and_cannot_be_written_to() -> None:
    contour = rectangle(0, 0, 4, 2)
    line = flatten(contour, 0.01)
    assert flatten(contour, 0.01) is line and flatten(contour, 0.02) is not line
    with pytest.raises(ValueError, match="read-only"):
        line[0] = 7
