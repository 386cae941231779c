"""The command line: every option, what it says of what it cannot do, and how it ends."""

import io
import json
from collections.abc import Callable
from pathlib import Path

import ezdxf
import numpy as np
import pikepdf
import pypdfium2
import pytest
from PIL import Image

from horismos.artwork import line_objects, read
from horismos.cli import main
from horismos.roles import LineRole
from tests.breadth import breadth
from tests.known import HOUSE, ISO
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
Said = pytest.CaptureFixture[str]
ART = f"1 0 0 0 k {circle(50, 50, 46)} f "
MISS = ART + line_in(circle(50, 50, 40), width=0.4)
OK, STOP, UNREADABLE = 0, 1, 2


def roles(path: Path, destination=HOUSE) -> set[LineRole]:  # type: ignore[no-untyped-def]
    artwork = read(path)
    return {line.role for line in line_objects(artwork, artwork.pages[0], destination) if line.role}


# -- what a file leaves open --------------------------------------------------------------------------


def test_a_picture_is_given_its_size_in_the_call(tmp_path: Path, capsys: Said) -> None:
    path = tmp_path / "photo.png"
    Image.fromarray(np.full((40, 60, 3), 120, np.uint8)).save(path)
    assert main(["inspect", str(path)]) == UNREADABLE
    assert "Say --width or --height." in capsys.readouterr().err
    for option, value in (("--width", "90"), ("--height", "60")):
        assert main(["inspect", str(path), option, value, "--json"]) == OK
        page = json.loads(capsys.readouterr().out)["pages"][0]
        assert page["size_mm"] == pytest.approx([90, 60], abs=1e-3)


def test_a_drawing_is_given_its_unit_and_what_each_layer_is(tmp_path: Path, capsys: Said) -> None:
    drawing = ezdxf.new(units=0)
    drawing.modelspace().add_circle((0, 0), 3, dxfattribs={"layer": "RIM"})
    drawing.modelspace().add_circle((0, 0), 2, dxfattribs={"layer": "NOTES"})
    out = io.StringIO()
    drawing.write(out)
    path = tmp_path / "plan.dxf"
    path.write_text(out.getvalue())
    assert main(["check", str(path)]) == UNREADABLE
    said = capsys.readouterr().err
    assert "--bind layer:RIM=ROLE" in said and "--unit" in said
    call = [str(path), "--unit", "cm", "--bind", "layer:RIM=through-cut", "--bind", "layer:NOTES=leave-out"]
    assert main(["inspect", *call, "--json"]) == OK
    (page,) = json.loads(capsys.readouterr().out)["pages"]
    assert [line["role"] for line in page["lines"]] == ["through-cut"]
    assert page["lines"][0]["length_mm"] == pytest.approx(3.14159 * 60, rel=1e-3)
    assert main(["inspect", *call[:3], "--bind", "layer:RIM=crimp"]) == UNREADABLE
    assert "crimp" in capsys.readouterr().err


def test_a_locked_file_opens_with_its_password_and_is_a_stop_without(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    path = tmp_path / "locked.pdf"
    with pikepdf.open(pdf(MISS)) as opened:
        opened.save(path, encryption=pikepdf.Encryption(owner="a", user="marram"))
    assert main(["check", str(path), "--json"]) == UNREADABLE
    told = capsys.readouterr()
    assert json.loads(told.out)["findings"][0]["id"] == "file.locked" and "password" in told.err
    assert main(["check", str(path), "--password", "marram", "--json"]) == OK
    assert "line.wide" in {f["id"] for f in json.loads(capsys.readouterr().out)["findings"]}


@pytest.mark.parametrize("command", ["inspect", "check", "mend", "release"])
def test_what_is_not_there_or_no_artwork_is_said_by_name(command: str, tmp_path: Path, capsys: Said) -> None:
    more = {"mend": ["--out", str(tmp_path / "o.pdf"), "--offered"], "release": ["--out", str(tmp_path / "o")]}
    if command == "release":
        order = tmp_path / "order.json"
        order.write_text("{}")
        more["release"] += ["--order", str(order)]
    for name, content in (("gone.pdf", None), ("letter.docx", b"PK\x03\x04 and so on"), ("empty.pdf", b"")):
        path = tmp_path / name
        if content is not None:
            path.write_bytes(content)
        assert main([command, str(path), *more.get(command, [])]) == UNREADABLE
        told = capsys.readouterr()
        assert told.out == "" and len(told.err) > 10 and "Traceback" not in told.err
    assert not (tmp_path / "o.pdf").exists() and not (tmp_path / "o").exists()


# -- check ------------------------------------------------------------------------------------------


def test_the_order_is_read_with_its_mistakes_named(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    path, order = pdf(MISS), tmp_path / "order.json"
    for text, said in (
        ("{", "not JSON"), ("[]", "not a JSON object"), ('{"bled_mm": 3}', "bled_mm"), ('{"quantity": 0}', "quantity"),
        ('{"bleed_mm": "3"}', "bleed_mm"), ('{"roles": ["crimp"]}', "crimp"), ('{"edge": "ragged"}', "ragged"),
        ('{"material": "velvet"}', "velvet"),
    ):
        order.write_text(text)
        assert main(["check", str(path), "--order", str(order)]) == UNREADABLE, text
        assert said in capsys.readouterr().err
    assert main(["check", str(path), "--order", str(tmp_path / "none.json")]) == UNREADABLE


@pytest.mark.parametrize(("bleed", "ends"), [(5.9, OK), (6.1, STOP)])
def test_an_ordered_bleed_counts_to_a_tenth(pdf: Pdf, tmp_path: Path, bleed: float, ends: int) -> None:
    order = tmp_path / "order.json"
    order.write_text(json.dumps({"bleed_mm": bleed, "edge": "bleed"}))
    assert main(["check", str(pdf(MISS)), "--order", str(order)]) == ends


def test_a_check_sheet_changes_limits_and_severities(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    path, sheet = pdf(MISS), tmp_path / "sheet.json"
    sheet.write_text(json.dumps({"title": "Strict", "severities": {"line.wide": "stop"}, "limits": {}}))
    assert main(["check", str(path)]) == OK
    assert main(["check", str(path), "--sheet", str(sheet)]) == STOP
    sheet.write_text(json.dumps({"title": "Wide", "severities": {}, "limits": {"line.wide": 5.0}}))
    capsys.readouterr()
    assert main(["check", str(path), "--sheet", str(sheet), "--json"]) == OK
    assert "line.wide" not in {f["id"] for f in json.loads(capsys.readouterr().out)["findings"]}
    sheet.write_text(json.dumps({"limits": {"line.thick": 1}}))
    assert main(["check", str(path), "--sheet", str(sheet)]) == UNREADABLE
    assert "line.thick" in capsys.readouterr().err


def test_the_papers_are_written_where_they_are_asked_for(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    path = pdf(MISS, inks={"K": "Kis Cut"})
    report, letter = tmp_path / "report.pdf", tmp_path / "letter.txt"
    assert main(["check", str(path), "--report", str(report), "--letter", str(letter)]) == STOP
    words = "".join(page.get_textpage().get_text_bounded() for page in pypdfium2.PdfDocument(report))
    assert "ink.near-name" in words and path.stem in words
    assert "Kis Cut" in letter.read_text(encoding="utf-8")
    clean, none = pdf(ART + line_in(circle(50, 50, 40))), tmp_path / "none.txt"
    assert main(["check", str(clean), "--letter", str(none)]) == OK
    assert "nothing to write a letter about" in capsys.readouterr().err and not none.exists()


def test_the_destination_says_which_names_are_wanted(pdf: Pdf, capsys: Said) -> None:
    path = pdf(ART + line_in(circle(50, 50, 40)), inks={"K": "PartialCutting"})
    assert main(["check", str(path), "--destination", "iso"]) == OK
    assert main(["check", str(path)]) == STOP
    assert "ink.near-name" in capsys.readouterr().out
    assert main(["check", str(path), "--destination", "elsewhere"]) == 2
    assert "no destination “elsewhere”" in capsys.readouterr().err


# -- mend -------------------------------------------------------------------------------------------


def test_several_mends_are_made_in_one_call_and_told(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    out = tmp_path / "out.pdf"
    path = pdf(MISS, inks={"K": "Kis Cut"})
    before = path.read_bytes()
    assert main(["mend", str(path), "--out", str(out), "--rename", "Kis Cut=Kiss Cut", "--hairline", "kiss-cut"]) == OK
    told = capsys.readouterr().out.splitlines()
    assert len(told) == 3 and told[-1] == f"{out}: 2 mends; stop before, clean now"
    assert path.read_bytes() == before, "the original is never changed"
    assert roles(out) == {LineRole.KISS_CUT}
    assert main(["check", str(out)]) == OK


@breadth(0.12, "long ones")
def test_all_that_is_offered_is_mended_and_a_clean_file_is_written_as_it_is(
    pdf: Pdf, tmp_path: Path, capsys: Said
) -> None:
    out, again = tmp_path / "out.pdf", tmp_path / "again.pdf"
    assert main(["mend", str(pdf(MISS, inks={"K": "Kis Cut"})), "--out", str(out), "--offered"]) == OK
    assert main(["mend", str(out), "--out", str(again), "--offered"]) == OK
    assert capsys.readouterr().out.splitlines()[-1] == f"{again}: 0 mends; clean before, clean now"
    assert again.read_bytes() == out.read_bytes()


@pytest.mark.parametrize(("asked", "said"), [
    ([], "No mend was asked for"),
    (["--rename", "Kiss Cut"], "OLD=NEW"),
    (["--hairline", "crimp"], "crimp"),
    (["--drop-leftovers", "kiss-cut,below_mm2=lots"], "lots"),
    (["--drop-leftovers", "kiss-cut,below_mm2=-1"], "area"),
])
def test_a_mend_that_cannot_be_is_refused_and_nothing_is_written(
    pdf: Pdf, tmp_path: Path, capsys: Said, asked: list[str], said: str
) -> None:
    out = tmp_path / "out.pdf"
    assert main(["mend", str(pdf(MISS)), "--out", str(out), *asked]) == UNREADABLE
    assert said in capsys.readouterr().err and not out.exists()


def test_what_has_nothing_to_do_is_skipped_and_said(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    out, path = tmp_path / "out.pdf", pdf(MISS)
    assert main(["mend", str(path), "--out", str(out), "--close", "kiss-cut", "--rename", "No Such=Kiss Cut"]) == OK
    assert "No ink is called “No Such”" in capsys.readouterr().err and out.read_bytes() == path.read_bytes()


def steps_in(folder: Path, steps: object) -> str:
    path = folder / "steps.json"
    path.write_text(json.dumps(steps))
    return str(path)


@breadth(0.12, "long ones")
def test_steps_are_carried_out_and_told_as_json(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    out = tmp_path / "out.pdf"
    steps = [{"mend": "rename", "ink": "Kis Cut", "to": "Kiss Cut"}, {"mend": "hairline"}, {"mend": "solid"}]
    call = ["mend", str(pdf(MISS, inks={"K": "Kis Cut"})), "--out", str(out), "--json"]
    assert main([*call, "--steps", steps_in(tmp_path, steps)]) == OK
    told = json.loads(capsys.readouterr().out)
    assert [one["mend"] for one in told["done"]] == ["rename", "hairline"] and told["refused"] == []
    assert [one["mend"] for one in told["skipped"]] == ["solid"] and "already" in told["skipped"][0]["why"]
    proof = told["done"][1]["proof"]
    assert proof["plates_same"] is True and proof["lines_moved_mm"] == 0 == proof["art_max_delta_e"]
    assert told["done"][1]["changed"] == {"kiss-cut": 1}
    assert told["before"]["verdict"] == "stop" and told["before"]["findings"]["ink.near-name"] == 1
    assert told["after"] == {"verdict": "clean", "findings": {}}
    recipe = {"name": "House names", "version": 3, "steps": steps}
    assert main([*call[:-1], "--recipe", steps_in(tmp_path, recipe)]) == OK
    assert "2 mends" in capsys.readouterr().out


@pytest.mark.parametrize(("option", "value", "said"), [
    ("--steps", {"mend": "hairline"}, "no list"), ("--steps", [{"mend": "polish"}], "polish"),
    ("--steps", [{"mend": "hairline", "depth": 2}], "depth"), ("--steps", ["hairline"], "no step"),
    ("--steps", [{"mend": "drop-leftovers", "below_mm2": 1e9}], "10000"),
    ("--steps", [{"mend": "drop-leftovers", "at": [[1, 2, 3]]}], "points"),
    ("--steps", [{"mend": "drop-leftovers", "at": "here"}], "numbers"),
    ("--recipe", {"name": "x", "steps": []}, "no steps"), ("--recipe", [], "no object"),
    ("--recipe", {"name": "", "version": 1, "steps": [{"mend": "solid"}]}, "no name"),
    ("--recipe", {"name": "x", "version": 0, "steps": [{"mend": "solid"}]}, "version"),
    ("--recipe", {"name": "x", "verion": 1, "steps": [{"mend": "solid"}]}, "verion"),
])
def test_steps_that_cannot_be_meant_are_refused_by_name(
    pdf: Pdf, tmp_path: Path, capsys: Said, option: str, value: object, said: str
) -> None:
    out = tmp_path / "out.pdf"
    call = ["mend", str(pdf(MISS)), "--out", str(out), "--json", option, steps_in(tmp_path, value)]
    assert main(call) == UNREADABLE
    assert said in capsys.readouterr().err and not out.exists()


def test_the_original_is_never_the_outcome(pdf: Pdf, capsys: Said) -> None:
    path = pdf(MISS)
    before = path.read_bytes()
    same = path.parent / "." / path.name
    assert main(["mend", str(path), "--out", str(same), "--hairline", "kiss-cut"]) == UNREADABLE
    assert "never overwritten" in capsys.readouterr().err and path.read_bytes() == before


@breadth(0.12, "long ones")
def test_a_name_may_hold_an_equals_sign_or_a_comma(pdf: Pdf, tmp_path: Path) -> None:
    out = tmp_path / "out.pdf"
    path = pdf(ART + line_in(circle(50, 50, 40)), inks={"K": "Kiss,Cut"})
    assert main(["mend", str(path), "--out", str(out), "--rename", "Kiss,Cut=Kiss Cut"]) == OK
    assert roles(out) == {LineRole.KISS_CUT}
    assert main(["mend", str(path), "--out", str(out), "--rename", "Kiss,Cut=PartialCutting"]) == OK
    assert roles(out, ISO) == {LineRole.KISS_CUT}


# -- release ----------------------------------------------------------------------------------------


@breadth(0.12, "long ones")
def test_the_layout_of_a_release_is_said_in_the_call(pdf: Pdf, tmp_path: Path, capsys: Said) -> None:
    path, order = pdf(ART + line_in(circle(50, 50, 40))), tmp_path / "order.json"
    order.write_text(json.dumps({"quantity": 6}))
    call = ["release", str(path), "--order", str(order), "--out"]
    lengths = {}
    for columns, gap in ((6, "2"), (2, "2"), (2, "12")):
        out = tmp_path / f"{columns}-{gap}"
        assert main([*call, str(out), "--columns", str(columns), "--gap", gap]) == OK
        ticket = json.loads(next(out.glob("*-ticket.json")).read_text())
        lengths[columns, gap] = ticket["sheet"]["length_mm"]
    assert lengths[2, "2"] == pytest.approx(lengths[6, "2"] + 2 * 82)
    # the wider gap leaves room for all of the bleed, outside too
    assert lengths[2, "12"] == pytest.approx(lengths[2, "2"] + 2 * 10 + 2 * (3 - 1))
    for bad in (["--columns", "0"], ["--columns", "60"], ["--gap", "-1"]):
        assert main([*call, str(tmp_path / "bad"), *bad]) == UNREADABLE
        assert capsys.readouterr().err
    assert not (tmp_path / "bad").exists()


def test_help_names_every_command(capsys: Said) -> None:
    with pytest.raises(SystemExit) as ended:
        main(["--help"])
    assert ended.value.code == 0
    said = capsys.readouterr().out
    assert all(command in said for command in ("inspect", "check", "mend", "release"))
