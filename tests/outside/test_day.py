"""The played day against queueing theory, and what must hold of any day.

Source: A. K. Erlang, Solution of some Problems in the Theory of Probabilities of Significance in Automatic Telephone
Exchanges, 1917: the chance to wait before c places (Erlang C), and the mean wait that follows from it.
"""

from math import factorial

import pytest

from benchmarks.day import Day, measured_day, played, smallest
from tests.breadth import breadth


def erlang_c(places: int, load: float) -> float:
    """The chance to wait, with ``load`` places busy in the mean."""
    last = load**places / factorial(places) * places / (places - load)
    return last / (sum(load**k / factorial(k) for k in range(places)) + last)


@breadth(1.0)
@pytest.mark.parametrize(("places", "load"), [(1, 0.7), (3, 2.4), (8, 6.8)])
def test_the_wait_before_places_is_what_erlang_says(places: int, load: float) -> None:
    """Even arrivals, exponential times, nothing else: 30,000 files, three times."""
    files, hours = 30_000, [1.0] * 10
    mean = load * 36_000 / files
    day = Day(files, {"small": mean}, {}, 0.0, mix={"small": 1.0}, hours=hours, exponential=True)
    wanted = mean + erlang_c(places, load) * mean / (places - load)
    found = [played(day, places, seed).mean() for seed in range(3)]
    assert sum(found) / 3 == pytest.approx(wanted, rel=0.08)


def test_every_file_has_a_verdict_and_more_places_make_no_day_longer() -> None:
    day = measured_day(100)
    few, many = played(day, 1), played(day, 4)
    assert sum(map(len, few.waits.values())) == sum(map(len, many.waits.values())) == 100
    assert many.below() <= few.below() and many.busy < few.busy
    assert few.below(weight="small") >= min(few.waits["small"])


def test_a_large_file_holds_no_small_one_up() -> None:
    """Of two places one is free of large files, whatever comes."""
    day = Day(
        400, {"small": 1.0, "large": 300.0}, {}, 0.0, mix={"small": 0.9, "large": 0.1}, spread=0.1,
    )
    found = played(day, 2)
    assert found.below(0.95, "small") < 60
    assert found.below(0.95, "large") > 300


def test_the_fewest_places_are_enough_and_one_less_is_not() -> None:
    day = measured_day(1_000)
    places, found = smallest(day)
    assert found.below(weight="small") <= 60
    assert places == 1 or played(day, places - 1).below(weight="small") > 60


def test_where_the_server_gives_way_it_is_said() -> None:
    with pytest.raises(ValueError, match="server gives way"):
        smallest(Day(1_000, {"small": 1.0}, {}, 60.0, mix={"small": 1.0}))
