"""Every check has a pair of drawings: one just over its limit, found with the right value, one just under."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from horismos.artwork import read, read_bytes
from horismos.checking import CheckInputs, CheckSheet, Rehearsed, Report, Severity, check, check_whole, registered
from horismos.mending import offers
from horismos.orders import Order
from horismos.roles import LineRole
from tests.breadth import breadth
from tests.known import HOUSE, ISO
from tests.pairs import BY_HAND, CLEAN, GROUND, PAIRS, material_of
from tests.shapes import Drawing, circle, line_in, write

Pdf = Callable[..., Path]


def _checked(id: str, which: str) -> Report:
    pair = PAIRS[id]
    drawing = Drawing(**(pair.over if which == "over" else pair.under))
    return check(read_bytes(write(drawing)), pair.order, material=material_of(pair))


def test_every_check_has_its_pair_of_drawings() -> None:
    assert set(PAIRS) | BY_HAND == set(registered())


@breadth(0.12, "long ones")
@pytest.mark.parametrize("id", PAIRS)
def test_just_over_the_limit_it_is_found_with_its_value_and_place_and_nothing_else(id: str) -> None:
    pair, report = PAIRS[id], _checked(id, "over")
    assert {f.id for f in report.findings} == {id} | pair.also
    found = next(f for f in report.findings if f.id == id)
    if pair.measured is not None:
        assert found.measured == pytest.approx(pair.measured, abs=pair.within)
    if pair.at is not None:
        x0, y0, x1, y1 = found.where[0]
        assert x0 - 0.01 <= pair.at[0] <= x1 + 0.01
        assert y0 - 0.01 <= pair.at[1] <= y1 + 0.01


@pytest.mark.parametrize("id", PAIRS)
def test_just_under_the_limit_there_is_nothing(id: str) -> None:
    assert {f.id for f in _checked(id, "under").findings} == PAIRS[id].under_also


def test_a_clean_file_is_clean(pdf: Pdf) -> None:
    order = Order(width_mm=80, height_mm=80, roles=(LineRole.KISS_CUT,), edge="bleed")
    assert check(read(pdf(CLEAN)), order).verdict == "clean"


def test_several_faults_at_once_are_exactly_those(pdf: Pdf) -> None:
    path = pdf(
        f"1 0 0 0 k {circle(50, 50, 41)} f /K CS 0.5 SCN 0.5 w {circle(50, 50, 40)} S",
        inks={"K": "Kis Cut"},
    )
    assert {f.id for f in check(read(path)).findings} == {
        "edge.bleed", "ink.near-name", "line.tinted", "line.wide", "line.knocks-out",
    }


def test_the_worst_place_is_where_the_bleed_ends_first(pdf: Pdf) -> None:
    shifted = f"1 0 0 0 k {circle(52, 50, 44)} f {line_in(circle(50, 50, 40))}"
    (found,) = [f for f in check(read(pdf(shifted))).findings if f.id == "edge.bleed"]
    x0, y0, x1, y1 = found.where[0]
    # The art lies 2 mm to the right, so the left side is the worst: x = 10 - 10 (trim) = 0.
    assert x0 < 1 and y0 < 40 < y1 and x1 < 5
    assert found.measured == pytest.approx(2.0, abs=0.05)


@pytest.mark.parametrize("bleed", [0.3, 1.0, 2.5, 4.0, 6.0])
def test_bleed_is_measured_to_a_twentieth_of_a_millimetre(bleed: float, pdf: Pdf) -> None:
    content = f"0 1 0 0 k {circle(50, 50, 38 + bleed)} f {line_in(circle(50, 50, 38))}"
    report = check(read(pdf(content)), Order(bleed_mm=bleed + 0.5))
    (found,) = [f for f in report.findings if f.id == "edge.bleed"]
    assert found.measured == pytest.approx(bleed, abs=0.05)


def test_white_paper_on_both_sides_of_the_cut_is_no_missing_bleed(pdf: Pdf) -> None:
    bordered = f"1 0 0 0 k {circle(50, 50, 35)} f {line_in(circle(50, 50, 40))}"
    assert "edge.bleed" not in {f.id for f in check(read(pdf(bordered))).findings}
    wanted = check(read(pdf(bordered)), Order(edge="bleed"))
    assert "edge.bleed" in {f.id for f in wanted.findings}


def test_a_damaged_file_is_read_and_said(pdf: Pdf) -> None:
    data = pdf(CLEAN).read_bytes().replace(b"startxref", b"startxxxx")
    ids = {f.id: f for f in check(read_bytes(data)).findings}
    assert ids["file.damaged"].count > 0
    assert "file.damaged" not in {f.id for f in check(read(pdf(CLEAN))).findings}


def test_what_taking_in_could_not_keep_is_said(pdf: Pdf) -> None:
    artwork = read(pdf(CLEAN))
    assert "file.converted" not in {f.id for f in check(replace(artwork, taken_in=(("note", "made of SVG"),))).findings}
    findings = check(replace(artwork, taken_in=(("look", "came in as pixels"),))).findings
    (found,) = [f for f in findings if f.id == "file.converted"]
    assert found.message == "came in as pixels"


def test_a_locked_file_is_said(pdf: Pdf, tmp_path: Path) -> None:
    import pikepdf

    locked = tmp_path / "locked.pdf"
    with pikepdf.open(pdf(CLEAN)) as opened:
        none = pikepdf.Permissions(modify_other=False, modify_annotation=False, extract=False)
        opened.save(locked, encryption=pikepdf.Encryption(owner="o", user="", allow=none))
    assert "file.locked" in {f.id for f in check(read(locked)).findings}
    assert "file.locked" not in {f.id for f in check(read(pdf(CLEAN))).findings}


def test_names_depend_on_where_the_job_goes(pdf: Pdf) -> None:
    path = pdf(CLEAN, inks={"K": "PartialCutting"})
    assert "ink.near-name" not in {f.id for f in check(read(path), destination=ISO).findings}
    (near,) = [f for f in check(read(path), destination=HOUSE).findings if f.id == "ink.near-name"]
    assert [step["to"] for step in offers(near)] == ["Kiss Cut"]


def test_a_layer_with_standard_metadata_says_the_role(pdf: Pdf) -> None:
    step = "/GTS_Metadata << /GTS_ProcStepsGroup /Structural /GTS_ProcStepsType /Cutting >>"
    path = pdf(
        f"{GROUND}/OC /L BDC {line_in(circle(50, 50, 40))} EMC", inks={"K": "Outline 7"}, layer=step
    )
    (near,) = [f for f in check(read(path)).findings if f.id == "ink.near-name"]
    assert near.wanted == ("Through Cut",)


@pytest.mark.parametrize(("severity", "signed", "found"), [
    ("stop", False, ["stop"]), ("look", False, ["look"]), ("stop", True, []), ("stop", None, []), (None, False, []),
])
def test_a_signed_proof_is_asked_for_where_a_check_sheet_does(
    pdf: Pdf, severity: str | None, signed: bool | None, found: list[str]
) -> None:
    sheet = CheckSheet(severities={"file.proof": Severity(severity)} if severity else {})
    terms = CheckInputs(Order(), HOUSE, sheet, signed=signed)
    report = check_whole(read(pdf(CLEAN)), terms).report
    assert [finding.severity for finding in report.findings if finding.id == "file.proof"] == found


def test_what_was_spoilt_in_a_rehearsal_is_said(pdf: Pdf) -> None:
    artwork = read(pdf(CLEAN))

    def found(rehearsed: Rehearsed | None) -> list[str]:
        terms = CheckInputs(Order(), HOUSE, CheckSheet(), None, (), rehearsed)
        return [f.message for f in check_whole(artwork, terms).report.findings if f.id == "edge.rehearsed"]

    assert found(None) == [] and found(Rehearsed(200, 0, 1000, 10, 0, 0, 0)) == []
    (said,) = found(Rehearsed(200, 3, 1000, 8, 2, 1, 0))
    assert said == "Rehearsed 200 times: 11 of 1000 pieces spoilt (8 bare media at the edge, 2 art trimmed, " \
                   "1 cut when loose)."
    (said,) = found(Rehearsed(200, 200, 0, 0, 0, 0, 0))
    assert "In 200 of 200 loads a mark was not found" in said
