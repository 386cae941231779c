"""Lines in disguise are named with what speaks for them, and nothing else is."""

from dataclasses import replace
from typing import Any

import pytest

from horismos.artwork import line_objects, lines_by_role, read_bytes
from horismos.artwork.model import Artwork
from horismos.checking import CheckInputs, CheckSheet, Finding, Report, check_whole
from horismos.intake import Answers, take_in
from horismos.mending import mend, offered, offers, step
from horismos.names import recognise, roles_in_words
from horismos.orders import Order
from horismos.roles import LineRole
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

ART = f"1 0 0 0 k {circle(50, 50, 38)} f 0 0 1 0 k 40 40 12 12 re f "
THIN = f"0 1 0 0 K 0.1 w {circle(50, 50, 40)} S "
WANTS = Order(roles=(LineRole.KISS_CUT,))


def report_of(artwork: Artwork, order: Order = WANTS, known: tuple[tuple[str, str], ...] = ()) -> Report:
    return check_whole(artwork, CheckInputs(order, HOUSE, CheckSheet(), known=known)).report


def finding(report: Report, check: str) -> Finding:
    (found,) = [f for f in report.findings if f.id == check]
    return found


@pytest.mark.parametrize(("name", "said"), [
    ("Stanze", "through-cut"), ("stanzkontur_2", "through-cut"), ("Mi-Chair", "kiss-cut"), ("medio corte", "kiss-cut"),
    ("Fustella esterna", "through-cut"), ("vinco", "crease"), ("Stansmes", "through-cut"), ("Bigning", "crease"),
    ("wykrojnik", "through-cut"), ("Výsek", "through-cut"), ("perforacja", "perforation"), ("Rückschnitt", "back-cut"),
])
def test_words_of_the_trade_are_understood_in_ten_languages(name: str, said: str) -> None:
    assert roles_in_words(name) == (LineRole(said),)


@pytest.mark.parametrize(
    "name", ["Outline", "Kontur", "Corte 3", "taglio", "Snijlijn", "Skärlinje", "linia cięcia", "řez"]
)
def test_a_word_that_says_a_cut_and_not_which_leaves_both(name: str) -> None:
    assert set(roles_in_words(name)) == {LineRole.KISS_CUT, LineRole.THROUGH_CUT}


@pytest.mark.parametrize("name", ["Harbour Blue", "Goldfolie", "Background", "Layer 1", "Logo", "Ebene 2", "Fond"])
def test_an_ordinary_name_says_nothing(name: str) -> None:
    assert roles_in_words(name) == ()


def test_a_hairline_in_an_ordinary_colour_round_the_art_is_named_for_the_line_that_is_missing() -> None:
    artwork = read_bytes(write(Drawing(ART + THIN, inks={})))
    missing = finding(report_of(artwork), "line.missing")
    (one,) = missing.candidates
    assert (one.by, one.value) == ("colour", (0.0, 1.0, 0.0, 0.0)) and one.sure > 0.7
    assert "the magenta (CMYK 0, 100, 0, 0 %)" in missing.message and "goes round the art" in missing.message
    (only,) = offers(missing)
    assert only.label == "Make the magenta (CMYK 0, 100, 0, 0 %) the kiss cut"
    done = mend(artwork, only, HOUSE)
    lines = lines_by_role(line_objects(done.artwork, done.artwork.pages[0], HOUSE))
    assert [len(line.contours) for line in lines[LineRole.KISS_CUT]] == [1]
    assert "line.missing" not in {f.id for f in report_of(done.artwork).findings}


@breadth(0.12, "long ones")
def test_a_hairline_on_the_edge_of_each_letter_goes_round_the_art_too() -> None:
    letters = "20 30 15 40 re 65 30 15 40 re "  # the middle of both lies between them
    on_edge = f"1 0 0 0.2 k {letters} f 0 1 0 0 K 0.1 w {letters} S "
    (one,) = finding(report_of(read_bytes(write(Drawing(on_edge, inks={})))), "line.missing").candidates
    assert one.value == (0.0, 1.0, 0.0, 0.0)
    beside = f"1 0 0 0.2 k {letters} f 0 1 0 0 K 0.1 w 20 30 15 40 re S "
    assert finding(report_of(read_bytes(write(Drawing(beside, inks={})))), "line.missing").candidates == ()


@breadth(0.12, "long ones")
@pytest.mark.parametrize("content", [
    ART + THIN + "0 1 0 0 k 45 45 4 4 re f ",  # the colour is used for art too
    ART + f"0 1 0 0 K 2 w {circle(50, 50, 40)} S ",  # wide enough to be seen
    ART + "0 1 0 0 K 0.1 w 10 10 m 90 90 l S ",  # does not close
    ART + f"0 1 0 0 K 0.1 w {circle(42, 42, 5)} S ",  # goes round nothing much
    ART + f"0 1 0 0 k 0 1 0 0 K 0.1 w {circle(50, 50, 40)} B ",  # fills
])
def test_what_may_as_well_be_art_is_not_named(content: str) -> None:
    missing = finding(report_of(read_bytes(write(Drawing(content, inks={})))), "line.missing")
    assert missing.candidates == () and all(s.mend == "make-lines" for s in offers(missing))


def test_an_unknown_ink_says_what_speaks_for_a_line_and_a_printing_one_does_not() -> None:
    content = ART + line_in(circle(50, 50, 40), "A") + "/B cs 1 scn 44 44 5 5 re f "
    report = report_of(read_bytes(write(Drawing(content, inks={"A": "Obrys", "B": "Pantoffel"}))))
    by_ink = {f.subject: f for f in report.findings if f.id == "ink.unknown"}
    assert by_ink["Pantoffel"].candidates == ()
    (one,) = by_ink["Obrys"].candidates
    assert one.sure == pytest.approx(1.0) and "“Obrys” is a word of the trade" in one.why
    roles = [s["role"] for s in offers(by_ink["Obrys"]) if s.mend == "assign-role"]
    assert set(roles) == {"kiss-cut", "through-cut"}
    again = Finding.from_json(by_ink["Obrys"].to_json())
    assert again.key == by_ink["Obrys"].key and offers(again) == offers(by_ink["Obrys"])


def test_the_surest_comes_first_and_a_layer_can_say_it() -> None:
    content = ART + f"/OC /L0 BDC 0 0 0 1 K 0.1 w {circle(50, 50, 40)} S EMC 0 1 1 0 K 0.2 w {circle(50, 50, 41)} S "
    artwork = read_bytes(write(Drawing(content, inks={}, layers=("Stanze",))))
    missing = finding(report_of(artwork, Order(roles=(LineRole.THROUGH_CUT,))), "line.missing")
    assert missing.candidates[0].by == "layer"
    assert missing.candidates[0].sure >= missing.candidates[-1].sure and "Or the red" in missing.detail
    done = mend(artwork, offers(missing)[0], HOUSE)
    assert done.difference.after == {"through-cut": 1}


@breadth(0.12, "long ones")
def test_what_a_person_has_said_before_needs_no_person_any_more() -> None:
    artwork = read_bytes(write(Drawing(ART + THIN, inks={})))
    assert offered(report_of(artwork)) == []
    known = (("colour:0 1 0 0", "kiss-cut"),)
    (only,) = offered(report_of(artwork, known=known))
    assert only == step("assign-role", role="kiss-cut", colour=[0, 1, 0, 0])
    other = replace(WANTS, roles=(LineRole.THROUGH_CUT,))
    assert finding(report_of(artwork, other, known), "line.missing").candidates == ()


def test_a_name_with_a_number_is_read_like_the_name_and_two_numbers_are_asked() -> None:
    found = recognise("Kiss Cut 2", HOUSE)
    assert found is not None and found.role is LineRole.KISS_CUT and found.number == "2" and found.sure == "certain"
    assert recognise("Gold 871", HOUSE) is None and recognise("2", HOUSE) is None
    one, two = line_in(circle(50, 50, 40)), line_in(circle(50, 50, 30), "A")
    single = report_of(read_bytes(write(Drawing(ART + one, inks={"K": "Kiss Cut 1"}))))
    assert [s.mend for s in offered(single)] == ["rename"]
    both = report_of(read_bytes(write(Drawing(ART + one + two, inks={"K": "Kiss Cut 1", "A": "Kiss Cut 2"}))))
    near = [f for f in both.findings if f.id == "ink.near-name"]
    assert len(near) == 2 and all("two tools of one role" in f.detail and f.asks for f in near)
    assert not [s for s in offered(both) if s.mend == "rename"] and offers(near[0])


# -- no line at all ----------------------------------------------------------------------------------------------------

RED = f"1 0 0 RG 0.2 w {circle(50, 50, 35)} S "
BLUE = f"0 0 1 RG 0.2 w {circle(50, 50, 40)} S "
SIGN = "0.2 0.5 0.1 0 k 30 30 40 40 re f 0.8 0 0 0 k 40 40 10 10 re f 0 0 0 1 k 60 60 10 20 re f "


def of(content: str, order: Order, **more: Any) -> Report:
    return report_of(read_bytes(write(Drawing(content, inks={}, **more))), order)


def lines_of(report: Report) -> dict[str, Finding]:
    return {f"{f.id} {f.subject}": f for f in report.findings if f.id in ("line.none", "line.missing")}


@breadth(0.12, "long ones")
def test_a_file_without_lines_and_an_order_without_cuts_asks_which_cut_or_print_only() -> None:
    (asked,) = lines_of(of(SIGN + RED, Order())).values()
    assert asked.severity == "look" and "Print only, or which cut?" in asked.message
    assert [step["role"] for step in offers(asked)] == [role.value for role in LineRole]
    assert not lines_of(of(SIGN + RED, Order(roles=()))), "print only"
    assert set(lines_of(of(SIGN + RED, Order(roles=(LineRole.KISS_CUT,))))) == {"line.missing kiss-cut"}


@pytest.mark.parametrize(("content", "layers", "value"), [
    (SIGN + "0 1 0 0 k 30 30 40 40 re f 60 60 10 20 re f ", (), (0.0, 1.0, 0.0, 0.0)),
    (SIGN + f"/OC /L0 BDC 0 0 0 1 K 2 w {circle(50, 50, 45)} S EMC ", ("Wykrojnik",), "Wykrojnik"),
])
def test_all_of_the_art_once_more_and_a_layer_that_says_cut_are_candidates(
    content: str, layers: tuple[str, ...], value: object
) -> None:
    (asked,) = lines_of(of(content, Order(), layers=layers)).values()
    assert value in [one.value for one in asked.candidates]


def test_art_on_a_ground_of_its_own_is_not_drawn_once_more() -> None:
    (asked,) = lines_of(of("0 1 0 0 k 20 20 60 60 re f 1 0 0 0 k 25 25 50 50 re f ", Order())).values()
    assert asked.candidates == ()


@breadth(0.12, "long ones")
def test_candidates_for_all_ordered_roles_are_named_at_once_and_the_rest_stays_offered() -> None:
    order = Order(roles=(LineRole.KISS_CUT, LineRole.PERFORATION))
    artwork = read_bytes(write(Drawing(SIGN + RED + BLUE, inks={})))
    found = lines_of(report_of(artwork, order))
    assert found["line.missing kiss-cut"].candidates[0].value == (1.0, 0.0, 0.0), "what lies inside is kissed"
    assert found["line.missing perforation"].candidates[0].value == (0.0, 0.0, 1.0)
    taken = mend(artwork, step("assign-role", role="kiss-cut", colour=(1.0, 0.0, 0.0)), HOUSE).artwork
    left = lines_of(report_of(taken, order))
    assert set(left) == {"line.missing perforation"}
    assert [one.value for one in left["line.missing perforation"].candidates] == [(0.0, 0.0, 1.0)]


def test_a_group_of_an_svg_that_says_cut_keeps_its_name_and_one_under_art_is_left_where_it_lies() -> None:
    named = '<g id="Schnitt"><circle cx="40" cy="30" r="22" fill="none" stroke="#e00"/></g>'
    disc = '<circle cx="40" cy="30" r="20" fill="#3a7"/>'
    for content, names in ((disc + named, ["Schnitt"]), (named + disc, [])):
        svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60">{content}</svg>'
        taken = take_in(svg.encode(), "a.svg", Answers(), Order(), HOUSE)
        assert [layer.name for layer in read_bytes(taken.pdf).layers] == names
