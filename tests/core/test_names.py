"""Names are read tolerantly and never guessed."""

import pytest

from horismos.destinations import HOUSE
from horismos.names import recognise, spelling
from horismos.roles import LineRole


@pytest.mark.parametrize(
    "name",
    ["kiss cut", "Kiss-Cut", "KissCut", "CUT KISS", "Kis Cut", "Kiss Ctu", "K1ss Cut", "Kiss  Cut 2", "Half cut"],
)
def test_a_near_miss_is_recognised_and_not_exact(name: str) -> None:
    found = recognise(name, HOUSE)
    assert found is not None and found.role is LineRole.KISS_CUT and not found.exact


@pytest.mark.parametrize(
    ("name", "role"),
    [("thru-cutt", "through-cut"), ("Perf", "perforation"), ("Creese", "crease"), ("back_cut", "back-cut"),
     ("Perforatoin", "perforation"), ("Creasing", "crease"), ("die line", "through-cut")],
)
def test_other_roles_are_recognised(name: str, role: str) -> None:
    found = recognise(name, HOUSE)
    assert found is not None and found.role == role


@pytest.mark.parametrize("name", ["Harbour Blue", "Gold", "Kiss Pink", "Cutlass Red", "Perfect Green", "", "Creme"])
def test_a_printing_ink_is_no_line(name: str) -> None:
    assert recognise(name, HOUSE) is None


def test_two_equally_near_roles_are_asked_for() -> None:
    found = recognise("Cut", HOUSE)
    assert found is not None and found.role is None
    assert set(found.roles) == {LineRole.KISS_CUT, LineRole.THROUGH_CUT}


def test_letters_that_differ_are_told_apart() -> None:
    assert [(r.text, r.kind) for r in spelling("Kiss  Cut", "Kiss Cut") if r.kind != "same"] == [(" ", "extra")]
