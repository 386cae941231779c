"""The cut plan: order, starts, blades, perforation, pauses, time, and what is written of it."""

import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from horismos.artwork import read
from horismos.cli import main
from horismos.cutting import DEFAULT_TOOLS, Blade, CutPlan, CutSelection, Tool, plan_cut, tools_from_json
from horismos.cutting.order import TourStops, in_order
from horismos.cutting.starts import starts_of
from horismos.cutting.timing import cut_seconds
from horismos.cutting.tour import tour, travelled
from horismos.cutting.trailing import trailed
from horismos.errors import BadValue
from horismos.formats.hpgl import StrokeSegment, ToolRun, read_hpgl, write_hpgl
from horismos.machines import Dialect
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.paths import flatten
from horismos.paths.measure import nearest_around
from horismos.release.cut_files import cut_files
from horismos.release.cut_formats import registered
from horismos.roles import LineRole
from horismos.sheet import Sheet
from horismos.sheet.layout import READ_ALIGNING
from horismos.simulation.motion import driven
from horismos.workflow.case import Case
from horismos.workflow.plan import plan
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
INKS = {"K": "Kiss Cut", "T": "Through Cut", "P": "Perforation", "B": "Back Cut"}
KISS, PERF, THROUGH, BACK = LineRole.KISS_CUT, LineRole.PERFORATION, LineRole.THROUGH_CUT, LineRole.BACK_CUT
RINGS = line_in(circle(50, 50, 25)) + line_in(circle(50, 50, 12)) + line_in("47 47 6 6 re")
ALL = RINGS + line_in("20 20 60 60 re", "P") + line_in("15 15 70 70 re", "T")
FILM = MATERIALS["film-610"]


def sheet_of(pdf: Pdf, content: str, quantity: int = 1) -> Sheet:
    art = read(pdf(f"1 0 0 0 k 5 5 90 90 re f {content}", inks=INKS))
    return plan(Case(artwork=art, order=Order(quantity=quantity), destination=HOUSE, material=FILM)).sheet


def planned(sheet: Sheet, wanted: CutSelection = CutSelection(), **own: Tool) -> CutPlan:  # noqa: B008
    tools = {**DEFAULT_TOOLS, **{tool.role: tool for tool in own.values()}}
    return plan_cut(sheet, lambda piece: tools, wanted)


def drag(offset: float = 0.5, over: float = 1.0, **more: object) -> Tool:
    return Tool(
        role=KISS, number=1, force_gf=90, speed_mm_s=400, blade=Blade.DRAG, offset_mm=offset, overcut_mm=over, **more
    )  # type: ignore[arg-type]


# -- order -----------------------------------------------------------------------------------------


def test_inner_contours_come_before_those_around_them_on_every_copy(pdf: Pdf) -> None:
    kiss = planned(sheet_of(pdf, RINGS, 6)).operations[0]
    for copy in range(6):
        sizes = [np.ptp(c.segments[..., 0]) for c, of in zip(kiss.contours, kiss.copies, strict=True) if of == copy]
        assert sizes == sorted(sizes)


@breadth(0.12, "long ones")
@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000))
def test_whatever_lies_in_another_is_cut_before_it(seed: int) -> None:
    rng = np.random.default_rng(seed)
    at, r = rng.uniform(0, 100, (30, 2)), rng.uniform(1, 40, 30)
    discs = [shapely.Point(*p).buffer(q) for p, q in zip(at, r, strict=True)]
    around = np.array([
        min((j for j in range(30) if discs[j].contains(discs[i]) and i != j), key=lambda j: r[j], default=-1)
        for i in range(30)
    ])
    begins = at[:, None] + r[:, None, None] * np.array([[1.0, 0.0], [0.0, 1.0], [-1.0, 0.0]])
    order, chosen = in_order(TourStops(begins, begins, around, np.zeros(30, bool)), np.zeros(2), 100)
    rank = np.argsort(order)
    assert sorted(order.tolist()) == list(range(30)) and chosen.max() < 3
    assert all(rank[i] < rank[j] for i, j in enumerate(around) if j >= 0)


@settings(max_examples=25, deadline=None)
@given(st.integers(2, 120), st.integers(0, 10_000))
def test_the_way_is_never_longer_than_always_on_to_the_next(count: int, seed: int) -> None:
    places = np.random.default_rng(seed).uniform(0, 500, (count, 2))
    at, left, nearest = np.zeros(2), set(range(count)), 0.0
    while left:
        i = min(left, key=lambda k: np.hypot(*(places[k] - at)))
        nearest += float(np.hypot(*(places[i] - at)))
        at = places[i]
        left.remove(i)
    order = tour(places, places, np.zeros(2))
    assert sorted(order.tolist()) == list(range(count))
    assert travelled(places, places, order, np.zeros(2)) <= nearest + 1e-6


def test_a_long_run_is_cut_section_by_section() -> None:
    rng = np.random.default_rng(2)
    at = np.column_stack([rng.uniform(0, 1000, 400), rng.uniform(0, 9000, 400)])[:, None]
    order, _ = in_order(TourStops(at, at, np.full(400, -1), np.zeros(400, bool)), np.zeros(2), 9000)
    section = np.floor(at[order, 0, 1] / (9000 / 5)).astype(int)
    edges = np.abs(at[order, 0, 1] % 1800 - 900) > 850
    assert (np.diff(section[~edges]) >= 0).all() and section.max() == 4


def test_roles_come_as_usual_or_as_said_with_a_warning_where_pieces_would_be_destroyed(pdf: Pdf) -> None:
    sheet = sheet_of(pdf, ALL)
    usual = planned(sheet)
    assert [op.role for op in usual.operations] == [KISS, PERF, THROUGH] and usual.said == ()
    turned = planned(sheet, CutSelection(order=(THROUGH, KISS)))
    assert [op.role for op in turned.operations] == [THROUGH, KISS, PERF]
    assert "through cut comes before the kiss cut, perforation" in turned.said[0]
    assert [op.role for op in planned(sheet, CutSelection(only=(PERF,))).operations] == [PERF]


def test_some_copies_are_cut_again_when_one_was_spoilt(pdf: Pdf) -> None:
    sheet = sheet_of(pdf, RINGS + line_in("15 15 70 70 re", "T"), 3)
    whole, part = planned(sheet), planned(sheet, CutSelection(copies=(2, 3)))
    assert [len(op.contours) for op in whole.operations] == [9, 3]
    assert [len(op.contours) for op in part.operations] == [6, 2]
    assert {copy for op in part.operations for copy in op.copies} == {1, 2}
    assert part.origin_mm == whole.origin_mm
    assert planned(sheet, CutSelection(copies=())).operations == ()


def test_the_nearest_contour_around_is_found() -> None:
    assert nearest_around([]) == []


# -- starts and blades -----------------------------------------------------------------------------


def test_no_cut_begins_at_a_corner(pdf: Pdf) -> None:
    for op in planned(sheet_of(pdf, ALL, 4)).operations:
        if op.tool.perforates:
            continue
        corners = shapely.MultiPoint(np.concatenate([c.segments[:, 0] for c in op.contours if c.straight.all()]))
        begins = shapely.points([stroke.tip[0] for stroke in op.strokes])
        assert shapely.distance(begins, corners).min() > 1.0


def test_starts_of_an_open_line_are_its_ends() -> None:
    line = np.array([[0.0, 0.0], [5.0, 1.0]])
    found = starts_of(line)
    assert found.begun(1).tolist() == line[::-1].tolist() and found.ends[0].tolist() == [5.0, 1.0]


def test_a_closed_cut_runs_on_over_its_beginning_by_the_overcut(pdf: Pdf) -> None:
    kiss = planned(sheet_of(pdf, line_in(circle(50, 50, 20))), kiss=drag()).operations[0]
    (stroke,) = kiss.strokes
    assert kiss.cut_mm == pytest.approx(2 * np.pi * 20 + 1.0, abs=0.02)
    assert np.hypot(*(stroke.tip[-1] - stroke.tip[0])) == pytest.approx(1.0, abs=0.01)


def test_between_strokes_the_blade_is_turned_the_way_of_the_next(pdf: Pdf) -> None:
    strokes = planned(sheet_of(pdf, RINGS, 3), kiss=drag()).operations[0].strokes
    for one, following in zip(strokes, strokes[1:], strict=False):
        lies = (one.holder[-1] - one.tip[-1]) / 0.5
        wanted = (following.holder[0] - following.tip[0]) / 0.5
        assert lies == pytest.approx(wanted, abs=1e-6)


def test_a_blade_that_is_turned_is_lifted_at_corners(pdf: Pdf) -> None:
    turned = replace(DEFAULT_TOOLS[THROUGH], blade=Blade.TANGENTIAL)
    (op,) = planned(sheet_of(pdf, line_in("15 15 70 70 re", "T")), through=turned).operations
    assert len(op.contours) == 1 and len(op.strokes) == 5, "four sides, the first in two parts"
    (round_one,) = planned(sheet_of(pdf, line_in(circle(50, 50, 20), "T")), through=turned).operations
    assert len(round_one.strokes) == 1


def test_a_blade_pushed_askew_falls_in_behind_its_holder() -> None:
    tip = trailed(np.array([[0.0, 0.0], [20.0, 0.0]]), 0.9, np.array([0.0, 1.0]))
    assert tip[0].tolist() == pytest.approx([0.0, -0.9], abs=1e-9)
    assert tip[-1].tolist() == pytest.approx([19.1, 0.0], abs=1e-6)


# -- perforation and force -------------------------------------------------------------------------


def test_ties_are_left_whole_or_scored_at_their_own_force(pdf: Pdf) -> None:
    sheet = sheet_of(pdf, line_in("20 20 60 60 re", "P"), 2)
    whole = planned(sheet).operations[0]
    scoring = replace(DEFAULT_TOOLS[PERF], tie_force_gf=40.0)
    plan_of = planned(sheet, perf=scoring)
    scored = plan_of.operations[0]
    assert len(whole.strokes) == 2 * 53 and len(scored.strokes) == 2
    (file,) = cut_files("x", plan_of, sheet, HOUSE)
    drawn = read_hpgl(file.data, plan_of.origin_mm)
    long = {200.0: 0.0, 40.0: 0.0}
    for stroke in drawn:
        long[stroke.force_gf] += float(np.hypot(*np.diff(stroke.points, axis=0).T).sum())
    assert sum(long.values()) == pytest.approx(480, abs=0.5) and long[40.0] == pytest.approx(2 * 53 * 0.5, abs=2)


def test_what_is_left_to_the_machine_is_not_sent_and_an_old_blade_is_pressed_harder(pdf: Pdf) -> None:
    sheet = sheet_of(pdf, line_in(circle(50, 50, 20)))
    machine = planned(sheet, kiss=replace(DEFAULT_TOOLS[KISS], force_gf=None, speed_mm_s=None))
    (file,) = cut_files("x", machine, sheet, HOUSE)
    assert b"FS" not in file.data and b"VS" not in file.data and machine.operations[0].time_s > 0
    worn = planned(sheet, kiss=replace(DEFAULT_TOOLS[KISS], age_m=2000, wear_gf_km=4))
    assert b"FS98;" in cut_files("x", worn, sheet, HOUSE)[0].data


def test_two_passes_go_over_each_contour_before_the_next(pdf: Pdf) -> None:
    twice = replace(DEFAULT_TOOLS[KISS], passes=2)
    kiss = planned(sheet_of(pdf, RINGS, 2), kiss=twice).operations[0]
    assert kiss.of == tuple(i for i in range(6) for _ in range(2))


def test_tools_of_another_kind_are_refused_by_name() -> None:
    for wrong, said in (
        ({"kiss": {}}, "kiss"), ({"kiss-cut": {"blade": "laser"}}, "laser"), ({"kiss-cut": {"power": 3}}, "power"),
        ({"kiss-cut": {"force_gf": -2}}, "force_gf"), ({"kiss-cut": {"blade": "rotary", "offset_mm": 0.3}}, "offset"),
        ({"perforation": {"tie_mm": None}}, "tie"),
    ):
        with pytest.raises(BadValue, match=said):
            tools_from_json(wrong, "tools")
    assert tools_from_json({"kiss-cut": {"speed_mm_s": None}}, "tools")[KISS].speed_mm_s is None


# -- time ------------------------------------------------------------------------------------------


def test_the_time_is_that_of_the_machine_that_is_stepped(pdf: Pdf) -> None:
    for op in planned(sheet_of(pdf, ALL + line_in("30 30 m 60 31 l 45 44 l h"), 3), kiss=drag()).operations:
        paths, speed = [stroke.holder for stroke in op.strokes], op.tool.speed_mm_s or 0.0
        for acceleration in (2000.0, 8000.0):
            stepped = sum(driven(path, speed, acceleration) for path in paths)
            assert cut_seconds(paths, speed, acceleration) == pytest.approx(stepped, rel=0.03)


def test_a_straight_stretch_takes_what_physics_says() -> None:
    """Arithmetic: v/a to speed up, as long to slow down, the rest at full speed."""
    line = [np.array([[0.0, 0.0], [400.0, 0.0]])]
    assert cut_seconds(line, 200.0, 1000.0) == pytest.approx(2 * 0.2 + (400 - 40) / 200)
    assert cut_seconds([np.array([[0.0, 0.0], [10.0, 0.0]])], 200.0, 1000.0) == pytest.approx(2 * 0.1)


def test_a_holder_that_a_person_changes_takes_longer_than_one_that_is_carried(pdf: Pdf) -> None:
    sheet = sheet_of(pdf, ALL)
    carried = planned(sheet, through=replace(DEFAULT_TOOLS[THROUGH], number=2))
    assert planned(sheet).changes_s == HOUSE.cutter.tool_change_s + HOUSE.cutter.holder_change_s
    assert carried.changes_s == HOUSE.cutter.tool_change_s


# -- files -----------------------------------------------------------------------------------------


@pytest.mark.parametrize("dialect", [
    Dialect(unit_mm=0.01), Dialect(turned=True), Dialect(header="IN;DF;PA;", trailer="PU0,0;SP0;", suffix="cut"),
    Dialect(speed="", force=""),
])
def test_a_file_in_any_dialect_is_read_back_within_half_a_unit(pdf: Pdf, dialect: Dialect) -> None:
    sheet = sheet_of(pdf, ALL, 2)
    cut = replace(planned(sheet), cutter=replace(sheet.cutter, dialect=dialect))
    (file,) = cut_files("x", cut, sheet, HOUSE)
    assert file.name == f"x-cut.{dialect.suffix}"
    assert file.off_mm <= dialect.unit_mm / np.sqrt(2) + 0.003


def test_x_runs_along_the_feed_where_a_cutter_wants_it_so() -> None:
    run = ToolRun(1, None, None, [[StrokeSegment(np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 5.0]]))]])
    assert b"PU0,0;PD0,400,200,400;" in write_hpgl([run], (0.0, 0.0), Dialect(turned=True))


@pytest.mark.parametrize("kind", list(registered()))
def test_every_format_holds_what_was_meant(pdf: Pdf, kind: str) -> None:
    sheet = sheet_of(pdf, ALL + line_in("17 17 40 66 re", "B"), 3)
    cut = planned(sheet, kiss=drag(), perf=replace(DEFAULT_TOOLS[PERF], tie_force_gf=30.0))
    front, back = cut_files("x", cut, sheet, HOUSE, kind)
    assert front.roles == ("kiss-cut", "perforation", "through-cut") and back.roles == ("back-cut",)
    assert front.off_mm < 0.03 and back.off_mm < 0.02


def test_front_and_back_meet_on_the_sheet_that_is_turned_over_sideways(pdf: Pdf) -> None:
    """Both files played on one sheet: the back cut comes to lie where its lines are, seen from the front."""
    sheet = sheet_of(pdf, line_in(circle(50, 50, 20)) + line_in("17 17 40 66 re", "B"), 3)
    cut = planned(sheet)
    front, back = cut_files("x", cut, sheet, HOUSE)
    corner = next(op for op in cut.operations if op.aligning).contours
    # the figure, cut right through, is seen from behind: by it the turned sheet is laid
    seen = np.array([flatten(c)[1] for c in corner]) * (-1, 1) + (FILM.width_mm, 0)
    drawn = np.concatenate([s.points for s in read_hpgl(back.data, cut.origin_mm)])
    turned_back = drawn * (-1, 1) + (FILM.width_mm, 0)
    meant = shapely.MultiLineString([
        flatten(c.transformed(copy.matrix)) for copy in sheet.placements for c in copy.piece.lines[BACK]
    ])
    assert shapely.distance(shapely.points(turned_back), meant).max() < 0.15
    assert np.sort(seen[:, 0])[1] > 300 > seen[:, 0].min() and seen[:, 1].max() < sheet.length_mm
    assert front.roles == ("kiss-cut", "through-cut")


def test_the_aligning_figure_has_a_tool_a_force_and_passes_of_its_own(pdf: Pdf) -> None:
    sheet = sheet_of(pdf, line_in(circle(50, 50, 20)) + line_in("17 17 40 66 re", "B"), 3)
    own = READ_ALIGNING("Aligning", {"number": 4, "force_gf": 310, "passes": 2})
    made = next(op for op in plan_cut(sheet, wanted=CutSelection(aligning=own)).operations if op.aligning)
    assert (made.tool.number, made.tool.force_gf, made.tool.passes, len(made.strokes)) == (4, 310, 2, 6)
    assert made.tool.speed_mm_s == DEFAULT_TOOLS[LineRole.THROUGH_CUT].speed_mm_s
    with pytest.raises(BadValue, match="passes is 0"):
        READ_ALIGNING("Aligning", {"passes": 0})


def test_the_aligning_figure_touches_no_mark_no_code_and_no_cut(pdf: Pdf) -> None:
    for quantity in (1, 5, 12):
        sheet = sheet_of(pdf, line_in("12 12 76 76 re") + line_in("17 17 40 66 re", "B"), quantity)
        figure = shapely.MultiLineString([
            flatten(c) for op in planned(sheet).operations if op.aligning for c in op.contours
        ])
        boxes = [box for mark in sheet.marks for box in mark.inked] + ([sheet.code.box] if sheet.code else [])
        boxes += [copy.bounds for copy in sheet.placements]
        assert all(shapely.box(*box).distance(figure) > 0.5 for box in boxes)


# -- the command -----------------------------------------------------------------------------------


def asked(folder: Path, art: Path, **more: object) -> Path:
    path = folder / "plan.json"
    path.write_text(json.dumps({"material": "film-610", "items": [{"file": str(art), "quantity": 4}], **more}))
    return path


def test_plan_writes_the_files_and_tells_the_operations(
    tmp_path: Path, pdf: Pdf, capsys: pytest.CaptureFixture[str]
) -> None:
    art = pdf(f"1 0 0 0 k 5 5 90 90 re f {ALL}", inks=INKS)
    out = tmp_path / "out"
    assert main(["plan", str(asked(tmp_path, art)), "--out", str(out), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [(op["role"], op["contours"]) for op in told["operations"]] == [
        ("kiss-cut", 12), ("perforation", 4), ("through-cut", 4)
    ]
    assert told["files"] == [
        {"name": "sheet-cut.plt", "format": "hpgl", "roles": ["kiss-cut", "perforation", "through-cut"]}
    ]
    drawn = read_hpgl((out / "sheet-cut.plt").read_bytes())
    assert [sum(s.operation == i for s in drawn) for i in range(3)] == [op["strokes"] for op in told["operations"]]
    for i, op in enumerate(told["operations"]):
        paths = [s.points for s in drawn if s.operation == i]
        hops = np.hypot(*np.diff([[0.0, 0.0], *(p for path in paths for p in (path[0], path[-1]))], axis=0)[::2].T)
        assert op["travel_mm"] == pytest.approx(hops.sum(), rel=0.002), "from the zero"
    assert 0 < told["worst_off_mm"] <= 0.02 and told["time_s"] > sum(op["time_s"] for op in told["operations"])
    assert main(["plan", str(asked(tmp_path, art)), "--out", str(out)]) == 0
    assert "sheet-cut.plt" in capsys.readouterr().out


@pytest.mark.parametrize("wrong", [
    {"tools": {"kiss": {}}}, {"tools": {"kiss-cut": {"blade": "laser"}}}, {"tools": {"kiss-cut": {"watts": 1}}},
    {"order": ["kiss"]}, {"only": "kiss-cut"}, {"order": ["kiss-cut", "kiss-cut"]}, {"cuts": 1}, {"tools": []},
])
def test_what_cannot_be_meant_is_named_and_nothing_is_written(
    tmp_path: Path, pdf: Pdf, wrong: dict[str, object], capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "out"
    assert main(["plan", str(asked(tmp_path, pdf(RINGS), **wrong)), "--out", str(out)]) == 2
    assert not out.exists() and capsys.readouterr().err.strip()


def test_layout_takes_the_same_plan(tmp_path: Path, pdf: Pdf) -> None:
    plan_file = asked(tmp_path, pdf(f"1 0 0 0 k 5 5 90 90 re f {RINGS}"), tools={"kiss-cut": {"number": 4}})
    assert main(["layout", str(plan_file), "--out", str(tmp_path / "sheet.pdf")]) == 0


def test_a_plan_takes_some_copies_alone_and_refuses_what_is_none(
    tmp_path: Path, pdf: Pdf, capsys: pytest.CaptureFixture[str]
) -> None:
    art = pdf(f"1 0 0 0 k 5 5 90 90 re f {line_in(circle(50, 50, 20))}")

    def told(copies: object) -> tuple[int, str]:
        plan = tmp_path / "plan.json"
        items = [{"file": str(art), "quantity": 6}]
        plan.write_text(json.dumps({"material": "film-610", "items": items, "copies": copies}))
        code = main(["plan", str(plan), "--out", str(tmp_path / "out"), "--json"])
        out = capsys.readouterr()
        return code, out.out or out.err

    code, out = told([2, 5])
    assert code == 0 and json.loads(out)["operations"][0]["contours"] == 2
    for wrong in ("2", [0], [1.5], [True]):
        code, err = told(wrong)
        assert code == 2 and "copies" in err
