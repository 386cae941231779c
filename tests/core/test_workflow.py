"""A job's way as functions of values, and what screens show of it."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from horismos.artwork import read
from horismos.artwork.kinds import FileKind
from horismos.checking import check_whole
from horismos.comparing.facets import Facet
from horismos.errors import Asks, DoesNotFit, NotFound, StopsOpen
from horismos.intake import Answers
from horismos.materials import MATERIALS
from horismos.mending import step
from horismos.orders import Order
from horismos.release import Package
from horismos.roles import LineRole
from horismos.sheet import Layout
from horismos.simulation import play, rip
from horismos.workflow.analyse import Earlier, analyse, plates_of
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.documents import evidence_of
from horismos.workflow.mend import mend
from horismos.workflow.plan import plan
from horismos.workflow.rehearse import rehearse
from horismos.workflow.release import release
from horismos.workflow.showing.findings import findings_shown
from horismos.workflow.showing.page import page_seen
from horismos.workflow.showing.sheet import cuts_shown, sheets_shown
from horismos.workflow.take_in import Arrival, take_in
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

Pdf = Callable[..., Path]
FILM = MATERIALS["film-610"]
ART = f"1 0 0 0 k {circle(50, 50, 46)} f "
MISS = write(Drawing(ART + line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"}))
SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="0 0 60 40">'
    '<rect x="2" y="2" width="56" height="36"/></svg>'
)


@pytest.fixture()
def case() -> Case:
    found = take_in(Arrival(MISS, "seal.pdf"))
    return Case(artwork=found.artwork, order=Order(
        quantity=4
    ), destination=HOUSE, material=FILM, facts=JobFacts("Seals"))


def test_the_whole_way_from_a_file_to_the_machines(case: Case) -> None:
    first = analyse(case)
    assert [f.id for f in first.report.findings if f.severity == "stop"] == ["ink.near-name"]
    with pytest.raises(StopsOpen):
        release(case, first.report)
    mended, done = mend(case, step("rename", ink="Kis Cut", to="Kiss Cut"))
    assert done.difference.facets == {Facet.NAMES} and mended.artwork is done.artwork
    again = analyse(mended, Earlier(case.artwork, first.report))
    assert again.report.verdict == "clean" and again.touched == {Facet.NAMES}
    assert len(again.report.carried) > 0 and "ink.near-name" in again.report.ran
    (package,) = release(mended, again.report)
    ripped = rip(_file(package, "-print.pdf"), HOUSE, package.ticket)
    assert not ripped.refused
    played = play(_file(package, "-cut.plt"), package.ticket)
    assert again.planned is not None
    assert played.cut_mm == pytest.approx(again.planned.cut.cut_mm, rel=2e-3)
    assert {plate.ink: plate.prints for plate in ripped.plates}["Kiss Cut"] is False


def _file(package: Package, end: str) -> bytes:
    (name,) = [name for name in package.files if name.endswith(end)]
    return package.files[name]


@breadth(0.12, "long ones")
def test_a_case_is_a_value_and_stays_as_it_was(case: Case) -> None:
    before = case.artwork.data
    mended, _ = mend(case, step("rename", ink="Kis Cut", to="Kiss Cut"))
    assert case.artwork.data is before and mended.artwork.data != before
    assert (mended.order, mended.layout, mended.facts) == (case.order, case.layout, case.facts)


@breadth(0.12, "long ones")
def test_what_a_check_carried_over_is_what_a_whole_one_finds(case: Case) -> None:
    first = analyse(case).report
    mended, _ = mend(case, step("rename", ink="Kis Cut", to="Kiss Cut"))
    quick, whole = analyse(mended, Earlier(case.artwork, first)).report, analyse(mended).report
    assert [(f.id, f.measured, f.key) for f in quick.findings] == [(f.id, f.measured, f.key) for f in whole.findings]
    assert set(quick.ran) | set(quick.carried) == set(whole.ran)


@breadth(0.12, "long ones")
def test_a_piece_that_does_not_fit_is_checked_all_the_same(case: Case) -> None:
    narrow = replace(case, order=Order(quantity=2), layout=Layout(columns=60))
    found = analyse(narrow)
    assert found.planned is None and "60 columns do not fit" in found.refused and found.report.findings
    with pytest.raises(DoesNotFit):
        plan(narrow)
    assert [sheet.error for sheet in sheets_shown(found.planned, found.refused)] == [found.refused]
    assert [cut.operations for cut in cuts_shown(found.planned)] == [()]


def test_a_package_that_lacks_a_file_is_not_rehearsed(case: Case) -> None:
    mended, _ = mend(case, step("rename", ink="Kis Cut", to="Kiss Cut"))
    (package,) = release(mended, check_whole(mended.artwork, mended.terms).report)
    files = dict(package.files)
    for end, what in (("-print.pdf", "print PDF"), ("-ticket.json", "ticket")):
        with pytest.raises(NotFound, match=what):
            rehearse({name: data for name, data in files.items() if not name.endswith(end)}, 1)


def test_progress_is_told_from_nothing_to_all(case: Case) -> None:
    told: list[float] = []
    analyse(case, progress=lambda share, what: told.append(share))
    assert told == sorted(told) and told[0] == 0 and 0.85 <= told[-1] <= 1


def test_plates_are_made_once(case: Case) -> None:
    found = analyse(case)
    made = plates_of(found)
    assert {p.ink for p in made.plates} >= {"Cyan", "Kis Cut"}
    if found.checked.plates is not None:
        assert made is found.checked.plates


# -- taking in -------------------------------------------------------------------------------------------


def test_a_pdf_is_its_own_working_form_and_is_read_once() -> None:
    found = take_in(Arrival(MISS, "seal.pdf"))
    assert found.taken.pdf is MISS and found.taken.artwork is not None
    assert found.artwork.made_from is FileKind.PDF and not found.artwork.taken_in


def test_what_a_file_leaves_open_is_asked_and_then_known() -> None:
    data = SVG.format(size="").encode()
    with pytest.raises(Asks) as asked:
        take_in(Arrival(data, "gate.svg"))
    assert [question.id for question in asked.value.questions] == ["size"]
    found = take_in(Arrival(data, "gate.svg", Answers(width_mm=120)))
    assert found.artwork.pages[0].size_mm == pytest.approx((120, 80), abs=0.01)
    assert found.artwork.made_from is FileKind.SVG


def test_the_customers_last_order_is_where_a_new_one_begins() -> None:
    last = Order(quantity=40, border_mm=2.0, material="film-610")
    found = take_in(Arrival(MISS, "seal.pdf", last=last))
    assert found.suggestion.order.material == "film-610"
    assert found.suggestion.said


@breadth(0.12, "long ones")
@pytest.mark.parametrize(("name", "data", "answers"), [
    ("drawing.svg", SVG.format(size='width="60mm" height="40mm"').encode(), Answers()),
    ("plot.plt", b"IN;SP1;PU0,0;PD2000,0,2000,2000,0,2000,0,0;", Answers(binding={"pen:1": "kiss-cut"})),
], ids=["svg", "hpgl"])
def test_a_file_that_cannot_have_a_bleed_box_is_not_reproached_for_it(
    name: str, data: bytes, answers: Answers
) -> None:
    found = take_in(Arrival(data, name, answers))
    ids = {f.id for f in analyse(Case(artwork=found.artwork, order=Order())).report.findings}
    assert "page.boxes" not in ids
    page = replace(found.artwork.pages[0], boxes=replace(found.artwork.pages[0].boxes, stated=frozenset()))
    as_pdf = replace(found.artwork, made_from=FileKind.PDF, pages=(page,))
    assert "page.boxes" in {f.id for f in analyse(Case(artwork=as_pdf, order=Order())).report.findings}


# -- showing ---------------------------------------------------------------------------------------------


def test_the_page_on_screen_has_its_lines_with_role_length_and_wanted_name(case: Case) -> None:
    seen = page_seen(case)
    (line,) = seen.lines
    assert line.role == LineRole.KISS_CUT and line.closed_contours == 1
    assert line.length_mm == pytest.approx(2 * 3.14159 * 40, rel=1e-3)
    ink = next(ink for ink in seen.inks if ink.name == "Kis Cut")
    assert ink.wanted == "Kiss Cut" and "".join(run.text for run in ink.spelling)


def test_the_picture_of_a_whole_line_shows_a_stretch_of_it_large_enough_to_be_seen(case: Case) -> None:
    finding = next(f for f in analyse(case).report.findings if f.id == "ink.near-name")
    assert max(finding.where[0][2] - finding.where[0][0], finding.where[0][3] - finding.where[0][1]) > 70
    with evidence_of(case) as pictures:
        (of_line, of_place) = (pictures.of(finding, (352, 176)), pictures.picture(finding.where, size=(352, 176)))
    drawn = [int((np.abs(p.astype(int) - (0x2F, 0x47, 0xC2)).sum(axis=2) < 60).sum()) for p in (of_line, of_place)]
    # of a stretch of 24 mm the line is one arc across the picture; of 80 mm it is all of the circle, and smaller
    assert 0 < drawn[0] < drawn[1]
    arc = np.argwhere(np.abs(of_line.astype(int) - (0x2F, 0x47, 0xC2)).sum(axis=2) < 60)
    assert np.ptp(arc[:, 0]) > 120, "it runs from the top of the picture to its foot"


def test_cards_set_a_name_under_the_one_that_is_wanted(case: Case) -> None:
    cards = findings_shown(analyse(case).report, case.artwork, case.destination)
    (names,) = next(card.names for card in cards if card.id == "ink.near-name")
    assert (names.ink, names.wanted) == ("Kis Cut", "Kiss Cut")
    assert "".join(run.text for run in names.spelling) == names.ink
    assert "".join(run.wanted for run in names.spelling) == names.wanted


def test_cards_say_which_mends_answer_and_whether_one_is_safe(case: Case) -> None:
    report = analyse(case).report
    (card,) = [c for c in findings_shown(report, case.artwork, HOUSE) if c.id == "ink.near-name"]
    (offer,) = card.mends
    assert (offer.kind, offer.settings) == ("rename", {"ink": "Kis Cut", "to": "Kiss Cut"})
    assert "Kiss Cut" in offer.says and offer.safe


def test_the_sheet_on_screen_is_the_one_that_is_planned(case: Case) -> None:
    planned = plan(case)
    (shown,), (cut,) = sheets_shown(planned), cuts_shown(planned)
    assert len(shown.placements) == 4 and shown.length_mm == planned.sheet.length_mm
    assert [op.role for op in cut.operations] == [LineRole.KISS_CUT]
    assert cut.cut_mm == pytest.approx(planned.cut.cut_mm) and cut.time_s > 0


def test_a_page_that_is_not_there_is_named(pdf: Pdf) -> None:
    with pytest.raises(NotFound, match="no page 3"):
        _ = Case(artwork=read(pdf(ART)), page_number=3).page
