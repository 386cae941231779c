"""The base of the house: boxes, matrices, rings, roles, units, looks, errors, and a cut that lands off."""

import dataclasses
import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from horismos import errors, palette, units
from horismos.destinations import SHIPPED
from horismos.materials import MATERIALS
from horismos.misregistration import Misregistration
from horismos.paths import rectangle
from horismos.paths.box import around, common, grow, holds, placed, union_bounds
from horismos.paths.matrix import IDENTITY, apply, move, multiply, scale
from horismos.paths.ring import area_inside, polygon_of
from horismos.roles import CUT_ORDER, LineRole, Part, StrokeShape, role_of_step

NUMBER = st.floats(-1000, 1000)
MATRIX = st.tuples(*[st.floats(-3, 3)] * 4, NUMBER, NUMBER)
BOX = st.tuples(NUMBER, NUMBER, st.floats(0.001, 500), st.floats(0.001, 500)).map(
    lambda v: (v[0], v[1], v[0] + v[2], v[1] + v[3])
)


# -- boxes and matrices -------------------------------------------------------------------------------


@given(BOX, BOX)
def test_what_boxes_have_together_and_in_common_is_what_shapely_says(
    a: tuple[float, ...], b: tuple[float, ...]
) -> None:
    """Source: shapely's bounds of two boxes, and whether they meet."""
    together = union_bounds([a, b])  # type: ignore[list-item]
    assert together == pytest.approx(shapely.total_bounds([shapely.box(*a), shapely.box(*b)]), abs=1e-9)
    both = common(a, b)  # type: ignore[arg-type]
    assert (both is not None) == shapely.box(*a).intersects(shapely.box(*b))
    assert both is None or (holds(a, both) and holds(b, both) and holds(together, both))  # type: ignore[arg-type]


def test_boxes_of_nothing_and_boxes_that_touch() -> None:
    assert union_bounds([]) is None
    assert common((0, 0, 1, 1), (1, 1, 2, 2)) == (1, 1, 1, 1)
    assert common((0, 0, 1, 1), (1.001, 0, 2, 1)) is None
    assert holds((0, 0, 1, 1), (0, 0, 1, 1)) and not holds((0, 0, 1, 1), (0, 0, 1, 1.001))
    assert grow((0, 0, 2, 2), 1, 3) == (-1, -3, 3, 5)
    assert around(5, 6, 2) == (3, 4, 7, 8)


@given(MATRIX, MATRIX, NUMBER, NUMBER)
def test_the_product_of_matrices_does_one_after_the_other(
    m: tuple[float, ...], n: tuple[float, ...], x: float, y: float
) -> None:
    """Source: ISO 32000-1, 8.3.4: M' = M1 × M2 applies M1 first."""
    both = apply(multiply(m, n), x, y)  # type: ignore[arg-type]
    assert both == pytest.approx(apply(n, *apply(m, x, y)), rel=1e-9, abs=1e-6)  # type: ignore[arg-type]
    assert multiply(m, IDENTITY) == pytest.approx(m) == multiply(IDENTITY, m)  # type: ignore[arg-type]


def test_matrices_move_scale_and_place() -> None:
    assert apply(multiply(scale(2), move(1, 0)), 3, 4) == (7, 8)
    assert placed((0, 0, 2, 1), (0, 1, -1, 0, 10, 0)) == (9, 0, 10, 2)
    assert placed((0, 0, 2, 1), scale(-1)) == (-2, -1, 0, 0)


# -- rings ---------------------------------------------------------------------------------------------


def test_a_contour_as_an_area_is_as_large_as_it_is() -> None:
    assert polygon_of(rectangle(1, 1, 4, 3)).area == pytest.approx(6)


def test_areas_of_several_contours_are_counted_once_and_their_holes_filled() -> None:
    overlapping = area_inside([rectangle(0, 0, 10, 10), rectangle(5, 0, 15, 10)])
    assert overlapping.area == pytest.approx(150)
    assert area_inside([rectangle(0, 0, 10, 10), rectangle(3, 3, 6, 6)]).area == pytest.approx(100)
    assert area_inside([]) is None


# -- a cut that lands off -------------------------------------------------------------------------------


POINTS = np.array([[0.0, 0.0], [100.0, 0.0], [100.0, 200.0], [0.0, 200.0]])
MIDDLE = np.array([50.0, 100.0])


@pytest.mark.parametrize("off", [
    Misregistration(), Misregistration(turn=7), Misregistration(stretch_x=0.3, stretch_y=-0.2),
    Misregistration(skew=1), Misregistration(bend=2),
])
def test_the_middle_stays_whatever_happens_about_it(off: Misregistration) -> None:
    assert off.landed(MIDDLE[None], MIDDLE)[0] == pytest.approx(MIDDLE)


@pytest.mark.parametrize(("off", "lands"), [
    (Misregistration(dx=1, dy=-2), (101, 198)),
    (Misregistration(turn=90), (-50, 150)),
    (Misregistration(stretch_x=1), (100.5, 200)),
    (Misregistration(stretch_y=1), (100, 201)),
    (Misregistration(skew=45), (200, 200)),
    (Misregistration(bend=10), (100 + 4 * 10 * 0.1**2, 200)),
])
def test_each_way_of_landing_off_is_the_one_that_it_is_called(
    off: Misregistration, lands: tuple[float, float]
) -> None:
    """Worked by hand for the corner at 100, 200 about 50, 100."""
    assert off.landed(POINTS, MIDDLE)[2] == pytest.approx(lands)


def test_turning_keeps_lengths_and_areas_and_skewing_keeps_areas() -> None:
    for off in (Misregistration(turn=33), Misregistration(skew=12)):
        assert shapely.Polygon(off.landed(POINTS, MIDDLE)).area == pytest.approx(20_000)
    turned = Misregistration(turn=33).landed(POINTS, MIDDLE)
    assert np.linalg.norm(turned[2] - turned[0]) == pytest.approx(math.hypot(100, 200))
    camber = Misregistration(bend=3).landed(np.array([[0.0, -500.0], [0.0, 0.0], [0.0, 500.0]]), np.zeros(2))
    assert camber[:, 0] == pytest.approx([3, 0, 3]), "the ends of a metre lie so far beside its middle"


# -- tables --------------------------------------------------------------------------------------------


def test_every_role_has_its_own_order_look_and_step() -> None:
    facts = [role.facts for role in LineRole]
    for of in ("order", "colour", "shape", "step", "words"):
        assert len({getattr(f, of) for f in facts}) == len(LineRole), of
    assert {f.shape for f in facts} == set(StrokeShape)
    assert sorted(CUT_ORDER, key=lambda role: role.facts.order) == list(CUT_ORDER)


def test_what_is_cut_loose_is_cut_last_on_its_side() -> None:
    """Common practice, no source: a piece that is loose cannot be cut any more."""
    face = [role for role in CUT_ORDER if not role.facts.from_behind]
    assert face[-1] is LineRole.THROUGH_CUT and CUT_ORDER[-1] is LineRole.BACK_CUT
    assert Part.CARRIER not in LineRole.KISS_CUT.facts.through
    assert LineRole.BACK_CUT.facts.through == {Part.CARRIER}
    assert not LineRole.CREASE.facts.through


def test_a_role_is_found_by_the_step_that_the_standard_names() -> None:
    """Source: ISO 19593-1 names the steps; the keys are from memory."""
    for role in LineRole:
        assert role_of_step(*role.facts.step) is role
    assert role_of_step("Structural", "Gluing") is None


def test_every_destination_names_every_role_its_own_way() -> None:
    for destination in SHIPPED.values():
        names = [destination.name_of(role) for role in LineRole]
        assert len(set(names)) == len(names) and all(names)


def test_materials_lie_face_up_and_reach_the_carrier_once() -> None:
    for material in MATERIALS.values():
        parts = [stratum.part for stratum in material.strata]
        assert [part for part, _ in itertools.groupby(parts)] == [Part.FACE, Part.ADHESIVE, Part.CARRIER]
        assert all(stratum.thickness_um > 0 for stratum in material.strata) and material.width_mm > 0


def test_units_are_what_the_standards_say() -> None:
    """Source: the international inch of 25.4 mm; ISO 32000-1, 8.3.2.3; CSS Values 3, 6.2."""
    assert units.UNITS_MM["inch"] == 25.4 and units.UNITS_MM["foot"] == pytest.approx(304.8)
    assert units.UNITS_MM["point"] * 72 == pytest.approx(25.4) and units.UNITS_MM["pixel"] * 96 == pytest.approx(25.4)
    assert units.UNITS_MM["yard"] == pytest.approx(914.4) and units.UNITS_MM["pica"] * 6 == pytest.approx(25.4)
    assert units.mm_from_points(units.points_from_mm(123.4)) == pytest.approx(123.4)
    assert [units.user_unit_for(mm) for mm in (5080, 5080.1, 50_800)] == [1, 2, 10]


def test_red_is_for_stops_alone() -> None:
    red = palette.rgb(palette.STOP)
    others = [role.facts.colour for role in LineRole] + [palette.LOOK, palette.NOTE, palette.INK]
    assert palette.STOP not in others
    assert red[0] > 2 * max(red[1:])


# -- errors ----------------------------------------------------------------------------------------------


def test_every_error_has_a_code_of_its_own_and_a_meaning() -> None:
    kinds = [getattr(errors, name) for name in errors.__all__]
    kinds = [kind for kind in kinds if isinstance(kind, type) and issubclass(kind, errors.HorismosError)]
    assert len({kind.code for kind in kinds}) == len(kinds) == len(errors.codes())
    assert all(len(means) > 20 and means.endswith(".") for means in errors.codes().values())


def test_an_error_comes_back_by_its_code_as_a_child_process_told_it() -> None:
    for code in set(errors.codes()) - {"asks"}:
        again = errors.by_code(code, "The file is locked.", "Ask for it.")
        assert again.code == code and str(again) == "The file is locked. Ask for it."
    assert errors.by_code("of-later", "Something.").code == "cannot-do"


def test_being_stopped_is_no_error() -> None:
    assert not issubclass(errors.Cancelled, Exception)
    assert "cancelled" not in errors.codes()


def test_values_are_frozen() -> None:
    with pytest.raises(dataclasses.FrozenInstanceError):
        Misregistration().dx = 1  # type: ignore[misc]
