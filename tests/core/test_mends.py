"""A mend does what it said and nothing else; what it may touch is registered, and proved on the two files."""

import contextlib
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pikepdf
import pytest

from horismos.artwork import Artwork, line_objects, lines_by_role, read, read_bytes
from horismos.checking import CheckInputs, CheckSheet, check, check_whole
from horismos.checking import registered as checks
from horismos.cli import main
from horismos.comparing.difference import compare
from horismos.comparing.facets import Facet, changed, touched
from horismos.destinations import Destination
from horismos.errors import BadValue, CannotWrite, NothingToDo
from horismos.mending import Mended, SettingKind, Step, mend, offered, offers, registered, step, step_from
from horismos.mending.engine import registry
from horismos.mending.engine.settings import ROLE, Setting
from horismos.orders import Order
from horismos.paths import signed_area
from horismos.roles import LineRole
from tests.breadth import breadth
from tests.faults import FAULTS, GROUND, KISS, TRACED
from tests.known import HOUSE
from tests.pairs import SPOTS
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.12)

Pdf = Callable[..., Path]
FORM = GROUND + "/K CS 0.6 SCN 0.4 w 20 20 m 80 20 l 80 80 l 20 80 l 20 20.4 l S " + line_in(
    circle(50, 50, 10), "T", 0.5, "B", 1
)

def kiss_areas(data: bytes) -> list[float]:
    """The areas of all kiss-cut contours in mm², the smallest first."""
    artwork = read_bytes(data)
    lines = lines_by_role(line_objects(artwork, artwork.pages[0], HOUSE))[LineRole.KISS_CUT]
    return sorted(abs(signed_area(c)) for line in lines for c in line.contours)


def apply_all(artwork: Artwork, steps: list[Step], destination: Destination) -> list[Mended]:
    """Carry out steps one after the other; those with nothing to do are passed over."""
    done: list[Mended] = []
    for one in steps:
        with contextlib.suppress(NothingToDo):
            done.append(mend(done[-1].artwork if done else artwork, one, destination))
    return done


# -- the register ----------------------------------------------------------------------------------


def test_every_mend_answers_checks_that_there_are_and_says_what_it_may_touch() -> None:
    for one in registered().values():
        assert set(one.answers) <= set(checks()) and (one.answers or one.repeats), one.id
        assert one.touches
        if one.safe:
            assert Facet.LOOK not in one.touches, f"{one.id} would be let change what is seen, and nobody asked"
        assert all(s.words and (s.kind is not SettingKind.NUMBER or s.least < s.most) for s in one.settings)


def test_a_step_goes_out_and_comes_in_and_an_impossible_one_is_refused_by_name() -> None:
    made = step("drop-leftovers", role="kiss-cut", below_mm2=12.5)
    assert step_from(made.to_json()) == made and made["below_mm2"] == 12.5
    assert made.label == "Drop what is smaller than 12.5 mm² from the kiss cut"
    assert step("drop-leftovers", role="kiss-cut")["below_mm2"] == 20
    for wrong, said in (
        ({"mend": "polish"}, "no mend"), ({"mend": "close-line", "role": "cut"}, "cut"), ("polish", "no step"),
        ({"mend": "drop-leftovers", "role": "kiss-cut", "below_mm2": -1}, "0.01 to 10000 mm²"),
        ({"mend": "drop-leftovers", "role": "kiss-cut", "below_mm2": "much"}, "number"),
        ({"mend": "close-line", "role": "kiss-cut", "depth": 3}, "depth"), ({"mend": "rename", "ink": "A"}, "missing"),
    ):
        with pytest.raises(BadValue, match=said):
            step_from(wrong)


@pytest.fixture()
def one_more_mend() -> Iterator[str]:
    """A mend as somebody would add it: one registration, and everything else finds it."""
    def say(before: registry.MendContext) -> registry.MendSummary:
        if not before.of_role:
            raise NothingToDo("There is none.")
        return registry.MendSummary(f"Widens {len(before.of_role)} line by {before.step['by']:g} mm.")

    def do(before: registry.MendContext, pdf: pikepdf.Pdf) -> None:
        pdf.pages[0].contents_add(b" 0 0 0 1 k 45 45 300 300 re f", prepend=False)

    by = Setting("by", SettingKind.NUMBER, "The width to add", 0.1, "mm", 0.01, 1.0)
    registry.register(registry.Mend(
        id="widen", label="Widen the {role}", answers=("line.wide",), touches=frozenset([Facet.PAINT]),
        settings=(ROLE, by), say=say, do=do, order=99
    ))
    yield "widen"
    del registry._MENDS["widen"]


def test_a_mend_that_is_registered_is_offered_and_on_the_command_line(
    one_more_mend: str, pdf: Pdf, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = pdf(GROUND + line_in(circle(50, 50, 40), width=0.5))
    (wide,) = [f for f in check(read(path)).findings if f.id == "line.wide"]
    assert [s.mend for s in offers(wide)] == ["hairline", "widen"]
    with pytest.raises(SystemExit):
        main(["mend", "--help"])
    assert "--widen [ROLE[,by=mm]]" in capsys.readouterr().out
    assert main(["mend", str(path), "--out", str(tmp_path / "o.pdf"), "--widen", "kiss-cut,by=9"]) == 2
    assert "0.01 to 1 mm" in capsys.readouterr().err


def test_a_mend_that_touches_what_it_may_not_is_thrown_away(one_more_mend: str, pdf: Pdf) -> None:
    artwork = read(pdf(GROUND + KISS))
    with pytest.raises(CannotWrite, match="the art") as refused:
        mend(artwork, step(one_more_mend, role="kiss-cut"), HOUSE)
    assert "what the art looks like" in str(refused.value) and "Nothing was changed" in str(refused.value)


def test_two_mends_of_one_name_are_refused(one_more_mend: str) -> None:
    with pytest.raises(ValueError, match="Two mends"):
        registry.register(registered()[one_more_mend])


# -- all of them -----------------------------------------------------------------------------------


def test_all_offered_mends_leave_a_clean_file_and_the_art_alone(pdf: Pdf) -> None:
    path = pdf(FORM, inks={"K": "kiss_cut", "T": "Thru Cut"})
    original = path.read_bytes()
    artwork = read(path)
    done = apply_all(artwork, offered(check(artwork)), HOUSE)
    assert [f.id for f in check(done[-1].artwork).findings if f.id != "edge.bleed"] == []
    assert all(m.difference.plates_same for m in done)
    assert max(m.difference.lines_moved_mm for m in done) < 0.4
    assert path.read_bytes() == original


def test_the_same_mend_of_two_roles_one_after_the_other_does_not_mix_them_up(pdf: Pdf) -> None:
    """The second hairline once took the first one's resource name, and the through cut became a kiss cut."""
    artwork = read(pdf(GROUND + line_in(circle(50, 50, 40), width=0.5) + line_in(circle(50, 50, 20), "T", width=0.5),
                       inks=SPOTS))
    done = apply_all(artwork, [step("hairline", role="through-cut"), step("hairline", role="kiss-cut")], HOUSE)
    assert len(done) == 2 and done[-1].difference.after == {"kiss-cut": 1, "through-cut": 1}


def test_what_needs_no_mend_is_refused(pdf: Pdf) -> None:
    artwork = read(pdf(GROUND + KISS))
    for name in ("hairline", "close-line", "overprint"):
        with pytest.raises(NothingToDo, match="already"):
            mend(artwork, step(name, role="kiss-cut"), HOUSE)
    with pytest.raises(NothingToDo, match="nothing smaller"):
        mend(artwork, step("drop-leftovers", role="kiss-cut"), HOUSE)
    with pytest.raises(NothingToDo, match="No ink"):
        mend(artwork, step("rename", ink="Harbour", to="Kiss Cut"), HOUSE)


def test_there_is_a_fault_for_each_mend() -> None:
    assert set(FAULTS) == set(registered())


@pytest.mark.parametrize("name", FAULTS)
def test_each_mend_answers_what_it_says_it_answers_and_makes_it_quiet(name: str) -> None:
    before = read_bytes(write(FAULTS[name].page))
    asked = {f.id for f in check(before).findings} & set(registered()[name].answers)
    done = mend(before, step(name, **FAULTS[name].settings), HOUSE)
    # holes, a size and a missing line are findings where an order says otherwise
    by_order = ("drop-inner", "turn", "scale", "mirror", "pull-in", "assign-role", "build-white", "make-lines",
                "fit-page", "take-out")
    assert asked or name in by_order
    assert not asked & {f.id for f in check(done.artwork).findings}, "what is white now is told by other checks"
    assert done.changed and all(value >= 0 for value in done.changed.values())


@pytest.mark.parametrize("name", FAULTS)
def test_each_mend_changes_its_own_facets_and_no_other_and_is_not_needed_twice(name: str) -> None:
    fault = FAULTS[name]
    before = read_bytes(write(fault.page))
    done = mend(before, step(name, **fault.settings), HOUSE)
    assert fault.facets <= done.difference.facets <= fault.facets | fault.may | {Facet.FILE}
    assert done.difference.plates_same is fault.art_stays
    if registered()[name].repeats:
        return
    with pytest.raises(NothingToDo):
        mend(done.artwork, step(name, **fault.settings), HOUSE)


@pytest.mark.parametrize("name", [name for name in FAULTS if not registered()[name].repeats and name != "fit-page"])
def test_a_file_that_does_not_need_a_mend_stays_as_it_is(name: str) -> None:
    settings, plain = FAULTS[name].settings, {"sort-layers": GROUND, "build-white": KISS}.get(name, GROUND + KISS)
    with pytest.raises(NothingToDo):
        mend(read_bytes(write(Drawing(plain, inks=SPOTS))), step(name, **settings), HOUSE)


ANYWHERE = [name for name, fault in FAULTS.items() if fault.anywhere]


@pytest.mark.parametrize("name", ANYWHERE)
def test_a_file_that_was_damaged_or_turned_is_mended_as_well(name: str) -> None:
    fault = FAULTS[name]
    data = write(fault.page).replace(b"startxref", b"startxxxx").replace(
        b"/Type /Page ", b"/Type /Page /Rotate 90 /UserUnit 2 "
    )
    before = read_bytes(data)
    # at twice the size leftovers are four times as large, and strokes twice as wide
    more = {"drop-leftovers": {"below_mm2": 30}, "to-centreline": {"width_mm": 0.8}}.get(name, {})
    done = mend(before, step(name, **{**fault.settings, **more}), HOUSE)
    assert before.repairs and done.difference.plates_same


@pytest.mark.parametrize("name", ANYWHERE)
def test_a_line_in_a_form_is_mended_where_it_is_drawn(name: str) -> None:
    fault = FAULTS[name]
    ground, _, line = fault.content.partition("f\n")
    spaces = " ".join(
        f"/{k} [/Separation /{v.replace(' ', '#20')} /DeviceCMYK 21 0 R]" for k, v in fault.inks.items()
    )
    body = line.encode()
    form = (
        f"<< /Type /XObject /Subtype /Form /BBox [0 0 200 200] /Resources << /ColorSpace << {spaces} >> "
        f"/ExtGState << /Over << /OP true /op true /OPM 1 >> >> >> /Length {len(body)} >>\nstream\n"
    ).encode() + body + b"\nendstream"
    tint = b"<< /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [0 1 0 0] /N 1 >>"
    data = write(Drawing(
        ground + "f\n/F Do\n", inks=dict(fault.inks), objects=(form, tint),
        extra_resources="/XObject << /F 20 0 R >>",
    ))
    done = mend(read_bytes(data), step(name, **fault.settings), HOUSE)
    assert fault.facets <= done.difference.facets <= fault.facets | fault.may | {Facet.FILE}
    assert done.difference.plates_same


# -- each by itself --------------------------------------------------------------------------------


def test_a_rename_moves_nothing(pdf: Pdf) -> None:
    artwork = read(pdf(GROUND + KISS, inks={"K": "Kis Cut"}))
    done = mend(artwork, step("rename", ink="Kis Cut", to="Kiss Cut"), HOUSE)
    assert "Kiss Cut" in done.artwork.pages[0].ink_names and "Kis Cut" not in done.artwork.pages[0].ink_names
    assert done.difference.lines_moved_mm < 1e-9 and "1 line" in done.said


def test_several_names_for_one_role_are_all_renamed_without_asking(pdf: Pdf) -> None:
    content = GROUND + KISS + line_in(circle(50, 50, 30), "A") + line_in(circle(50, 50, 20), "B")
    artwork = read(pdf(content, inks={"K": "Kiss Cut", "A": "Kiss-Cut", "B": "kiss cut"}))
    (same,) = [f for f in check(artwork).findings if f.id == "ink.same-role"]
    assert {s["ink"] for s in offers(same)} == {"Kiss-Cut", "kiss cut"}
    done = apply_all(artwork, offered(check(artwork)), HOUSE)
    assert done[-1].artwork.pages[0].ink_names.count("Kiss Cut") == 1
    assert "ink.same-role" not in {f.id for f in check(done[-1].artwork).findings}


def test_a_name_that_could_be_two_is_left_to_a_person(pdf: Pdf) -> None:
    report = check(read(pdf(GROUND + KISS, inks={"K": "Cutline"})))
    (near,) = [f for f in report.findings if f.id == "ink.near-name"]
    assert {s["to"] for s in offers(near)} == {"Kiss Cut", "Through Cut"}
    assert not [s for s in offered(report) if s.mend == "rename"]


def test_a_shape_that_is_art_and_line_at_once_keeps_its_art(pdf: Pdf) -> None:
    content = f"1 0 0 0 k /K CS 0.5 SCN 1 w {circle(50, 50, 40)} B"
    artwork = read(pdf(content))
    (line,) = line_objects(artwork, artwork.pages[0], HOUSE)
    assert line.strokes and not line.fills and not line.takes_all
    done = apply_all(artwork, [step("full-tint"), step("hairline", role="kiss-cut")], HOUSE)[-1]
    (after,) = line_objects(done.artwork, done.artwork.pages[0], HOUSE)
    assert after.strokes and not after.fills
    assert after.tint == 1 and after.width_mm == pytest.approx(0.0882, abs=1e-3)
    assert done.difference.plates_same and done.difference.facets == {Facet.PAINT}


def test_leftovers_are_dropped_below_the_area_that_was_said(pdf: Pdf) -> None:
    data = write(Drawing(TRACED, inks=SPOTS))
    done = mend(read_bytes(data), step("drop-leftovers", role="kiss-cut", below_mm2=10), HOUSE)
    assert done.said.startswith("Takes 3 contours smaller than 10 mm² and 1 open bit out of the kiss cut")
    assert "the largest of 6.00 mm²" in done.said
    assert kiss_areas(done.artwork.data) == pytest.approx([3.1416 * 1600], rel=1e-3)
    with pytest.raises(NothingToDo):
        mend(read_bytes(write(Drawing(GROUND + KISS + line_in("40 40 4 4 re"), inks=SPOTS))),
             step("drop-leftovers", role="kiss-cut", below_mm2=15), HOUSE)


def test_leftovers_of_another_role_and_expanded_strokes_stay(pdf: Pdf) -> None:
    ring = f"{circle(50, 50, 2)} {circle(50, 50, 1.8)}"
    content = TRACED + line_in("33 55 2 2 re", "T") + line_in(ring, "P")
    artwork = read(pdf(content, inks=SPOTS))
    done = mend(artwork, step("drop-leftovers", role="kiss-cut"), HOUSE)
    assert done.difference.after == {"kiss-cut": 1, "through-cut": 1, "perforation": 2}
    with pytest.raises(NothingToDo):
        mend(artwork, step("drop-leftovers", role="perforation"), HOUSE)


def test_leftovers_are_offered_but_never_dropped_without_a_person(pdf: Pdf) -> None:
    report = check(read(pdf(TRACED, inks=SPOTS)))
    (left,) = [f for f in report.findings if f.id == "line.leftover"]
    assert [s.mend for s in offers(left)] == ["drop-leftovers", "drop-inner"]
    assert "drop-leftovers" not in {s.mend for s in offered(report)}


def test_a_check_after_leftovers_were_dropped_carries_over_what_a_new_one_finds() -> None:
    before = read_bytes(write(Drawing(TRACED, inks=SPOTS)))
    terms = CheckInputs(Order(), HOUSE, CheckSheet())
    after = mend(before, step("drop-leftovers", role="kiss-cut"), HOUSE).artwork
    first = check_whole(before, terms).report
    again = check_whole(after, terms, before=first, touched=changed(before, after, HOUSE)).report
    assert [f.key for f in again.findings] == [f.key for f in check_whole(after, terms).report.findings]
    assert len(again.carried) > 15


# -- what differs ----------------------------------------------------------------------------------


def both(one: str, other: str, **options: object) -> frozenset[Facet]:
    before, after = (read_bytes(write(Drawing(c, inks=SPOTS, **options))) for c in (one, other))  # type: ignore[arg-type]
    return touched(before, after, HOUSE)


def test_what_differs_is_told_by_facet() -> None:
    small = line_in(circle(50, 50, 9))
    assert both(GROUND + KISS, GROUND + KISS) == set()
    assert both(GROUND + KISS, GROUND + KISS + small) == {Facet.GEOMETRY}
    assert both(GROUND + KISS + small, GROUND + KISS) == {Facet.GEOMETRY}
    assert both(GROUND + KISS, GROUND + KISS.replace("0.05 w", "0.5 w")) == {Facet.PAINT}
    assert both(GROUND + KISS, GROUND + KISS.replace("/K ", "/T ")) == {Facet.NAMES}
    assert both(GROUND + KISS, GROUND.replace("1 0 0", "0 1 0") + KISS) == {Facet.ART, Facet.NAMES}
    assert both(KISS, GROUND + KISS) >= {Facet.ART}


def test_two_lines_that_change_their_paint_with_each_other_do_not_go_unseen() -> None:
    thick, thin = (lambda path, w=w: line_in(path, width=w) for w in (0.5, 0.05))
    a, b = circle(50, 50, 40), circle(50, 50, 30)
    assert both(thick(a) + thin(b), thin(a) + thick(b)) == {Facet.PAINT}


def test_a_colour_that_is_set_and_not_used_is_no_difference_in_the_art() -> None:
    used = f"0 0 1 0 K {GROUND}"
    assert Facet.ART not in both(used + KISS, GROUND + KISS)


def test_the_difference_of_two_files_is_told_in_figures() -> None:
    before, after = (read_bytes(write(Drawing(GROUND + line_in(circle(50, 50, r))))) for r in (40, 39))
    found = compare(before, after, HOUSE)
    assert found.lines_moved_mm == pytest.approx(1, abs=0.01) and found.plates_same
    assert found.length_before_mm - found.length_after_mm == pytest.approx(2 * 3.14159, rel=1e-3)
    assert found.to_json()["facets"] == ["geometry"]
    assert compare(before, replace(before), HOUSE).facets == set()
