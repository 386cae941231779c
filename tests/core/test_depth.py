"""How deep a blade goes by force, age and strata; what a test cut shows; the settings that ship for a material."""

from dataclasses import replace

import pytest

from horismos.cutting import DEFAULT_TOOLS
from horismos.cutting.depth import CutOutcome, depth_um, outcome_of, reached_um, tools_for, wanted_um
from horismos.cutting.section import section
from horismos.materials import MATERIALS
from horismos.paths import contour_from_points, rectangle
from horismos.roles import LineRole

KISS, THROUGH, BACK = LineRole.KISS_CUT, LineRole.THROUGH_CUT, LineRole.BACK_CUT
FILM, FLOOR = MATERIALS["film-1370"], MATERIALS["floor-1370"]


@pytest.mark.parametrize("material", MATERIALS.values(), ids=MATERIALS)
def test_every_shipped_setting_is_right_for_its_material(material) -> None:  # type: ignore[no-untyped-def]
    for tool in tools_for(material).values():
        assert outcome_of(tool, material.strata) is CutOutcome.RIGHT


def test_shipped_forces_are_those_of_the_trade_on_a_plain_film() -> None:
    """Common practice, no source: kiss about 90 gf, through about 200 gf on a 100 µm film; 70 to 80 gf on paper; more
    where it is laminated."""
    assert tools_for(FILM)[KISS].force_gf == 90 and tools_for(FILM)[THROUGH].force_gf == 200
    assert tools_for(MATERIALS["paper-a3"])[KISS].force_gf == 80
    assert 130 <= (tools_for(FLOOR)[KISS].force_gf or 0) <= 250


def test_too_little_force_leaves_the_film_uncut_and_too_much_cuts_the_liner() -> None:
    kiss = tools_for(FILM)[KISS]
    found = [outcome_of(replace(kiss, force_gf=force), FILM.strata) for force in (60.0, 90.0, 130.0, 220.0)]
    assert found == [CutOutcome.SHALLOW, CutOutcome.RIGHT, CutOutcome.LINER, CutOutcome.THROUGH]
    assert outcome_of(kiss, FLOOR.strata) is CutOutcome.SHALLOW, "the film's setting on a laminated one"


def test_a_worn_blade_cuts_less_deep_unless_its_age_is_told() -> None:
    assert depth_um(90, FILM.strata, lost_gf=15) == 100.0
    kiss = replace(tools_for(FILM)[KISS], age_m=3000, wear_gf_km=5)
    assert kiss.sent_gf == 105 and reached_um(kiss, FILM.strata) == 120.0


def test_a_back_cut_goes_from_behind_through_the_liner_alone() -> None:
    assert wanted_um(BACK, FILM.strata) == 140
    assert outcome_of(replace(tools_for(FILM)[BACK], force_gf=90), FILM.strata) is CutOutcome.SHALLOW


def test_passes_go_deeper_and_what_is_left_to_the_machine_is_taken_as_right() -> None:
    half = replace(tools_for(FILM)[THROUGH], force_gf=150)
    assert outcome_of(half, FILM.strata) is CutOutcome.SHALLOW
    assert outcome_of(replace(half, passes=2), FILM.strata) is CutOutcome.RIGHT
    assert outcome_of(replace(half, force_gf=None), FILM.strata) is CutOutcome.RIGHT


def test_the_section_shows_the_depth_that_is_reached() -> None:
    lines = {KISS: [rectangle(0, 0, 10, 10)], BACK: [rectangle(2, -1, 8, 11)]}
    weak = {**tools_for(FILM), KISS: replace(DEFAULT_TOOLS[KISS], force_gf=45)}
    cut = section(FILM, lines, (-5.0, 5.0), (15.0, 5.0), weak)
    kiss, *_ = [c for c in cut.crossings if c.role is KISS]
    back, *_ = [c for c in cut.crossings if c.role is BACK]
    assert (kiss.top_um, kiss.bottom_um, kiss.outcome) == (0.0, 60.0, CutOutcome.SHALLOW)
    assert back.bottom_um == 255.0 and back.top_um <= 115.0 and back.outcome is CutOutcome.RIGHT
    meant = section(FILM, lines, (-5.0, 5.0), (15.0, 5.0))
    assert [c.bottom_um for c in meant.crossings if c.role is KISS] == [115.0, 115.0]


def test_a_perforation_on_a_kiss_cut_parts_only_what_that_has_left() -> None:
    line = contour_from_points([(50, -10), (50, 10)], closed=False)
    beside = contour_from_points([(80, -10), (80, 10)], closed=False)
    film = MATERIALS["film-1370"]
    lines = {LineRole.KISS_CUT: [line], LineRole.PERFORATION: [line, beside]}
    found = section(film, lines, (0, 0), (100, 0)).crossings
    tops = {(one.role, one.at_mm): one.top_um for one in found}
    assert tops[LineRole.PERFORATION, 50.0] == 115.0 and tops[LineRole.PERFORATION, 80.0] == 0.0
    assert tops[LineRole.KISS_CUT, 50.0] == 0.0
