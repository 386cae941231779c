"""Lines made from art: source, inner contours, offsets, shapes, second lines, patterns, edits, and what is said."""

import io
import json
import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import shapely
from PIL import Image

from horismos.artwork import line_objects, read_bytes
from horismos.artwork.model import Artwork
from horismos.cutting import DEFAULT_TOOLS
from horismos.errors import BadValue, HorismosError, NothingToDo
from horismos.intake import Answers, take_in
from horismos.making import Made, Make, make
from horismos.making.edits import edited, path_drawn
from horismos.making.note import note_on
from horismos.making.pattern import pattern_along
from horismos.mending import mend, step
from horismos.orders import Order
from horismos.paths import Contour, bounds, contour_from_points, flatten, length, rectangle, signed_area
from horismos.paths.areas import area_of
from horismos.paths.curvature import node_turns
from horismos.paths.offset import buffered, curves_round
from horismos.roles import LineRole
from horismos.workflow.case import Case
from horismos.workflow.plan import plan
from tests.breadth import breadth
from tests.drawn import SHAPES, coverage, png
from tests.known import HOUSE
from tests.shapes import Drawing, circle, write

KISS = {"role": "kiss-cut"}


def art(content: str, **more: Any) -> Artwork:
    return read_bytes(write(Drawing(content, trim=None, bleed=None, **more)))


def made_of(artwork: Artwork, **wanted: Any) -> Made:
    wanted.setdefault("lines", [KISS])
    page = artwork.pages[0]
    return make(artwork, page, line_objects(artwork, page, HOUSE), Make.from_json(wanted))


def picture(alpha: np.ndarray) -> Artwork:
    return read_bytes(take_in(png(alpha), "a.png", Answers(), Order(), HOUSE).pdf)


def areas(made: Made) -> list[float]:
    return sorted(round(abs(signed_area(line.contour)), 1) for line in made.lines)


# -- sources -----------------------------------------------------------------------------------------------------------


def test_vectors_are_welded_and_strokes_count_at_their_width() -> None:
    two = art(f"1 0 0 0 k {circle(40, 50, 20)} f {circle(60, 50, 20)} f 4 w 0 0 0 1 K 50 20 m 50 80 l S")
    made = made_of(two)
    union = shapely.union_all([
        shapely.Point(40, 50).buffer(20, 200), shapely.Point(60, 50).buffer(20, 200), shapely.box(48, 20, 52, 80),
    ])
    assert made.source == "vector" and len(made.lines) == 1
    assert areas(made)[0] == pytest.approx(union.area, rel=1e-3)


def test_a_white_box_under_vectors_is_paper_and_not_art() -> None:
    boxed = art(f"0 0 0 0 k 0 0 100 100 re f 1 0 0 0 k {circle(50, 50, 20)} f")
    made = made_of(boxed)
    assert "paper" in made.why
    assert areas(made) == [pytest.approx(math.pi * 400, rel=1e-3)]


def test_chosen_objects_alone_are_cut_round() -> None:
    two = art(f"1 0 0 0 k {circle(25, 50, 10)} f 0 1 0 0 k {circle(75, 50, 15)} f")
    assert len(made_of(two).lines) == 2
    assert areas(made_of(two, objects_at=[[75, 50]])) == [pytest.approx(math.pi * 225, rel=1e-3)]


def test_a_clip_cuts_what_it_hides() -> None:
    half = art(f"q 0 0 50 100 re W n 1 0 0 0 k {circle(50, 50, 20)} f Q")
    assert areas(made_of(half)) == [pytest.approx(math.pi * 200, rel=2e-3)]


@breadth(0.12, "long ones")
def test_the_alpha_of_a_picture_is_its_outline_hole_and_all() -> None:
    made = made_of(picture(coverage(SHAPES["ring"])))
    assert made.source == "alpha" and [line.inner for line in made.lines] == [False, True]
    assert areas(made) == [pytest.approx(math.pi * 18**2, rel=1e-3), pytest.approx(math.pi * 24**2, rel=1e-3)]


@breadth(0.12, "long ones")
def test_an_opaque_picture_is_told_from_its_plain_ground_and_enclosed_ground_stays_if_asked() -> None:
    alpha = coverage(SHAPES["ring"]).astype(float)[..., None] / 255
    pixels = (np.array([240, 238, 230]) * (1 - alpha) + np.array([30, 90, 140]) * alpha).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", dpi=(300, 300))
    artwork = read_bytes(take_in(out.getvalue(), "a.png", Answers(), Order(), HOUSE).pdf)
    made = made_of(artwork)
    assert made.source == "ground" and "RGB 240, 238, 230" in made.why
    assert areas(made) == [pytest.approx(math.pi * 24**2, rel=2e-3)]
    everywhere = made_of(artwork, joined="anywhere")
    assert areas(everywhere)[0] == pytest.approx(math.pi * 18**2, rel=2e-3)


@breadth(0.12, "long ones")
@pytest.mark.parametrize(("alpha", "words"), [
    (np.zeros((300, 300), np.uint8), "clear everywhere"),
    (np.pad([[255]], 150).astype(np.uint8), "1 piece found"),
    (np.random.default_rng(1).integers(0, 256, (2600, 2600)).astype(np.uint8), "noise"),
])
def test_what_has_no_outline_says_so(alpha: np.ndarray, words: str) -> None:
    with pytest.raises(HorismosError, match=words):
        made_of(picture(alpha))


def test_a_picture_that_is_opaque_all_over_has_its_own_edge() -> None:
    made = made_of(picture(np.full((300, 400), 255, np.uint8)))
    x0, y0, x1, y1 = bounds(made.lines[0].contour)
    assert (x1 - x0, y1 - y0) == (pytest.approx(400 * 25.4 / 300, abs=0.05), pytest.approx(300 * 25.4 / 300, abs=0.05))


# -- inner contours, islands -------------------------------------------------------------------------------------------

DONUT = f"1 0 0 0 k {circle(50, 50, 30)} {circle(50, 50, 10)} {circle(50, 70, 3)} f*"


def test_an_inner_contour_that_the_offset_closes_up_is_not_told_to_be_cut() -> None:
    holed = art(f"0 0 0 1 k {circle(50, 50, 40)} {circle(40, 50, 1.8)} {circle(60, 50, 8)} f*")
    made = made_of(holed, lines=[{**KISS, "offset_mm": 2}])
    assert [one.kept for one in sorted(made.inner, key=lambda one: one.area_mm2)] == [False, True]
    assert len(made.lines) == 2 and any("1 inner contour closed up: 2 mm" in note for note in made.notes)
    assert all(one.kept for one in made_of(holed, lines=[{**KISS, "offset_mm": 0.2}]).inner)


def test_inner_contours_are_kept_dropped_dropped_below_an_area_or_chosen() -> None:
    donut = art(DONUT)
    assert len(made_of(donut).lines) == 3
    assert len(made_of(donut, inner="drop").lines) == 1
    assert len(made_of(donut, inner={"drop_below_mm2": 100}).lines) == 2
    assert areas(made_of(donut, drop_at=[[50, 50]]))[0] == pytest.approx(math.pi * 9, rel=1e-2)
    assert len(made_of(donut, inner="drop", keep_at=[[50, 70]]).lines) == 2
    found = made_of(donut, drop_at=[[50, 50]]).inner
    assert sorted((round(i.area_mm2), i.kept) for i in found) == [(28, True), (314, False)]


def test_an_area_of_the_art_becomes_a_hole_where_it_is_pointed_at() -> None:
    eye = art(f"1 0 0 0 k {circle(50, 50, 30)} f 0 0 0 1 k {circle(50, 50, 8)} f")
    assert len(made_of(eye).lines) == 1
    made = made_of(eye, cut_out_at=[[50, 50]])
    assert areas(made)[0] == pytest.approx(math.pi * 64, rel=2e-3) and made.lines[1].inner


def test_islands_are_joined_over_gaps_up_to_a_distance() -> None:
    three = art("1 0 0 0 k 10 40 20 20 re f 31 40 20 20 re f 60 40 20 20 re f")
    assert len(made_of(three).lines) == 3
    made = made_of(three, bridge_mm=2)
    assert len(made.lines) == 2 and "1 gap" in made.notes[0]
    assert len(made_of(three, bridge_mm=10).lines) == 1
    # nothing else of the outline has changed: the outer corners are corners still
    assert bounds(made.lines[0].contour)[0] == pytest.approx(10, abs=0.01)


# -- offsets, shapes ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("by", [3.0, -2.0])
@pytest.mark.parametrize("join", ["round", "mitre", "bevel"])
@pytest.mark.parametrize("name", ["circle", "star", "blob", "rounded square"])
def test_an_offset_lies_where_shapely_has_it_and_crosses_itself_nowhere(name: str, join: str, by: float) -> None:
    shape = SHAPES[name]
    fit = 0.005
    made = curves_round(buffered(shape, by, join, fit * 0.2), fit)
    exact = shapely.boundary(shapely.buffer(shape, by, quad_segs=400, join_style=join, mitre_limit=4))
    off = max(float(shapely.distance(shapely.points(flatten(c, 0.0005)), exact).max()) for c in made)
    assert off <= 0.01
    assert all(shapely.LinearRing(flatten(c, 0.002)).is_simple for c in made)


def test_an_offset_has_few_nodes() -> None:
    (round_one,) = curves_round(buffered(area_of([_circle(40)], 0.001), 3, "round", 0.001), 0.005)
    assert round_one.node_count <= 8
    assert curves_round(buffered(SHAPES["rounded square"], 3, "round", 0.001), 0.005)[0].node_count <= 12


def _circle(radius: float) -> Contour:
    from horismos.making.shapes import ellipse

    return ellipse(0, 0, radius, radius)


def test_an_offset_that_swallows_some_pieces_says_which_and_one_that_swallows_all_is_refused() -> None:
    two = art(f"1 0 0 0 k {circle(25, 50, 3)} f {circle(70, 50, 20)} f")
    made = made_of(two, lines=[{**KISS, "offset_mm": -5}])
    assert len(made.lines) == 1 and "1 piece vanished" in made.notes[0]
    with pytest.raises(NothingToDo, match="Nothing is left"):
        made_of(two, lines=[{**KISS, "offset_mm": -25}])


@pytest.mark.parametrize("shape", ["rectangle", "rounded", "circle", "ellipse", "hull"])
def test_a_shape_holds_the_art_at_a_distance_and_is_not_larger_than_it_must_be(shape: str) -> None:
    bent = art("1 0 0 0 k 30 30 m 70 40 l 60 70 l 50 45 l h f")
    made = made_of(bent, source="shape", shape=shape, lines=[{**KISS, "offset_mm": 2}])
    (line,) = made.lines
    inner = shapely.Polygon([(30, 30), (70, 40), (60, 70), (50, 45)])
    outline = shapely.Polygon(flatten(line.contour, 0.002))
    assert outline.covers(inner.buffer(1.99 if shape != "rounded" else 0.5))
    assert outline.area < 2.5 * shapely.box(*inner.buffer(2).bounds).area
    assert line.contour.node_count <= 8


def test_shapes_go_round_each_piece_or_round_all() -> None:
    two = art("1 0 0 0 k 10 40 20 20 re f 60 40 20 20 re f")
    assert len(made_of(two, source="shape", shape="circle").lines) == 2
    assert len(made_of(two, source="shape", shape="circle", around="all").lines) == 1


def test_corners_are_rounded_to_a_radius_and_a_thin_part_stays() -> None:
    flag = art("1 0 0 0 k 20 20 40 40 re f 60 39 30 1 re f")
    made = made_of(flag, lines=[{**KISS, "corner_mm": 3}])
    (line,) = made.lines
    assert bounds(line.contour)[2] == pytest.approx(90, abs=0.05)
    sharp = [t for t in np.abs(node_turns(line.contour)[1]) if t > 30]
    assert len(sharp) <= 4  # those of the thin part, which has no room


# -- second lines ------------------------------------------------------------------------------------------------------


def test_kiss_cut_perforation_and_slit_of_one_outline() -> None:
    made = made_of(art(f"1 0 0 0 k {circle(50, 50, 20)} f"), lines=[
        {**KISS, "offset_mm": 2}, {"role": "perforation", "offset_mm": 5, "cut_mm": 4, "tie_mm": 0.5, "least_ties": 6},
        {"role": "back-cut", "slit_deg": 30, "run_out_mm": 2},
    ])
    kiss, perforation, slit = made.lines
    assert length(kiss.contour) == pytest.approx(2 * math.pi * 22, rel=1e-3)
    assert perforation.pattern and perforation.pattern.ties == round(2 * math.pi * 25 / 4.5)
    assert length(slit.contour) == pytest.approx(2 * (22 + 2), abs=0.05) and not slit.contour.closed
    assert math.degrees(math.atan2(*(slit.contour.end - slit.contour.start)[::-1])) == pytest.approx(30, abs=0.01)


def test_both_on_one_path_the_perforation_only_has_the_liner_left() -> None:
    made = made_of(art(f"1 0 0 0 k {circle(50, 50, 20)} f"), lines=[
        {**KISS, "offset_mm": 2}, {"role": "perforation", "offset_mm": 2},
    ])
    assert made.lines[0].contour.segments == pytest.approx(made.lines[1].contour.segments)


def test_a_frame_and_cuts_through_the_waste_leave_the_pieces_alone() -> None:
    two = art("1 0 0 0 k 10 10 20 20 re f 70 70 20 20 re f")
    made = made_of(two, lines=[{**KISS, "offset_mm": 2}, {**KISS, "frame_mm": 4}, {**KISS, "weed_mm": 30}])
    frame = [line for line in made.lines if line.wanted == 1]
    cuts = [line for line in made.lines if line.wanted == 2]
    assert bounds(frame[0].contour) == pytest.approx((4, 4, 96, 96), abs=0.01)
    pieces = shapely.union_all([shapely.box(8, 8, 32, 32), shapely.box(68, 68, 92, 92)])
    assert cuts and all(shapely.LineString(flatten(c.contour)).distance(pieces) > 0.9 for c in cuts)


def test_a_lift_tab_stands_out_where_it_was_asked_for() -> None:
    made = made_of(art(f"1 0 0 0 k {circle(50, 50, 20)} f"), lines=[{**KISS, "tab_mm": 8, "tab_deg": 0}])
    assert bounds(made.lines[0].contour) == pytest.approx((30, 30, 74, 70), abs=0.05)


# -- patterns ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("contour", "closed"), [
    (rectangle(0, 0, 37, 23), True), (contour_from_points([(0, 0), (50, 0), (50, 33)], closed=False), False),
])
def test_a_pattern_closes_without_a_rest_and_keeps_its_ties_off_corners_and_start(
    contour: Contour, closed: bool
) -> None:
    made = pattern_along(contour, 4, 0.5)
    ties = made.parts[1:, 0] - made.parts[:-1, 1]
    assert ties == pytest.approx(np.full(len(ties), 0.5), abs=1e-9)
    cuts = made.parts[:, 1] - made.parts[:, 0]
    assert cuts.min() > 2 and made.cuts == made.ties + (not closed)
    assert cuts.sum() + made.ties * 0.5 == pytest.approx(length(contour))
    if closed:
        middles = np.mod(np.append(made.parts[1:, 0], made.parts[0, 0]) - 0.25, length(contour))
        for corner in (0, 37, 60, 97, 120):
            assert np.abs(middles - corner).min() >= 0.49


def test_a_small_piece_has_at_least_so_many_ties() -> None:
    assert pattern_along(rectangle(0, 0, 5, 5), 4, 0.5, least_ties=8).ties == 8
    assert pattern_along(rectangle(0, 0, 5, 5), 4, 0.5).holding == pytest.approx(4 * 0.5 / 20)


# -- edits -------------------------------------------------------------------------------------------------------------

SQUARE = [rectangle(0, 0, 10, 10)]


def test_nodes_are_moved_added_and_taken_away() -> None:
    moved, _ = edited(SQUARE, [{"do": "move", "at": [10, 10], "to": [14, 12]}])
    assert bounds(moved[0]) == (0, 0, 14, 12)
    added, _ = edited(SQUARE, [{"do": "add", "at": [5, 0]}])
    assert added[0].node_count == 5 and signed_area(added[0]) == 100
    gone, _ = edited(SQUARE, [{"do": "delete", "at": [10, 10]}])
    assert gone[0].node_count == 3 and signed_area(gone[0]) == 50


def test_a_corner_becomes_a_curve_and_a_corner_again() -> None:
    curve, _ = edited(SQUARE, [{"do": "curve", "at": [10, 0]}])
    turns = dict(zip(map(tuple, node_turns(curve[0])[0].tolist()), node_turns(curve[0])[1].tolist(), strict=True))
    assert abs(turns[(10.0, 0.0)]) < 1e-6 and signed_area(curve[0]) > 100
    back, _ = edited(curve, [{"do": "corner", "at": [10, 0]}])
    assert max(abs(t) for t in node_turns(back[0])[1]) > 60


def test_a_line_is_opened_joined_again_and_taken_away() -> None:
    opened, _ = edited(SQUARE, [{"do": "open", "at": [0, 0]}])
    assert not opened[0].closed and length(opened[0]) == 40
    pulled = [{"do": "open", "at": [0, 0]}, {"do": "add", "at": [0, 5]}, {"do": "open", "at": [0, 5]}]
    parts, _ = edited(SQUARE, pulled)
    assert [c.closed for c in parts] == [False, False]
    joined, _ = edited(parts, [{"do": "join", "at": [0, 5], "to": [0, 5]}])
    assert len(joined) <= 2
    assert edited(SQUARE, [{"do": "take", "at": [10, 5]}])[0] == []


def test_an_edit_that_finds_nothing_says_so_and_changes_nothing() -> None:
    same, words = edited(SQUARE, [{"do": "move", "at": [50, 50], "to": [1, 1]}])
    assert same == SQUARE and "1 of 1" in words[0]


def test_a_line_is_drawn_by_hand_as_path_data() -> None:
    (line,) = path_drawn("M 0 0 L 10 0 C 15 0 15 10 10 10 Z")
    assert line.closed and line.node_count == 3
    for bad in ("L 1 1", "M 0", "M 0 0 Q 1 1 2 2", "M 0 0 L 1"):
        with pytest.raises(BadValue):
            path_drawn(bad)


# -- what is asked for, and what stays ---------------------------------------------------------------------------------


@pytest.mark.parametrize(("wanted", "words"), [
    ({"lines": [KISS], "colour": 1}, "unknown key “colour”"),
    ({"lines": [{**KISS, "ofset_mm": 1}]}, "unknown key “ofset_mm”"),
    ({"lines": []}, "no line"), ({"lines": [{"role": "cut"}]}, "role is “cut”"),
    ({"lines": [KISS], "source": "shape"}, "which shape"), ({"lines": [KISS], "threshold": 2}, "threshold is 2"),
    ({"lines": [{**KISS, "edits": [{"do": "fly"}]}]}, "do is “fly”"), ({"lines": [KISS], "inner": "some"}, "inner"),
    ({"lines": [{**KISS, "slit_deg": 0, "frame_mm": 3}]}, "cannot both"),
])
def test_what_cannot_be_meant_is_refused_by_name(wanted: dict[str, Any], words: str) -> None:
    with pytest.raises(BadValue, match=words):
        Make.from_json(wanted)


def test_a_make_is_its_plain_values_and_back() -> None:
    wanted = Make.from_json({
        "source": "ground", "ground": [1, 2, 3], "inner": {"drop_below_mm2": 4}, "keep_at": [[1, 2]],
        "lines": [{**KISS, "offset_mm": 2, "join": "mitre", "edits": [{"do": "add", "at": [1, 2]}]}],
    })
    assert Make.from_json(json.loads(json.dumps(wanted.to_json()))) == wanted


def test_lines_are_put_into_the_file_with_what_they_were_made_of_and_made_anew() -> None:
    artwork = art(f"1 0 0 0 k {circle(50, 50, 47)} f")
    wanted = {"lines": [{**KISS, "offset_mm": 5}, {"role": "perforation", "offset_mm": 8, "cut_mm": 3, "tie_mm": 1}]}
    done = mend(artwork, step("make-lines", make=wanted), HOUSE)
    page = done.artwork.pages[0]
    lines = line_objects(done.artwork, page, HOUSE)
    assert {line.role for line in lines} == {LineRole.KISS_CUT, LineRole.PERFORATION}
    assert all(line.overprints and line.tint == 1 and line.width_mm < 0.09 for line in lines)
    # the page has grown for them, and its trim box is where it was
    assert page.boxes.trim == artwork.pages[0].boxes.trim and page.boxes.media[0] < -5
    note = note_on(page)
    assert note.make is not None and Make.from_json(note.make) == Make.from_json(wanted)
    assert note.patterns["perforation"]["cut_mm"] == 3
    again = mend(done.artwork, step("make-lines", make={"lines": [{**KISS, "offset_mm": 1}]}), HOUSE)
    now = line_objects(again.artwork, again.artwork.pages[0], HOUSE)
    assert [line.role for line in now] == [LineRole.KISS_CUT]
    x0, _, x1, _ = bounds(now[0].contours[0])
    assert x1 - x0 == pytest.approx(96, abs=0.05)
    assert "2 lines that were there go" in again.said
    with pytest.raises(NothingToDo, match="already"):
        mend(again.artwork, step("make-lines", make={"lines": [{**KISS, "offset_mm": 1}]}), HOUSE)
    assert [layer.role for layer in again.artwork.layers].count(LineRole.KISS_CUT) == 1


def test_the_cut_plan_perforates_as_the_line_was_made_unless_the_job_says_otherwise() -> None:
    artwork = art(f"1 0 0 0 k {circle(50, 50, 30)} f")
    wanted = {"lines": [{"role": "perforation", "cut_mm": 6, "tie_mm": 1, "least_ties": 40}]}
    done = mend(artwork, step("make-lines", make=wanted), HOUSE).artwork
    (operation,) = plan(Case(artwork=done)).cut.operations
    assert len(operation.strokes) == 40
    tips = [stroke.tip for stroke in operation.strokes]
    ties = [np.hypot(*(b[0] - a[-1])) for a, b in zip(tips, tips[1:], strict=False)]
    assert ties == pytest.approx([1.0] * 39, abs=0.01)
    own = replace(DEFAULT_TOOLS[LineRole.PERFORATION], cut_mm=9.0)
    (operation,) = plan(Case(artwork=done, tools={LineRole.PERFORATION: own})).cut.operations
    assert len(operation.strokes) == round(60 * math.pi / 9.5)
