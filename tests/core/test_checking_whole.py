"""The check as a whole: several faults at once, what is carried over, decisions, sheets, words, hard cases."""

import json
import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from horismos.artwork import read, read_bytes
from horismos.checking import CheckInputs, CheckSheet, Report, all_limits, check, check_whole, registered
from horismos.checking.engine.check_sheet import merged
from horismos.checking.engine.decisions import Decision, lapsed, settled
from horismos.checking.measuring.edge_map import EdgeLimits
from horismos.comparing.facets import Facet, changed
from horismos.errors import CannotRead, LimitExceeded
from horismos.mending import Step, mend, offers, step
from horismos.names import differences, recognise
from horismos.orders import Edge, Order
from horismos.reporting.letter import write_letter
from horismos.reporting.words import WORDS
from horismos.roles import LineRole
from horismos.sheet.layout import Layout, Makes
from horismos.workflow.case import Case
from tests.breadth import breadth, some
from tests.known import HOUSE
from tests.pairs import CLEAN, FIELD, GROUND, KISS, PAIRS, SPOTS, material_of
from tests.shapes import Drawing, circle, line_in, write

Pdf = Callable[..., Path]
MESSY = (
    FIELD + "1 0 0 rg 30 30 9 9 re f "
    + "/K CS 0.4 w 25 25 m 65 25 l 65 65 l 25 65 l 25 25.5 l S " + line_in(circle(45, 45, 34), "T", width=0.3)
)


def _ids(report: Report) -> set[str]:
    return {f.id for f in report.findings}


def test_several_faults_of_all_kinds_at_once_are_exactly_those() -> None:
    drawing = Drawing(
        "1 0 0 rg 5 5 90 90 re f " + line_in("20 30 m 80 30 l 80 70 l 20 70 l h", width=0.5)
        + line_in("45 45 3 3 re", "T") + "[3 1] 0 d " + line_in(circle(50, 50, 40), "P"),
        inks={**SPOTS, "T": "thru cut"},
    )
    report = check(read_bytes(write(drawing)), Order(roles=(LineRole.KISS_CUT, LineRole.PERFORATION)))
    assert _ids(report) == {"ink.rgb", "line.wide", "ink.near-name", "line.leftover", "line.dashed", "line.unordered"}


STEPS = (
    step("hairline", role="kiss-cut"), step("hairline", role="through-cut"), step("overprint", role="kiss-cut"),
    step("close-line", role="kiss-cut"), step("rename", ink="Kis Cut", to="Kiss Cut"),
)


@pytest.mark.parametrize("step", STEPS, ids=lambda step: step.label)
def test_what_is_carried_over_after_a_mend_is_what_a_new_check_would_find(step: Step) -> None:
    before = read_bytes(write(Drawing(MESSY, inks={**SPOTS, "K": "Kis Cut"})))
    terms = CheckInputs(Order(), HOUSE, CheckSheet())
    first = check_whole(before, terms).report
    after = mend(before, step, HOUSE).artwork
    touched = changed(before, after, HOUSE)
    assert touched and Facet.ART not in touched and Facet.BOXES not in touched
    again = check_whole(after, terms, before=first, touched=touched).report
    afresh = check_whole(after, terms).report
    assert [f.key for f in again.findings] == [f.key for f in afresh.findings]
    assert len(again.carried) > 15 and not set(again.carried) & set(again.ran)
    assert "ink.rgb" in again.carried and next(f for f in again.findings if f.id == "ink.rgb").carried


def test_nothing_is_carried_over_where_the_art_was_changed() -> None:
    terms = CheckInputs(Order(), HOUSE, CheckSheet())
    old, new = (read_bytes(write(Drawing(GROUND + f"1 0 0 rg 30 30 9 {h} re f " + KISS))) for h in (9, 10))
    touched = changed(old, new, HOUSE)
    assert touched == {Facet.ART}
    again = check_whole(new, terms, before=check_whole(old, terms).report, touched=touched).report
    assert {"ink.rgb", "edge.bleed", "ink.load"} <= set(again.ran) and "line.wide" in again.carried


def test_a_sheet_changes_limits_and_severities_and_runs_only_what_it_touches() -> None:
    artwork = read_bytes(write(Drawing(MESSY, inks=SPOTS)))
    first = check_whole(artwork, CheckInputs(Order(), HOUSE, CheckSheet())).report
    sheet = CheckSheet("Shop", {"line.wide": 0.35}, {"ink.rgb": "off", "line.open": "look"}, "version 2")
    again = check_whole(artwork, CheckInputs(Order(), HOUSE, sheet), before=first, touched=frozenset()).report
    assert set(again.ran) == {"line.wide", "line.open"}
    assert [f.measured for f in again.findings if f.id == "line.wide"] == [pytest.approx(0.4)]
    assert "ink.rgb" not in _ids(again)
    assert next(f.severity for f in again.findings if f.id == "line.open") == "look"
    assert again.sheet.version == "version 2"


def test_a_sheet_goes_out_and_comes_in_and_what_it_does_not_know_is_refused() -> None:
    sheet = CheckSheet("Floor film", {"edge.bleed": 4.0, "line.sharp:kiss-cut": 0.3}, {"text.live": "note"}, "3")
    assert CheckSheet.from_json(json.loads(json.dumps(sheet.to_json())), all_limits()) == sheet
    for wrong in ({"limits": {"edge.bled": 1}}, {"limits": {"edge.bleed": -1}}, {"limits": {"edge.bleed": True}},
                  {"severities": {"edge.bleed": "shout"}}, {"format": "something else"}, [], {"limits": []}):
        with pytest.raises(CannotRead):
            CheckSheet.from_json(wrong, all_limits())
    both = merged([CheckSheet("Shop", {"edge.bleed": 2, "line.wide": 1}), sheet])
    assert both.limits["edge.bleed"] == 4 and both.limits["line.wide"] == 1


def test_an_order_goes_before_the_sheet() -> None:
    artwork = read_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 42)} f {KISS}")))
    sheet = CheckSheet(limits={"edge.bleed": 1.5})
    assert "edge.bleed" not in _ids(check(artwork, sheet=sheet))
    assert "edge.bleed" in _ids(check(artwork, Order(bleed_mm=2.5), sheet=sheet))


def test_a_report_comes_back_from_its_plain_values() -> None:
    content = MESSY + f"0 1 0 0 k {circle(45, 45, 35.9949)} f "
    report = check(read_bytes(write(Drawing(content, inks=SPOTS))), Order(bleed_mm=40))
    back = Report.from_json(json.loads(json.dumps(report.to_json())))
    assert [f.key for f in back.findings] == [f.key for f in report.findings]
    assert back.verdict == report.verdict and back.ran == report.ran


def test_a_decision_holds_as_long_as_its_finding_is_the_same() -> None:
    report = check(read_bytes(write(Drawing(MESSY, inks=SPOTS))))
    wide = next(f for f in report.findings if f.id == "line.wide" and f.subject == "kiss-cut")
    decision = Decision(wide.key, wide.id, wide.subject, "look", wide.message, "ada", "2026-01-01", "proofed")
    assert settled(report, [decision]) == {wide.key: decision}
    assert wide.key not in {f.key for f in report.without({wide.key: decision}).findings}
    wider = check(read_bytes(write(Drawing(MESSY.replace("0.4 w", "0.6 w"), inks=SPOTS))))
    assert not settled(wider, [decision])
    asked = lapsed(wider, [decision])
    assert [d.reason for d in asked.values()] == ["proofed"]


def test_what_cannot_be_measured_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    def fails(*_: object, **__: object) -> None:
        raise LimitExceeded("gs took longer than 300 s.")

    monkeypatch.setattr("horismos.checking.engine.context.plates", fails)
    assert not check(read_bytes(write(Drawing(CLEAN)))).findings, "one ink comes to 100 % at most, whatever is measured"
    (found,) = check(read_bytes(write(Drawing("0.9 0.1 0.1 0.1 k 0 0 100 100 re f " + CLEAN)))).findings
    assert found.id == "ink.load" and found.severity == "look" and found.measured is None
    assert "could not be measured" in found.message and "300 s" in found.message


@breadth(0.12, "long ones")
def test_every_check_has_words_for_the_customer_that_can_be_filled_in() -> None:
    assert set(WORDS) == set(registered())
    for id, pair in some(list(PAIRS.items()), 0.3, "letters"):
        report = check(read_bytes(write(Drawing(**pair.over))), pair.order, material=material_of(pair))
        letter = write_letter(report.findings, "Seals", "seals.pdf", "Saltmarsh Trust", "Tern & Tideway")
        text = letter.text()
        assert WORDS[id].title in text
        assert not re.search(r"[{}]|None|nan", text), id


def test_a_near_name_is_told_letter_by_letter_with_how_sure_it_is(pdf: Pdf) -> None:
    (found,) = check(read(pdf(CLEAN, inks={"K": "Kis Cut"}))).findings
    assert "“s” is missing after “Ki”" in found.detail and "“Kiss Cut” is likely" in found.detail
    assert differences("K1ss Cut", "Kiss Cut") == ("“1” stands for “i”",)
    assert recognise("kiss_cut", HOUSE).sure == "certain"  # type: ignore[union-attr]
    assert recognise("contour line kiss cut 3", HOUSE).sure == "a guess"  # type: ignore[union-attr]


def test_a_name_that_may_mean_two_roles_is_asked_and_not_guessed(pdf: Pdf) -> None:
    found = next(f for f in check(read(pdf(CLEAN, inks={"K": "Cut line"}))).findings if f.id == "ink.near-name")
    assert {step["to"] for step in offers(found)} == {"Kiss Cut", "Through Cut"}
    assert "say which" in found.message


def test_holes_that_no_one_ordered_are_told(pdf: Pdf) -> None:
    ring = FIELD + line_in(circle(50, 50, 35) + circle(50, 50, 12))
    artwork = read(pdf(ring))
    assert "line.leftover" not in _ids(check(artwork))
    assert "line.leftover" not in _ids(check(artwork, Order(holes=1)))
    (found,) = [f for f in check(artwork, Order(holes=0)).findings if f.id == "line.leftover"]
    assert found.measured == 1 and found.unit == "holes"


def test_a_stretch_drawn_again_is_no_open_contour_to_be_closed(pdf: Pdf) -> None:
    artwork = read(pdf(FIELD + line_in("20 20 60 60 re") + line_in("20 30 m 20 70 l")))
    assert _ids(check(artwork)) == {"line.doubled"}


def test_white_may_be_stacked_and_lines_may_be_stacked_on_purpose(pdf: Pdf) -> None:
    both = FIELD + line_in("20 20 60 60 re") + line_in("20 20 60 60 re", "P")
    assert not check(read(pdf(both, inks=SPOTS))).findings


def test_white_and_varnish_are_measured_apart_from_colour(pdf: Pdf) -> None:
    content = FIELD + f"/Over gs /W cs 1 scn {circle(50, 50, 40.2)} f " + KISS
    artwork = read(pdf(content, inks={"K": "Kiss Cut", "W": "White"}))
    whole = check_whole(artwork, CheckInputs(Order(white=True), HOUSE, CheckSheet()))
    assert whole.edges is not None and set(whole.edges.layers) == {"colour", "white"}
    assert whole.edges.layers["white"][0].outside.max() == pytest.approx(0.2, abs=0.05)
    assert whole.edges.layers["colour"][0].outside.min() > 4
    (risk,) = [f for f in whole.report.findings if f.id == "edge.risk"]
    assert risk.subject == "white" and risk.severity == "look"


def test_the_edge_map_goes_by_the_order_and_is_thinned_to_the_worst(pdf: Pdf, monkeypatch: pytest.MonkeyPatch) -> None:
    bordered = f"1 0 0 0 k {circle(50, 50, 38)} f " + KISS
    edges = check_whole(read(pdf(bordered)), CheckInputs(Order(), HOUSE, CheckSheet())).edges
    assert edges is not None

    def shares(edge: str) -> dict[str, float]:
        shown = edges.to_json(EdgeLimits(3.0, 1.5, 0.5, Edge(edge)))["shares"]["colour"]
        return {s["kind"]: s["share"] for s in shown if s["share"]}

    assert shares("either") == {"border": pytest.approx(1)} and shares("bleed") == {"short": pytest.approx(1)}
    whole = edges.to_json(EdgeLimits(3.0, 1.5, 0.5))
    monkeypatch.setattr("horismos.checking.measuring.edge_map.MOST_SHOWN", 100)
    few = edges.to_json(EdgeLimits(3.0, 1.5, 0.5))
    (all_of_them,), (kept,) = whole["layers"]["colour"], few["layers"]["colour"]
    assert len(kept["inside"]) <= 100 < len(all_of_them["inside"])
    assert min(kept["inside"]) == min(all_of_them["inside"])
    assert sum(kept["weight"]) == pytest.approx(sum(all_of_them["weight"]), rel=0.01)


def test_a_hole_in_the_art_counts_as_an_edge(pdf: Pdf) -> None:
    # Colour runs over the outer cut, but into the hole by 1 mm only.
    art = f"1 0 0 0 k {circle(50, 50, 44)} {circle(50, 50, 9)} f* "
    report = check(read(pdf(art + line_in(circle(50, 50, 40) + circle(50, 50, 10)))))
    (found,) = [f for f in report.findings if f.id == "edge.bleed"]
    assert found.measured == pytest.approx(1.0, abs=0.05)
    x0, y0, x1, y1 = found.where[0]
    assert x0 >= 28 and x1 <= 52 and y0 >= 28 and y1 <= 52


def test_the_files_own_words_are_kept_apart_from_what_is_measured(pdf: Pdf) -> None:
    artwork = replace(read(pdf(CLEAN)), taken_in=(("look", "came in as pixels"),))
    terms = CheckInputs(Order(), HOUSE, CheckSheet())
    report = check_whole(artwork, terms).report
    assert _ids(report) == {"file.converted"}
    assert changed(artwork, replace(artwork, taken_in=()), HOUSE) == {Facet.FILE}


def test_the_command_line_takes_a_sheet_and_writes_report_and_letter(tmp_path: Path, pdf: Pdf) -> None:
    import pypdfium2

    from horismos.cli import main

    sheet, report, letter = tmp_path / "sheet.json", tmp_path / "report.pdf", tmp_path / "letter.txt"
    sheet.write_text(json.dumps(CheckSheet("Floor", {}, {"line.wide": "stop"}, "7").to_json()))
    path = pdf(FIELD + line_in(circle(50, 50, 40), width=0.3))
    words = ["check", str(path), "--sheet", str(sheet), "--report", str(report), "--letter", str(letter)]
    assert main(words) == 1
    told = pypdfium2.PdfDocument(report)[0].get_textpage().get_text_bounded()
    assert "line.wide" in told and "Stops · 1" in told
    assert "A thick line" in letter.read_text()
    sheet.write_text('{"limits": {"line.wid": 1}}')
    assert main(words) == 2


def test_of_what_is_cut_only_nothing_is_asked_of_colour(pdf: Pdf) -> None:
    """Letters on their own cut, in RGB: with the sheet printed that is a stop, and cut only it is not."""
    content = "1 0 0 rg 20 20 40 40 re f " + line_in("20 20 40 40 re ") + line_in("30 30 5 5 re 30.1 30.1 5 5 re ")
    case = Case(artwork=read(pdf(content)), order=Order(roles=(LineRole.KISS_CUT,)))
    printed = check_whole(case.artwork, case.terms).report
    assert {"edge.risk", "ink.rgb"} <= {f.id for f in printed.findings}
    cut = replace(case, layout=Layout(makes=Makes.CUT))
    for before in (None, printed):
        report = check_whole(case.artwork, cut.terms, before=before, touched=frozenset() if before else None).report
        topics = {f.id.partition(".")[0] for f in report.findings}
        assert not topics & {"edge", "ink", "art"} and "line.crosses" in {f.id for f in report.findings}
    again = check_whole(case.artwork, case.terms, before=report, touched=frozenset()).report
    assert {f.id for f in again.findings} == {f.id for f in printed.findings}
