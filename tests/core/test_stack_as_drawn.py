"""A plot with a pen for each fabric, or a file with a layer, an ink or a colour for each, becomes a stack as it is."""

import math
import re

import pytest

from horismos.artwork import read_bytes
from horismos.errors import NothingToDo
from horismos.formats.hpgl import read_plot
from horismos.intake.answers import ART, Answers
from horismos.intake.take import take_in
from horismos.orders import Order
from horismos.paths import bounds, union_bounds
from horismos.stitching.stack import Stack
from horismos.workflow.case import Case
from horismos.workflow.stack import drawn_in, files_of, make_stack
from tests.shapes import Drawing, circle, line_in, write

STEPS_PER_MM = 40


def square(side: float, off: float = 0) -> str:
    """A square about the middle of 200 mm, drawn in two open halves that meet, in steps of a plotter."""
    low, high = (round((100 + sign * side / 2 + off) * STEPS_PER_MM) for sign in (-1, 1))
    return f"PU{low},{low};PD{high},{low},{high},{high};PU{low},{low};PD{low},{high},{high},{high};PU;"


PLOT = f"IN;SP1;{square(40)}SP2;{square(60)}SP3;{square(90)}SP0;".encode()


def plotted(data: bytes = PLOT) -> Case:
    pens = Answers(binding={f"pen:{i}": ART for i in (1, 2, 3)})
    return Case(artwork=read_bytes(take_in(data, "patch.plt", pens).pdf), order=Order())


def as_drawn(case: Case, by: str) -> Stack:
    drawn = [one for one in drawn_in(case) if one.by == by]
    return Stack.from_json({"layers": [{"name": f"l{i}", "drawn": one.key} for i, one in enumerate(drawn)]})


def test_each_pen_of_a_plot_is_a_fabric_with_no_offset_and_its_cut_file_holds_what_was_plotted() -> None:
    case = plotted()
    drawn = [one for one in drawn_in(case) if one.by == "layer"]
    assert [one.words for one in drawn] == [f"the layer “pen {i}”" for i in (1, 2, 3)]
    assert [math.sqrt(one.area.area) for one in drawn] == pytest.approx([40, 60, 90], abs=1e-3)
    made = make_stack(case, as_drawn(case, "layer"))
    assert made.why == "As it is drawn." and not [said for said in made.said if "edge of" in said]
    for file, side in zip(files_of(made, case), (90, 60, 40), strict=False):  # the lowest is cut first
        strokes = read_plot(file.data).strokes
        box = union_bounds(bounds(stroke.contour) for stroke in strokes)
        assert box is not None and (box[2] - box[0], box[3] - box[1]) == pytest.approx((side, side), abs=0.05)


def test_layers_inks_colours_and_lines_of_a_pdf_are_told_apart() -> None:
    content = (
        f"/OC /L0 BDC 0 1 0 0 k {circle(50, 50, 30)} f EMC /OC /L1 BDC /S cs 1 scn {circle(50, 50, 20)} f EMC\n"
        f"1 1 1 rg {circle(50, 50, 5)} f\n" + line_in(circle(50, 50, 40)) + line_in(circle(50, 50, 25), "T")
    )
    inks = {"K": "Kiss Cut", "T": "Through Cut", "S": "Moss"}
    case = Case(artwork=read_bytes(write(Drawing(content, inks=inks, layers=("Low", "High")))), order=Order())
    found = {one.key: round(math.sqrt(one.area.area / math.pi), 2) for one in drawn_in(case)}
    assert found == {
        "layer:High": 20, "layer:Low": 30, "ink:Moss": 20, "colour:0 1 0 0": 30, "line:through-cut": 25,
        "line:kiss-cut": 40,
    }


def test_a_hole_that_is_drawn_stays_a_hole_and_objects_that_overlap_are_one() -> None:
    content = f"0 1 0 0 k {circle(50, 50, 30)} {circle(50, 50, 10)} f* 70 45 20 10 re f\n"
    case = Case(artwork=read_bytes(write(Drawing(content))), order=Order())
    (one,) = drawn_in(case)
    bar = 10 * 20 - (30 * 30 * math.asin(5 / 30) + 5 * math.sqrt(900 - 25) - 2 * 5 * 20)  # what sticks out
    assert one.area.area == pytest.approx(math.pi * 800 + bar, rel=2e-3)


def test_what_is_drawn_over_the_edge_of_the_one_below_is_said() -> None:
    case = plotted(f"IN;SP1;{square(40, 20)}SP2;{square(60)}SP3;{square(90)}SP0;".encode())
    made = make_stack(case, as_drawn(case, "layer"))
    (said,) = [one for one in made.said if "edge of" in one]
    found = re.fullmatch(r"“l0” is drawn over the edge of “l1” on ([0-9.]+) mm².*", said)
    assert found and float(found[1]) == pytest.approx(700, abs=0.2)  # 40² less the 30 × 30 that lie on it


def test_an_offset_goes_from_what_is_drawn_and_a_layer_without_follows_the_one_above() -> None:
    stack = Stack.from_json({"layers": [
        {"name": "a", "drawn": "layer:pen 1"},
        {"name": "b", "drawn": "layer:pen 2", "offset_mm": -2, "join": "mitre"},
        {"name": "c", "offset_mm": 3, "join": "mitre"},
    ]})
    laid = make_stack(plotted(), stack).layers
    assert [math.sqrt(one.area.area) for one in laid] == pytest.approx([40, 56, 62], abs=1e-3)


def test_what_is_no_longer_drawn_is_named() -> None:
    with pytest.raises(NothingToDo, match="no area as “pen 9”"):
        make_stack(plotted(), Stack.from_json({"layers": [{"name": "a", "drawn": "layer:pen 9"}]}))
