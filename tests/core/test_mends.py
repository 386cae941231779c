"""A mend does what it said and nothing else."""

from collections.abc import Callable
from pathlib import Path

import pytest

from horismos.artwork import line_objects, read
from horismos.checking import check
from horismos.destinations import HOUSE
from horismos.errors import HorismosError
from horismos.mending import apply_all, mend, offered
from horismos.roles import LineRole
from horismos.steps import Step, StepKind
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f\n"
FORM = GROUND + "/K CS 0.6 SCN 0.4 w 20 20 m 80 20 l 80 80 l 20 80 l 20 20.4 l S " + line_in(
    circle(50, 50, 10), "T", 0.5, "B", 1
)


def test_all_offered_mends_leave_a_clean_file_and_the_art_alone(pdf: Pdf) -> None:
    path = pdf(FORM, inks={"K": "kiss_cut", "T": "Thru Cut"})
    original = path.read_bytes()
    artwork = read(path)
    done = apply_all(artwork, offered(check(artwork)), HOUSE)
    assert [f.id for f in check(done[-1].artwork).findings if f.id != "edge.bleed"] == []
    assert all(m.proof.art_difference == 0 for m in done)
    assert max(m.proof.lines_moved_mm for m in done) < 0.4
    assert path.read_bytes() == original


def test_a_rename_moves_nothing(pdf: Pdf) -> None:
    artwork = read(pdf(GROUND + line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"}))
    step = Step(StepKind.RENAME, ink="Kis Cut", to="Kiss Cut")
    done = mend(artwork, step, HOUSE)
    assert "Kiss Cut" in done.artwork.pages[0].ink_names and "Kis Cut" not in done.artwork.pages[0].ink_names
    assert done.proof.lines_moved_mm < 1e-6 and "1 line" in done.said


def test_a_shape_that_is_art_and_line_at_once_keeps_its_art(pdf: Pdf) -> None:
    content = f"1 0 0 0 k /K CS 0.5 SCN 1 w {circle(50, 50, 40)} B"
    artwork = read(pdf(content))
    (line,) = line_objects(artwork, artwork.pages[0], HOUSE)
    assert line.strokes and not line.fills and not line.takes_all
    done = mend(artwork, Step(StepKind.HAIRLINE, LineRole.KISS_CUT), HOUSE)
    (after,) = line_objects(done.artwork, done.artwork.pages[0], HOUSE)
    assert after.takes_all and after.tint == 1 and after.width_mm == pytest.approx(0.0882, abs=1e-3)
    assert done.proof.art_difference == 0


def test_what_needs_no_mend_is_refused(pdf: Pdf) -> None:
    artwork = read(pdf(GROUND + line_in(circle(50, 50, 40))))
    for kind in (StepKind.HAIRLINE, StepKind.CLOSE, StepKind.OVERPRINT):
        with pytest.raises(HorismosError, match="already"):
            mend(artwork, Step(kind, LineRole.KISS_CUT), HOUSE)
