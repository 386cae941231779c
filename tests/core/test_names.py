"""Names are read tolerantly and never guessed."""

import pytest

from horismos.names import recognise, spelling
from horismos.roles import LineRole
from tests.known import HOUSE


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


def test_every_role_has_one_row_and_no_two_look_alike() -> None:
    from horismos.roles import CUT_ORDER, OUTERMOST_FIRST, ROLES, LineRole
    from tests.known import HOUSE, ISO

    assert set(ROLES) == set(LineRole) == set(CUT_ORDER)
    for column in ("words", "step", "order", "colour", "shape", "screen_cmyk"):
        values = [getattr(facts, column) for facts in ROLES.values()]
        assert len(set(values)) == len(values), column
    assert OUTERMOST_FIRST == (LineRole.THROUGH_CUT, LineRole.PERFORATION, LineRole.KISS_CUT)
    # The exact names stand in destinations of their own; these two are made of the table.
    assert HOUSE.names[LineRole.BACK_CUT] == "Back Cut" and ISO.names[LineRole.BACK_CUT] == "ReversePartialCutting"


def test_what_a_cut_goes_through_is_said_by_the_material_and_not_by_the_name_of_a_stratum() -> None:
    from horismos.cutting.section import depth_of
    from horismos.materials import Stratum
    from horismos.roles import LineRole, Part

    melt = Stratum("hot-melt", 40, Part.ADHESIVE)
    transfer = (Stratum("textile film", 80), melt, Stratum("PET sheet", 100, Part.CARRIER))
    depths = {role: depth_of(role, transfer) for role in LineRole}
    assert depths[LineRole.KISS_CUT] == (0, 120) and depths[LineRole.BACK_CUT] == (120, 220)
    assert depths[LineRole.THROUGH_CUT] == depths[LineRole.PERFORATION] == (0, 220)
    assert depths[LineRole.CREASE] == (0, 0)
    board = (Stratum("board", 3000),)
    assert depth_of(LineRole.BACK_CUT, board) == (0, 0), "nothing carries a board: there is nothing to part"
