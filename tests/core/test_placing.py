"""Copies placed one by one, several sheets of a job, what is loaded, what is only cut or printed, the order of inks."""

from dataclasses import asdict, replace
from typing import Any

import pytest

from horismos.artwork import read_bytes
from horismos.checking import check_whole
from horismos.errors import BadValue, DoesNotFit
from horismos.materials import MATERIALS
from horismos.media import READ as MEDIA
from horismos.media import Media, offcut_of
from horismos.orders import Order, Seen
from horismos.paths import flatten
from horismos.paths.matrix import move
from horismos.roles import LineRole
from horismos.sheet import Layout, MarkPlan, Placed, Turn
from horismos.sheet.inks import BEHIND, FRONT, InkLayer
from horismos.sheet.turning import turned
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.plan import SheetJob, plan, plan_together
from horismos.workflow.release import release, release_together
from tests.breadth import breadth
from tests.known import HOUSE, SMALL
from tests.shapes import Drawing, circle, line_in, write

FILM = MATERIALS["film-610"]
ROUND = write(Drawing(f"1 0 0 0 k {circle(50, 50, 38)} f " + line_in(circle(50, 50, 35))))
SQUARE = write(Drawing("0 1 0 0 k 17 17 66 66 re f " + line_in("20 20 60 60 re")))
WHITE = write(Drawing(
    f"/W cs 1 scn {circle(50, 50, 38)} f 1 0 0 0 k {circle(50, 50, 38)} f " + line_in(circle(50, 50, 35)),
    inks={"K": "Kiss Cut", "W": "White"},
))


def case(data: bytes = ROUND, quantity: int = 4, name: str = "Seals", order: Any = None, **layout: Any) -> Case:
    wanted = replace(order or Order(), quantity=quantity)
    return Case(artwork=read_bytes(data), order=wanted, destination=HOUSE, material=FILM, layout=Layout(
        **layout
    ), facts=JobFacts(name))


def by_hand(base: Case, *places: tuple[float, float], **also: Any) -> Case:
    """The case with copies at these places, in mm from where the first row would begin."""
    planned = plan(base)
    placed = tuple(Placed(move(x, y)) for x, y in places)
    return replace(base, layout=replace(base.layout, placed=placed, placed_of=planned.placed_of, **also))


# -- copies one by one -------------------------------------------------------------------------------------------------


@breadth(0.12, "long ones")
def test_copies_stand_where_a_hand_put_them_and_those_too_near_are_told_and_not_released() -> None:
    base = case(quantity=3, gap_mm=4)
    fine = plan(by_hand(base, (60, 120), (140, 120), (60, 200)))
    assert [p.matrix[4:] for p in fine.sheet.placements] == [(60, 120), (140, 120), (60, 200)]
    assert not fine.sheet.clashes and fine.sheet.grid is None
    near = by_hand(base, (60, 120), (132, 120), (60, 220))
    (clash,) = plan(near).sheet.clashes
    # two discs of 70 mm, 72 mm from middle to middle
    assert (clash.first, clash.second) == (0, 1) and clash.apart_mm == pytest.approx(2, abs=0.03)
    assert "1 pair of copies lie nearer than 4 mm; the nearest 2.0 mm." in plan(near).notes
    report = check_whole(near.artwork, near.terms).report
    assert len(release(near, report)) == 1, "near is a warning; the gap is a wish"
    over = by_hand(base, (60, 120), (100, 120), (60, 220))
    assert plan(over).sheet.clashes[0].into and "lie in each other" in " ".join(plan(over).notes)
    with pytest.raises(DoesNotFit, match="lie in each other"):
        release(over, report)


def test_copies_that_touch_are_told_of_and_those_that_lie_in_each_other_are_more_than_that() -> None:
    base = case(SQUARE, quantity=2, gap_mm=4)
    (touching,) = plan(by_hand(base, (60, 120), (120, 120))).sheet.clashes
    assert (touching.apart_mm, touching.into) == (0, False), "side by side, one cut for both"
    (into,) = plan(by_hand(base, (60, 120), (110, 120))).sheet.clashes
    assert into.into
    without = case(SQUARE, quantity=2, gap_mm=0)
    assert not plan(by_hand(without, (60, 120), (120, 120))).sheet.clashes, "no gap was wanted"
    assert plan(by_hand(without, (60, 120), (119, 120))).sheet.clashes[0].into


def test_a_copy_of_a_sheet_with_marks_every_so_many_mm_can_be_moved_where_it_lies() -> None:
    """On a short sheet four corners are near enough; a copy that was placed there has the room that it had in rows."""
    base = case(quantity=14, marks=MarkPlan(every_mm=500))
    rows = plan(base)
    assert len(rows.sheet.marks) == 4
    placed = tuple(Placed(copy.matrix) for copy in rows.sheet.placements)
    moved = replace(base, layout=replace(base.layout, placed=placed, placed_of=rows.placed_of))
    assert [c.matrix for c in plan(moved).sheet.placements] == [c.matrix for c in rows.sheet.placements]
    assert plan(moved).room == rows.room and rows.room[0] <= min(c.bounds[0] for c in rows.sheet.placements)


def test_a_copy_can_be_turned_and_moved_but_never_scaled_or_mirrored() -> None:
    for matrix in ([2, 0, 0, 2, 0, 0], [-1, 0, 0, 1, 0, 0], [1, 0.1, 0, 1, 0, 0]):
        with pytest.raises(BadValue, match="moved and turned"):
            Layout.from_json({"placed": [{"matrix": matrix}]})
    a, b, c, d, _, _ = turned(33)
    kept = Layout.from_json({"placed": [{"matrix": [a, b, c, d, 10, 20], "item": 2, "sheet": 3}]})
    assert kept.placed == (Placed((a, b, c, d, 10.0, 20.0), 2, 3),)
    assert Layout.from_json({"placed": [[1, 0, 0, 1, 5, 6]]}).placed == (Placed((1, 0, 0, 1, 5, 6)),)


def test_copies_lie_on_the_sheets_that_they_were_put_on() -> None:
    base = case(quantity=3)
    placed = (Placed(move(60, 120)), Placed(move(140, 120), 0, 2), Placed(move(240, 120), 0, 2))
    planned = plan(replace(base, layout=replace(base.layout, placed=placed, placed_of=plan(base).placed_of)))
    assert [len(one.sheet.placements) for one in planned.sheets] == [1, 2]
    assert [(one.number, one.count) for one in planned.sheets] == [(1, 2), (2, 2)]
    codes = [one.sheet.code for one in planned.sheets]
    assert codes[0] and codes[1] and codes[0].text.startswith("S1-") and codes[1].text.startswith("S2-")


# -- several sheets, several jobs --------------------------------------------------------------------------------------


@breadth(0.12, "long ones")
def test_a_job_that_is_longer_than_a_roll_takes_several_sheets_counted_to_the_last_copy() -> None:
    long = case(quantity=80, media=Media("Rest of a roll", 610, 900))
    planned = plan(long)
    assert len(planned.sheets) > 1 and sum(len(one.sheet.placements) for one in planned.sheets) == 80
    assert all(one.sheet.length_mm <= 900 for one in planned.sheets)
    packages = release(long, check_whole(long.artwork, long.terms).report)
    assert [p.ticket["sheet_number"] for p in packages] == list(range(1, len(planned.sheets) + 1))
    names = [name for package in packages for name in package.files]
    assert len(set(names)) == len(names) and f"seals-2-of-{len(packages)}-cut.plt" in names
    assert sum(p.ticket["sheet"]["copies"] for p in packages) == 80


def test_a_length_of_the_roll_or_all_of_what_is_loaded_is_filled_beyond_what_was_ordered() -> None:
    length = plan(replace(case(quantity=2), layout=Layout.from_json({"fill": "length", "length_mm": 800})))
    assert len(length.sheets) == 1 and len(length.sheet.placements) > 20 and length.sheet.length_mm <= 800
    board = Media("Board", 610, 700, roll=False)
    whole = plan(replace(case(quantity=90), layout=Layout.from_json({"fill": "sheet", "media": asdict(board)})))
    assert len(whole.sheets) == 1 and sum(whole.left) == 90 - len(whole.sheet.placements) > 0
    with pytest.raises(DoesNotFit, match="no end to be filled to"):
        plan(replace(case(), layout=Layout.from_json({"fill": "sheet"})))


@breadth(0.12, "long ones")
def test_jobs_share_a_sheet_and_keep_their_lines_tools_and_tolerance() -> None:
    loose, strict = case(ROUND, 6), case(SQUARE, 4, "Squares", Order(tolerance_mm=0.05))
    kiss = plan(strict).cut.operations[0].tool
    strict = replace(strict, tools={LineRole.KISS_CUT: replace(kiss, force_gf=120)})
    shares = [SheetJob(loose, 6), SheetJob(strict, 3, Turn.NONE)]
    planned = plan_together(shares, FILM, HOUSE, Layout(gap_mm=5))
    (one,) = planned.sheets
    assert [len(one.sheet.copies_of(item.piece)) for item in planned.items] == [6, 3]
    assert [(op.tool.force_gf, len(op.contours)) for op in one.cut.operations] == [(90, 6), (120, 3)]
    assert (one.tolerance_mm, one.strictest) == (0.05, "Squares")
    assert any("“Squares” can stand 0.05 mm" in note for note in one.notes)
    reports = [check_whole(share.case.artwork, share.case.terms).report for share in shares]
    (package,) = release_together("Both", shares, reports, FILM, HOUSE, Layout(gap_mm=5))
    assert [job["job"] for job in package.ticket["jobs"]] == ["Seals", "Squares"]
    assert {"seals-preflight.pdf", "squares-preflight.pdf"} <= {name.removeprefix("both-") for name in package.files}
    assert package.ticket["pieces"][1]["copies"] == 3
    with pytest.raises(BadValue, match="goes to House table"):
        plan_together(shares, FILM, SMALL, Layout())
    with pytest.raises(BadValue, match="no job"):
        plan_together([], FILM, HOUSE, Layout())


# -- what is loaded ----------------------------------------------------------------------------------------------------


def test_a_sheet_is_laid_out_on_what_is_loaded_whichever_edge_goes_in_first() -> None:
    small = replace(case(quantity=2), destination=SMALL)
    a3 = Media("A3", 297, 420, roll=False)
    along, across = (
        plan(replace(small, layout=Layout(media=media))).sheet for media in (a3, replace(a3, turned=True))
    )
    assert (along.material.width_mm, along.length_mm) == (297, 420)
    assert (across.material.width_mm, across.length_mm) == (420, 297)
    wide = replace(SMALL, rip=replace(SMALL.rip, margin_mm=30.0))
    margins = plan(replace(small, destination=wide, layout=Layout(media=a3))).sheet
    assert margins.cutter.side_margin_mm == 30 and min(m.box[0] for m in margins.marks) >= 30 - 1e-6


def test_media_has_a_size_that_can_be_and_what_is_left_of_it_is_an_offcut() -> None:
    with pytest.raises(BadValue, match="has no length"):
        Media("Board", 700, None, roll=False)
    with pytest.raises(BadValue, match="one way only"):
        Media("Roll", 700, None, turned=True)
    for odd in (None, {"width_mm": 5, "title": "x"}, {"title": "x"}, {"title": "x\n", "width_mm": 100}, {"size": 1}):
        with pytest.raises(BadValue):
            MEDIA("Media", odd)
    sheet = Media("Board", 700, 1000, roll=False)
    left = offcut_of(sheet, 400)
    assert left is not None and (left.width_mm, left.length_mm, left.roll) == (700, 600, False)
    assert offcut_of(sheet, 900) is None, "too short to be kept"
    assert offcut_of(Media("Roll", 700), 900) is None, "nobody knows how long it was"
    assert offcut_of(replace(sheet, turned=True), 300) == Media("Offcut 1000 × 400 mm", 1000, 400, False)


def test_how_much_is_used_up_is_told_where_a_sheet_is_longer() -> None:
    on_sheet = plan(case(quantity=2, media=Media("Board", 610, 2000, roll=False))).sheet
    on_roll = plan(case(quantity=2)).sheet
    assert on_sheet.length_mm == 2000 and on_sheet.used_length_mm == pytest.approx(on_roll.length_mm, abs=0.01)


def test_a_material_with_a_grain_keeps_all_pieces_along_it() -> None:
    bar = write(Drawing("0 1 0 0 k 7 37 96 26 re f " + line_in("10 40 90 20 re")))
    twill = replace(FILM, grain=True)
    with_grain, without = (plan(replace(case(bar, 30), material=m)).sheet for m in (twill, FILM))
    assert all(p.matrix[1] == 0 for p in with_grain.placements)
    assert with_grain.length_mm >= without.length_mm


def test_glossy_laminate_over_marks_is_warned_of() -> None:
    glossy = replace(case(), material=MATERIALS["gloss-1370"])
    assert any("Glossy laminate" in note for note in plan(glossy).notes)
    assert not any("lamin" in note.lower() for note in plan(case()).notes)


# -- cut only, print only, the order of inks ---------------------------------------------------------------------------


def test_what_is_only_cut_has_no_marks_no_code_and_no_print_and_a_frame_to_weed_by() -> None:
    bare = case(quantity=6)
    only = replace(bare, layout=Layout.from_json({"makes": "cut", "frame_mm": 8}))
    sheet, cut = plan(only).sheet, plan(only).cut
    assert not sheet.marks and sheet.code is None and sheet.frame is not None
    assert sheet.frame == pytest.approx(tuple(v + s * 8 for v, s in zip(sheet.cut_box, (-1, -1, 1, 1), strict=True)))
    (kiss,) = cut.operations
    assert len(kiss.contours) == 7 and cut.origin_mm == (25, 100)
    assert flatten(kiss.contours[-1]).min() == pytest.approx(min(sheet.frame)), "the frame is cut last"
    (package,) = release(only, check_whole(only.artwork, only.terms).report)
    assert not [name for name in package.files if name.endswith("-print.pdf")]
    assert [name for name in package.files if name.endswith(".plt")] == ["seals-cut.plt"]
    assert package.ticket["makes"] == "cut" and package.ticket["pdf_x"] is None and package.ticket["marks"] == []
    plain = plan(replace(bare, layout=Layout.from_json({"makes": "cut"})))
    assert plain.sheet.frame is None and len(plain.cut.operations[0].contours) == 6


def test_what_is_only_printed_has_art_alone() -> None:
    only = replace(case(quantity=6), layout=Layout.from_json({"makes": "print"}))
    planned = plan(only)
    assert not planned.sheet.marks and planned.sheet.code is None and planned.cut.operations == ()
    (package,) = release(only, check_whole(only.artwork, only.terms).report)
    assert not [name for name in package.files if name.endswith(".plt")]
    printed = read_bytes(package.files["seals-print.pdf"])
    assert "Kiss Cut" not in printed.pages[0].ink_names and "Cyan" in printed.pages[0].ink_names


def test_inks_lie_as_is_usual_for_the_side_that_is_looked_at_and_what_hides_the_colour_is_said() -> None:
    assert Layout().ink_order == FRONT and Layout(mirror=True).ink_order == BEHIND
    front = case(WHITE, 2)
    assert plan(front).sheet.inks == FRONT and not plan(front).notes
    turned_round = replace(front, layout=Layout(inks=BEHIND))
    assert "hides it from the front" in " ".join(plan(turned_round).notes)
    behind = replace(front, order=replace(front.order, seen=Seen.THROUGH))
    assert plan(behind).notes == () and plan(behind).sheet.inks == BEHIND and plan(behind).sheet.mirrored
    wrong = replace(behind, layout=Layout(mirror=True, inks=FRONT))
    assert "hides it from behind" in " ".join(plan(wrong).notes)
    assert "printed as it is seen" in " ".join(plan(replace(behind, layout=Layout(mirror=False))).notes)
    with pytest.raises(BadValue, match="each of white, colour, varnish once"):
        Layout.from_json({"inks": ["white", "white", "colour"]})
    assert Layout.from_json({"inks": ["colour", "varnish", "white"]}).inks == (
        InkLayer.COLOUR, InkLayer.VARNISH, InkLayer.WHITE
    )
