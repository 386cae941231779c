"""A size that differs from the order: what the check proposes, and art and lines scaled, turned or fitted to."""

from typing import Any

import pytest

from horismos.artwork import read_bytes
from horismos.checking import check_whole
from horismos.errors import NothingToDo
from horismos.mending import offers, step
from horismos.orders import Order
from horismos.workflow.case import Case
from horismos.workflow.mend import mend
from tests.breadth import breadth
from tests.shapes import Drawing, line_in, write


def case_of(width: float, height: float, order: tuple[float | None, float | None], lined: bool = True) -> Case:
    """Art of a size with a through cut on its edge, on a page with 10 mm round it; the trim box is the page."""
    box = f"10 10 {width} {height} re"
    content = f"0.2 0.4 0 0 k {box} f\n" + (line_in(box) if lined else "")
    page = Drawing(content, (width + 20, height + 20), {"K": "Through Cut"}, trim=None, bleed=None)
    return Case(artwork=read_bytes(write(page)), order=Order(width_mm=order[0], height_mm=order[1]))


def size_of(case: Case) -> Any:
    report = check_whole(case.artwork, case.terms).report
    return next((f for f in report.findings if f.id == "page.size"), None)


def asked(case: Case) -> list[dict[str, Any]]:
    found = size_of(case)
    return [one.to_json() for one in offers(found)] if found else []


@breadth(0.12, "long ones")
def test_the_same_proportions_are_scaled_to_the_order_in_one_step() -> None:
    case = case_of(55.8, 71.6, (59.4, 76.2))
    (way,) = offers(size_of(case))
    assert way.label == "Scale to the order (× 1.064)"
    after, _ = mend(case, way)
    assert size_of(after) is None
    # as a recipe has it, the ratio is worked out
    again, _ = mend(case, step("scale", to="order"))
    assert again.page.size_mm == pytest.approx(after.page.size_mm)


@breadth(0.12, "long ones")
@pytest.mark.parametrize(("height", "ways"), [
    (101.0, [("scale", "order")]),                                     # 0.5 % less a little of 100 × 1.01
    (103.0, [("scale", "order-width"), ("scale", "order-height")]),
])
def test_proportions_that_differ_ask_which_side_holds(height: float, ways: list[tuple[str, str]]) -> None:
    case = case_of(50, 50, (100.6, height))
    assert [(one["mend"], one["to"]) for one in asked(case)] == ways
    if len(ways) == 2:
        assert "differ by 2.4 %: which side holds?" in size_of(case).message
        wide, _ = mend(case, offers(size_of(case))[0])
        assert "The outer cut measures 100.6 × 100.6 mm" in size_of(wide).message
        with pytest.raises(NothingToDo, match="differ by"):
            mend(case, step("scale", to="order"))


def test_a_plain_ratio_and_a_quarter_turn_are_known_as_before() -> None:
    assert asked(case_of(50, 30, (500, 300))) == [{"mend": "scale", "ratio": 10.0}]
    assert asked(case_of(50, 30, (30, 50))) == [{"mend": "turn", "degrees": "90"}]
    assert asked(case_of(50, 30, (60, 100))) == [{"mend": "turn", "degrees": "90"}]


def test_one_ordered_side_is_enough_and_none_asks_for_nothing() -> None:
    assert [one["to"] for one in asked(case_of(50, 30, (61, None)))] == ["order"]
    assert asked(case_of(50, 30, (None, None))) == []
    with pytest.raises(NothingToDo, match="says no size"):
        mend(case_of(50, 30, (None, None)), step("scale", to="order"))


def test_art_of_the_ordered_size_on_a_larger_page_makes_the_page_fit() -> None:
    case = case_of(50, 30, (50, 30), lined=False)
    (way,) = offers(size_of(case))
    assert way.mend == "fit-page"
    after, _ = mend(case, way)
    assert after.page.size_mm == pytest.approx((50, 30), abs=0.01) and size_of(after) is None
    with pytest.raises(NothingToDo, match="fits what is on it"):
        mend(after, step("fit-page"))


def test_an_empty_page_has_nothing_to_fit() -> None:
    case = Case(artwork=read_bytes(write(Drawing("", trim=None, bleed=None))))
    with pytest.raises(NothingToDo, match="neither art nor a line"):
        mend(case, step("fit-page"))


@pytest.mark.parametrize("degrees", [90, "90", 90.0])
def test_a_choice_is_meant_by_a_number_as_well_as_by_its_words(degrees: object) -> None:
    assert step("turn", degrees=degrees)["degrees"] == "90"

