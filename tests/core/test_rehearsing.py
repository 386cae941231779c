"""Marks seen against marks meant, loads that lie askew, and what comes of a package that is cut many times."""

import json
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from horismos.alignment import aligned, fit
from horismos.cli import main
from horismos.errors import BadValue
from horismos.misregistration import Misregistration
from horismos.simulation.loading import Spread, loaded
from horismos.workflow.rehearse import RehearsalCounts, rehearse
from tests.breadth import breadth
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
FOUR = np.array([[25.0, 100.0], [575.0, 100.0], [575.0, 500.0], [25.0, 500.0]])
SIX = np.array([[x, y] for y in (100.0, 600.0, 1100.0) for x in (25.0, 575.0)])
MIDDLE = np.array([300.0, 300.0])
NONE = {"shift_mm": 0.0, "turn_deg": 0.0, "stretch": 0.0, "skew_deg": 0.0, "reading_mm": 0.0, "local_mm": 0.0,
        "repeats_mm": 0.0}


# -- the fit ---------------------------------------------------------------------------------------


def test_four_marks_tell_move_turn_stretch_and_skew() -> None:
    lies = Misregistration(3.0, -2.0, 2.0, 0.3, -0.1, 0.1)
    found = fit(FOUR, lies.landed(FOUR, FOUR.mean(axis=0)))
    assert found.moved_mm == pytest.approx((3.0, -2.0)) and found.turn_deg == pytest.approx(2.0, abs=1e-6)
    assert found.stretch_x == pytest.approx(0.003, abs=1e-9) and found.stretch_y == pytest.approx(-0.001, abs=1e-9)
    assert found.skew_deg == pytest.approx(0.1, abs=1e-3) and found.worst_mm < 1e-9


def test_two_marks_tell_one_stretch_and_leave_the_skew() -> None:
    lies = Misregistration(skew=0.5)
    two = FOUR[[0, 2]]
    found = fit(two, lies.landed(two, MIDDLE))
    off = np.hypot(*(found.lands(FOUR) - lies.landed(FOUR, MIDDLE)).T)
    assert off[[0, 2]].max() < 1e-9 and off[[1, 3]].min() > 1.0
    same = fit(two, Misregistration(1, 1, 1.0, 0.2, 0.2).landed(two, MIDDLE))
    assert same.stretch_x == pytest.approx(0.002, abs=1e-9) == same.stretch_y


def test_three_rows_of_marks_tell_a_bend() -> None:
    lies = Misregistration(1.0, 0.5, 0.4, bend=2.0)
    middle = SIX.mean(axis=0)
    found = fit(SIX, lies.landed(SIX, middle))
    assert found.worst_mm < 1e-6 and found.bend_mm == pytest.approx(2.0 * 4 * 0.5**2, rel=0.01)
    assert fit(SIX, lies.landed(SIX, middle), straight=True).worst_mm > 0.5, "without the bend it is left over"


def test_a_residual_says_which_mark_was_read_wrongly() -> None:
    seen = FOUR.copy()
    seen[2, 0] += 0.8
    assert fit(FOUR, seen).residuals[2, 0] == pytest.approx(0.2, abs=1e-9)


def test_marks_on_one_line_tell_no_stretch_across_it() -> None:
    three = np.array([[25.0, 100.0], [25.0, 300.0], [25.0, 500.0]])
    assert fit(three, three + np.array([1.0, 0.0])).stretch_x == pytest.approx(0.0, abs=1e-9)


@pytest.mark.parametrize("marks", [FOUR[:1], np.zeros((2, 2))])
def test_one_mark_is_not_enough(marks: np.ndarray) -> None:
    with pytest.raises(BadValue):
        fit(marks, marks)


# -- loads -----------------------------------------------------------------------------------------


@breadth(0.12, "long ones")
@pytest.mark.parametrize("marks", [FOUR, SIX])
def test_after_alignment_the_cut_lands_on_the_print(marks: np.ndarray) -> None:
    """A thousand loads, to 3 degrees, 0.3 % and 0.1 degrees of skew: 95 of 100 within 0.1 mm where marks are read to
    0.02 mm."""
    random = np.random.default_rng(5)
    spread = Spread(3.0, 1.5, 0.0015, 0.05, 0.02, 0.0, 0.0)
    places = random.uniform(marks.min(axis=0), marks.max(axis=0), (60, 2))
    off = [
        np.hypot(*(load.cut_at(places) - places).T)
        for load in (loaded(marks, MIDDLE, spread, random) for _ in range(1000)) if not load.missed
    ]
    assert np.percentile(np.concatenate(off), 95) < 0.1


def test_a_sheet_that_lies_too_far_askew_is_not_cut() -> None:
    random = np.random.default_rng(1)
    missed = [loaded(FOUR, MIDDLE, Spread(turn_deg=20.0), random).missed for _ in range(200)]
    assert 20 < sum(map(bool, missed)) < 200 and all(0 not in one for one in missed), "the first is gone to by hand"


def test_rows_before_and_behind_count_for_a_place() -> None:
    seen = SIX.copy()
    seen[4:, 0] += 3.0
    near, far = aligned(SIX, seen, np.array([[300.0, 200.0], [300.0, 1100.0]]))
    assert near[0] == pytest.approx(300.0, abs=0.01) and far[0] == pytest.approx(303.0, abs=0.01)


# -- a package -------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def packages(tmp_path_factory: pytest.TempPathFactory) -> Callable[..., dict[str, bytes]]:
    from tests.shapes import Drawing, write

    made: dict[tuple[float, ...], dict[str, bytes]] = {}

    def released(art_mm: float, inner_mm: float = 0.0, **layout: object) -> dict[str, bytes]:
        key = (art_mm, inner_mm)
        if key not in made:
            folder = tmp_path_factory.mktemp("package")
            art = f"1 0 0 0 k {circle(50, 50, art_mm)} f "
            (folder / "a.pdf").write_bytes(write(Drawing(art + line_in(circle(50, 50, 30)))))
            edge = "bleed" if art_mm > 30 else "border"
            order = {"quantity": 8, "edge": edge, "border_mm": 0.3, "tolerance_mm": 0.2}
            order["bleed_mm"] = max(art_mm - 30.1, 0.1)
            (folder / "order.json").write_text(json.dumps(order))
            out = folder / "out"
            call = ["release", str(folder / "a.pdf"), "--order", str(folder / "order.json"), "--out", str(out)]
            assert main([*call, "--material", "film-610"]) == 0
            made[key] = {path.name: path.read_bytes() for path in out.iterdir()}
        return made[key]

    return released


def cut(files: dict[str, bytes], loads: int = 40, seed: int = 3, **given: float) -> RehearsalCounts:
    return rehearse(files, loads, seed, {**NONE, **given})


def test_what_lies_right_is_cut_right(packages: Callable[..., dict[str, bytes]]) -> None:
    outcome = cut(packages(33.0))
    assert (outcome.pieces, outcome.bare, outcome.trimmed, outcome.marks_missed) == (320, 0, 0, 0)
    assert outcome.worst_mm < 1e-6


def test_the_marks_take_shift_turn_stretch_and_skew_out(packages: Callable[..., dict[str, bytes]]) -> None:
    askew = cut(packages(33.0), shift_mm=10.0, turn_deg=1.0, stretch=0.003, skew_deg=0.1)
    assert askew.worst_mm < 0.005 and askew.marks_missed == 0


def test_bare_media_shows_where_the_bleed_is_too_small_for_the_reading(
    packages: Callable[..., dict[str, bytes]]
) -> None:
    wide, narrow = cut(packages(33.0), reading_mm=0.5), cut(packages(30.4), reading_mm=0.5)
    assert wide.bare == 0 and narrow.bare > 20 and narrow.trimmed == 0
    assert wide.p95_mm == pytest.approx(narrow.p95_mm, rel=0.1)


@breadth(0.12, "long ones")
def test_art_is_trimmed_where_a_border_is_wanted(packages: Callable[..., dict[str, bytes]]) -> None:
    outcome = cut(packages(29.6), reading_mm=0.5)
    assert outcome.trimmed > 20 and outcome.bare == 0
    assert cut(packages(27.0), reading_mm=0.5).trimmed == 0


def test_what_lies_between_the_marks_is_not_taken_out(packages: Callable[..., dict[str, bytes]]) -> None:
    assert cut(packages(33.0), local_mm=0.5).p95_mm > 0.3


def test_the_same_seed_gives_the_same_figures(packages: Callable[..., dict[str, bytes]]) -> None:
    files = packages(33.0)
    one, again, other = (rehearse(files, 20, seed) for seed in (1, 1, 2))
    assert one.to_json() == again.to_json() and one.worst_mm != other.worst_mm


def test_the_command_tells_the_outcome_and_refuses_what_is_no_package(
    packages: Callable[..., dict[str, bytes]], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    for name, data in packages(33.0).items():
        (tmp_path / name).write_bytes(data)
    assert main(["rehearse", str(tmp_path), "--loads", "12", "--seed", "4", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert list(told)[:8] == [
        "loads", "marks_missed", "pieces", "bare", "trimmed", "worst_mm", "p95_mm", "worst_load"
    ]
    assert told["loads"] == 12 and told["pieces"] == 96 and told["p95_mm"] < told["worst_mm"] < 1
    assert main(["rehearse", str(tmp_path), "--loads", "5"]) == 0
    assert "bare media shows" in capsys.readouterr().out
    assert main(["rehearse", str(tmp_path / "nowhere")]) == 2
    assert main(["rehearse", str(tmp_path), "--loads", "0"]) == 2
    (tmp_path / "empty").mkdir()
    assert main(["rehearse", str(tmp_path / "empty")]) == 2
