"""The Shelf as a value: kinds that read what they write, files that are taken whole or refused, names of files."""

import copy
import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from horismos.errors import BadValue, HorismosError
from horismos.intake.file_names import NamePattern
from horismos.machines import Cutter, Rip
from horismos.materials import MATERIALS
from horismos.reporting.letter import sample_letter
from horismos.reporting.letter_texts import LetterTexts
from horismos.shelf import (
    Choice,
    Kind,
    Shelf,
    Standing,
    compared,
    examples,
    kind_of,
    merged,
    read_document,
    registered,
    write_document,
)
from horismos.shelf.differences import differences
from tests.breadth import breadth
from tests.core.shop_of import a_shop
from tests.core.test_schemas import ODD, paths

WHOLE = read_document(json.dumps(a_shop()).encode())


def test_every_kind_has_something_in_the_made_up_shop_and_reads_what_it_writes() -> None:
    assert {item.kind for item in WHOLE.shelf.values()} == set(Kind)
    for item in WHOLE.shelf.values():
        kind = kind_of(item.kind)
        assert kind.item(item.id, item.title, item.data) == item, "what was read once stays as it is"
        kind.check(item, WHOLE.shelf)


def test_what_a_new_thing_begins_with_can_be_one_once_it_says_what_it_needs() -> None:
    needs = {
        Kind.DESTINATION: {"printer": "rip", "cutter": "cutter"}, Kind.HOLDER: {"cutter": "cutter"},
        Kind.TOOL: {"destination": "house", "material": "film-610", "role": "crease"},
    }
    for kind in registered().values():
        item = kind.item("new-one", "A new one", {**kind.begins, **needs.get(kind.kind, {})})
        if kind.kind is not Kind.CHECK_SHEET:  # of the shop there is one already
            kind.check(item, WHOLE.shelf)


def test_a_file_is_the_same_bytes_after_it_was_read() -> None:
    first = write_document(WHOLE)
    assert write_document(read_document(first)) == first
    assert {one.standing for one in compared(WHOLE.shelf, read_document(first))} == {Standing.SAME}
    assert {one.standing for one in compared(Shelf(), WHOLE)} == {Standing.NEW}


@breadth(0.12, "long ones")
@settings(max_examples=150, deadline=None)
@given(st.data())
def test_a_file_that_somebody_has_changed_is_taken_whole_or_refused_by_name(data: st.DataObject) -> None:
    said = a_shop()
    path = data.draw(st.sampled_from([path for path in paths(said) if path]))
    at: Any = said
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = data.draw(st.sampled_from([*ODD, "film-1370", "house", "cutter", 12.5]))
    ours = examples()
    try:
        theirs = read_document(json.dumps(said).encode(), "shop.json")
        found = compared(ours, theirs)
        choices = {one.item.id: data.draw(st.sampled_from(Choice)) for one in found if one.standing is Standing.CHANGED}
        shelf, put = merged(ours, theirs, choices)
    except HorismosError as error:
        assert str(error).strip()
        return
    assert {item.id for item in put} <= set(shelf)
    for item in shelf.values():  # whatever came holds together with what was there
        kind_of(item.kind).value(item, shelf)


def test_with_both_what_comes_along_means_the_one_that_came() -> None:
    said = a_shop()
    said["things"] = [one for one in said["things"] if one["kind"] != "tool"]
    theirs = read_document(json.dumps(said).encode())
    cutter = kind_of(Kind.CUTTER).item("cutter", "Cutter", {**theirs.shelf["cutter"].data, "holders": 4})
    ours = Shelf([*examples().values()]).with_item(cutter)
    shelf, _ = merged(ours, theirs, {"cutter": Choice.BOTH})
    assert shelf["cutter"].data["holders"] == 4 and shelf["cutter-2"].data["holders"] == 2
    assert shelf["blade-a"].data["cutter"] == "cutter-2", "the holder of the file is in the cutter of the file"


def test_what_differs_is_said_with_units_and_no_more_than_that() -> None:
    film = WHOLE.shelf["film-1370"]
    data = copy.deepcopy(dict(film.data))
    data["strata"][0]["thickness_um"], data["price_m2"] = 80.0, 6.5
    changed = kind_of(Kind.MATERIAL).item(film.id, film.title, data)
    told = [(one.where, one.before, one.after) for one in differences(film, changed)]
    assert told == [("strata › 1 › thickness", "90 µm", "80 µm"), ("price", "", "6.5 a m²")]
    assert differences(film, film) == ()


# -- machines --------------------------------------------------------------------------------------------------------


def test_media_has_to_go_through_both_machines_and_marks_are_found_as_exactly_as_both_are() -> None:
    both = Cutter(width_mm=1600.0, spread_mm=0.3).beside(Rip(width_mm=1400.0, spread_mm=0.4))
    assert (both.width_mm, round(both.spread_mm, 9)) == (1400.0, 0.5)
    assert Cutter().beside(Rip()).width_mm is None
    cutter = Cutter(least_gf=20, most_gf=400)
    assert [cutter.gives(force) for force in (19.9, 20, 400, 400.1, None)] == [False, True, True, False, True]


# -- names of files --------------------------------------------------------------------------------------------------

TITLES = {id: one.title for id, one in MATERIALS.items()}


@pytest.mark.parametrize(("pattern", "name", "said"), [
    ("{title}", "Seal.v2.pdf", {}),
    ("{customer}_{title}_{width_mm}x{height_mm}_{copies}x_{material}", "Dune_Seal_40x25.5_12X_film-610.pdf",
     {"width_mm": 40.0, "height_mm": 25.5, "quantity": 12, "material": "film-610"}),
    ("{title} {material}", "Seal White film, roll 610 mm.png", {"material": "film-610"}),
    ("{title}_{roles}", "Seal_kiss-cut+through-cut.pdf", {"roles": ["kiss-cut", "through-cut"]}),
    ("{title}_{white}", "Seal_Yes.pdf", {"white": True}),
    ("{title}_{width_mm}", "Seal_0.pdf", None), ("{title}_{material}", "Seal_slate.pdf", None),
    ("{title}_{copies}x", "Seal.pdf", None), ("{title}_{copies}x", "Seal_2.5x.pdf", None),
])
def test_a_pattern_reads_what_a_name_says_and_nothing_that_cannot_be(
    pattern: str, name: str, said: dict[str, Any] | None
) -> None:
    read = NamePattern(pattern).read(name, TITLES)
    assert (None if read is None else dict(read.order)) == said
    assert read is None or read.title.startswith("Seal")


@pytest.mark.parametrize(
    "pattern", ["", "seal", "{titel}", "{title", "title}", "{title}_{title}", "{copies}{quantity}"],
)
def test_a_pattern_that_cannot_be_meant_is_refused(pattern: str) -> None:
    with pytest.raises(BadValue):
        NamePattern(pattern)


# -- letters ---------------------------------------------------------------------------------------------------------


def test_a_letter_has_the_shops_own_words_where_it_has_such() -> None:
    own = LetterTexts.from_json({"texts": {"greeting": "Good day {customer},", "unsure": ""}, "checks": {
        "edge.bleed": {"title": "Bleed", "wrong": "It ends {measured} outside; {limit} are needed.", "change": ""},
    }})
    letter = sample_letter(own, "Harbour Print").text()
    assert "Good day Saltmarsh Trust," in letter and "It ends 1.2 mm outside; 3 mm are needed." in letter
    (names,) = [item for item in sample_letter(own, "Harbour Print").items if item.names]
    assert names.shown == ("Is: Kis·Cut   Should be: Kiss·Cut",)
    assert "Is: Kis Cut   Should be: Kiss Cut" in letter and letter.rstrip().endswith("Harbour Print")
    assert LetterTexts.from_json(own.to_json()) == own and "unsure" not in own.to_json()["texts"]
    assert LetterTexts.from_json({"texts": {"greeting": "Dear {customer},"}}) == LetterTexts(), "as it ships is no own"


@pytest.mark.parametrize("text", ["{name}", "{customer", "{customer!r}", "{customer:>9}", "{}", "a\x07b", "x" * 2001])
def test_words_that_cannot_be_filled_in_are_refused(text: str) -> None:
    with pytest.raises(BadValue):
        LetterTexts.from_json({"texts": {"greeting": text}})
