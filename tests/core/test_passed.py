"""What a test cut has shown on the material goes before the model of how deep a blade goes."""

from dataclasses import replace

import pytest

from horismos.artwork import read_bytes
from horismos.cutting.depth import CutOutcome, outcome_of, reached_um, tools_for, wanted_um
from horismos.cutting.tools import tools_from_json
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.roles import LineRole
from horismos.simulation.cutter import as_brought
from horismos.stitching.stack import Stack
from horismos.workflow.case import Case
from horismos.workflow.stack import make_stack
from tests.shapes import Drawing, circle, line_in, write

FILM = MATERIALS["film-1370"]
KISS = tools_for(FILM)[LineRole.KISS_CUT]


@pytest.mark.parametrize("force", [40, 150, 400])
def test_a_setting_that_passed_goes_as_deep_as_was_seen(force: float) -> None:
    typed = replace(KISS, force_gf=force)
    assert outcome_of(typed, FILM.strata) is not CutOutcome.RIGHT
    passed = replace(typed, passed=True)
    assert outcome_of(passed, FILM.strata) is CutOutcome.RIGHT
    assert reached_um(passed, FILM.strata) >= wanted_um(LineRole.KISS_CUT, FILM.strata)
    assert as_brought(passed) == as_brought(typed), "the machine knows nothing of it"


def test_another_figure_has_not_passed() -> None:
    known = {LineRole.KISS_CUT: replace(KISS, force_gf=150, passed=True)}
    same = tools_from_json({"kiss-cut": {"force_gf": 150}}, "Tools", known)
    other = tools_from_json({"kiss-cut": {"force_gf": 160}}, "Tools", known)
    assert same[LineRole.KISS_CUT].passed and not other[LineRole.KISS_CUT].passed


def test_a_stack_does_not_warn_of_a_force_that_was_right() -> None:
    case = Case(artwork=read_bytes(write(Drawing(line_in(circle(50, 50, 20)), trim=None, bleed=None))), order=Order())

    def said(**more: object) -> list[str]:
        layers = [{"name": "top", "force_gf": 500, **more}, {"name": "base", "offset_mm": 3}]
        return [one for one in make_stack(case, Stack.from_json({"layers": layers})).said if "“top”" in one]

    assert "Lower the force" in said()[0] and not said(passed=True)
