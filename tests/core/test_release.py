"""A package holds what was meant, and the machines take it."""

import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from horismos.artwork import line_objects, read, read_bytes
from horismos.checking import check
from horismos.cli import main
from horismos.cutting import DEFAULT_TOOLS, worst_distance
from horismos.destinations import HOUSE, ISO
from horismos.devices import play, rip
from horismos.errors import CannotWrite, HorismosError
from horismos.formats.hpgl import read_hpgl, write_hpgl
from horismos.orders import Order
from horismos.release import prepare, release
from horismos.roles import LineRole
from horismos.sheet import MATERIALS, Layout
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
def prepared(pdf: Pdf):  # type: ignore[no-untyped-def]
    artwork = read(pdf(ART, inks=INKS))
    return artwork, prepare(artwork, ORDER, HOUSE, FILM, Layout(columns=3))


def test_roles_come_in_the_order_of_cutting_and_inner_contours_first(prepared) -> None:  # type: ignore[no-untyped-def]
    _, ready = prepared
    assert [op.role for op in ready.plan.operations] == ["kiss-cut", "perforation", "through-cut"]
    kiss = ready.plan.operations[0].contours
    widths = [np.ptp(c.segments[..., 0]) for c in kiss[:2]]
    assert widths[0] == pytest.approx(20, abs=0.1) and widths[1] == pytest.approx(50, abs=0.1)


def test_the_sheet_holds_what_was_ordered_with_room_for_the_machine(prepared) -> None:  # type: ignore[no-untyped-def]
    _, ready = prepared
    sheet = ready.sheet
    assert (sheet.columns, sheet.rows, len(sheet.placements)) == (3, 3, 7)
    # 3 rows of 70 mm, gaps of 6, marks 10 away, leader 100, trailer 50.
    assert sheet.length_mm == pytest.approx(100 + 10 + 3 * 70 + 2 * 6 + 10 + 50)
    assert sheet.waste == pytest.approx(1 - 7 * 4900 / (610 * sheet.length_mm))
    assert all(25 <= m.x_mm <= 585 and 100 <= m.y_mm <= sheet.length_mm - 50 for m in sheet.marks)


def test_a_piece_that_is_too_wide_is_refused_with_a_next_step(pdf: Pdf) -> None:
    artwork = read(pdf(line_in("15 15 600 600 re"), size=(630, 630), trim=(0, 0, 630, 630), bleed=None))
    with pytest.raises(HorismosError, match="does not fit on White film, roll 610 mm"):
        prepare(artwork, Order(), HOUSE, FILM)


def test_the_cut_file_read_back_is_within_a_twentieth_of_a_millimetre(prepared) -> None:  # type: ignore[no-untyped-def]
    artwork, ready = prepared
    package = release(artwork, ORDER, HOUSE, check(artwork, ORDER), ready, "Test")
    assert 0 < package.worst_off_mm <= 0.05
    assert {n.rsplit("-", 1)[-1] for n in package.files} == {"print.pdf", "cut.plt", "ticket.json"}


def test_a_cut_file_that_lies_is_caught(prepared) -> None:  # type: ignore[no-untyped-def]
    _, ready = prepared
    good = write_hpgl([o.run for o in ready.plan.operations], ready.plan.origin_mm)
    moved = read_hpgl(good, (ready.plan.origin_mm[0] + 0.2, ready.plan.origin_mm[1]))
    assert worst_distance(ready.plan.operations, moved) > 0.05
    with pytest.raises(CannotWrite):
        worst_distance(ready.plan.operations, read_hpgl(good.replace(b"FS90", b"FS95")))
    lost = good[: good.rindex(b"SP3")] + b"PU;SP0;"
    with pytest.raises(CannotWrite):
        worst_distance(ready.plan.operations, read_hpgl(lost))


def test_ties_stay_uncut(prepared) -> None:  # type: ignore[no-untyped-def]
    _, ready = prepared
    tool = DEFAULT_TOOLS[LineRole.PERFORATION]
    assert tool.cut_mm and tool.tie_mm
    share = ready.plan.operations[1].cut_mm / (7 * 240)
    assert share == pytest.approx(tool.cut_mm / (tool.cut_mm + tool.tie_mm), rel=0.01)


def test_an_open_stop_blocks_the_release(pdf: Pdf) -> None:
    artwork = read(pdf(ART, inks={**INKS, "K": "Kis Cut"}))
    ready = prepare(artwork, ORDER, HOUSE, FILM)
    with pytest.raises(HorismosError, match=r"ink\.near-name"):
        release(artwork, ORDER, HOUSE, check(artwork, ORDER), ready, "Test")


@pytest.mark.parametrize("destination", [HOUSE, ISO])
def test_the_print_pdf_names_each_line_exactly_on_a_layer_of_its_own(destination, pdf: Pdf) -> None:  # type: ignore[no-untyped-def]
    names = {"K": LineRole.KISS_CUT, "T": LineRole.THROUGH_CUT, "P": LineRole.PERFORATION}
    artwork = read(pdf(ART, inks={k: destination.name_of(r) for k, r in names.items()}))
    ready = prepare(artwork, ORDER, destination, FILM)
    package = release(artwork, ORDER, destination, check(artwork, ORDER, destination), ready, "Test")
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


def test_the_cutter_plays_every_stroke_in_order(prepared) -> None:  # type: ignore[no-untyped-def]
    artwork, ready = prepared
    package = release(artwork, ORDER, HOUSE, check(artwork, ORDER), ready, "Test")
    played = play(package.files["test-cut.plt"], json.loads(package.files["test-ticket.json"]))
    assert played.cut_mm == pytest.approx(ready.plan.cut_mm, rel=2e-3)
    assert [m.start_s for m in played.moves] == sorted(m.start_s for m in played.moves)
    assert [m.tool for m in played.moves] == sorted(m.tool for m in played.moves)


def test_passes_are_cut_again(pdf: Pdf) -> None:
    artwork = read(pdf(ART, inks=INKS))
    twice = {LineRole.KISS_CUT: replace(DEFAULT_TOOLS[LineRole.KISS_CUT], passes=2)}
    once, again = (prepare(artwork, ORDER, HOUSE, FILM, tools=t) for t in (None, twice))
    assert again.plan.operations[0].cut_mm == pytest.approx(2 * once.plan.operations[0].cut_mm)


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
    assert len(list((tmp_path / "out").iterdir())) == 3
    capsys.readouterr()
    assert main(["inspect", str(fixed), "--json"]) == 0
    page = json.loads(capsys.readouterr().out)["pages"][0]
    assert page["size_mm"] == pytest.approx([80, 80], abs=1e-3)
    assert {line["role"] for line in page["lines"]} == {"kiss-cut", "perforation", "through-cut"}
    assert main(["inspect", str(order), "--json"]) == 2
