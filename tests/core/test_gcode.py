"""Code for flat tables: what it holds line by line, read back, and refused where no table could follow it."""

import math
import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from horismos.cutting import Blade
from horismos.cutting.tools import DEFAULT_TOOLS
from horismos.errors import CannotRead
from horismos.formats.gcode import read_gcode
from horismos.machines import Dialect
from horismos.paths import flatten
from horismos.release.cut_files import cut_files
from horismos.release.cut_formats.gcode import _stroke
from tests.core.test_cutting import ALL, KISS, PERF, drag, planned, sheet_of
from tests.known import HOUSE
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]


def written(pdf: Pdf, content: str = ALL, **tools: object) -> list[str]:
    cut = planned(sheet_of(pdf, content, 2), **tools)  # type: ignore[arg-type]
    return cut_files("x", cut, sheet_of(pdf, content, 2), HOUSE, "gcode")[0].data.decode("ascii").splitlines()


def test_unit_and_way_of_counting_come_before_the_first_move_and_the_tool_is_up_where_anybody_comes_near(
    pdf: Pdf,
) -> None:
    lines = written(pdf)
    first = next(i for i, line in enumerate(lines) if re.search(r"[XYZ]", line))
    assert {"G21", "G90"} <= set(lines[:first])
    up = False
    for line in lines:
        up = {"Z5": True, "Z0": False}.get((re.search(r"Z\d", line) or [""])[0], up)
        if line.startswith(("M0", "T", "M30")) or (line.startswith("G0") and "X" in line):
            assert up, line
        elif re.match(r"G[123] X", line):
            assert not up, line
    assert lines[-1] == "M30" and sum(line == "M30" for line in lines) == 1


def test_tools_feeds_and_pauses_are_those_of_the_plan(pdf: Pdf) -> None:
    cut = planned(sheet_of(pdf, ALL))
    lines = written(pdf)
    own = [op.tool for op in cut.operations]
    assert [line for line in lines if line.startswith("T")] == [
        f"T{number} M6" for number in dict.fromkeys(tool.number for tool in own)
    ]
    feeds = {float(found) for line in lines for found in re.findall(r"F([\d.]+)", line)}
    assert feeds == {(tool.speed_mm_s or 0) * 60 for tool in own}, "in mm a minute"
    said = [pause for pause in cut.pauses if pause.words]
    waits = [i for i, line in enumerate(lines) if line.startswith("M0")]
    assert len(waits) == len(said) and all(lines[i + 1].startswith("T") for i in waits)
    for i, pause in zip(waits, said, strict=True):
        assert lines[i] == f"M0 ({pause.words})"


def test_a_circle_is_cut_in_arcs_and_lies_where_it_is_meant(pdf: Pdf) -> None:
    content = line_in(circle(50, 50, 25))
    sheet = sheet_of(pdf, content)
    cut = planned(sheet)
    (file,) = cut_files("x", cut, sheet, HOUSE, "gcode")
    moves = re.findall(rb"^G([123]) X", file.data, re.MULTILINE)
    assert len(moves) < 24 and set(moves) & {b"2", b"3"}, "not one straight piece after the other"
    (stroke,) = read_gcode(file.data)
    meant = shapely.LineString(flatten(cut.operations[0].contours[0], 0.001))
    off = shapely.distance(shapely.points(stroke.points + cut.origin_mm), meant)
    assert off.max() < 0.01 and file.off_mm < 0.02


@pytest.mark.parametrize("dialect", [Dialect(), Dialect(right=True), Dialect(turned=True)])
def test_zero_and_axes_are_those_of_hpgl(pdf: Pdf, dialect: Dialect) -> None:
    sheet = sheet_of(pdf, line_in(circle(50, 50, 25)))
    sheet = replace(sheet, cutter=replace(sheet.cutter, dialect=dialect))
    cut = planned(sheet)
    plotted, coded = (cut_files("x", cut, sheet, HOUSE, kind)[0].data for kind in ("hpgl", "gcode"))
    first = [float(v) * dialect.unit_mm for v in re.findall(rb"PU(-?\d+),(-?\d+);PD", plotted)[0]]
    begins = [float(v) for v in re.findall(rb"G0 X(-?[\d.]+) Y(-?[\d.]+)", coded)[0]]
    assert begins == pytest.approx(first, abs=dialect.unit_mm)


def test_ties_of_less_force_are_left_standing_where_no_force_can_be_told(pdf: Pdf) -> None:
    tied = replace(DEFAULT_TOOLS[PERF], tie_force_gf=30.0)
    sheet = sheet_of(pdf, line_in("20 20 60 60 re", "P"))
    (operation,) = planned(sheet, perf=tied).operations
    (file,) = cut_files("x", planned(sheet, perf=tied), sheet, HOUSE, "gcode")
    strokes = read_gcode(file.data)
    whole = sum(float(np.hypot(*np.diff(s.holder, axis=0).T).sum()) for s in operation.strokes)
    cut = sum(float(np.hypot(*np.diff(s.points, axis=0).T).sum()) for s in strokes)
    ties = sum(
        float(np.hypot(*np.diff(part.points, axis=0).T).sum())
        for s in operation.strokes for part in s.parts if part.force_gf == 30.0
    )
    assert ties > 1 and cut == pytest.approx(whole - ties, abs=0.05)


def test_a_blade_that_trails_swings_in_arcs(pdf: Pdf) -> None:
    square = line_in("20 20 60 60 re")
    sheet = sheet_of(pdf, square)
    trailing = planned(sheet, kiss=drag(0.5))
    assert trailing.operations[0].tool.blade is Blade.DRAG and trailing.operations[0].role is KISS
    (file,) = cut_files("x", trailing, sheet, HOUSE, "gcode")
    assert file.off_mm < 0.02


@settings(max_examples=60, deadline=None)
@given(
    st.floats(0.2, 4_000), st.floats(0, 2 * math.pi), st.floats(0.05, 6.2), st.booleans(), st.integers(3, 400),
)
def test_any_arc_comes_back_as_it_was(radius: float, begin: float, sweep: float, left: bool, count: int) -> None:
    turn = begin + np.linspace(0, sweep if left else -sweep, count)
    points = 500 + radius * np.column_stack([np.cos(turn), np.sin(turn)])
    code = "\n".join(["G21", "G90", "G0 Z5", *_stroke(points, " F600"), "M30"])
    (stroke,) = read_gcode(code.encode())
    drawn = shapely.LineString(stroke.points)
    assert shapely.distance(shapely.points(points), drawn).max() < 0.006
    assert shapely.distance(shapely.points(stroke.points), shapely.LineString(points)).max() < 0.04


@pytest.mark.parametrize(("code", "why"), [
    ("G90\nG0 X1 Y1\nM30", "before it says its unit"), ("G21\nG0 X1 Y1\nM30", "how it counts"),
    ("G21\nG90\nG1 Z0\nM0\nM30", "while the tool is down"), ("G21\nG90\nG1 Z0\nG0 X5\nG0 Z5\nM30", "travels"),
    ("G21\nG90\nG1 Z0\nG1 X5 Y5", "does not end"), ("G21\nG90\nG0 Z5\nhello\nM30", "Line 4"),
    ("G21\nG90\nG1 Z0\nG1 X1\nT2 M6\nM30", "while the tool is down"),
])
def test_code_that_no_table_could_follow_is_refused(code: str, why: str) -> None:
    with pytest.raises(CannotRead, match=why):
        read_gcode(code.encode())


def test_inches_and_steps_are_understood_though_nothing_of_ours_writes_them() -> None:
    (stroke,) = read_gcode(b"%\nN10 G20 G91 (inch)\nT1 M06\nG0 X1 Y1\nG1 Z-.1 F10\nX1\nY1.5 ; up\nG0 Z.2\nM02\n%")
    assert stroke.points == pytest.approx(np.array([[1, 1], [2, 1], [2, 2.5]]) * 25.4)
    assert (stroke.tool, stroke.feed_mm_min) == (1, 254.0)


def test_who_is_left_to_the_machine_does_not_cut_with_the_feed_of_the_tool_before(pdf: Pdf) -> None:
    """[standard, from memory] ISO 6983-1: a feed is modal, it holds until another is said."""
    slow, free = replace(DEFAULT_TOOLS[KISS], speed_mm_s=200.0), replace(DEFAULT_TOOLS[PERF], speed_mm_s=None)
    sheet = sheet_of(pdf, ALL, 2)
    (file,) = cut_files("x", planned(sheet, kiss=slow, perf=free), sheet, HOUSE, "gcode")
    feeds: dict[int, set[float | None]] = {}
    for stroke in read_gcode(file.data):
        feeds.setdefault(stroke.tool, set()).add(stroke.feed_mm_min)
    assert feeds[slow.number] == {12_000.0} and feeds[free.number] == {HOUSE.cutter.cut_speed_mm_s * 60}
