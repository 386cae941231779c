"""The figure of a test cut: its shape, and that it stands where nothing else does."""

import math

import numpy as np
import pytest
import shapely

from horismos.cutting import DEFAULT_TOOLS, Blade
from horismos.cutting.weeding import APART_MM, FIGURE_MM, figure, figure_strokes, place_of_figures
from horismos.errors import DoesNotFit
from horismos.paths import bounds, flatten
from horismos.roles import LineRole
from horismos.simulation.holding import breaks, cut_loose

KISS = DEFAULT_TOOLS[LineRole.KISS_CUT]


def test_the_figure_has_sharp_corners_a_narrow_neck_and_a_round_head() -> None:
    shape = shapely.Polygon(flatten(figure(0, 0)))
    assert shape.is_valid and shape.bounds == pytest.approx((0, 0, *FIGURE_MM), abs=0.02)
    neck = shape.intersection(shapely.LineString([(9.5, -1), (9.5, 9)]))
    assert neck.length == pytest.approx(1.5, abs=1e-6)
    assert shape.area == pytest.approx(64 + 3 * 1.5 + math.pi * 2.5**2, abs=0.4)
    assert bounds(figure(10, 20))[:2] == pytest.approx((10, 20))


def test_a_drag_blade_cuts_it_as_it_does_all_else() -> None:
    from dataclasses import replace

    tool = replace(KISS, blade=Blade.DRAG, offset_mm=0.25, overcut_mm=0.5, passes=2)
    strokes = figure_strokes(tool, 5, 5)
    assert len(strokes) == 2
    off = shapely.LineString(strokes[0].tip).hausdorff_distance(shapely.LinearRing(flatten(figure(5, 5))))
    assert off < 0.03


def test_figures_stand_side_by_side_nearest_to_the_leading_edge_and_in_nobodys_way() -> None:
    taken = [(0.0, 60.0, 600.0, 400.0), (20.0, 0.0, 60.0, 40.0)]
    places = place_of_figures(3, (610.0, 500.0), 15.0, taken)
    boxes = [shapely.box(x, y, x + FIGURE_MM[0], y + FIGURE_MM[1]) for x, y in places]
    for i, box in enumerate(boxes):
        assert all(box.distance(other) >= APART_MM - 1e-9 for other in boxes[:i])
        assert all(box.distance(shapely.box(*other)) >= APART_MM - 1e-9 for other in taken)
    assert max(y for _, y in places) < 60
    with pytest.raises(DoesNotFit, match="scrap"):
        place_of_figures(1, (610.0, 500.0), 15.0, [(0.0, 0.0, 610.0, 500.0)])


# -- what holds a piece ----------------------------------------------------------------------------


def op(role: str, copies: list[list[int]], side: str = "front") -> dict[str, object]:
    return {"role": role, "side": side, "aligning": False, "copies": copies}


def test_a_piece_is_loose_when_it_is_cut_into_after_it_was_cut_through() -> None:
    kiss, through = op("kiss-cut", [[0, 1], [1, 1], [2, 1]]), op("through-cut", [[0, 1], [2, 1]])
    assert cut_loose([kiss, through]) == set()
    assert cut_loose([through, kiss]) == {0, 2}
    assert cut_loose([through, op("back-cut", [[0, 1]], "back")]) == set()


def test_ties_break_where_they_are_few_or_scored_nearly_through() -> None:
    from horismos.materials import MATERIALS

    strata, random = MATERIALS["film-1370"].strata, np.random.default_rng(1)
    whole = {"tie_mm": 0.5, "cut_mm": 4.0, "tie_force_gf": 0.0}
    assert breaks(24, whole, strata, 500, random).sum() == 0
    assert breaks(1, whole, strata, 500, random).mean() > 0.3
    scored = {**whole, "tie_force_gf": 188.0}
    assert breaks(24, scored, strata, 500, random).mean() > 0.1
    assert breaks(24, {**whole, "tie_force_gf": 60.0}, strata, 500, random).sum() == 0
