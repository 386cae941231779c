"""A mend that would bring a new stop: what only came into sight is said, what answers it is offered with it."""

import pytest

from horismos.artwork import read_bytes
from horismos.checking import Report, check_whole
from horismos.errors import BringsStop, CannotWrite
from horismos.mending import step
from horismos.orders import Edge, Order
from horismos.roles import LineRole
from horismos.workflow.case import Case
from horismos.workflow.mend import _at_once, _one_by_one, mend, mend_all
from tests.breadth import breadth
from tests.shapes import Drawing, circle, line_in, write

GROUND = f"1 0 0 0 k {circle(50, 50, 41)} f\n"


def case_of(content: str, order: Order | None = None, **inks: str) -> Case:
    return Case(artwork=read_bytes(write(Drawing(content, inks=inks))), order=order or Order())


def report_of(case: Case) -> Report:
    return check_whole(case.artwork, case.terms).report


def stops(case: Case) -> set[str]:
    return {f.id for f in report_of(case).findings if f.severity == "stop"}


def test_a_line_that_is_named_shows_too_little_bleed_which_was_there_before_and_is_said() -> None:
    order = Order(roles=(LineRole.KISS_CUT,), edge=Edge.BLEED)
    case = case_of(GROUND + line_in(circle(50, 50, 40)), order, K="Kis Cut")
    after, _done = mend(case, step("rename", ink="Kis Cut", to="Kiss Cut"))
    assert "ink.near-name" not in stops(after) and "edge.bleed" in stops(after)


@breadth(0.12, "long ones")
def test_a_new_stop_names_what_answers_it_and_both_are_done_as_one() -> None:
    """Drawn in white, an object that lies over colour knocks this out: the overprint answers that."""
    order = Order(roles=(LineRole.KISS_CUT,), white=True)
    content = GROUND + "/W cs 1 scn 30 30 40 40 re f\n" + "0 1 0 0 k 40 40 15 15 re f\n" + line_in(circle(50, 50, 40))
    case = case_of(content, order, K="Kiss Cut", W="Chalk")
    before = report_of(case)
    to_white = step("recolour", ink="Chalk", to="White")
    with pytest.raises(BringsStop, match="new stop") as refused:
        mend(case, to_white, report=before)
    assert refused.value.then, "there is a way on"
    then = [step(str(one.pop("mend")), **one) for one in map(dict, refused.value.then)]
    after, done = mend(case, to_white, report=before, then=then)
    assert stops(after) <= {f.id for f in before.findings if f.severity == "stop"}
    assert done.said.count(".") >= 2


@breadth(0.12, "long ones")
def test_a_course_sets_aside_what_would_bring_a_stop_without_doing_more_than_was_asked() -> None:
    content = GROUND + "/W cs 1 scn 30 30 40 40 re f\n" + "0 1 0 0 k 40 40 15 15 re f\n" + line_in(circle(50, 50, 40))
    case = case_of(content, Order(white=True), K="Kiss Cut", W="Chalk")
    course = mend_all(case, [step("recolour", ink="Chalk", to="White")])
    assert not course.done and "new stop" in course.refused[0][1]
    assert issubclass(BringsStop, CannotWrite)


SLOPPY = (
    GROUND + line_in(circle(50, 50, 40), width=0.6) + line_in(circle(50, 50, 40), width=0.6)
    + line_in(circle(50, 50, 20), width=0.6)
)


@breadth(0.12, "long ones")
def test_steps_with_one_check_at_the_end_come_to_what_they_come_to_with_a_check_each() -> None:
    case = case_of(SLOPPY, K="Kis Cut")
    steps = [
        step("rename", ink="Kis Cut", to="Kiss Cut"), step("drop-doubled"), step("hairline"),
        step("close-line"),
    ]
    report = report_of(case)
    once = _at_once(case, steps, report, report, lambda share, what: None)
    each = _one_by_one(case, steps, report, report, lambda share, what: None)
    assert once is not None and [one.step.mend for one in once.done] == ["rename", "drop-doubled", "hairline"]
    assert [one.said for one in once.done] == [one.said for one in each.done]
    assert once.skipped == each.skipped and [one.mend for one, _ in once.skipped] == ["close-line"]
    assert {(f.id, f.measured) for f in once.after.findings} == {(f.id, f.measured) for f in each.after.findings}
    assert once.checked is not None and once.checked.report is once.after


@breadth(0.12, "long ones")
def test_where_one_of_several_steps_brings_a_stop_only_that_one_is_set_aside() -> None:
    content = GROUND + "/W cs 1 scn 30 30 40 40 re f\n" + "0 1 0 0 k 40 40 15 15 re f\n"
    content += line_in(circle(50, 50, 40), width=0.6)
    case = case_of(content, Order(white=True), K="Kiss Cut", W="Chalk")
    bad = step("recolour", ink="Chalk", to="White")
    course = mend_all(case, [bad, step("hairline")])
    assert [one.step.mend for one in course.done] == ["hairline"]
    assert [one for one, _ in course.refused] == [bad] and course.checked is None
