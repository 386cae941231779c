"""The command that makes lines: how it ends, what it says, and that nothing is written where it cannot."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from horismos.artwork import line_objects, read
from horismos.cli import main
from horismos.roles import LineRole
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

Said = pytest.CaptureFixture[str]
Lines = Callable[..., int]
OK, NOTHING = 0, 2
TWO_DISCS = f"1 0 0 0 k {circle(30, 50, 15)} f {circle(70, 50, 3)} f "
KISS = {"role": "kiss-cut"}


@pytest.fixture()
def lines(tmp_path: Path) -> Lines:
    def run(content: str, make: Any, out: str = "out.pdf", *more: str) -> int:
        art, wanted = tmp_path / "art.pdf", tmp_path / "make.json"
        art.write_bytes(write(Drawing(content, trim=None, bleed=None)))
        wanted.write_text(make if isinstance(make, str) else json.dumps(make))
        return main(["lines", str(art), "--make", str(wanted), "--out", str(tmp_path / out), *more])

    return run


def test_what_was_made_is_told_in_words_and_as_json(lines: Lines, capsys: Said) -> None:
    wanted = {"lines": [{**KISS, "offset_mm": 1}, {"role": "perforation", "offset_mm": 3}]}
    assert lines(TWO_DISCS, wanted) == OK
    told = capsys.readouterr()
    assert "kiss-cut" in told.out and "ties" in told.out and "from what was meant" in told.out and not told.err
    assert lines(TWO_DISCS, wanted, "out.pdf", "--json") == OK
    said = json.loads(capsys.readouterr().out)
    assert set(said) >= {"source", "why", "lines", "deviation_mm", "findings"}
    assert [line["role"] for line in said["lines"]] == ["kiss-cut"] * 2 + ["perforation"] * 2
    assert all(set(line) >= {"role", "closed", "nodes", "length_mm", "area_mm2", "svg", "cuts", "ties"}
               for line in said["lines"])
    assert all(bool(line["cuts"]) is (line["role"] == "perforation") for line in said["lines"])


def test_where_an_offset_swallows_a_piece_the_others_are_made_and_it_is_said(
    lines: Lines, capsys: Said, tmp_path: Path
) -> None:
    assert lines(TWO_DISCS, {"lines": [{**KISS, "offset_mm": -4}]}) == OK
    assert "1 piece vanished under the kiss cut of -4 mm." in capsys.readouterr().err
    artwork = read(tmp_path / "out.pdf")
    assert len(line_objects(artwork, artwork.pages[0], HOUSE)) == 1


@pytest.mark.parametrize(("content", "make", "words"), [
    (TWO_DISCS, {"lines": [{**KISS, "offset_mm": -40}]}, "Nothing is left of any piece"),
    ("", {"lines": [KISS]}, "no art"),
    (line_in(circle(50, 50, 20)), {"lines": [KISS]}, "no art"),
    (TWO_DISCS, {"lines": [KISS], "colour": "red"}, "unknown key “colour”"),
    (TWO_DISCS, {"lines": [{**KISS, "offset": 2}]}, "unknown key “offset”"),
    (TWO_DISCS, {"lines": [{**KISS, "fit_mm": 0}]}, "fit_mm is 0"),
    (TWO_DISCS, {"lines": [{**KISS, "offset_mm": "two"}]}, "offset_mm must be a number"),
    (TWO_DISCS, [KISS], "not a JSON object"), (TWO_DISCS, "{", "make.json"),
    (TWO_DISCS, {"source": "shape", "lines": [KISS]}, "which shape"),
])
def test_where_nothing_can_be_made_nothing_is_written_and_it_is_said_why(
    lines: Lines, capsys: Said, tmp_path: Path, content: str, make: Any, words: str
) -> None:
    assert lines(content, make) == NOTHING
    said = capsys.readouterr()
    assert words in said.err and not said.out and "Traceback" not in said.err
    assert not (tmp_path / "out.pdf").exists()


@pytest.mark.parametrize(("out", "words"), [
    ("art.pdf", "never overwritten"), ("out.bmp", "Give one of .pdf, .svg, .dxf, .plt"), ("out", "no form"),
])
def test_the_outcome_has_a_name_of_its_own_and_a_form_that_is_known(
    lines: Lines, capsys: Said, tmp_path: Path, out: str, words: str
) -> None:
    assert lines(TWO_DISCS, {"lines": [KISS]}, out) == NOTHING
    assert words in capsys.readouterr().err
    assert not (tmp_path / "out").exists() and (tmp_path / "art.pdf").stat().st_size > 0


def test_lines_that_were_there_stay_unless_they_are_of_a_role_that_is_made(lines: Lines, tmp_path: Path) -> None:
    kiss = TWO_DISCS + line_in(circle(30, 50, 16))
    both = {LineRole.KISS_CUT: 1, LineRole.THROUGH_CUT: 2}
    for role, left in (("through-cut", both), ("kiss-cut", {LineRole.KISS_CUT: 2})):
        assert lines(kiss, {"lines": [{"role": role, "offset_mm": 3}]}) == OK
        artwork = read(tmp_path / "out.pdf")
        assert {n.role: len(n.contours) for n in line_objects(artwork, artwork.pages[0], HOUSE)} == left


def test_the_checks_of_the_lines_come_with_them(lines: Lines, capsys: Said, tmp_path: Path) -> None:
    order = tmp_path / "order.json"
    order.write_text(json.dumps({"roles": ["kiss-cut", "perforation"]}))
    assert lines(TWO_DISCS, {"lines": [KISS]}, "out.pdf", "--json", "--order", str(order)) == OK
    found = {finding["id"] for finding in json.loads(capsys.readouterr().out)["findings"]}
    assert "line.missing" in found
