"""What was done with a customer's files before is offered where it answers what is found on another."""

from horismos.mending import Step, as_before, step

RGB = [step("to-cmyk")]
EDGE = [step("spread"), step("extend-bleed", distance_mm=2.0), step("pull-in", role="kiss-cut")]


def test_each_finding_gets_the_mend_that_was_done_before_with_what_a_customer_wants_alike() -> None:
    done = [step("extend-bleed", distance_mm=5.0, how="mirror"), step("to-cmyk", intent="perceptual")]
    assert as_before([RGB, EDGE], done) == (
        step("extend-bleed", distance_mm=2.0, how="mirror"), step("to-cmyk", intent="perceptual"),
    ), "the length is this file's; in the order in which mends are done"


def test_the_latest_counts_and_what_nobody_did_is_left_to_a_person() -> None:
    done = [step("pull-in", role="kiss-cut"), step("extend-bleed", distance_mm=5.0)]
    assert as_before([EDGE, RGB], done) == (step("pull-in", role="kiss-cut"),)
    assert as_before([EDGE], [step("pull-in", role="through-cut")]) == (), "it was done to other lines"
    assert as_before([EDGE, RGB], []) == ()


def test_one_mend_that_answers_two_findings_is_done_once() -> None:
    assert as_before([EDGE, EDGE], [step("spread")]) == (step("spread"),)


def test_of_several_of_a_sort_only_the_one_that_was_chosen_before_is_meant() -> None:
    def role(colour: tuple[float, ...], to: str = "kiss-cut") -> Step:
        return step("assign-role", role=to, colour=colour)

    red, blue = (0.0, 1.0, 1.0, 0.0), (1.0, 1.0, 0.0, 0.0)
    offered = [[role(red), role(blue), role(red, "through-cut")]]
    assert as_before(offered, [role(blue)]) == (role(blue),)
    assert as_before(offered, [role((0.0, 0.0, 0.0, 1.0))]) == ()
