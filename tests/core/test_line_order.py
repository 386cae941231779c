"""Kiss cuts and through cuts that contradict each other, and those that do not."""

from horismos.artwork import read_bytes
from horismos.checking import check
from tests.pairs import SPOTS
from tests.shapes import Drawing, circle, line_in, write


def _orders(*cuts: str) -> list[str]:
    """What ``line.order`` says of cuts drawn on a page of 140 × 80 mm."""
    data = write(Drawing("".join(cuts), size=(140, 80), inks=SPOTS, trim=(5, 5, 135, 75), bleed=None))
    return [f.message for f in check(read_bytes(data)).findings if f.id == "line.order"]


def _rect(inset: float, ink: str) -> str:
    """A rectangle inside 120 × 60 mm by so much."""
    return line_in(f"{10 + inset} {10 + inset} {120 - 2 * inset} {60 - 2 * inset} re", ink)


def test_a_through_cut_that_takes_most_of_a_kiss_piece_is_no_hole_in_it() -> None:
    (said,) = _orders(_rect(0, "K"), _rect(4, "T"))
    assert "1 kiss-cut contour lies outside the cut that goes through" in said


def test_a_hole_is_the_smaller_part_of_its_piece() -> None:
    # 120 × 60 mm with a hole of 40 % of it, then of 60 %.
    side = 120 * 0.4**0.5, 60 * 0.4**0.5
    assert not _orders(_rect(0, "K"), line_in(f"20 20 {side[0]} {side[1]} re", "T"))
    side = 120 * 0.6**0.5, 60 * 0.6**0.5
    assert _orders(_rect(0, "K"), line_in(f"12 12 {side[0]} {side[1]} re", "T"))


def test_holes_of_one_piece_count_together() -> None:
    left, right = (line_in(f"{x} 12 56 56 re", "T") for x in (12, 72))
    assert not _orders(_rect(0, "K"), left)
    assert _orders(_rect(0, "K"), left, right)


def test_a_kiss_piece_with_a_hole_inside_its_through_cut_is_in_order() -> None:
    assert not _orders(_rect(4, "K"), _rect(0, "T"), line_in(circle(70, 40, 8), "T"))


def test_between_a_cut_in_the_film_and_one_in_the_liner_is_no_strip() -> None:
    """A back cut 1.27 mm outside its kiss cut [practice]; two cuts through the film that near are crowded."""
    kiss = line_in(circle(50, 50, 30))
    for ink, crowded in (("Back Cut", False), ("Through Cut", True)):
        drawn = Drawing(f"1 0 0 0 k {circle(50, 50, 40)} f {kiss}" + line_in(circle(50, 50, 31.27), "B"),
                        inks={"K": "Kiss Cut", "B": ink})
        assert ("line.crowded" in {f.id for f in check(read_bytes(write(drawn))).findings}) is crowded
