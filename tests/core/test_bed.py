"""A released sheet on the simulated cutter's bed: laid in askew, looked at, jogged to, cut; and what is refused."""

import io
import json
from dataclasses import replace

import numpy as np
import pikepdf
import pytest

from horismos.artwork import read_bytes
from horismos.checking import Report
from horismos.errors import BadValue, DoesNotFit
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.release import Package
from horismos.sheet import Layout, MarkPlan
from horismos.simulation import rip
from horismos.simulation.bed import Laying, MarkSeen, Side, laid
from horismos.workflow.bench import (
    POINTER_OFF_MM,
    BedState,
    aligned_on,
    bed_of,
    cross_at,
    played,
    pointer_at,
    scanned,
)
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.release import release
from tests.breadth import breadth, some
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.25, "beds")

ART = f"1 0 0 0 k {circle(50, 50, 34)} f " + line_in(circle(50, 50, 30))
QUIET = lambda share, what: None  # noqa: E731


def released(
    material: str = "film-610", drawing: Drawing | None = None, quantity: int = 4, **layout: object
) -> Package:
    artwork = read_bytes(write(drawing or Drawing(ART)))
    case = Case(
        artwork=artwork, order=Order(quantity=quantity), destination=HOUSE, material=MATERIALS[material], layout=Layout(
            **layout
        ), facts=JobFacts("seal"),  # type: ignore[arg-type]
    )
    return release(case, Report(()))[0]


@pytest.fixture(scope="module")
def package() -> Package:
    return released()


@pytest.fixture(scope="module")
def turned_back() -> Package:
    inks = {"T": "Through Cut", "B": "Back Cut"}
    art = f"1 0 0 0 k {circle(50, 50, 34)} f " + line_in(circle(50, 50, 30), "T") + line_in(circle(50, 50, 31.3), "B")
    return released(drawing=Drawing(art, inks=inks))


def printed_of(package: Package) -> bytes:
    return package.files["seal-print.pdf"]


def on_bed(package: Package, laying: Laying, first: tuple[float, float] | None = None) -> BedState:
    before = BedState(package.ticket, laying)
    found = scanned(before, printed_of(package), first, QUIET)
    return replace(before, seen=found.seen, code=found.code)


@pytest.mark.parametrize("seed", range(12))
def test_whatever_lies_askew_is_found_by_its_picture_and_cut_where_it_is_meant(package: Package, seed: int) -> None:
    random = np.random.default_rng(seed)
    turn, stretch, skew = random.uniform(-1, 1, 3) * (0.9, 0.003, 0.1)
    before = on_bed(package, Laying(seed, turn_deg=turn, stretch=stretch, skew_deg=skew, shift_x_mm=0.0))
    aligned = aligned_on(before)
    assert aligned.trouble == "" and before.code == package.ticket["code"]
    assert aligned.fit is not None
    assert (aligned.fit.turn_deg, aligned.fit.skew_deg) == pytest.approx((turn, skew), abs=0.02)
    meant = played(None, package.ticket, package.files["seal-cut.plt"], {})
    landed = played(before, package.ticket, package.files["seal-cut.plt"], {})
    off = [np.hypot(*(a.points - b.points).T) for a, b in zip(meant.moves, landed.moves, strict=True)]
    assert np.percentile(np.concatenate(off), 95) <= 0.1


def test_a_sheet_that_is_turned_end_for_end_is_told_by_its_code(package: Package) -> None:
    aligned = aligned_on(on_bed(package, Laying(2, turned=True, shift_x_mm=0.0, turn_deg=0.0)))
    assert "other way round" in aligned.trouble


def test_the_code_of_another_sheet_is_not_this_job(package: Package) -> None:
    before = on_bed(package, Laying(1))
    other = replace(before, ticket={**package.ticket, "code": "S9-OTHER"})
    assert "S9-OTHER" in aligned_on(other).trouble and str(package.ticket["code"]) in aligned_on(other).trouble


def test_under_gloss_no_mark_is_found_and_a_person_takes_them_by_hand() -> None:
    package = released("gloss-1370")
    before = on_bed(package, Laying(4))
    assert all(one.place is None and "mirrors" in one.why for one in before.seen)
    assert "Mark 1" in aligned_on(before).trouble
    bed = bed_of(before)
    true = bed.load.landed(np.array([(mark.x_mm, mark.y_mm) for mark in bed.marks]))
    seen = tuple(MarkSeen(m.number, (x, y), "hand") for m, (x, y) in zip(bed.marks, true.tolist(), strict=True))
    assert aligned_on(replace(before, seen=seen)).trouble == ""
    left = (*seen[:3], MarkSeen(seen[3].number, None, "left out"))
    assert aligned_on(replace(before, seen=left)).trouble == ""
    wrong = (replace(seen[0], place=(true[0, 0] + 4, true[0, 1])), *seen[1:])
    assert "mm from where the others have it" in aligned_on(replace(before, seen=wrong)).trouble
    one = tuple(MarkSeen(m.number, None, "left out") for m in bed.marks[1:])
    assert "Two marks" in aligned_on(replace(before, seen=(seen[0], *one))).trouble


def test_a_sheet_far_off_is_found_from_where_a_person_has_jogged_to(package: Package) -> None:
    laying = Laying(5, shift_x_mm=6.0, shift_y_mm=90.0, turn_deg=0.2)
    bed = laid(package.ticket, laying)
    first = bed.load.landed(np.array([[bed.marks[0].x_mm, bed.marks[0].y_mm]]))[0]
    before = on_bed(package, laying, (float(first[0]) + 3, float(first[1]) - 2))
    assert aligned_on(before).trouble == ""


@pytest.mark.parametrize(("laying", "words"), [
    (Laying(1, shift_x_mm=40.0), "left roller"), (Laying(1, shift_x_mm=-40.0), "right roller"),
    (Laying(1, shift_x_mm=0.0, shift_y_mm=180.0, turn_deg=0.0), "begins"),
    (Laying(1, side=Side.BACK), "no back cut"),
])
def test_what_the_cutter_cannot_hold_is_refused_in_words(package: Package, laying: Laying, words: str) -> None:
    with pytest.raises(DoesNotFit, match=words):
        laid(package.ticket, laying)


def test_a_laying_out_of_all_bounds_is_none() -> None:
    for data in ({"turn_deg": 90}, {"stretch": 1.0}, {"side": "under"}, {"askew": 1}):
        with pytest.raises(BadValue):
            Laying.from_json(data)
    assert Laying.from_json({"side": "back", "seed": 3}).side is Side.BACK


def test_front_and_back_meet_on_one_sheet(turned_back: Package) -> None:
    """The aligning figure lies where the front cut it; the back is cut by it, on the sheet turned over sideways."""
    corners = np.array(turned_back.ticket["aligning"])
    assert len(corners) == 3
    wide = turned_back.ticket["sheet"]["width_mm"]
    for seed in some(range(3), 0.3, "front and back"):
        front = on_bed(turned_back, Laying(seed, shift_x_mm=0.0))
        assert aligned_on(front).trouble == ""
        back = BedState(turned_back.ticket, Laying(seed + 50, Side.BACK, shift_x_mm=1.0), front=front)
        back = replace(back, seen=scanned(back, b"", None, QUIET).seen)
        assert aligned_on(back).trouble == ""
        cut = played(front, turned_back.ticket, turned_back.files["seal-cut.plt"], {})
        behind = played(back, turned_back.ticket, turned_back.files["seal-back-cut.plt"], {}, back=True)
        meant = played(None, turned_back.ticket, turned_back.files["seal-cut.plt"], {})
        meant_behind = played(None, turned_back.ticket, turned_back.files["seal-back-cut.plt"], {}, back=True)
        # where the front lies off, the back has to lie off alike, seen from the same side
        front_off = np.mean([(a.points - b.points).mean(axis=0) for a, b in zip(cut.moves, meant.moves, strict=True)],
                            axis=0)
        behind_off = np.mean(
            [(a.points - b.points).mean(axis=0) for a, b in zip(behind.moves, meant_behind.moves, strict=True)], axis=0
        ) * (-1, 1)
        assert np.hypot(*(front_off - behind_off)) <= 0.15
        places = np.concatenate([move.points for move in behind.moves])
        assert places[:, 0].min() > 0 and places[:, 0].max() < wide


def test_a_new_origin_between_passes_moves_what_comes_after_and_nothing_else(turned_back: Package) -> None:
    before = on_bed(turned_back, Laying(3, shift_x_mm=0.0, turn_deg=0.0))
    name = "seal-cut.plt"
    old = played(before, turned_back.ticket, turned_back.files[name], {0: (0.0, 0.0), 1: (0.0, 0.0)})
    new = played(before, turned_back.ticket, turned_back.files[name], {0: (0.0, 0.0), 1: (2.0, -1.0)})
    for a, b in zip(old.moves, new.moves, strict=True):
        moved = (b.points - a.points).mean(axis=0)
        assert moved == pytest.approx((0.0, 0.0) if a.operation == 0 else (2.0, -1.0), abs=0.05)


def test_the_pointer_is_where_it_is_calibrated_to_be(package: Package) -> None:
    """The pointer on the middle of the cross says what its offset truly is; before that it is as its maker says."""
    before = BedState(package.ticket, Laying(1))
    bed = bed_of(before)
    x, y = cross_at(bed)
    px, py = bed.cutter.pointer_mm
    assert pointer_at(before, (0.0, 0.0)) == pytest.approx((px + POINTER_OFF_MM[0], py + POINTER_OFF_MM[1]))
    carriage = (x - px - POINTER_OFF_MM[0], y - py - POINTER_OFF_MM[1])
    assert pointer_at(before, carriage) == pytest.approx((x, y))


# -- the RIP ---------------------------------------------------------------------------------------


def scaled(data: bytes, by: float) -> bytes:
    """The same page, made larger or smaller by whoever sent it."""
    with pikepdf.open(io.BytesIO(data)) as pdf:
        page = pdf.pages[0]
        for name in ("/MediaBox", "/TrimBox", "/BleedBox", "/CropBox"):
            if name in page:
                page[name] = pikepdf.Array([float(v) * by for v in page[name]])
        page.contents_add(f"{by} 0 0 {by} 0 0 cm".encode(), prepend=True)
        out = io.BytesIO()
        pdf.save(out)
    return out.getvalue()


def test_the_rip_refuses_a_page_at_another_scale(package: Package) -> None:
    result = rip(scaled(printed_of(package), 0.5), HOUSE, package.ticket)
    assert "50.0 % across and 50.0 % along" in result.refused and not result.plates


def test_the_rip_refuses_a_sheet_whose_marks_are_missing(package: Package) -> None:
    marks = package.ticket["marks"]
    off = {**marks[1], "x_mm": marks[1]["x_mm"] - 60, "y_mm": marks[1]["y_mm"] - 40}
    result = rip(printed_of(package), HOUSE, {**package.ticket, "marks": [marks[0], off, *marks[2:]]})
    assert f"mark {off['number']} of {len(marks)}" in result.refused and not result.plates


def test_what_is_right_is_printed_by_the_hot_folder_that_was_chosen(package: Package) -> None:
    quick = rip(printed_of(package), HOUSE, package.ticket, "quick")
    fine = rip(printed_of(package), HOUSE, package.ticket, "fine", seed=2)
    assert quick.refused == fine.refused == "" and quick.picture.startswith(b"\x89PNG")
    assert quick.time_s < fine.time_s and abs(quick.longer) < 0.01 and quick.longer != fine.longer


def test_the_ink_on_the_heaviest_place_is_that_of_all_inks_and_no_line_over_a_square_of_a_centimetre() -> None:
    """A patch of 280 % that is wider than the square, a finer one of 400 % that is not, and a line in its own ink."""
    art = "1 0.8 0.6 0.4 k 10 10 20 20 re f 1 1 1 1 k 60 60 2 2 re f 0.2 0 0 0 k 40 40 10 10 re f "
    result = rip(write(Drawing(art + line_in("5 5 90 90 re", "T"), inks={"T": "Through Cut"})), HOUSE)
    assert result.refused == "" and result.ink_percent == pytest.approx(280, abs=1)


def test_a_ticket_survives_as_json(package: Package) -> None:
    ticket = json.loads(package.files["seal-ticket.json"])
    assert laid(ticket, Laying(1)).size_mm == laid(package.ticket, Laying(1)).size_mm


@pytest.mark.parametrize("count", [2, 3])
def test_two_marks_or_three_are_enough(count: int) -> None:
    package = released(marks=MarkPlan(count=count))
    before = on_bed(package, Laying(7, shift_x_mm=0.0, stretch=0.0, skew_deg=0.0))
    assert len(before.seen) == count and aligned_on(before).trouble == ""


@pytest.mark.parametrize("turn", [-2.8, -2.1, 2.2, 2.9])
def test_a_wide_sheet_that_lies_far_askew_is_found_where_the_first_mark_does_not_tell(turn: float) -> None:
    """Its second mark lies 20 to 30 mm from where the first one has it, and art or a part of the mark beside it."""
    package = released(quantity=12)
    before = on_bed(package, Laying(9, turn_deg=turn, shift_x_mm=0.0))
    assert aligned_on(before).trouble == ""
