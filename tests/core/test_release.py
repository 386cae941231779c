"""A package holds what was meant, and the machines take it."""

import hashlib
import json
import math
import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from types import SimpleNamespace

import numpy as np
import pypdfium2
import pytest

from horismos.artwork import line_objects, read, read_bytes
from horismos.checking import CheckInputs, CheckSheet, check_whole
from horismos.cli import main
from horismos.cutting import DEFAULT_TOOLS, plan_cut, worst_distance
from horismos.errors import BadValue, CannotWrite, DoesNotFit, HorismosError, StopsOpen
from horismos.formats.hpgl import read_hpgl, write_hpgl
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.paths.box import grow
from horismos.release import Ordered, Package, write_package
from horismos.release.cut_formats import cut_names
from horismos.roles import LineRole
from horismos.sheet import Layout, MarkPlan, Placement, piece_of, sheet_of
from horismos.simulation import play, rip
from horismos.simulation.packages import cut_name
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.plan import Planned, plan
from horismos.workflow.release import release
from horismos.workflow.showing.sheet import sheets_shown
from tests.breadth import breadth
from tests.known import HOUSE, ISO
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
INKS = {"K": "Kiss Cut", "T": "Through Cut", "P": "Perforation"}
ART = (
    f"1 0 0 0 k {circle(50, 50, 30)} f "
    + line_in("15 15 70 70 re", "T") + line_in("20 20 60 60 re", "P") + line_in(circle(50, 50, 25))
    + line_in(circle(50, 50, 10))
)
ORDER = Order(quantity=7)
FILM = MATERIALS["film-610"]


@pytest.fixture()
def prepared(pdf: Pdf) -> tuple[Case, Planned]:
    case = Case(
        artwork=read(pdf(ART, inks=INKS)), order=ORDER, destination=HOUSE, material=FILM, layout=Layout(
            columns=3
        ), facts=JobFacts("Test")
    )
    return case, plan(case)


def released(case: Case) -> Package:
    (package,) = release(case, check_whole(case.artwork, case.terms).report)
    return package


def test_roles_come_in_the_order_of_cutting_and_inner_contours_first(prepared: tuple[Case, Planned]) -> None:
    _, ready = prepared
    assert [op.role for op in ready.cut.operations] == ["kiss-cut", "perforation", "through-cut"]
    kiss = ready.cut.operations[0].contours
    widths = [np.ptp(c.segments[..., 0]) for c in kiss[:2]]
    assert widths[0] == pytest.approx(20, abs=0.1) and widths[1] == pytest.approx(50, abs=0.1)


def test_the_sheet_holds_what_was_ordered_with_room_for_the_machine(prepared: tuple[Case, Planned]) -> None:
    _, ready = prepared
    sheet = ready.sheet
    assert sheet.grid is not None
    assert (sheet.grid.columns, sheet.grid.rows, len(sheet.placements)) == (3, 3, 7)
    # 3 rows of 70 mm, gaps of 6, bleed of 3, marks 10 away and 1 wide, leader 100, trailer 50; below the art the code
    # needs 14.5 mm with its quiet zone.
    assert sheet.length_mm == pytest.approx(100 + 14.5 + 3 + 3 * 70 + 2 * 6 + 14 + 50)
    assert sheet.waste == pytest.approx(1 - 7 * 4900 / (610 * sheet.length_mm))
    assert all(25 <= m.x_mm <= 585 and 100 <= m.y_mm <= sheet.length_mm - 50 for m in sheet.marks)


def test_a_piece_that_is_too_wide_is_refused_with_a_next_step(pdf: Pdf) -> None:
    artwork = read(pdf(line_in("15 15 600 600 re"), size=(630, 630), trim=(0, 0, 630, 630), bleed=None))
    with pytest.raises(HorismosError, match="fits nowhere on White film, roll 610 mm"):
        plan(Case(artwork=artwork, material=FILM))


@pytest.mark.parametrize(
    "values", [{"columns": 0}, {"columns": -1}, {"gap_mm": -0.1}, {"gap_mm": math.nan}, {"gap_mm": 2000.0}]
)
def test_a_layout_that_no_sheet_can_have_is_refused(values: dict[str, float]) -> None:
    with pytest.raises(BadValue, match="or leave it out"):
        Layout(**values)  # type: ignore[arg-type]


def test_the_cut_file_read_back_is_within_a_twentieth_of_a_millimetre(prepared: tuple[Case, Planned]) -> None:
    case, _ = prepared
    package = released(case)
    assert 0 < package.worst_off_mm <= 0.05
    ends = {"print.pdf", "cut.plt", "preflight.pdf", "ticket.json", "ticket.pdf", "ticket.xjdf"}
    assert {n.rsplit("-", 1)[-1] for n in package.files} == ends


def test_a_cut_file_that_lies_is_caught(prepared: tuple[Case, Planned]) -> None:
    _, ready = prepared
    good = write_hpgl([o.run for o in ready.cut.operations], ready.cut.origin_mm)
    moved = read_hpgl(good, (ready.cut.origin_mm[0] + 0.2, ready.cut.origin_mm[1]))
    assert worst_distance(ready.cut.operations, moved) > 0.05
    with pytest.raises(CannotWrite):
        worst_distance(ready.cut.operations, read_hpgl(good.replace(b"FS90", b"FS95")))
    lost = good[: good.rindex(b"SP3")] + b"PU;SP0;"
    with pytest.raises(CannotWrite):
        worst_distance(ready.cut.operations, read_hpgl(lost))


def test_ties_stay_uncut(prepared: tuple[Case, Planned]) -> None:
    _, ready = prepared
    tool = DEFAULT_TOOLS[LineRole.PERFORATION]
    assert tool.cut_mm and tool.tie_mm
    share = ready.cut.operations[1].cut_mm / (7 * 240)
    assert share == pytest.approx(tool.cut_mm / (tool.cut_mm + tool.tie_mm), rel=0.01)


def test_an_open_stop_blocks_the_release(pdf: Pdf) -> None:
    artwork = read(pdf(ART, inks={**INKS, "K": "Kis Cut"}))
    with pytest.raises(StopsOpen, match=r"ink\.near-name"):
        released(Case(artwork=artwork, order=ORDER, destination=HOUSE, material=FILM))


@breadth(0.12, "long ones")
@pytest.mark.parametrize("destination", [HOUSE, ISO])
def test_the_print_pdf_names_each_line_exactly_on_a_layer_of_its_own(destination, pdf: Pdf) -> None:  # type: ignore[no-untyped-def]
    names = {"K": LineRole.KISS_CUT, "T": LineRole.THROUGH_CUT, "P": LineRole.PERFORATION}
    artwork = read(pdf(ART, inks={k: destination.name_of(r) for k, r in names.items()}))
    package = released(Case(
        artwork=artwork, order=ORDER, destination=destination, material=FILM, facts=JobFacts("Test")
    ))
    printed = read_bytes(package.files["test-print.pdf"])
    lines = line_objects(printed, printed.pages[0], destination)
    assert {line.ink for line in lines} == {destination.name_of(r) for r in names.values()}
    for line in lines:
        assert line.layer is not None
        layer = printed.layers[line.layer]
        assert layer.role is line.role and not layer.prints and layer.visible
    result = rip(package.files["test-print.pdf"], destination)
    assert {p.ink for p in result.plates if not p.prints} == {line.ink for line in lines}
    other = ISO if destination is HOUSE else HOUSE
    refused = rip(package.files["test-print.pdf"], other)
    assert destination.name_of(LineRole.KISS_CUT) in refused.refused and not refused.plates


def test_the_cutter_plays_every_stroke_in_order(prepared: tuple[Case, Planned]) -> None:
    case, ready = prepared
    package = released(case)
    played = play(package.files["test-cut.plt"], json.loads(package.files["test-ticket.json"]))
    assert played.cut_mm == pytest.approx(ready.cut.cut_mm, rel=2e-3)
    assert [m.start_s for m in played.moves] == sorted(m.start_s for m in played.moves)
    assert [m.tool for m in played.moves] == sorted(m.tool for m in played.moves)


def test_passes_are_cut_again(pdf: Pdf) -> None:
    artwork = read(pdf(ART, inks=INKS))
    twice = {LineRole.KISS_CUT: replace(DEFAULT_TOOLS[LineRole.KISS_CUT], passes=2)}
    once, again = (plan(Case(
        artwork=artwork, order=ORDER, destination=HOUSE, material=FILM, tools=t
    )) for t in ({}, twice))
    assert again.cut.operations[0].cut_mm == pytest.approx(2 * once.cut.operations[0].cut_mm)


@breadth(0.12, "long ones")
def test_the_command_line_walks_the_same_way(pdf: Pdf, tmp_path: Path, capsys) -> None:  # type: ignore[no-untyped-def]
    path = pdf(ART.replace(circle(50, 50, 30), circle(50, 50, 30)), inks={**INKS, "K": "Kis Cut"})
    order = tmp_path / "order.json"
    order.write_text(json.dumps({"quantity": 3, "roles": ["kiss-cut", "perforation", "through-cut"]}))
    assert main(["check", str(path), "--order", str(order), "--json"]) == 1
    report = json.loads(capsys.readouterr().out)
    assert report["verdict"] == "stop" and report["findings"][0]["id"] == "ink.near-name"
    fixed = tmp_path / "fixed.pdf"
    assert main(["mend", str(path), "--out", str(fixed), "--rename", "Kis Cut=Kiss Cut"]) == 0
    assert main(["release", str(fixed), "--order", str(order), "--out", str(tmp_path / "out")]) == 0
    assert len(list((tmp_path / "out").iterdir())) == 6
    capsys.readouterr()
    assert main(["inspect", str(fixed), "--json"]) == 0
    page = json.loads(capsys.readouterr().out)["pages"][0]
    assert page["size_mm"] == pytest.approx([80, 80], abs=1e-3)
    assert {line["role"] for line in page["lines"]} == {"kiss-cut", "perforation", "through-cut"}
    assert main(["inspect", str(order), "--json"]) == 2


def test_the_ticket_names_every_other_file_with_its_check_sum(prepared: tuple[Case, Planned]) -> None:
    case, _ = prepared
    package = released(replace(case, facts=JobFacts("Möwe, groß / 2")))
    assert all(name.startswith("mowe-gross-2-") for name in package.files)
    told = {f["name"]: f["sha256"] for f in package.ticket["files"]}
    assert told == {
        name: hashlib.sha256(data).hexdigest() for name, data in package.files.items() if not name.endswith(".json")
    }
    assert any(name.endswith("-preflight.pdf") for name in told)


@breadth(0.12, "long ones")
def test_the_report_in_the_package_is_the_one_that_it_was_released_by(prepared: tuple[Case, Planned]) -> None:
    """A limit that has just been lowered shows in the packed report, not the one of the check before."""
    case, _ = prepared
    stricter = replace(case, check_sheet=CheckSheet("Shop", {"line.wide": 0.01}, version="version 9"))
    preflight = released(stricter).files["test-preflight.pdf"]
    words = "".join(page.get_textpage().get_text_bounded() for page in pypdfium2.PdfDocument(preflight))
    assert "line.wide" in words and "version 9" in words
    before = released(case).files["test-preflight.pdf"]
    assert "version 9" not in "".join(p.get_textpage().get_text_bounded() for p in pypdfium2.PdfDocument(before))


def test_clear_film_is_not_released_without_white_on_the_command_line_either(
    pdf: Pdf, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = pdf(ART, inks=INKS)
    order = tmp_path / "order.json"
    order.write_text(json.dumps({"quantity": 2}))
    out = tmp_path / "out"
    command = ["release", str(path), "--order", str(order), "--out", str(out), "--material"]
    assert main([*command, "clear-1067"]) == 1 and not out.exists()
    assert "white.missing" in capsys.readouterr().out
    assert main([*command, "film-610"]) == 0
    order.write_text(json.dumps({"quantity": 2, "material": "clear-1067"}))
    assert main(command[:-1]) == 1


@breadth(0.12, "long ones")
def test_a_sheet_holds_pieces_of_two_jobs(pdf: Pdf) -> None:
    round_one = read(pdf(ART, inks=INKS, layers=("-Draft",)))
    square = read(pdf("0 1 0 0 k 5 5 90 90 re f " + line_in("20 20 60 60 re", "K"), inks={"K": "Kiss Cut"}))
    pieces = [
        piece_of(artwork, artwork.pages[0], Order(), HOUSE, 2.0, job)
        for artwork, job in ((round_one, "Round"), (square, "Square"))
    ]
    left = 45.0
    copies = []
    for i, piece in enumerate((pieces[0], pieces[1], pieces[1])):
        x0, y0, x1, _ = piece.bounds
        copies.append(Placement(piece, (1, 0, 0, 1, left - x0, 120 - y0), grow(piece.bounds, 2)))
        left += x1 - x0 + 10 * (i + 1)
    sheet = sheet_of(copies, FILM, HOUSE.cutter)
    assert sheet.pieces == tuple(pieces) and sheet.grid is None
    assert sheet.waste == pytest.approx(1 - (4900 + 2 * 3600) / sheet.used_area_mm2)
    cut = plan_cut(sheet)
    assert [(op.role, len(op.contours)) for op in cut.operations] == [
        ("kiss-cut", 4), ("perforation", 1), ("through-cut", 1)
    ]
    report = check_whole(round_one, CheckInputs(ORDER, HOUSE, CheckSheet())).report
    package = write_package("Both", [Ordered("Round", ORDER, report)], HOUSE, sheet, cut)
    assert [(p["job"], p["copies"]) for p in package.ticket["pieces"]] == [("Round", 1), ("Square", 2)]
    printed = read_bytes(package.files["both-print.pdf"])
    seen = {layer.name: layer.visible for layer in printed.layers}
    assert seen["Kiss Cut"] and seen["Art"] and seen["Draft"] is False
    plates_ = {p.ink: p for p in rip(package.files["both-print.pdf"], HOUSE).plates}
    assert plates_["Magenta"].coverage > 0 and plates_["Cyan"].coverage > 0
    assert plates_["Magenta"].coverage == pytest.approx(2 * 64 * 64 / sheet.used_area_mm2, rel=0.02)


def test_a_copy_that_leaves_the_media_is_refused(pdf: Pdf) -> None:
    artwork = read(pdf(ART, inks=INKS))
    piece = piece_of(artwork, artwork.pages[0], Order(), HOUSE, 2.0)
    with pytest.raises(DoesNotFit):
        sheet_of([Placement(piece, (1, 0, 0, 1, 590, 200), piece.bounds)], FILM, HOUSE.cutter)
    with pytest.raises(DoesNotFit, match="leading edge"):
        sheet_of([Placement(piece, (1, 0, 0, 1, 200, 20), piece.bounds)], FILM, HOUSE.cutter)
    with pytest.raises(DoesNotFit):
        sheet_of([], FILM, HOUSE.cutter)


# -- printed the other way round, and named by a code ------------------------------------------------------------------


def test_behind_glass_print_cut_marks_and_code_lie_the_other_way_round_together(pdf: Pdf) -> None:
    # a pointer to the right, so that turning over shows
    drawing = "1 0 0 0 k 20 20 60 60 re f " + line_in("25 25 m 75 50 l 25 75 l h")
    case = Case(artwork=read(pdf(drawing, inks=INKS)), order=Order(
        quantity=3
    ), destination=HOUSE, material=FILM, facts=JobFacts("Test"))
    front, behind = (plan(replace(case, layout=Layout(mirror=mirror))) for mirror in (False, True))
    assert behind.sheet.mirrored and not behind.sheet.printed.mirrored
    wide = FILM.width_mm
    for planned, turn in ((front, lambda x: x), (behind, lambda x: wide - x)):
        (kiss,) = planned.cut.operations
        furthest = np.max if planned is front else np.min
        tips = sorted(turn(furthest(c.segments[..., 0])) for c in kiss.contours)
        meant = sorted(p.bounds[2] for p in front.sheet.placements)
        assert tips == pytest.approx(meant, abs=0.01)
    package = released(replace(case, layout=Layout(mirror=True)))
    ticket = package.ticket
    assert ticket["mirrored"] is True and ticket["code"] == behind.sheet.code.text  # type: ignore[union-attr]
    printed = read_bytes(package.files["test-print.pdf"])
    found = [c for line in line_objects(printed, printed.pages[0], HOUSE) for c in line.contours]
    lines = sorted(float(c.segments[..., 0].min()) for c in found)
    cuts = sorted(float(c.segments[..., 0].min()) for c in behind.cut.operations[0].contours)
    assert lines == pytest.approx(cuts, abs=0.01), "the cut lies on the print"
    first = ticket["marks"][0]
    assert (first["x_mm"], first["y_mm"]) == pytest.approx(behind.cut.origin_mm, abs=1e-3)
    assert first["x_mm"] < wide / 2 and first["opens"] == [1, 1], "the first mark is the lower left of the print"


def test_a_mirrored_sheet_is_shown_with_its_code_as_it_is_seen_through_the_media(pdf: Pdf) -> None:
    case = Case(artwork=read(pdf(ART, inks=INKS)), order=Order(quantity=3), destination=HOUSE, material=FILM)
    planned = plan(replace(case, layout=Layout(mirror=True)))
    corners = re.findall(r"M([\d.]+) ([\d.]+)h([\d.]+)", sheets_shown(planned)[0].code_path)
    seen = {(round(FILM.width_mm - float(x) - float(w), 2), float(y), float(w)) for x, y, w in corners}
    code = planned.sheet.printed.code
    assert code is not None
    assert seen == {(round(x, 2), round(y, 3), w) for x, y, w, _ in code.runs}


@breadth(0.12, "long ones")
def test_a_code_that_does_not_read_as_the_sheet_is_called_stops_the_release(
    prepared: tuple[Case, Planned], monkeypatch: pytest.MonkeyPatch
) -> None:
    case, ready = prepared
    assert ready.sheet.code is not None
    assert released(case).ticket["code"] == ready.sheet.code.text
    for seen in ([], [SimpleNamespace(text="S1-OTHER")]):
        monkeypatch.setattr("horismos.release.package.zxingcpp.read_barcodes", lambda drawn, seen=seen: seen)
        with pytest.raises(CannotWrite, match="The code of the sheet reads"):
            released(case)
    assert released(replace(case, layout=Layout(code=False))).ticket["code"] is None


def test_marks_far_apart_are_not_wider_than_the_corners_where_none_stand_between(pdf: Pdf) -> None:
    case = Case(artwork=read(pdf(ART, inks=INKS)), order=Order(quantity=40), destination=HOUSE, material=FILM)
    four, few, many = (
        plan(replace(case, layout=Layout(marks=MarkPlan(every_mm=every)))).sheet for every in (None, 5000.0, 200.0)
    )
    assert few.marks == four.marks and len(many.marks) > 4
    ys = sorted({mark.y_mm for mark in many.marks})
    assert max(np.diff(ys)) <= 200 + 1e-9


def test_a_back_cut_is_for_the_sheet_turned_over_sideways(pdf: Pdf) -> None:
    """[practice] the leading edge stays in front, and left and right change places."""
    content = "1 0 0 0 k 5 5 90 90 re f " + line_in("20 20 60 60 re", "K") + line_in("17 17 40 66 re", "B")
    artwork = read(pdf(content, inks={"K": "Kiss Cut", "B": "Back Cut"}))
    planned = plan(Case(artwork=artwork, order=Order(quantity=3), destination=HOUSE, material=FILM))
    front, aligning, behind = planned.cut.operations
    assert not front.mirrored and behind.mirrored and behind.role is LineRole.BACK_CUT
    assert aligning.aligning and not aligning.mirrored and aligning.role is LineRole.THROUGH_CUT
    assert aligning.tool.passes == 3 and len(aligning.strokes) == 9, "its three corners show on the back"
    meant = sorted(
        (FILM.width_mm - x, y) for copy in planned.sheet.placements
        for contour in copy.piece.lines[LineRole.BACK_CUT]
        for x, y in np.unique(contour.transformed(copy.matrix).segments[:, 0].round(6), axis=0).tolist()
    )
    found = sorted(
        (x, y) for contour in behind.contours for x, y in np.unique(contour.segments[:, 0].round(6), axis=0).tolist()
    )
    assert np.array(found) == pytest.approx(np.array(meant), abs=1e-4)


def test_a_job_that_is_called_back_has_a_front_file(pdf: Pdf) -> None:
    """Its cut file ends as a back cut's does, and is none."""
    content = "1 0 0 0 k 5 5 90 90 re f " + line_in("20 20 60 60 re", "K")
    artwork = read(pdf(content, inks={"K": "Kiss Cut"}))
    case = Case(artwork=artwork, order=Order(quantity=3), destination=HOUSE, material=FILM, facts=JobFacts("Tern back"))
    package = released(case)
    assert cut_name(package.files, package.ticket, back=True) is None
    name = cut_name(package.files, package.ticket)
    assert name is not None and name.endswith("-back-cut.plt")
    assert cut_names(package.files, HOUSE.cutter, back=False) == {"hpgl": name}
    assert cut_names(package.files, HOUSE.cutter, back=True) == {}
