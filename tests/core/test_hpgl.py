"""HP-GL: arcs and curves stay what they are; what is written can be read; what is broken is said."""

import math
from dataclasses import replace

import numpy as np
import pytest

from horismos.artwork import line_objects, read_bytes
from horismos.errors import BadValue, CannotRead, DoesNotFit
from horismos.formats.hpgl import StrokeSegment, ToolRun, looks_like_hpgl, read_hpgl, read_plot, write_hpgl
from horismos.intake import Answers, take_in
from horismos.json_readers import plain
from horismos.machines import DIALECT_FIELDS, Cutter, Dialect
from horismos.materials import MATERIALS
from horismos.paths import flatten, length
from horismos.sheet import Layout, sheet_of
from horismos.shelf import Kind, Shelf, kind_of
from horismos.shelf.kinds.cutter import cutter_of
from horismos.workflow.dialect_trial import try_dialect
from tests.known import HOUSE

UNIT = 0.025


def plotted(text: str) -> list:  # type: ignore[type-arg]
    return read_plot(f"IN;SP1;{text};SP0;".encode()).strokes


@pytest.mark.parametrize("radius_mm", [0.5, 10, 100, 2000])
def test_an_arc_is_kept_as_curves_that_lie_on_it(radius_mm: float) -> None:
    radius = radius_mm / UNIT
    (stroke,) = plotted(f"PU{radius},0;PD;AA0,0,270")
    assert not stroke.contour.straight.any()
    assert len(stroke.contour.segments) < 40, "an arc is some curves and not many chords"
    far = np.hypot(*flatten(stroke.contour, 0.0005).T)
    assert np.abs(far - radius_mm).max() < 0.0025
    assert length(stroke.contour) == pytest.approx(1.5 * math.pi * radius_mm, rel=2e-4)
    assert stroke.contour.end == pytest.approx([0, -radius_mm], abs=1e-6)


def test_a_circle_closes_and_the_pen_comes_back_to_its_middle() -> None:
    strokes = plotted("PU400,400;CI200;PD800,400")
    circle, line = strokes
    assert circle.contour.closed and not circle.contour.straight.any()
    assert np.hypot(*(circle.points - 10).T) == pytest.approx(5, abs=0.002)
    assert line.points == pytest.approx(np.array([[10, 10], [20, 10]]))


def test_a_bezier_keeps_its_controls_relative_ones_too() -> None:
    for text in ("PU40,40;PD;BZ80,40,80,120,120,120", "PU40,40;PD;BR40,0,40,80,80,80"):
        (stroke,) = plotted(text)
        assert stroke.contour.segments[0] == pytest.approx(np.array([[1, 1], [2, 1], [2, 3], [3, 3]]))


@pytest.mark.parametrize("text", ["PU400,0;PD;AT283,283,0,400", "PU400,0;PD;RT-117,283,-400,400"])
def test_an_arc_through_a_point_is_kept(text: str) -> None:
    (stroke,) = plotted(text)
    assert not stroke.contour.straight.any()
    assert np.hypot(*stroke.points.T) == pytest.approx(10, abs=0.02)


def test_an_arc_scaled_unevenly_is_an_ellipse() -> None:
    (stroke,) = plotted("IP0,0,4000,2000;SC0,100,0,100;PU10,0;PD;AA0,0,180")
    x, y = stroke.points.T
    assert (x / 10) ** 2 + (y / 5) ** 2 == pytest.approx(1, abs=1e-3)


def test_a_customers_arcs_come_in_as_curves_and_not_as_chords() -> None:
    data = b"IN;SP1;PU4000,0;PD;AA0,0,180;PD4000,0;PU;SP0;"
    taken = take_in(data, "half.plt", Answers(binding={"pen:1": "kiss-cut"}))
    artwork = read_bytes(taken.pdf)
    (contour,) = [c for line in line_objects(artwork, artwork.pages[0], HOUSE) for c in line.contours]
    assert contour.loops and 2 <= (~contour.straight).sum() <= 12 and contour.straight.sum() == 1
    assert length(contour) == pytest.approx(100 * math.pi + 200, rel=1e-4)


def test_what_was_written_is_read_with_its_tool_and_settings() -> None:
    drawn = [np.array(points) for points in (
        [[0.0, 0.0], [10.0, 0.0], [10.0, 5.0]], [[1.0, 1.0], [2.0, 1.0]], [[3.0, 1.0], [3.0, 1.001]]
    )]
    runs = [
        ToolRun(1, 90, 400, [[StrokeSegment(drawn[0])]]),
        ToolRun(3, 200, 150, [[StrokeSegment(drawn[1])], [StrokeSegment(drawn[2])]]),
    ]
    back = read_hpgl(write_hpgl(runs, (0.0, 0.0)))
    assert [(s.operation, s.tool, s.force_gf, s.speed_mm_s) for s in back] == [(0, 1, 90, 400), (1, 3, 200, 150)]
    assert back[0].points == pytest.approx(drawn[0])


def test_a_stroke_of_no_length_is_no_stroke() -> None:
    assert plotted("PU40,40;PD;PU80,80;PD80,80") == []


@pytest.mark.parametrize("wrong", [b"IN;PD1,2,3;", b"IN;PD1,x;", b"IN;\xff", b"%!PS", b"IN;PA1..2,3;"])
def test_a_cut_file_that_is_broken_is_refused_and_the_place_named(wrong: bytes) -> None:
    with pytest.raises(CannotRead):
        read_hpgl(wrong)


def test_labels_comments_and_escapes_are_passed_over_and_said() -> None:
    plot = read_plot(b"\x1b%0B\x1b.(;IN;SP1;CO\"a word\";LBPD 9,9\x03;PU0,0;PD40,0;FP;PU;SP0;")
    assert plot.left_out == {"LB": 1, "FP": 1}
    (stroke,) = plot.strokes
    assert stroke.points == pytest.approx(np.array([[0, 0], [1, 0]]))


def test_other_files_do_not_look_like_hpgl() -> None:
    assert looks_like_hpgl(b"IN;DF;SP1;PU0,0;PD40,0;")
    prose = b"Dear customer, please find attached the artwork"
    for other in (b"", b"IN", prose, b"0\nSECTION\n2\nHEADER", b"%PDF-1.4"):
        assert not looks_like_hpgl(other), other


@pytest.mark.parametrize("dialect", [
    Dialect(), Dialect(turned=True, right=True, unit_mm=0.01),
    Dialect(tool="T{number};", speed="U{mm_s:g};", force="K{gf:.0f};", pause="WAIT;"),
    Dialect(tool="SP{number};", speed="", force="", pause="NR;"),
])
def test_a_figure_in_any_dialect_is_read_back_as_it_was_meant(dialect: Dialect) -> None:
    tried = try_dialect(Cutter(dialect=dialect))
    assert tried.error == "" and tried.off_mm == pytest.approx(0, abs=dialect.unit_mm) and len(tried.lines) == 2
    assert (dialect.pause in tried.text) is True


@pytest.mark.parametrize(("key", "word", "wrong"), [
    ("tool", "SP;", True), ("tool", "SP{number}{number};", True), ("tool", "SP{number.__class__};", True),
    ("tool", "", True), ("speed", "", False), ("speed", "VS{gf};", True), ("speed", "V{mm_s:.1f};", False),
    ("force", "FS{gf!r};", True), ("force", "{", True),
])
def test_a_word_holds_its_figure_and_nothing_else(key: str, word: str, wrong: bool) -> None:
    read = DIALECT_FIELDS[key].read
    if wrong:
        with pytest.raises(BadValue, match="Write it with"):
            read(key, word)
    else:
        assert read(key, word) == word


def test_a_dialect_that_cannot_be_read_back_says_why() -> None:
    lost = try_dialect(Cutter(dialect=Dialect(header="IN;PA;SP4;")))
    assert lost.off_mm is None and "another setting" in lost.error


def test_marks_that_nobody_knows_and_marks_that_a_cutter_does_not_find_are_refused() -> None:
    cutter = kind_of(Kind.CUTTER)
    data = {**cutter.begins, "dialect": {**plain(Dialect()), "marks": ["blob"]}}
    with pytest.raises(BadValue, match="no such marks"):
        cutter_of(cutter.item("own", "Own", data), Shelf())
    dots = replace(HOUSE.cutter, dialect=Dialect(marks=("dot",)))
    with pytest.raises(DoesNotFit, match="does not find brackets"):
        sheet_of([], MATERIALS["film-610"], dots, Layout())
