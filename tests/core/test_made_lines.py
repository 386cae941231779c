"""What becomes of lines after they were made: changed by hand, noted in the file, written as drawings; and grounds."""

import io
import json
from types import SimpleNamespace
from typing import Any

import ezdxf
import numpy as np
import pytest
from ezdxf.path import make_path

from horismos.artwork import line_objects, read_bytes
from horismos.cutting.perforate import cuts_and_ties
from horismos.cutting.strokes import Prepared
from horismos.cutting.tools import Tool
from horismos.errors import BadValue, NothingToDo
from horismos.formats.dxf_write import write_dxf
from horismos.making import Make, make
from horismos.making.edits import edited, path_drawn
from horismos.making.note import Note, note_on
from horismos.making.pattern import pattern_along
from horismos.making.pixels import Ground, by_ground, frame_colour, sharpest_tolerance
from horismos.making.spec import Where
from horismos.mending import mend, step
from horismos.paths import bounds, contour_from_points, flatten, length, rectangle, signed_area
from horismos.roles import LineRole
from tests.known import HOUSE
from tests.shapes import Drawing, circle, write

OPEN = [contour_from_points([(0, 0), (10, 0), (20, 0), (20, 10)], closed=False)]
ROUND = path_drawn("M 10 0 C 10 5.523 5.523 10 0 10 C -5.523 10 -10 5.523 -10 0 "
                   "C -10 -5.523 -5.523 -10 0 -10 C 5.523 -10 10 -5.523 10 0 Z")
UNTURNED = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
IVORY, INK = (250, 245, 230), (30, 80, 60)

# -- along each other, and from lines that are there ------------------------------------------------------------------


def _made(content: str, **make_of: Any) -> Any:
    artwork = read_bytes(write(Drawing(content, trim=None, bleed=None)))
    page = artwork.pages[0]
    return make(artwork, page, line_objects(artwork, page, HOUSE), Make.from_json(make_of))


def _areas(made: Any, role: LineRole) -> list[float]:
    return [round(signed_area(c)) for c in made.by_role[role]]


BLOCK = "0 0 1 rg 20 20 40 40 re f\n"


def test_a_perforation_along_a_cut_follows_it_with_all_that_a_hand_changed() -> None:
    edits = [{"do": "move", "at": [18, 18], "to": [10, 10]}]
    kiss = {"role": "kiss-cut", "offset_mm": 2, "join": "mitre", "edits": edits}
    made = _made(BLOCK, lines=[{"role": "perforation", "along": "kiss-cut"}, kiss])
    one, other = made.by_role[LineRole.KISS_CUT], made.by_role[LineRole.PERFORATION]
    assert [c.segments.tolist() for c in one] == [c.segments.tolist() for c in other]
    assert bounds(one[0])[:2] == pytest.approx((10, 10))
    wider = _made(BLOCK, lines=[kiss, {"role": "through-cut", "along": "kiss-cut", "offset_mm": 3, "join": "mitre"}])
    assert bounds(wider.by_role[LineRole.THROUGH_CUT][0])[2:] == pytest.approx((65, 65))


@pytest.mark.parametrize("lines", [
    [{"role": "perforation", "along": "kiss-cut"}],
    [{"role": "kiss-cut", "along": "perforation"}, {"role": "perforation", "along": "kiss-cut"}],
])
def test_a_line_along_none_or_along_itself_is_refused_by_name(lines: list[dict[str, Any]]) -> None:
    with pytest.raises(BadValue, match="along"):
        Make.from_json({"lines": lines})


@pytest.mark.parametrize(("path", "by", "box"), [
    ("M 0 0 L 10 0 L 10 10 L 0 10 Z", 2, (-2, -2, 12, 12)),
    ("M 0 0 L 10 0 L 10 10 L 0 10 Z", -2, (2, 2, 8, 8)),
    ("M 0 0 L 50 0", 3, (0, -3, 50, -3)),
    ("M 0 0 L 50 0", -3, (0, 3, 50, 3)),
])
def test_a_drawn_line_has_an_offset_outwards_or_to_its_right(path: str, by: float, box: tuple[float, ...]) -> None:
    made = _made("", lines=[{"role": "kiss-cut", "drawn": path, "offset_mm": by}])
    assert bounds(made.lines[0].contour) == pytest.approx(box, abs=0.01)


@pytest.mark.parametrize("shape", ["circle", "rectangle", "rounded", "ellipse", "hull"])
def test_a_shape_round_art_keeps_the_inner_contours_that_are_cut(shape: str) -> None:
    ring = "0 0 1 rg 10 10 60 60 re 30 30 20 20 re f*\n"
    made = _made(ring, shape=shape, lines=[{"role": "kiss-cut", "offset_mm": 2, "join": "mitre"}])
    assert sorted(_areas(made, LineRole.KISS_CUT))[0] == pytest.approx(-16 * 16, abs=2)
    assert [line.inner for line in made.lines].count(True) == 1
    dropped = _made(ring, shape=shape, inner="drop", lines=[{"role": "kiss-cut", "offset_mm": 2}])
    assert len(dropped.lines) == 1


LINED = Drawing(BLOCK + "/K CS 1 SCN 0.05 w 15 15 50 50 re S\n", inks={"K": "Kiss Cut"})


def test_a_back_cut_is_made_from_the_kiss_cut_that_the_file_has_and_leaves_it_alone() -> None:
    lines = [{"role": "back-cut", "offset_mm": 1.27, "join": "mitre"}]
    wanted = {"source": "line", "line": "kiss-cut", "lines": lines}
    done = mend(read_bytes(write(LINED)), step("make-lines", make=wanted), HOUSE)
    found = {line.role: line.contours for line in line_objects(done.artwork, done.artwork.pages[0], HOUSE)}
    kiss, back = (bounds(found[role][0]) for role in (LineRole.KISS_CUT, LineRole.BACK_CUT))
    assert np.subtract(back, kiss) == pytest.approx((-1.27, -1.27, 1.27, 1.27), abs=0.01)


@pytest.mark.parametrize(("replaces", "left"), [(False, 2), (True, 1)])
def test_lines_by_other_hands_stay_beside_new_ones_unless_it_is_said_that_they_go(replaces: bool, left: int) -> None:
    wanted = {"lines": [{"role": "kiss-cut", "offset_mm": 9}], "replaces": replaces}
    first = mend(read_bytes(write(LINED)), step("make-lines", make=wanted), HOUSE).artwork
    assert len(line_objects(first, first.pages[0], HOUSE)) == left
    # made anew, only what was made before gives way
    wanted["lines"] = [{"role": "kiss-cut", "offset_mm": 7}]
    again = mend(first, step("make-lines", make=wanted), HOUSE).artwork
    boxes = sorted(round(bounds(line.contours[0])[0] - 10, 2) for line in line_objects(again, again.pages[0], HOUSE))
    assert len(boxes) == left


def test_a_line_that_is_not_there_or_is_open_is_no_source() -> None:
    with pytest.raises(NothingToDo, match="has no back cut"):
        _made(BLOCK, source="line", line="back-cut", lines=[{"role": "kiss-cut"}])
    with pytest.raises(NothingToDo, match="open"):
        _made("/K CS 1 SCN 0.05 w 15 15 m 50 50 l S\n", source="line", line="kiss-cut", lines=[{"role": "back-cut"}])


# -- by hand -----------------------------------------------------------------------------------------------------------


def test_the_handle_across_a_smooth_node_turns_with_the_one_that_is_pulled_and_keeps_its_length() -> None:
    (pulled,), words = edited(ROUND, [{"do": "handle", "at": [0, 10], "side": "out", "to": [-4, 13]}])
    node = int(np.hypot(*(pulled.segments[:, 0] - (0, 10)).T).argmin())
    goes, comes = pulled.segments[node][1], pulled.segments[node - 1][2]
    assert goes.tolist() == [-4, 13] and not words
    assert np.hypot(*(comes - (0, 10))) == pytest.approx(5.523)
    (ax, ay), (bx, by) = goes - (0, 10), comes - (0, 10)
    assert ax * by - ay * bx == pytest.approx(0, abs=1e-9)


def test_a_handle_at_a_corner_moves_alone_and_bends_a_straight_segment() -> None:
    (bent,), _ = edited([rectangle(0, 0, 10, 10)], [{"do": "handle", "at": [10, 0], "side": "in", "to": [7, -4]}])
    assert int((~bent.straight).sum()) == 1 and bent.node_count == 4
    assert signed_area(bent) > 100


@pytest.mark.parametrize(("at", "left"), [((0, 0), 20.0), ((20, 10), 20.0), ((10, 0), 30.0), ((20, 0), 10 + 200**0.5)])
def test_a_node_of_an_open_line_goes_and_the_rest_stays(at: tuple[float, float], left: float) -> None:
    (rest,), _ = edited(OPEN, [{"do": "delete", "at": list(at)}])
    assert not rest.closed and length(rest) == pytest.approx(left)


def test_two_open_lines_become_one_whichever_way_they_run() -> None:
    apart = [OPEN[0], contour_from_points([(0, 5), (-5, 5)], closed=False)]
    for lines in (apart, [apart[0], apart[1].reversed()], [apart[0].reversed(), apart[1]]):
        (one,), _ = edited(lines, [{"do": "join", "at": [0, 0], "to": [0, 5]}])
        assert not one.closed and length(one) == pytest.approx(30 + 5 + 5)
    (ring,), _ = edited(OPEN, [{"do": "join", "at": [0, 0], "to": [20, 10]}])
    assert ring.closed and abs(signed_area(ring)) == pytest.approx(100)


@pytest.mark.parametrize("edit", [
    {"do": "join", "at": [0, 0], "to": [10, 0]},  # not an end
    {"do": "open", "at": [0, 0]},  # it is open there
    {"do": "curve", "at": [20, 10]},  # an end has one side
    {"do": "handle", "at": [0, 0], "side": "in", "to": [1, 1]},  # nothing comes to it
    {"do": "take", "at": [90, 90]}, {"do": "add", "at": [90, 90]}, {"do": "add", "at": [10, 0]},
])
def test_an_edit_that_cannot_be_leaves_all_as_it_is_and_says_so(edit: dict[str, Any]) -> None:
    same, words = edited(OPEN, [edit])
    assert same == OPEN and words == ["1 of 1 changes by hand found no node where they were made."]


def test_a_node_taken_out_of_a_curve_leaves_the_curve_as_near_as_one_segment_comes() -> None:
    """Half a circle in one cubic is off by at least 1.3 % of its radius [arithmetic]."""
    (left,), words = edited(ROUND, [{"do": "delete", "at": [0, 10]}])
    assert left.node_count == 3 and not words
    assert np.abs(np.hypot(*flatten(left, 0.005).T) - 10).max() < 0.15


def test_the_last_nodes_take_the_line_with_them() -> None:
    triangle = [contour_from_points([(0, 0), (9, 0), (0, 9)], closed=True)]
    assert edited(triangle, [{"do": "delete", "at": [9, 0]}]) == ([], [])


# -- noted in the file -------------------------------------------------------------------------------------------------


def said_by(made: str) -> Note:
    return note_on(SimpleNamespace(made=made))  # type: ignore[arg-type]


GOOD = {"lines": [{"role": "perforation"}]}
PATTERN = {"cut_mm": 3, "tie_mm": 0.5, "least_ties": 4, "tie": "whole"}


@pytest.mark.parametrize("made", [
    "", "{", "[]", "null", "7", '{"make": 3}', '{"make": {"lines": []}}', '{"make": {"lines": [{"role": "x"}]}}',
    json.dumps({"make": GOOD, "patterns": {"perforation": {}}}),
    json.dumps({"make": GOOD, "patterns": {"hole": PATTERN}}),
    json.dumps({"make": GOOD, "patterns": {"perforation": {**PATTERN, "cut_mm": "long"}}}),
])
def test_a_damaged_note_is_none(made: str) -> None:
    assert said_by(made) == Note() and said_by(made).roles == frozenset()


def test_a_note_says_what_was_made_and_a_pattern_no_tool_can_do_is_brought_within_bounds() -> None:
    wild = {"cut_mm": 1e9, "tie_mm": -4, "least_ties": -1, "tie": "scored"}
    note = said_by(json.dumps({"make": GOOD, "patterns": {"perforation": wild}}))
    assert note.roles == {LineRole.PERFORATION}
    assert note.patterns["perforation"] == {"cut_mm": 500.0, "tie_mm": 0.05, "least_ties": 0, "tie": "scored"}


def test_lines_made_three_times_over_are_there_once() -> None:
    artwork = read_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 30)} f", trim=None, bleed=None)))
    for offset in (1, 2, 3):
        both = [{"role": "kiss-cut", "offset_mm": offset}, {"role": "through-cut", "offset_mm": offset + 3}]
        artwork = mend(artwork, step("make-lines", make={"lines": both}), HOUSE).artwork
    lines = line_objects(artwork, artwork.pages[0], HOUSE)
    wide = {line.role: bounds(line.contours[0])[2] - bounds(line.contours[0])[0] for line in lines}
    assert len(lines) == 2
    assert wide == pytest.approx({LineRole.KISS_CUT: 66, LineRole.THROUGH_CUT: 72}, abs=0.05)


def test_one_role_with_two_patterns_is_said_since_a_tool_has_one() -> None:
    artwork = read_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 30)} f", trim=None, bleed=None)))
    perforation = {"role": "perforation", "cut_mm": 3}
    for other, count in (({"cut_mm": 5}, 1), ({"cut_mm": 3}, 0)):
        wanted = Make.from_json({"lines": [perforation, {**perforation, **other, "offset_mm": 4}]})
        notes = make(artwork, artwork.pages[0], [], wanted).notes
        assert sum("2 patterns" in note for note in notes) == count


# -- cut and written ---------------------------------------------------------------------------------------------------


def test_a_pattern_is_the_same_wherever_the_tool_begins() -> None:
    tool = Tool(role=LineRole.PERFORATION, number=2, force_gf=200, speed_mm_s=250, cut_mm=4.0, tie_mm=0.5)
    made = Prepared(rectangle(0, 0, 40, 30), tool)
    first = sorted(stroke.tip[0].round(6).tolist() for stroke in made.strokes(0))
    for which, begin in enumerate(made.starts.begins):
        strokes = made.strokes(which)
        assert strokes[0].tip[0].tolist() == begin.tolist()
        assert sorted(stroke.tip[0].round(6).tolist() for stroke in strokes) == first


def test_an_open_perforation_may_begin_at_either_end() -> None:
    tool = Tool(role=LineRole.PERFORATION, number=2, force_gf=200, speed_mm_s=250, cut_mm=4.0, tie_mm=0.5)
    line = contour_from_points([(0, 0), (50, 0)], closed=False)
    made = Prepared(line, tool)
    assert made.starts.begins.tolist() == [[0, 0], pytest.approx([50, 0])]
    back = made.strokes(1)
    assert back[0].tip[0] == pytest.approx([50, 0]) and back[-1].tip[-1] == pytest.approx([0, 0])
    assert len(back) == len(pattern_along(line, 4, 0.5).parts) == len(cuts_and_ties(line, tool, 0.02)[1]) + 1


def test_a_drawing_has_a_layer_a_role_straight_lines_and_curves_in_mm() -> None:
    data = write_dxf({"kiss cut": ROUND, "slit": OPEN, "frame": [rectangle(0, 0, 30, 20)]})
    drawing = ezdxf.read(io.StringIO(data.decode()))  # type: ignore[attr-defined]
    found = {entity.dxf.layer: entity for entity in drawing.modelspace()}
    assert drawing.header["$INSUNITS"] == 4
    assert {layer: entity.dxftype() for layer, entity in found.items()} == {
        "kiss cut": "SPLINE", "slit": "LWPOLYLINE", "frame": "LWPOLYLINE",
    }
    assert found["frame"].closed and not found["slit"].closed and len(found["slit"]) == 4
    path = make_path(found["kiss cut"])
    radius = [np.hypot(*p.xyz[:2]) for p in path.flattening(0.001)]
    assert radius == pytest.approx([10.0] * len(radius), abs=0.01)


# -- against a ground --------------------------------------------------------------------------------------------------


def on_ground(noise: int = 0, shade: int = 0) -> np.ndarray:
    """A disc of ink on ivory, 80 px across, anti-aliased; with noise, and a soft shadow round it."""
    y, x = np.mgrid[:120, :160]
    far = np.hypot(x - 80, y - 60)
    share = np.clip(40.5 - far, 0, 1)[..., None]
    shadow = (shade * np.clip(1 - (far - 40) / 15, 0, 1))[..., None]
    colours = share * np.array(INK) + (1 - share) * (np.array(IVORY) - shadow)
    colours = colours + np.random.default_rng(7).integers(-noise, noise + 1, colours.shape)
    return np.rint(np.clip(colours, 0, 255)).astype(np.uint8)


@pytest.mark.parametrize(("noise", "shade"), [(0, 0), (6, 0), (4, 30), (0, 60)])
def test_a_plain_ground_is_found_and_its_tolerance_lies_above_noise_and_shadow(noise: int, shade: int) -> None:
    colours = on_ground(noise, shade)
    found = frame_colour(colours, 2 * noise)
    assert found is not None and np.abs(np.array(found) - IVORY).max() <= noise
    tolerance = sharpest_tolerance(colours, IVORY)
    assert max(noise, shade * 0.5) < tolerance < 200
    field = by_ground(colours, UNTURNED, Ground(IVORY, tolerance, Where.EDGE))
    covered = float((field.values > 127).sum())
    assert covered == pytest.approx(np.pi * 40**2, abs=2 * np.pi * 40 / 3)  # a third of a pixel


def test_a_frame_of_many_colours_is_no_ground() -> None:
    striped = np.zeros((40, 40, 3), np.uint8)
    striped[:, ::2] = 255
    assert frame_colour(striped, 10) is None


def test_ground_that_the_art_encloses_is_art_unless_it_counts_anywhere() -> None:
    colours = on_ground()
    colours[50:70, 70:90] = IVORY
    for joined, hole in ((Where.EDGE, False), (Where.ANYWHERE, True)):
        field = by_ground(colours, UNTURNED, Ground(IVORY, 30, joined))
        assert bool(field.values[60, 80] < 20) is hole
        assert field.values[60, 50] > 250 and field.values[5, 5] == 0
