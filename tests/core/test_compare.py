"""Two files compared: what differs in size, art, lines, inks and layers, and what is no difference."""

import json
from pathlib import Path
from typing import Any

import pytest
from PIL import Image

from horismos.artwork import read_bytes
from horismos.cli import main
from horismos.comparing.files import files_apart
from horismos.destinations import DEFAULT
from tests.breadth import breadth
from tests.shapes import Drawing, circle, line_in, write

GROUND = f"0.2 0.1 0.6 0 k 5 5 90 90 re f 0.9 0 0 0 k {circle(40, 60, 12)} f\n"
KISS = line_in(circle(50, 50, 40))
WHITE = {"K": "Kiss Cut", "W": "White", "S": "Harbour Blue"}
OVER = "/Over gs "


def drawn(content: str = GROUND + KISS, **more: Any) -> bytes:
    return write(Drawing(content, **more))


BASE = drawn()


def apart(new: bytes, old: bytes = BASE) -> dict[str, Any]:
    """What the comparison says of a later file."""
    return files_apart(read_bytes(old), read_bytes(new), DEFAULT).to_json()


# -- art -----------------------------------------------------------------------------------------------------------


@breadth(0.2)
@pytest.mark.parametrize(("content", "inks", "box", "delta_e"), [
    ("0.2 0.1 0.66 0 k 20 20 0.71 0.71 re f ", {}, (10, 10, 10.71, 10.71), (4, 8)),
    ("0.2 0.1 0.66 0 k 85 84 2.5 0.2 re f ", {}, (75, 74, 77.5, 74.2), (4, 8)),
    ("0 0 0 0 k 6 6 3 3 re f ", {}, (-4, -4, -1, -1), (40, 90)),
    (f"{OVER}/W cs 0.04 scn 30 30 9 9 re f ", WHITE, (20, 20, 29, 29), (0, 10)),
    (f"{OVER}/S cs 1 scn 20 80 0.8 0.8 re f ", WHITE, (10, 70, 10.8, 70.8), (20, 90)),
])
def test_a_change_of_the_art_is_found_where_it_is(
    content: str, inks: dict[str, str], box: tuple[float, ...], delta_e: tuple[float, float]
) -> None:
    more = {"inks": inks} if inks else {}
    both = drawn(**more), drawn(GROUND + content + KISS, **more)
    for old, new in (both, both[::-1]):
        found = apart(new, old)
        (area,) = found["art"]["areas_mm"]
        assert area == pytest.approx(box, abs=0.2) and not found["same"] and found["art"]["differs"]
        assert delta_e[0] <= found["art"]["delta_e_max"] <= delta_e[1]
        assert found["lines"]["by_role"] == {} and found["lines"]["moved_mm"] == 0


@breadth(0.34, "files compared")
def test_each_connected_change_is_an_area_of_its_own() -> None:
    found = apart(drawn(GROUND + "0 0 1 0 k 20 20 4 4 re 30 20 4 4 re 34 24 3 3 re f " + KISS))
    assert [[round(side) for side in box] for box in found["art"]["areas_mm"]] == [[10, 10, 14, 14], [20, 10, 27, 17]]


@breadth(0.34, "files compared")
def test_letters_that_are_drawn_otherwise_differ_though_they_read_the_same() -> None:
    text = GROUND + "BT 0 0 0 1 k /H 12 Tf 20 20 Td (Tern) Tj ET " + KISS
    fonts = [
        f"/Font << /H << /Type /Font /Subtype /Type1 /BaseFont /{name} >> >>" for name in ("Helvetica", "Times-Roman")
    ]
    assert apart(*(drawn(text, extra_resources=font) for font in fonts))["art"]["differs"]


@breadth(0.34, "files compared")
def test_what_lies_hidden_by_a_layer_is_seen_once_it_is_shown() -> None:
    content = GROUND + "/OC /L0 BDC 0 1 0 0 k 20 20 9 9 re f EMC " + KISS
    found = apart(drawn(content, layers=("Notes",)), drawn(content, layers=("-Notes",)))
    assert len(found["art"]["areas_mm"]) == 1 and found["layers"] == {"added": [], "removed": []}


# -- lines ---------------------------------------------------------------------------------------------------------

NOTHING = {"added": 0, "removed": 0, "moved": 0, "painted": 0}


@pytest.mark.parametrize(("lines", "moved_mm", "kiss"), [
    (line_in(circle(50.02, 50, 40)), 0.02, {"moved": 1}),
    (line_in(circle(52, 50, 40)), 2.0, {"moved": 1}),
    (line_in(circle(56, 50, 40)), 0.0, {"added": 1, "removed": 1}),
    ("", 0.0, {"removed": 1}),
    (KISS + line_in(circle(50, 50, 10)), 0.0, {"added": 1}),
    (KISS + line_in(circle(50, 50, 38)), 0.0, {"added": 1}),
    (line_in(circle(50, 50, 40), width=0.25), 0.0, {"painted": 1}),
    (line_in(circle(50, 50, 40), tint=0.5), 0.0, {"painted": 1}),
    (KISS.replace("0.05 w", "0.05 w [2 1] 0 d"), 0.0, {"painted": 1}),
    (KISS.replace(OVER, ""), 0.0, {"painted": 1}),
    (line_in(circle(51, 50, 40), width=0.25), 1.0, {"moved": 1, "painted": 1}),
    (line_in("90 50 m 10 50 l"), 0.0, {"added": 1, "removed": 1}),
])
def test_lines_come_go_move_and_are_painted_otherwise(lines: str, moved_mm: float, kiss: dict[str, int]) -> None:
    found = apart(drawn(GROUND + lines))
    assert found["lines"]["by_role"] == {"kiss-cut": {**NOTHING, **kiss}} and not found["same"]
    assert found["lines"]["moved_mm"] == pytest.approx(moved_mm, abs=1e-3) and not found["art"]["differs"]


def test_a_row_of_contours_that_moved_together_is_told_one_by_one() -> None:
    def row(shift: float) -> str:
        return GROUND + "".join(line_in(circle(12 + 4 * i + shift, 50, 1.5)) for i in range(19))

    found = apart(drawn(row(0.5)), drawn(row(0)))
    assert found["lines"]["by_role"] == {"kiss-cut": {**NOTHING, "moved": 19}}
    assert found["lines"]["moved_mm"] == pytest.approx(0.5, abs=1e-3)


def test_lines_are_told_by_near_names_too_and_the_ink_by_itself() -> None:
    found = apart(drawn(inks={"K": "Kis Cut"}))
    assert found["inks"] == {"added": ["Kis Cut"], "removed": ["Kiss Cut"]} and found["lines"]["by_role"] == {}
    assert not found["same"] and not found["art"]["differs"]


# -- pages and boxes -----------------------------------------------------------------------------------------------


@breadth(0.34, "files compared")
def test_files_lie_trim_on_trim_and_only_the_size_of_the_trim_counts() -> None:
    moved = "1 0 0 1 3 2 cm " + GROUND + KISS
    assert apart(drawn(moved, trim=(13, 12, 93, 92), bleed=(8, 7, 98, 97), size=(110, 110)))["same"]
    assert apart(drawn(bleed=(7, 7, 93, 93)))["same"]
    turned = f"0 1 -1 0 100 0 cm {GROUND}{KISS}"
    assert apart(drawn(turned, extra_page="/Rotate 90"))["same"]
    smaller = apart(drawn(trim=(10, 10, 89, 90)))
    assert smaller["size"] == {"old_mm": [80, 80], "new_mm": [79, 80]} and not smaller["same"]
    assert not smaller["art"]["differs"] and smaller["lines"]["by_role"] == {}


def test_another_number_of_pages_is_different_and_nothing_else_is_compared() -> None:
    found = apart(drawn(GROUND, pages=2))
    assert not found["same"] and found["pages"] == {"old": 1, "new": 2}
    assert found["art"]["areas_mm"] == [] and found["lines"]["by_role"] == {} and found["inks"]["removed"] == []


@breadth(0.34, "files compared")
def test_what_does_not_overlap_may_stand_in_any_order_and_a_line_begin_anywhere() -> None:
    one, other = "1 0 0 0 k 20 20 9 9 re f ", "0 1 0 0 k 40 40 9 9 re f "
    ring = ["20 20 m 80 20 l 80 80 l 20 80 l h", "80 80 m 80 20 l 20 20 l 20 80 l h"]
    assert apart(drawn(one + other + line_in(ring[0])), drawn(other + one + line_in(ring[1])))["same"]
    over = "0 1 0 0 k 25 25 9 9 re f "
    assert not apart(drawn(one + over + KISS), drawn(over + one + KISS))["same"]


# -- the command ---------------------------------------------------------------------------------------------------


@breadth(0.34, "files compared")
def test_the_command_says_it_and_ends_by_it(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    old, same, new, torn = (tmp_path / f"{name}.pdf" for name in ("old", "same", "new", "torn"))
    old.write_bytes(BASE)
    same.write_bytes(BASE + b"\n")
    new.write_bytes(drawn(GROUND + line_in(circle(50, 51, 40)), trim=(10, 10, 90, 89), layers=("Notes",)))
    torn.write_bytes(b"%PDF-1.7 torn")
    assert main(["compare", str(old), str(same)]) == 0 and capsys.readouterr().out == "Nothing differs.\n"
    assert main(["compare", str(old), str(new), "--json"]) == 1
    said = json.loads(capsys.readouterr().out)
    assert set(said) == {"same", "size", "pages", "art", "lines", "inks", "layers"} and said["same"] is False
    assert said["layers"] == {"added": ["Notes"], "removed": []} and said["lines"]["moved_mm"] == pytest.approx(1)
    assert main(["compare", str(old), str(new)]) == 1
    told = capsys.readouterr().out
    assert "80 × 79 mm now" in told and "kiss-cut: 1 moved" in told and "layers added: Notes" in told
    for call in ([str(old), str(torn)], [str(tmp_path / "none.pdf"), str(old)]):
        assert main(["compare", *call]) == 2 and capsys.readouterr().err
    photo = tmp_path / "photo.png"
    Image.new("L", (9, 9)).save(photo)
    assert main(["compare", str(photo), str(old)]) == 2


@breadth(0.34, "files compared")
@pytest.mark.parametrize("colour", ["0 0 0 1 K", "/K CS 1 SCN"])
def test_a_hairline_that_went_elsewhere_is_found_at_both_places(tmp_path: Path, colour: str) -> None:
    def drawn(x: float) -> Path:
        path = tmp_path / f"{x}.pdf"
        content = f"q 0.05 w {colour} {x} 20 m {x} 80 l S Q\n"
        path.write_bytes(write(Drawing(content, inks={"K": "Rim of it"})))
        return path

    found = files_apart(*(read_bytes(drawn(x).read_bytes()) for x in (50, 52)), DEFAULT)
    assert [round((box[0] + box[2]) / 2, 1) for box in found.art.areas_mm] == [40.0, 42.0]
