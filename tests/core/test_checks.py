"""Every check has a fixture just over its limit, found with the right value, and one just under."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from horismos.artwork import read, read_bytes
from horismos.checking import check, registered
from horismos.destinations import HOUSE, ISO
from horismos.orders import Order
from horismos.roles import LineRole
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f\n"
CLEAN = GROUND + line_in(circle(50, 50, 40))
FONT = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>"

CASES: dict[str, tuple[dict[str, object], dict[str, object], float | None]] = {
    "page.count": ({"content": CLEAN, "pages": 2}, {"content": CLEAN}, 2),
    "page.boxes": ({"content": CLEAN, "trim": (2, 10, 90, 90)}, {"content": CLEAN}, 3.0),
    "page.size": (
        {"content": GROUND + line_in(circle(50, 50, 40.3)), "trim": (9, 9, 91, 91)},
        {"content": GROUND + line_in(circle(50, 50, 40.2)), "trim": (9, 9, 91, 91)},
        0.6,
    ),
    "ink.unknown": (
        {"content": "/G cs 1 scn 20 20 9 9 re f " + CLEAN, "inks": {"K": "Kiss Cut", "G": "Harbour Blue"}},
        {"content": "/G cs 1 scn 20 20 9 9 re f " + CLEAN, "inks": {"K": "Kiss Cut", "G": "Varnish"}},
        1,
    ),
    "ink.near-name": ({"content": CLEAN, "inks": {"K": "Kiss-Cut"}}, {"content": CLEAN}, 1),
    "ink.rgb": ({"content": "1 0 0 rg 20 20 9 9 re f " + CLEAN}, {"content": CLEAN}, 1),
    "line.missing": (
        {"content": CLEAN, "inks": {"K": "Perforation"}}, {"content": CLEAN}, 1,
    ),
    "line.unordered": (
        {"content": CLEAN + line_in(circle(50, 50, 41), "C"), "inks": {"K": "Kiss Cut", "C": "Crease"}},
        {"content": CLEAN}, 1,
    ),
    "line.filled": ({"content": GROUND + line_in(circle(50, 50, 40), paint="B")}, {"content": CLEAN}, 1),
    "line.wide": (
        {"content": GROUND + line_in(circle(50, 50, 40), width=0.095)},
        {"content": GROUND + line_in(circle(50, 50, 40), width=0.087)},
        0.095,
    ),
    "line.tinted": ({"content": GROUND + line_in(circle(50, 50, 40), tint=0.98)}, {"content": CLEAN}, 98),
    "line.open": (
        {"content": GROUND + line_in("20 20 m 80 20 l 80 80 l 20 80 l 20 20.02 l")},
        {"content": GROUND + line_in("20 20 m 80 20 l 80 80 l 20 80 l 20 20.005 l")},
        0.02,
    ),
    "line.knocks-out": ({"content": CLEAN.replace("/Over gs", "")}, {"content": CLEAN}, 1),
    "line.text": (
        {"content": CLEAN + "BT /F 9 Tf 30 50 Td (A) Tj ET", "extra_resources": FONT}, {"content": CLEAN}, 1,
    ),
    "line.not-vector": (
        {"content": CLEAN + "q 5 0 0 5 40 40 cm BI /W 1 /H 1 /CS /K /BPC 8 ID \xff EI Q"},
        {"content": CLEAN}, 1,
    ),
    "edge.bleed": (
        {"content": f"1 0 0 0 k {circle(50, 50, 42.9)} f {line_in(circle(50, 50, 40))}"},
        {"content": f"1 0 0 0 k {circle(50, 50, 43.1)} f {line_in(circle(50, 50, 40))}"},
        2.9,
    ),
    "text.live": (
        {"content": "0 g BT /F 9 Tf 30 50 Td (A) Tj ET " + CLEAN, "extra_resources": FONT},
        {"content": CLEAN, "extra_resources": FONT}, 1,
    ),
    "art.transparency": (
        {"content": "q /Half gs 20 20 9 9 re f Q " + CLEAN}, {"content": CLEAN}, 1,
    ),
}
BY_HAND = {"file.converted", "file.damaged", "file.locked"}
ORDERS = {
    "page.size": Order(width_mm=80, height_mm=80),
    "line.missing": Order(roles=(LineRole.KISS_CUT,)),
    "line.unordered": Order(roles=(LineRole.KISS_CUT,)),
}


def test_every_check_has_its_pair_of_fixtures() -> None:
    assert set(CASES) | BY_HAND == set(registered())


@pytest.mark.parametrize("id", CASES)
def test_it_is_found_just_over_the_limit_with_its_value(id: str, pdf: Pdf) -> None:
    over, _, measured = CASES[id]
    found = [f for f in check(read(pdf(**over)), ORDERS.get(id)).findings if f.id == id]
    assert found, id
    if measured is not None:
        values = [f.measured for f in found if f.measured is not None]
        assert values[0] == pytest.approx(measured, abs=0.05 if id == "edge.bleed" else 0.011)


@pytest.mark.parametrize("id", CASES)
def test_it_is_not_found_just_under_the_limit(id: str, pdf: Pdf) -> None:
    _, under, _ = CASES[id]
    assert id not in {f.id for f in check(read(pdf(**under)), ORDERS.get(id)).findings}


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
    assert [step.to for step in near.mends] == ["Kiss Cut"]


def test_a_layer_with_standard_metadata_says_the_role(pdf: Pdf) -> None:
    step = "/GTS_Metadata << /GTS_ProcStepsGroup /Structural /GTS_ProcStepsType /Cutting >>"
    path = pdf(
        f"{GROUND}/OC /L BDC {line_in(circle(50, 50, 40))} EMC", inks={"K": "Outline 7"}, layer=step
    )
    (near,) = [f for f in check(read(path)).findings if f.id == "ink.near-name"]
    assert near.mends[0].to == "Through Cut"
