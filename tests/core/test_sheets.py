"""Sheets of several pieces: what a plan may say, rows, marks of every kind, fillings, bounds, and the command."""

import json
import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from horismos.artwork import read_bytes
from horismos.cli import main
from horismos.cutting import plan_cut
from horismos.errors import BadValue, DoesNotFit, HorismosError, NotFound, NothingToDo
from horismos.machines import MarkStyle
from horismos.materials import MATERIALS, Material
from horismos.orders import Order
from horismos.sheet import Layout, Makes, MarkPlan, MarksRound, Turn, piece_of
from horismos.sheet.assemble import spacing
from horismos.sheet.filling import Filled, Item, fill_sheets
from horismos.sheet.mark_kinds import MarkKind, kind_of, registered
from horismos.sheet.marks import marks_on
from horismos.sheet.rows import UsableArea, in_rows
from horismos.sheet.spec import LayoutPlan
from horismos.sheet.turning import lower_left, turned
from horismos.workflow.case import Case
from horismos.workflow.lay_out import lay_out_files
from horismos.workflow.nest import Nesting, nest, nesting_of
from horismos.workflow.plan import plan
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

FILM_STRATA = MATERIALS["film-1370"].strata

STYLE = MarkStyle()
FREE = {"width_mm": 610, "length_mm": None}
OK, NOTHING = 0, 2


def disc(radius: float = 35.0) -> bytes:
    return write(Drawing(f"1 0 0 0 k {circle(50, 50, radius + 3)} f " + line_in(circle(50, 50, radius))))


def bar(long: float = 80.0, wide: float = 12.0) -> bytes:
    box = f"10 10 {long} {wide} re"
    return write(Drawing(f"0 1 0 0 k {box} f " + line_in(box), size=(long + 20, wide + 20), trim=None, bleed=None))


def hook() -> bytes:
    """Two of these lie in each other."""
    path = "10 10 m 90 10 l 90 25 l 25 25 l 25 90 l 10 90 l h "
    return write(Drawing(f"0 1 0 0 k {path} f " + line_in(path), trim=None, bleed=None))


def item(data: bytes, quantity: int, turn: str = "quarter", bleed: float = 0.0) -> Item:
    artwork = read_bytes(data)
    return Item(piece_of(artwork, artwork.pages[0], Order(), HOUSE, bleed, "piece"), quantity, Turn(turn))


def filled(*items: Item, **plan: Any) -> Filled:
    return by_plan(items, {"material": FREE, **plan})


def by_plan(items: Sequence[Item], plan: dict[str, Any], *heard: Any) -> Filled:
    wanted = LayoutPlan.from_json({"items": [{"file": "x"}], **plan})
    return fill_sheets(items, wanted.material, wanted.destination, wanted.layout, *heard)


# -- what a plan may say -----------------------------------------------------------------------------------------------

GOOD: dict[str, Any] = {"material": "film-610", "items": [{"file": "a.pdf"}]}


@pytest.mark.parametrize(("wrong", "words"), [
    ({"colour": 1}, "unknown key “colour”"), ({"marks": {"kinds": "dot"}}, "unknown key “kinds”"),
    ({"items": [{"file": "a", "copies": 2}]}, "unknown key “copies”"),
    ({"material": {"width_mm": 600, "depth": 1}}, "unknown key “depth”"), ({"material": {}}, "width_mm is missing"),
    ({"items": []}, "items is missing"), ({"items": [{"turn": "none"}]}, "file is missing"),
    ({"items": [{"file": "a", "quantity": 0}]}, "quantity is 0"), ({"items": [{"file": "a", "turn": "some"}]}, "turn"),
    ({"items": [{"file": "a", "quantity": 1.5}]}, "quantity is 1.5"), ({"how": "tetris"}, "how is “tetris”"),
    ({"gap_mm": -1}, "gap_mm is -1"), ({"fill": "length"}, "none is given"), ({"fill": "sheet"}, "no end"),
    ({"marks": {"count": 5}}, "count is 5"), ({"marks": {"count": 2, "every_mm": 500}}, "one of the two"),
    ({"marks": {"around": [0, 0, 0, 5]}}, "empty rectangle"), ({"marks": {"around": "all"}}, "around is “all”"),
    ({"marks": {"around": [1, 2]}}, "rectangle"), ({"code": "yes"}, "true or false"), ({"seconds": "x"}, "a number"),
])
def test_what_cannot_be_meant_is_refused_by_name(wrong: dict[str, Any], words: str) -> None:
    with pytest.raises(BadValue, match=words):
        LayoutPlan.from_json({**GOOD, **wrong})


@pytest.mark.parametrize("wrong", [{"material": "velvet"}, {"destination": "moon"}])
def test_what_is_not_known_is_told_with_what_is(wrong: dict[str, Any]) -> None:
    with pytest.raises(NotFound, match="There is no"):
        LayoutPlan.from_json({**GOOD, **wrong})


def test_a_plan_says_what_it_says_and_the_rest_is_usual() -> None:
    plan = LayoutPlan.from_json({**GOOD, "marks": {"kind": "dot", "every_mm": 500, "around": [50, 120, 400, 900]}})
    assert plan.layout.marks == MarkPlan(kind_of("dot"), None, 500.0, (50, 120, 400, 900))
    assert (plan.layout.how.value, plan.layout.fill.value, plan.layout.code) == ("rows", "quantity", False)
    assert plan.items[0].turn is Turn.QUARTER


# -- rows --------------------------------------------------------------------------------------------------------------


def test_a_piece_is_turned_where_that_takes_less_length_and_only_where_it_may_be() -> None:
    room = UsableArea(100.0, None, 2.0)
    box = (0.0, 0.0, 60.0, 30.0)
    across = in_rows([box], [Turn.QUARTER.ways], [6], room)
    assert across.length_mm == 2 * 60 + 2 and across.copies[0][1][:4] == (0.0, 1.0, -1.0, 0.0)
    along = in_rows([box], [Turn.HALF.ways], [6], room)
    assert along.length_mm == 6 * 30 + 5 * 2


def test_what_does_not_fit_is_left_and_what_is_smaller_still_goes_on() -> None:
    boxes = [(0.0, 0.0, 50.0, 50.0), (0.0, 0.0, 10.0, 10.0), (0.0, 0.0, 500.0, 500.0)]
    packed = in_rows(boxes, [Turn.NONE.ways] * 3, [5, 2, 1], UsableArea(100.0, 120.0, 0.0))
    assert packed.left == (1, 0, 1) and [i for i, _ in packed.copies] == [0, 0, 0, 0, 1, 1]


@pytest.mark.parametrize("degrees", [0, 30, 90, 180, 270, 211.5])
def test_a_turn_brings_the_lower_left_to_nothing(degrees: float) -> None:
    box = (3.0, -4.0, 20.0, 9.0)
    a, b, c, d, e, f = lower_left(box, degrees)
    corners = np.array([(x, y) for x in box[::2] for y in box[1::2]]) @ np.array([[a, b], [c, d]]) + (e, f)
    assert corners.min(axis=0) == pytest.approx([0, 0], abs=1e-9)
    assert a * d - b * c == pytest.approx(1) and turned(degrees)[:4] == (a, b, c, d)


@breadth(0.12, "long ones")
def test_twenty_thousand_copies_are_in_the_file_once(tmp_path: Path) -> None:
    (tmp_path / "disc.pdf").write_bytes(disc(8))
    plan = {"material": "film-1370", "items": [{"file": "disc.pdf", "quantity": 20_000}], "gap_mm": 2}
    (tmp_path / "plan.json").write_text(json.dumps(plan))
    assert main(["layout", str(tmp_path / "plan.json"), "--out", str(tmp_path / "out.pdf")]) == OK
    assert (tmp_path / "out.pdf").stat().st_size < 1_500_000


# -- marks -------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", registered().values(), ids=registered())
@pytest.mark.parametrize("every", [None, 300.0])
def test_marks_keep_their_distance_from_the_art_and_stay_where_the_machine_can_read(
    kind: MarkKind, every: float | None
) -> None:
    (sheet,) = filled(item(disc(), 30, bleed=3), marks={"kind": kind.id, "every_mm": every, "distance_mm": 7}).sheets
    art = np.array([copy.art_box for copy in sheet.placements])
    gaps = []
    for mark in sheet.marks:
        for x0, y0, x1, y1 in mark.inked:
            dx = np.maximum(np.maximum(art[:, 0] - x1, x0 - art[:, 2]), 0)
            dy = np.maximum(np.maximum(art[:, 1] - y1, y0 - art[:, 3]), 0)
            gaps.append(float(np.hypot(dx, dy).min()))
            assert x0 >= 25 - 1e-6 and x1 <= 585 + 1e-6 and y0 >= 100 - 1e-6 and y1 <= sheet.length_mm - 50 + 1e-6
    assert min(gaps) >= 7 - 1e-6
    if kind is kind_of("bracket-in") or (every and kind is not kind_of("bracket-out")):
        assert min(gaps) == pytest.approx(7, abs=1e-6), "and no further away than was asked"


@pytest.mark.parametrize(("count", "corners"), [
    (2, [(0, 0), (9, 5)]), (3, [(0, 0), (9, 0), (0, 5)]), (4, [(0, 0), (9, 0), (9, 5), (0, 5)]), (None, None),
])
def test_two_marks_stand_across_three_and_four_at_corners(count: int | None, corners: list[Any] | None) -> None:
    marks = marks_on([(0, 0, 9, 5)], MarkPlan(kind_of("dot"), count, arm_mm=1), STYLE)
    places = [(m.x_mm, m.y_mm) for m in marks]
    assert places == (corners or [(0, 0), (9, 0), (9, 5), (0, 5)])
    assert [m.number for m in marks] == list(range(1, len(marks) + 1))


@pytest.mark.parametrize(("every", "rows"), [(500, 3), (501, 2), (1000, 2), (333, 5), (2000, 2)])
def test_no_two_neighbours_along_a_side_stand_further_apart(every: float, rows: int) -> None:
    marks = marks_on([(0, 0, 600, 1000 if every != 501 else 501)], MarkPlan(every_mm=every), STYLE)
    for x in (0, 600):
        ys = sorted(m.y_mm for m in marks if m.x_mm == x)
        assert len(ys) == rows and max(np.diff(ys)) <= every + 1e-9


def test_marks_stand_round_the_page_each_copy_or_a_rectangle_and_never_in_art() -> None:
    wide = filled(item(disc(), 4), marks={"around": "page"}).sheets[0].marks
    assert {m.box[0] for m in wide} | {m.box[2] for m in wide} >= {25.0, 585.0}
    each = filled(item(disc(), 4), marks={"around": "each"}).sheets[0]
    assert len(each.marks) == 16
    drawn = filled(item(disc(), 1), marks={"around": [40, 115, 500, 400], "kind": "cross"}).sheets[0]
    assert [(m.x_mm, m.y_mm) for m in drawn.marks] == [(40, 115), (500, 115), (500, 400), (40, 400)]
    assert drawn.length_mm == 400 + STYLE.arm_mm + 50
    for rectangle, words in (([280, 115, 320, 150], "lies in art"), ([5, 115, 500, 400], "can use")):
        with pytest.raises(DoesNotFit, match=words):
            filled(item(disc(), 1), marks={"around": rectangle, "kind": "cross"})


def test_the_first_mark_has_a_bar_beside_it_and_the_code_names_the_sheet() -> None:
    one, two = (filled(item(disc(), n), code=True).sheets[0] for n in (3, 4))
    assert one.code and two.code and one.code.text != two.code.text and one.code.text.startswith("S1-")
    assert filled(item(disc(), 3), code=True).sheets[0].code == one.code, "the same sheet has the same name"
    assert one.bar is not None and one.bar[0] > one.marks[0].box[2]
    art = min(copy.art_box[1] for copy in one.placements)
    assert one.code.box[3] + 2 <= art + 1e-6 and one.code.y_mm >= 100


def test_an_arm_shorter_than_it_is_heavy_is_refused() -> None:
    with pytest.raises(BadValue, match="too small"):
        filled(item(disc(), 1), marks={"arm_mm": 1, "weight_mm": 2})


# -- how many, on how many sheets --------------------------------------------------------------------------------------


def test_as_many_sheets_as_it_takes_to_the_last_copy() -> None:
    laid = filled(item(disc(), 50), item(bar(), 30), length_mm=500)
    assert len(laid.sheets) > 1 and laid.left == (0, 0)
    assert sum(len(s.placements) for s in laid.sheets) == 80
    assert all(s.length_mm <= 500 + 1e-6 for s in laid.sheets)


@breadth(0.12, "long ones")
@pytest.mark.parametrize("how", ["rows", "nest"])
def test_a_length_is_filled_with_as_many_as_go_on_it(how: str) -> None:
    laid = filled(item(disc(), 5), item(bar(), 2), fill="length", length_mm=600, how=how, seconds=1)
    (sheet,) = laid.sheets
    assert laid.left == (0, 0) and len(sheet.placements) > 20 and sheet.length_mm <= 600 + 1e-6
    counts = [len(sheet.copies_of(piece)) for piece in sheet.pieces]
    assert counts[0] - 5 == pytest.approx(counts[1] - 2, abs=1)


def test_what_was_ordered_and_does_not_go_on_the_sheet_is_left_over() -> None:
    laid = filled(item(disc(), 500), fill="sheet", length_mm=600)
    assert laid.left[0] == 500 - len(laid.sheets[0].placements) > 0


def test_a_sheet_is_as_long_as_it_is_whatever_lies_on_it() -> None:
    laid = filled(item(disc(), 1), material={"width_mm": 500, "length_mm": 700})
    assert laid.sheets[0].length_mm == 700 and laid.sheets[0].used_area_mm2 == 350_000


@pytest.mark.parametrize("plan", [
    {}, {"how": "nest", "seconds": 1}, {"material": {"width_mm": 4000, "length_mm": 300}},
])
def test_a_piece_that_fits_nowhere_is_refused_by_name(plan: dict[str, Any]) -> None:
    with pytest.raises(DoesNotFit, match="fits nowhere"):
        filled(item(bar(900, 700), 1, "free"), **plan)


@pytest.mark.parametrize("how", ["rows", "nest"])
def test_a_long_piece_that_fits_at_a_slant_alone_lies_so(how: str) -> None:
    laid = filled(item(bar(600, 4), 1, "free"), how=how, seconds=1, material={"width_mm": 620, "length_mm": 500})
    a, b, *_ = laid.sheets[0].placements[0].matrix
    assert 0.05 < abs(a) < 0.999 and 0.05 < abs(b) < 0.999


@breadth(0.12, "long ones")
def test_nesting_is_stopped_at_any_time_with_the_best_so_far_and_rows_come_first() -> None:
    heard: list[float] = []
    wanted = {"material": FREE, "how": "nest", "seconds": 60}
    begun = time.monotonic()
    laid = by_plan([item(disc(), 40, bleed=3)], wanted, lambda p: heard.append(p.length_mm), lambda: len(heard) > 1)
    assert time.monotonic() - begun < 40
    assert len(laid.sheets[0].placements) == 40 and heard == sorted(heard, reverse=True)


# -- the command -------------------------------------------------------------------------------------------------------


def test_the_command_says_where_everything_lies(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "disc.pdf").write_bytes(disc())
    (tmp_path / "order.json").write_text(json.dumps({"quantity": 7}))
    items = [{"file": "disc.pdf", "order": "order.json"}, {"file": "disc.pdf", "order": {"quantity": 9}, "quantity": 2}]
    (tmp_path / "plan.json").write_text(json.dumps({**GOOD, "items": items, "code": True}))
    call = ["layout", str(tmp_path / "plan.json"), "--out", str(tmp_path / "out.pdf")]
    assert main([*call, "--json"]) == OK
    told = json.loads(capsys.readouterr().out)
    (sheet,) = told["sheets"]
    assert (sheet["pieces"], sheet["width_mm"], told["left_over"]) == (9, 610, [])
    assert [(p["item"], p["copy"]) for p in sheet["placements"]] == [(0, i) for i in range(7)] + [(1, 0), (1, 1)]
    assert 0 < sheet["waste"] < 1 and sheet["used_mm2"] == pytest.approx(610 * sheet["length_mm"])
    assert len(sheet["marks"]) == 4 and sheet["code"]["text"].startswith("S1-")
    assert sheet["misplacement"]["worst_mm"] >= sheet["misplacement"]["mean_mm"] > 0
    assert main(call) == OK and "9 pieces on 610" in capsys.readouterr().out


@pytest.mark.parametrize(("plan", "words"), [
    ({"items": [{"file": "disc.pdf", "size": 1}]}, "unknown key “size”"),
    ({"items": [{"file": "disc.pdf", "order": {"colour": 1}}]}, "unknown key “colour”"),
    ({"items": [{"file": "gone.pdf"}]}, "gone.pdf"), ({"items": [{"file": "plan.json"}]}, "plan.json"),
    ({"items": [{"file": "disc.pdf", "order": "none.json"}]}, "none.json"), ({"material": "velvet"}, "velvet"),
    ({"material": {"width_mm": 100}}, "fits nowhere"), ("[", "plan.json"),
])
def test_where_nothing_can_be_laid_out_nothing_is_written(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], plan: Any, words: str
) -> None:
    (tmp_path / "disc.pdf").write_bytes(disc())
    whole = plan if isinstance(plan, str) else json.dumps({**GOOD, "items": [{"file": "disc.pdf"}], **plan})
    (tmp_path / "plan.json").write_text(whole)
    assert main(["layout", str(tmp_path / "plan.json"), "--out", str(tmp_path / "out.pdf")]) == NOTHING
    said = capsys.readouterr()
    assert words in said.err and not said.out and not (tmp_path / "out.pdf").exists()


def test_a_file_of_a_plan_is_never_the_outcome(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "disc.pdf").write_bytes(disc())
    (tmp_path / "plan.json").write_text(json.dumps({**GOOD, "items": [{"file": "disc.pdf"}]}))
    assert main(["layout", str(tmp_path / "plan.json"), "--out", str(tmp_path / "disc.pdf")]) == NOTHING
    assert "never overwritten" in capsys.readouterr().err and (tmp_path / "disc.pdf").read_bytes() == disc()


def test_where_marks_do_not_hold_the_tolerance_it_is_said_what_would(tmp_path: Path) -> None:
    (tmp_path / "disc.pdf").write_bytes(disc())
    items = [{"file": "disc.pdf", "quantity": 300, "order": {"tolerance_mm": 0.3}}]
    notes = {}
    for every in (None, 400):
        plan = {"material": "film-610", "items": items, "marks": {"every_mm": every}}
        notes[every] = lay_out_files(plan, tmp_path).to_json()["sheets"][0]["notes"]
    assert any("can stand 0.3 mm. Marks every" in note for note in notes[None])
    assert not any("can stand" in note for note in notes[400])


def test_every_error_of_a_plan_is_one_of_ours() -> None:
    for odd in (None, 3, "x", [], {"material": [], "items": 3}, {"material": 3}, {"items": {"a": 1}}):
        with pytest.raises(HorismosError):
            LayoutPlan.from_json(odd)


# -- a job that is nested ----------------------------------------------------------------------------------------------


def case_of(data: bytes, quantity: int, **layout: Any) -> Case:
    return Case(artwork=read_bytes(data), order=Order(
        quantity=quantity
    ), destination=HOUSE, material=MATERIALS["film-610"], layout=Layout(
        **layout
    ))


@breadth(0.12, "long ones")
def test_a_jobs_copies_are_nested_kept_and_printed_so(tmp_path: Path) -> None:
    case = case_of(hook(), 40)
    wanted = nesting_of(case, Turn.FREE)
    assert Nesting.from_json(json.loads(json.dumps(wanted.to_json()))) == wanted
    found = nest(wanted, 3)
    assert wanted.rows_mm == plan(case).sheet.length_mm and found.length_mm < wanted.rows_mm
    kept = Layout.from_json(json.loads(json.dumps({
        "placed": [{"matrix": list(c.matrix), "item": 0} for c in found.placed], "placed_of": wanted.placed_of,
        "rows_mm": wanted.rows_mm,
    })))
    planned = plan(replace(case, layout=kept))
    assert planned.sheet.length_mm == pytest.approx(found.length_mm, abs=0.1) and planned.sheet.grid is None
    assert [p.matrix for p in planned.sheet.placements] == [copy.matrix for copy in found.placed]
    assert planned.sheet.placements[0].clip and planned.rows_mm == wanted.rows_mm
    assert len(planned.cut.operations[0].contours) == 40
    again = plan(replace(case, layout=kept)).sheet
    assert again.code == planned.sheet.code, "opened again it is the same sheet"


@breadth(0.12, "long ones")
def test_nested_copies_do_not_stand_for_another_outline_number_or_marks() -> None:
    case = case_of(hook(), 12)
    wanted = nesting_of(case, Turn.QUARTER)
    found = nest(wanted, 2)
    layout = Layout(placed=found.placed, placed_of=wanted.placed_of)
    assert len(plan(replace(case, layout=layout)).sheet.placements) == 12
    with pytest.raises(DoesNotFit, match="12 copies are placed, 15 are ordered"):
        plan(replace(case, layout=layout, order=Order(quantity=15)))
    with pytest.raises(DoesNotFit, match="outline has changed"):
        plan(case_of(disc(30), 12, placed=found.placed, placed_of=wanted.placed_of))
    with pytest.raises(DoesNotFit, match="placed for other marks or another material"):
        plan(replace(case, layout=replace(layout, marks=MarkPlan(distance_mm=60))))


def test_where_nothing_shorter_is_found_rows_and_columns_stay_and_it_is_said() -> None:
    with pytest.raises(NothingToDo, match="Nothing shorter than rows and columns"):
        nest(nesting_of(case_of(bar(), 6), Turn.NONE), 1, enough=lambda: True)


@breadth(0.12, "long ones")
def test_what_rows_cannot_hold_may_still_nest_on_a_sheet() -> None:
    short = Material("free", "Sheet", 400, 420, FILM_STRATA)
    case = replace(case_of(hook(), 9), material=short)
    assert len(plan(case).sheets) == 2
    wanted = nesting_of(case, Turn.FREE)
    assert wanted.rows_mm is None
    found = nest(wanted, 4)
    layout = Layout(placed=found.placed, placed_of=wanted.placed_of)
    assert len(plan(replace(case, layout=layout)).sheet.placements) == 9


def test_copies_of_their_own_marks_are_not_nested() -> None:
    with pytest.raises(DoesNotFit, match="lie in rows"):
        nesting_of(case_of(hook(), 9, marks=MarkPlan(around=MarksRound.EACH)), Turn.FREE)


@breadth(0.12, "long ones")
@pytest.mark.parametrize("how", ["rows", "nest"])
def test_copies_lie_in_the_middle_of_the_media(how: str) -> None:
    (sheet,) = filled(item(hook(), 5), how=how, seconds=1).sheets
    box = np.array([copy.bounds for copy in sheet.placements])
    assert box[:, 0].min() == pytest.approx(610 - box[:, 2].max(), abs=0.2)


@breadth(0.12, "long ones")
def test_a_length_that_rows_cannot_fill_with_what_was_ordered_is_filled_by_nesting() -> None:
    rows, nested = (
        filled(item(hook(), 60), fill="length", length_mm=700, how=how, seconds=4) for how in ("rows", "nest")
    )
    assert rows.left[0] > nested.left[0] and nested.sheets[0].length_mm <= 700 + 1e-6


def test_further_pages_of_a_file_are_not_left_out_in_silence(tmp_path: Path) -> None:
    (tmp_path / "two.pdf").write_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 30)} f", pages=2)))
    (sheet,) = lay_out_files({**GOOD, "items": [{"file": "two.pdf"}]}, tmp_path).to_json()["sheets"]
    assert "“two” has 2 pages; the first is laid out." in sheet["notes"]


@pytest.mark.parametrize("wrong", [
    {"placed": [[1, 2]]}, {"placed": 3}, {"placed": [["a"] * 6]}, {"colour": 1}, {"columns": 0}, {"code": 3},
])
def test_a_layout_that_cannot_be_meant_is_refused(wrong: dict[str, Any]) -> None:
    with pytest.raises(BadValue):
        Layout.from_json(wrong)


@breadth(0.12, "long ones")
@pytest.mark.parametrize("how", ["rows", "nest"])
def test_a_gap_that_leaves_less_bleed_than_is_wanted_is_said(how: str) -> None:
    (tight,), (wide,) = (
        filled(item(disc(), 4, bleed=3), gap_mm=gap, how=how, seconds=1).sheets for gap in (2, 6)
    )
    assert tight.notes == ("The gap of 2 mm leaves each copy 1 mm of bleed; 3 mm is wanted.",)
    assert wide.notes == ()


@breadth(0.12, "long ones")
def test_too_many_to_be_nested_lie_in_rows_and_it_is_said(tmp_path: Path) -> None:
    (tmp_path / "disc.pdf").write_bytes(disc(5))
    plan = {"material": "film-1370", "items": [{"file": "disc.pdf", "quantity": 2_001}], "how": "nest", "seconds": 1}
    (sheet,) = lay_out_files(plan, tmp_path).to_json()["sheets"]
    assert any("lie in rows" in note for note in sheet["notes"]) and sheet["pieces"] == 2_001


@pytest.mark.parametrize(("bleed", "given", "gap"), [(0.0, None, 2.0), (0.5, None, 2.0), (3.0, None, 6.0), (0.0, 0, 0)])
def test_copies_lie_two_millimetres_apart_where_nobody_says_otherwise(
    bleed: float, given: float | None, gap: float
) -> None:
    assert spacing(bleed, False, Layout(gap_mm=given), HOUSE.cutter)[0] == gap


@pytest.mark.parametrize(("gap", "words"), [(0.0, "share their edges"), (0.6, "tears when it is weeded"), (1.0, "")])
def test_shared_edges_and_narrow_strips_between_copies_are_said(gap: float, words: str) -> None:
    (sheet,) = filled(item(bar(), 4), gap_mm=gap).sheets
    notes = [note for note in sheet.notes if "weeded" in note or "share" in note]
    assert bool(notes) is bool(words) and all(words in note for note in notes)


def test_what_is_only_cut_lies_where_the_cutter_begins_and_its_zero_is_its_own_corner() -> None:
    roll = {"width_mm": 1370, "length_mm": None}
    (sheet,) = by_plan([item(bar(), 1)], {"material": roll}).sheets
    assert sheet.cut_box[0] > 500, "what is printed stands in the middle"
    plain = Layout(makes=Makes.CUT, code=False)
    (alone,) = fill_sheets([item(bar(), 1)], MATERIALS["film-1370"], HOUSE, plain).sheets
    assert alone.cut_box[0] == pytest.approx(HOUSE.cutter.side_margin_mm, abs=1e-6) and not alone.marks
    assert plan_cut(alone).origin_mm == pytest.approx(alone.cut_box[:2])
