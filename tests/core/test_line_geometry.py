"""The geometry of lines, on curves: against formulae, and against shapely on fine polylines."""

import math

import numpy as np
import pytest
import shapely

from horismos.paths import Contour, contour_from_points, flatten, rectangle
from horismos.paths.chords import chords_of
from horismos.paths.crossings import DOUBLED_WITHIN_MM, Crossing, Stretch, crossings, doubled
from horismos.paths.curvature import all_tight_turns, corners, nodes, tight_turns
from horismos.paths.nearness import near, ribbons


def _ellipse(x: float, y: float, a: float, b: float, parts: int = 16) -> Contour:
    """An ellipse of cubic arcs; with 16 of them its curvature is right to better than a thousandth."""
    t = np.arange(parts + 1) * 2 * math.pi / parts
    k = 4 / 3 * math.tan(math.pi / parts / 2)
    p = np.column_stack([x + a * np.cos(t), y + b * np.sin(t)])
    d = np.column_stack([-a * np.sin(t), b * np.cos(t)])
    segments = np.stack([p[:-1], p[:-1] + k * d[:-1], p[1:] - k * d[1:], p[1:]], axis=1)
    segments[-1, 3] = segments[0, 0]
    return Contour(segments, np.zeros(parts, bool), True)


def _both(contours: list[Contour]) -> tuple[list[Crossing], list[Stretch]]:
    chords = chords_of(contours, 0.005)
    pairs = chords.pairs(DOUBLED_WITHIN_MM)
    twice = doubled(chords, pairs)
    return crossings(chords, pairs, twice), twice


def test_two_circles_cross_where_their_equation_says() -> None:
    found, twice = _both([_ellipse(0, 0, 10, 10), _ellipse(12, 0, 10, 10)])
    assert not twice
    assert sorted(c.at[1] for c in found) == pytest.approx([-8, 8], abs=1e-3)
    assert [c.at[0] for c in found] == pytest.approx([6, 6], abs=1e-3)


@pytest.mark.parametrize("seed", range(8))
def test_crossings_of_a_scribble_are_those_that_shapely_finds(seed: int) -> None:
    rng = np.random.default_rng(seed)
    ends = rng.uniform(0, 100, (13, 2))
    inner = rng.uniform(0, 100, (12, 2, 2))
    segments = np.stack([ends[:-1], inner[:, 0], inner[:, 1], ends[1:]], axis=1)
    scribble = Contour(segments, np.zeros(12, bool), False)
    found, twice = _both([scribble])
    line = flatten(scribble, 0.0005)
    noded = shapely.node(shapely.LineString(line))
    degree: dict[tuple[float, float], int] = {}
    for part in noded.geoms:
        for end in (part.coords[0], part.coords[-1]):
            degree[end] = degree.get(end, 0) + 1
    exact = np.array([p for p, count in degree.items() if count == 4])
    at = np.array([crossing.at for crossing in found])
    for crossing in found:
        assert np.hypot(*(exact - crossing.at).T).min() < 0.01
    # Curves that run within 0.05 mm of each other for a millimetre and more are told as doubled instead.
    boxes = [shapely.box(*stretch.box) for stretch in twice if stretch.length_mm > 1]
    missed = [p for p in exact if np.hypot(*(at - p).T).min() > 0.01]
    assert all(any(box.dwithin(shapely.Point(p), 0.1) for box in boxes) for p in missed)
    assert len(missed) <= 2 and len(found) <= len(exact)


def test_touching_is_not_crossing_and_a_node_on_the_other_line_may_be_either() -> None:
    square = rectangle(0, 0, 10, 10)
    touches = contour_from_points([(10, 5), (15, 0), (15, 10)], True)
    goes_in = contour_from_points([(15, 0), (10, 5), (5, 5), (5, 2)], False)
    assert _both([square, touches]) == ([], [])
    found, _ = _both([square, goes_in])
    assert [c.at for c in found] == [(10.0, 5.0)]


def test_an_arc_drawn_again_is_doubled_over_its_length_and_does_not_cross() -> None:
    circle = _ellipse(0, 0, 20, 20)
    again = Contour(circle.segments[2:6] + 0.01, circle.straight[2:6], False)
    found, twice = _both([circle, again])
    assert not found
    assert sum(s.length_mm for s in twice) == pytest.approx(20 * math.pi / 2, abs=0.2)
    apart = Contour(circle.segments[2:6] * (1 + 0.06 / 20), circle.straight[2:6], False)
    assert not _both([circle, apart])[1]


def test_a_line_that_goes_back_on_itself_is_doubled() -> None:
    spike = contour_from_points([(0, 0), (10, 0), (20, 0), (12, 0.01), (10, 10)], True)
    _, twice = _both([spike])
    assert twice[0].length_mm == pytest.approx(8, abs=0.5)


def test_the_tightest_radius_of_an_ellipse_is_b_squared_over_a() -> None:
    turns = tight_turns(_ellipse(0, 0, 9, 1.8), 0.5)
    assert turns[0].radius_mm == pytest.approx(1.8**2 / 9, rel=0.01)
    assert abs(turns[0].at[0]) == pytest.approx(9, abs=0.05)
    assert not tight_turns(_ellipse(0, 0, 9, 1.8), 0.35)


def test_a_bend_made_of_chords_has_the_radius_of_its_circle() -> None:
    t = np.linspace(0, math.pi, 13)
    bend = np.column_stack([0.4 * np.cos(t), 0.4 * np.sin(t)])
    hairpin = contour_from_points(np.vstack([[(0.4, -20)], bend, [(-0.4, -20)]]), False)
    (turn,) = tight_turns(hairpin, 0.5)
    assert turn.radius_mm == pytest.approx(0.4, rel=0.03)
    assert not corners(hairpin, 60)


def test_corners_have_the_angle_between_their_sides() -> None:
    kite = contour_from_points([(0, 0), (10, 3), (0, 6), (-2, 3)], True)
    (tip,) = corners(kite, 120)
    assert tip.at == (10.0, 3.0)
    assert tip.inner_angle == pytest.approx(2 * math.degrees(math.atan(0.3)), abs=0.01)


def test_the_turns_of_many_contours_are_those_of_each() -> None:
    zigzag = contour_from_points(np.array([(0, 0), (0.1, 0), (0.15, 0.05), (0.15, 0.15), (0, 0.3), (9, 9)]), True)
    many = [_ellipse(0, 0, 9, 1.8), rectangle(0, 0, 5, 5), _ellipse(20, 0, 9, 9), zigzag, _ellipse(0, 20, 3, 0.4)]
    one_by_one = sorted((t for c in many for t in tight_turns(c, 0.5)), key=lambda t: t.radius_mm)
    assert len(one_by_one) > 4 and all_tight_turns(many, 0.5) == one_by_one
    assert all_tight_turns([], 0.5) == []


@pytest.mark.parametrize("seed", range(5))
def test_how_near_two_curves_come_is_what_shapely_says(seed: int) -> None:
    rng = np.random.default_rng(seed)
    a = _ellipse(0, 0, *rng.uniform(5, 20, 2))
    b = _ellipse(0, 0, *(rng.uniform(21, 23, 2)))
    exact = shapely.LineString(flatten(a, 0.0005)).distance(shapely.LineString(flatten(b, 0.0005)))
    (found,) = near(chords_of([a, b], 0.005), [0, 1], 20)
    assert found.apart_mm == pytest.approx(exact, abs=0.012)
    assert not near(chords_of([a, b], 0.005), [0, 0], 20)


def test_expanded_strokes_are_ribbons_and_their_width_is_that_of_the_stroke() -> None:
    wave = shapely.LineString([(x, 3 * math.sin(x / 5)) for x in np.linspace(0, 60, 300)])
    outline = np.array(wave.buffer(0.2, cap_style="round").exterior.coords)[:-1]
    (found,) = ribbons([contour_from_points(outline, True)], 2)
    assert found.width_mm == pytest.approx(0.4, rel=0.02)
    assert not ribbons([_ellipse(0, 0, 20, 20), _ellipse(5, 0, 14, 14)], 2)
    # A lens with a belly is thin, but no stroke.
    lens = shapely.Point(0, 0).buffer(40, quad_segs=100).intersection(shapely.Point(79.2, 0).buffer(40, quad_segs=100))
    assert not ribbons([contour_from_points(np.array(lens.exterior.coords)[:-1], True)], 0.5)


def test_zigzag_is_turning_that_takes_itself_back() -> None:
    x = np.arange(0, 60, 0.3)
    teeth = contour_from_points(np.column_stack([x, 0.12 * (np.arange(len(x)) % 2)]), False)
    # By hand: each tooth turns by twice the slope's angle, one on every 0.3 mm.
    turn = 2 * math.degrees(math.atan(0.12 / 0.3))
    assert nodes(teeth, 60, 0.05).zigzag == pytest.approx(turn / 0.3, rel=0.1)
    assert nodes(_ellipse(0, 0, 9, 2), 40, 0.05).zigzag == 0
