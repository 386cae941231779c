"""How lines run after they were mended: fitted, welded, rounded, in the middle of a stroke, without what is doubled."""

import math

import numpy as np
import pytest
import shapely

from horismos.artwork import line_objects, read_bytes
from horismos.artwork.pathdata import path_operators
from horismos.checking import check
from horismos.errors import NothingToDo
from horismos.mending import Mended, mend, step
from horismos.orders import Order
from horismos.paths import Contour, contour_from_points, flatten, greatest_distance, length, rectangle, signed_area
from horismos.paths.areas import area_of
from horismos.paths.corners import corner_places
from horismos.paths.curvature import corners, tight_turns
from horismos.paths.fit import fit
from horismos.paths.weld import expanded, welded, welded_areas
from tests.breadth import breadth
from tests.known import HOUSE
from tests.pairs import SPOTS
from tests.shapes import Drawing, circle, line_in, write

GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f\n"


def mended(content: str, name: str, **settings: object) -> Mended:
    return mend(read_bytes(write(Drawing(GROUND + content, inks=SPOTS))), step(name, **settings), HOUSE)


def lines_of(done: Mended) -> list[Contour]:
    page = done.artwork.pages[0]
    return [c for line in line_objects(done.artwork, page, HOUSE) for c in line.contours]


def round_points(radius: float, count: int, noise: float = 0.0) -> np.ndarray:
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False)
    r = radius + np.random.default_rng(3).normal(0, noise, count)
    return np.column_stack([r * np.cos(angle), r * np.sin(angle)])


def star(n: int = 5, dense: int = 40) -> np.ndarray:
    angle = np.arange(2 * n + 1) * math.pi / n
    ends = np.where(np.arange(2 * n + 1) % 2, 4, 10)[:, None] * np.column_stack([np.cos(angle), np.sin(angle)])
    return np.concatenate([np.linspace(a, b, dense, endpoint=False) for a, b in zip(ends[:-1], ends[1:], strict=True)])


# -- fitting ---------------------------------------------------------------------------------------


@pytest.mark.parametrize(("points", "loops", "tolerance", "most"), [
    (round_points(40, 4000), True, 0.05, 12), (round_points(2, 400), True, 0.05, 8), (star(), True, 0.05, 10),
    (round_points(40, 4000, 0.008), True, 0.05, 80),
    (np.column_stack([np.linspace(0, 40, 900), 5 * np.sin(np.linspace(0, 12, 900))]), False, 0.02, 30),
])
def test_a_fitted_curve_has_few_nodes_and_stays_within_the_tolerance(
    points: np.ndarray, loops: bool, tolerance: float, most: int
) -> None:
    given = contour_from_points(points, loops)
    made = fit(given, tolerance)
    assert made.node_count <= most and made.closed == given.closed
    assert greatest_distance([flatten(given, 1e-3)], [flatten(made, 1e-3)], 0.02) <= tolerance


def test_true_corners_stay_where_they_are_and_a_smooth_outline_gets_none() -> None:
    given = star()
    places = corner_places(np.vstack([given, given[:1]]), True, 0.05)
    assert len(places) == 10
    made = fit(contour_from_points(given, True), 0.05)
    assert {tuple(p.round(6)) for p in made.segments[:, 0]} == {tuple(p.round(6)) for p in given[places]}
    assert not corners(fit(contour_from_points(round_points(9, 2000), True), 0.05), 8), "it goes on as it came"


def test_what_has_nothing_to_smooth_is_left() -> None:
    with pytest.raises(NothingToDo):
        mended(line_in(circle(50, 50, 40)), "smooth")
    tips = " ".join(f"{x} {y} l" for x, y in (star(5, 1) + 50).round(3).tolist())
    with pytest.raises(NothingToDo):
        mended(line_in(tips.replace("l", "m", 1) + " h"), "smooth")


# -- welding and expanding -------------------------------------------------------------------------


def test_what_is_welded_is_what_shapely_joins() -> None:
    """Source: shapely's union of the same areas, drawn as fine polygons."""
    rng = np.random.default_rng(5)
    many = [
        fit(contour_from_points(round_points(float(r), 300) + rng.uniform(-15, 15, 2), True), 0.001)
        for r in rng.uniform(4, 12, 9)
    ]
    theirs = shapely.union_all([shapely.Polygon(flatten(c, 2e-4)) for c in many])
    ours = welded(many)
    assert sum(signed_area(c) for c in ours) == pytest.approx(theirs.area, rel=5e-5)
    assert not all(c.straight.all() for c in ours), "curves stay curves"
    rings = [np.asarray(r.coords) for p in shapely.get_parts(theirs) for r in (p.exterior, *p.interiors)]
    assert greatest_distance([flatten(c, 1e-3) for c in ours], rings, 0.1) < 0.002


def test_a_figure_of_eight_becomes_two_loops_that_do_not_cross() -> None:
    done = mended(line_in("30 30 m 70 70 l 70 30 l 30 70 l h"), "weld")
    assert done.changed["crossings"] == 1 and "crosses" not in done.said
    assert sum(abs(signed_area(c)) for c in lines_of(done)) == pytest.approx(2 * 40 * 20 / 2, rel=1e-4)


def test_welding_leaves_what_does_not_cross_and_what_does_not_close() -> None:
    apart = line_in(circle(50, 15, 5)) + line_in("10 90 m 90 92 l 90 90 l 10 92 l", "P")
    done = mended(line_in(f"{circle(40, 50, 20)} {circle(60, 50, 20)}") + apart, "weld")
    assert done.changed == {"contours_before": 2, "contours_after": 1, "crossings": 2}
    assert done.difference.after == {"kiss-cut": 2, "perforation": 1}
    with pytest.raises(NothingToDo):
        mended(apart, "weld")


@pytest.mark.parametrize(("cap", "join"), [(0, 0), (1, 1), (2, 2)])
def test_an_expanded_stroke_is_what_shapely_buffers(cap: int, join: int) -> None:
    """Source: shapely's buffer with the same caps and joins."""
    bent = contour_from_points([(0, 0), (30, 0), (30, 20), (5, 25)], False)
    names = ("flat", "round", "square")[cap], ("mitre", "round", "bevel")[join]
    drawn = shapely.LineString(flatten(bent))
    theirs = drawn.buffer(1.5, cap_style=names[0], join_style=names[1], mitre_limit=10, quad_segs=64)
    ours = expanded([bent], 3.0, cap, join)
    assert sum(signed_area(c) for c in ours) == pytest.approx(theirs.area, rel=1e-3)
    assert greatest_distance([flatten(c, 1e-3) for c in ours], [np.asarray(theirs.exterior.coords)], 0.1) < 0.02


# -- the middle of a stroke, doubles, holes, corners ------------------------------------------------


@pytest.mark.parametrize("path", [
    f"{circle(50, 50, 30.15)} {circle(50, 50, 29.85)}", f"{circle(50, 50, 29.85)} {circle(50, 50, 30.15)}",
])
def test_the_line_of_a_ring_runs_in_its_middle(path: str) -> None:
    done = mended(line_in(path), "to-centreline")
    (line,) = lines_of(done)
    middle = flatten(fit(contour_from_points(round_points(30, 2000) + 40, True), 0.001))
    assert line.closed and greatest_distance([flatten(line)], [middle], 0.2) < 0.02


def test_the_line_of_a_thin_outline_folds_at_its_ends() -> None:
    bent = contour_from_points([(20, 30), (60, 32), (78, 60)], False)
    outline = expanded([bent], 0.3, cap=1, join=1)
    path = path_operators(outline, (1, 0, 0, 1, 0, 0)).decode()
    done = mended(line_in(path, "P"), "to-centreline")
    (line,) = lines_of(done)
    assert not line.loops and length(line) == pytest.approx(length(bent), abs=0.4)
    assert greatest_distance([flatten(line)], [flatten(bent.transformed((1, 0, 0, 1, -10, -10)))], 0.2) < 0.2


def test_of_two_alike_one_stays_and_doubled_ends_of_open_lines_go() -> None:
    done = mended(line_in(circle(50, 50, 40)) * 3, "drop-doubled")
    assert done.difference.after == {"kiss-cut": 1} and done.changed["contours"] == 2
    both = line_in("10 50 m 90 50 l 90 60 l", "P") + line_in("90 50 m 10 50 l 10 60 l", "P")
    done = mended(both, "drop-doubled")
    assert sum(map(length, lines_of(done))) == pytest.approx(100, abs=1e-3) and done.difference.lines_moved_mm < 1e-6
    with pytest.raises(NothingToDo, match="left to a person"):
        mended(line_in("20 20 30 30 re") + line_in("50 20 30 30 re"), "drop-doubled")


def test_inner_contours_go_below_an_area_or_where_pointed_at() -> None:
    path = f"{circle(50, 50, 40)} {circle(40, 50, 5)} {circle(65, 50, 9)}"
    assert mended(line_in(path), "drop-inner").difference.after == {"kiss-cut": 1}
    assert mended(line_in(path), "drop-inner", below_mm2=100).changed["contours"] == 1
    done = mended(line_in(path), "drop-inner", at=[[55, 40]])
    left = sorted(abs(signed_area(c)) for c in lines_of(done))
    assert left == pytest.approx([math.pi * 25, math.pi * 1600], rel=1e-3)
    with pytest.raises(NothingToDo):
        mended(line_in(path), "drop-inner", at=[[1, 1]])


def test_a_cut_that_was_pulled_in_is_smaller_by_the_distance_and_its_size_is_still_right() -> None:
    path = f"{circle(50, 50, 40)} {circle(50, 50, 5)}"
    done = mended(line_in(path), "pull-in", distance_mm=0.8)
    areas = sorted(abs(signed_area(c)) for c in lines_of(done))
    assert areas == pytest.approx([math.pi * 5.8**2, math.pi * 39.2**2], rel=5e-4)
    assert done.difference.lines_moved_mm == pytest.approx(0.8, abs=0.02)
    assert done.artwork.pages[0].pulled_in_mm == pytest.approx(0.8, abs=1e-4)
    assert done.artwork.pages[0].boxes == read_bytes(write(Drawing(GROUND))).pages[0].boxes
    order = Order(width_mm=80, height_mm=80)
    assert "page.size" not in {f.id for f in check(done.artwork, order).findings}
    twice = mend(done.artwork, step("pull-in", distance_mm=0.8), HOUSE)
    assert twice.artwork.pages[0].pulled_in_mm == pytest.approx(1.6, abs=1e-4)
    with pytest.raises(NothingToDo, match="falling apart"):
        mended(line_in("20 20 m 30 20 l 30 20.6 l 20 20.6 l h"), "pull-in", distance_mm=0.8)


def test_rounded_corners_have_the_radius_and_the_rest_stays() -> None:
    done = mended(line_in("20 20 m 80 20 l 80 60 l 20 60 l h"), "round-corners", radius_mm=2)
    (line,) = lines_of(done)
    assert not corners(line, 25) and not tight_turns(line, 1.99)
    assert signed_area(line) == pytest.approx(60 * 40 - (4 - math.pi) * 2.1**2, abs=0.1)
    assert done.changed["corners"] == 4
    assert done.changed["furthest_mm"] == pytest.approx(2.1 * (math.sqrt(2) - 1), abs=0.02)
    with pytest.raises(NothingToDo):
        mended(line_in("20 20 m 80 20 l 80 20.5 l 20 20.5 l h", "T"), "round-corners", radius_mm=2)


def _boxes(*boxes: tuple[int, int, int, int]) -> str:
    return line_in(" ".join(f"{x} {y} {w} {h} re" for x, y, w, h in boxes))


@pytest.mark.parametrize(("boxes", "area"), [
    (((10, 10, 60, 60), (30, 30, 20, 20), (25, 5, 10, 35)), 60 * 60 - 20 * 20 + 5 * 10 + 10 * 5),  # a bar over a hole
    (((10, 10, 40, 40), (20, 20, 10, 10), (45, 12, 40, 40), (60, 20, 10, 10)), 2 * 1600 - 5 * 38 - 2 * 100),  # letters
    (((10, 10, 60, 60), (30, 30, 20, 20), (28, 8, 24, 50)), 60 * 60 + 24 * 2),  # a hole that is covered is gone
])
def test_a_weld_keeps_holes_as_far_as_nothing_covers_them(boxes: tuple[tuple[int, ...], ...], area: float) -> None:
    done = mended(_boxes(*boxes), "weld")  # type: ignore[arg-type]
    assert area_of(lines_of(done)).area == pytest.approx(area, abs=0.1)


@breadth(0.12, "long ones")
def test_many_areas_with_holes_are_joined_as_shapely_joins_them() -> None:
    """Skia's builder for many paths loses holes; two hundred random pairs, against shapely's union."""
    random = np.random.default_rng(7)
    for _ in range(200):
        areas = []
        for x, y, r, q in random.uniform((0, 0, 10, 0.2), (60, 60, 40, 0.7), (2, 4)):
            areas.append([rectangle(x, y, x + r, y + r), rectangle(x + r * 0.1, y + r * 0.1, x + r * q, y + r * q)])
        meant = shapely.union_all([area_of(area) for area in areas])
        assert area_of(welded_areas(areas)).area == pytest.approx(meant.area, abs=0.05)
