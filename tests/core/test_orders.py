"""What an order says counts; what it does not say is left to the check sheet, and never guessed from a number."""

import pytest

from horismos.artwork import Artwork, read_bytes
from horismos.checking import CheckInputs, CheckSheet, check, check_whole, edge_limits
from horismos.errors import BadValue
from horismos.orders import DEFAULT_BLEED_MM, DEFAULT_BORDER_MM, DEFAULT_TOLERANCE_MM, Order
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

SAID_NOTHING = Order()


def with_bleed(mm: float) -> Artwork:
    """A disc that runs so far over its kiss cut."""
    return read_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 38 + mm)} f {line_in(circle(50, 50, 38))}")))


@pytest.mark.parametrize("ordered", [2.9, DEFAULT_BLEED_MM, 3.1])
def test_an_ordered_bleed_goes_before_the_sheet_whatever_its_number(ordered: float) -> None:
    sheet = CheckSheet(limits={"edge.bleed": 1.0})
    (found,) = [f for f in check(with_bleed(2.5), Order(bleed_mm=ordered), sheet=sheet).findings
                if f.id == "edge.bleed"]
    assert found.limit == ordered and found.measured == pytest.approx(2.5, abs=0.05)


@pytest.mark.parametrize("ordered", [0.4, DEFAULT_TOLERANCE_MM, 0.6])
def test_an_ordered_tolerance_goes_before_the_sheet_whatever_its_number(ordered: float) -> None:
    sheet = CheckSheet(limits={"edge.risk": 0.05, "edge.bleed": 0.1})
    found = {f.id: f for f in check(with_bleed(0.2), Order(tolerance_mm=ordered), sheet=sheet).findings}
    assert found["edge.risk"].limit == ordered
    assert "edge.risk" not in {f.id for f in check(with_bleed(0.2), SAID_NOTHING, sheet=sheet).findings}


@pytest.mark.parametrize("ordered", [1.4, DEFAULT_BORDER_MM, 1.6])
def test_an_ordered_border_goes_before_the_sheet_whatever_its_number(ordered: float) -> None:
    bordered = read_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 37)} f {line_in(circle(50, 50, 38))}")))
    sheet = CheckSheet(limits={"edge.border": 0.5})
    found = {f.id: f for f in check(bordered, Order(border_mm=ordered), sheet=sheet).findings}
    assert found["edge.border"].limit == ordered
    assert "edge.border" not in {f.id for f in check(bordered, SAID_NOTHING, sheet=sheet).findings}


def test_an_order_that_says_nothing_leaves_it_to_the_sheet_and_then_to_the_shipped_limit() -> None:
    sheet = CheckSheet(limits={"edge.bleed": 4.0})
    assert edge_limits(SAID_NOTHING, sheet).bleed == 4.0
    assert edge_limits(SAID_NOTHING, CheckSheet()).bleed == DEFAULT_BLEED_MM
    assert edge_limits(Order(bleed_mm=0.0), sheet).bleed == 0.0


def test_the_edge_is_looked_at_as_far_as_the_sheet_wants_it() -> None:
    sheet = CheckSheet(limits={"edge.bleed": 9.0})
    edges = check_whole(with_bleed(8.0), CheckInputs(SAID_NOTHING, HOUSE, sheet)).edges
    assert edges is not None and edges.reach_mm >= 9.0


def test_what_was_not_said_stays_unsaid_on_the_way_out_and_in() -> None:
    assert SAID_NOTHING.to_json() == {"quantity": 1, "edge": "either", "seen": "front"}
    assert Order.from_json(SAID_NOTHING.to_json()) == SAID_NOTHING
    said = Order(bleed_mm=DEFAULT_BLEED_MM)
    assert Order.from_json(said.to_json()) == said != SAID_NOTHING


@pytest.mark.parametrize("wrong", [{"bleed_mm": -1}, {"tolerance_mm": 2000}, {"bleed_mm": "3"}, {"bled_mm": 3},
                                   {"roles": ["cut"]}, {"white": 1}, {"quantity": 1.5}, {"quantity": 0}, [], "x"])
def test_an_order_that_cannot_be_meant_is_refused_by_the_name_of_the_field(wrong: object) -> None:
    with pytest.raises(BadValue, match=r"Order|order"):
        Order.from_json(wrong)
