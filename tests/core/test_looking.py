"""What is shown is what was measured: plates, load, section, swatches, views, and the order that is suggested."""

import io
import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from horismos.artwork import line_objects, read, read_bytes
from horismos.artwork.views import layer_alone, page_whole
from horismos.cli import main
from horismos.cutting.section import depth_of, section
from horismos.errors import CannotRead
from horismos.formats.hpgl import read_plot
from horismos.intake import Answers
from horismos.intake.suggest import suggest
from horismos.intake.svg_tree import parse_svg, strands_of
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.paths import Contour, contour_from_points, rectangle
from horismos.rendering import Plate, blended, heat, ink_load, plates, total
from horismos.rendering.png import png_of
from horismos.rendering.swatch import swatches
from horismos.roles import LineRole
from tests.known import HOUSE
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f\n"
CLEAN = GROUND + line_in(circle(50, 50, 40))


# -- plates and load -------------------------------------------------------------------------------


def plate(ink: str, *tints: int) -> Plate:
    return Plate(ink, np.array([tints], np.uint8))


def test_the_load_is_the_sum_of_what_prints_and_says_where_it_is_highest() -> None:
    made = [plate("Cyan", 255, 255, 0), plate("Black", 0, 255, 51), plate("Kiss Cut", 255, 255, 255)]
    assert total(made, {"Kiss Cut"}).tolist() == [pytest.approx([100, 200, 20])]
    load = ink_load(made, 25.4, {"Kiss Cut"}, limit=150)
    assert load.highest == pytest.approx(200) and load.at_mm == pytest.approx((1.5, 0.5))
    assert load.above_cm2 == pytest.approx(0.01)  # one pixel of a square millimetre
    assert ink_load(made, 25.4, {"Kiss Cut"}, limit=200).above_cm2 == 0


def test_heat_grows_darker_and_turns_red_only_above_the_limit() -> None:
    picture = heat(np.array([[0.0, 100, 200, 280, 281]], np.float32), 280)[0].astype(int)
    assert picture[0].tolist() == [255, 255, 255]
    greys = picture[:4].sum(axis=1)
    assert all(a > b for a, b in zip(greys, greys[1:], strict=False))
    assert picture[4, 0] > picture[4, 1] + 100 and abs(picture[2, 0] - picture[2, 2]) < 3


def test_one_plate_is_grey_and_several_are_laid_over_each_other() -> None:
    cyan, yellow = np.array([[255, 0]], np.uint8), np.array([[255, 255]], np.uint8)
    assert blended([cyan], ["#00a0e3"])[0].tolist() == [[0, 0, 0], [255, 255, 255]]
    both = blended([cyan, yellow], ["#00ffff", "#ffff00"])[0].tolist()
    assert both == [[0, 255, 0], [255, 255, 0]]


def test_plates_of_a_page_in_large_units_are_as_large_as_the_page(pdf: Pdf) -> None:
    path = pdf(GROUND, extra_page="/UserUnit 5", trim=None, bleed=None)
    width_mm = read(path).pages[0].size_mm[0]
    assert width_mm == pytest.approx(500, abs=0.1)
    (cyan, *_) = plates(path.read_bytes(), 25.4)
    assert cyan.tint.shape[1] == pytest.approx(width_mm, abs=1)


def test_the_quick_png_holds_what_was_drawn() -> None:
    pixels = np.random.default_rng(3).integers(0, 255, (17, 29, 3), np.uint8)
    assert np.array_equal(np.asarray(Image.open(io.BytesIO(png_of(pixels)))), pixels)


def test_a_spot_ink_is_shown_as_the_file_says(pdf: Pdf) -> None:
    artwork = read(pdf(CLEAN))
    found = swatches(artwork, ["Kiss Cut", "Cyan", "No Such Ink"])
    red, green, blue = (int(found["Kiss Cut"][i : i + 2], 16) for i in (1, 3, 5))
    # The fixture's line ink is shown as 100 % magenta.
    assert set(found) == {"Kiss Cut", "Cyan"} and red > 180 and green < 60 and blue > 80


# -- section ---------------------------------------------------------------------------------------


def test_each_role_goes_as_deep_as_the_trade_says() -> None:
    """[practice] kiss stops at the liner, through and perforation go through, a back cut parts the liner alone."""
    strata = MATERIALS["floor-1370"].strata  # laminate 75, film 90, adhesive 25, liner 140
    depths = {role: depth_of(role, strata) for role in LineRole}
    assert depths[LineRole.KISS_CUT] == (0, 190) and depths[LineRole.THROUGH_CUT] == (0, 330)
    assert depths[LineRole.PERFORATION] == (0, 330) and depths[LineRole.BACK_CUT] == (190, 330)
    assert depths[LineRole.CREASE] == (0, 0)


def test_crossings_lie_where_the_line_meets_the_cuts(pdf: Pdf) -> None:
    artwork = read(pdf(CLEAN))
    (line,) = line_objects(artwork, artwork.pages[0], HOUSE)
    lines: dict[LineRole, list[Contour]] = {
        LineRole.KISS_CUT: list(line.contours), LineRole.THROUGH_CUT: [rectangle(-5, -5, 85, 85)],
    }
    cut = section(MATERIALS["film-1370"], lines, (-10, 40), (90, 40))
    # The circle of 40 mm about 40, 40 and the sides of the rectangle, 10 mm from the beginning on.
    assert [(c.role, round(c.at_mm, 2)) for c in cut.crossings] == [
        (LineRole.THROUGH_CUT, 5), (LineRole.KISS_CUT, 10), (LineRole.KISS_CUT, 90), (LineRole.THROUGH_CUT, 95),
    ]
    crease = {LineRole.CREASE: [contour_from_points([(0, 5), (10, 5)], False)]}
    slanted = section(MATERIALS["film-1370"], crease, (0, 0), (10, 10))
    assert [round(c.at_mm, 3) for c in slanted.crossings] == [7.071]
    assert section(MATERIALS["film-1370"], lines, (200, 0), (300, 0)).crossings == ()


# -- views -----------------------------------------------------------------------------------------


def test_a_hidden_layer_can_be_seen_alone_and_stays_hidden_on_the_whole_page(pdf: Pdf) -> None:
    path = pdf("1 0 0 0 k 50 50 20 20 re f /OC /L BDC 0 1 0 0 k 20 20 20 20 re f EMC", layer=" ")
    data = path.read_bytes().replace(b"/D << /ON [5 0 R] >>", b"/D << /OFF[5 0 R] >>")
    artwork = read_bytes(data)
    page = artwork.pages[0]
    assert [o.state.visible for o in page.objects] == [True, False]

    def inks(made: bytes) -> set[str]:
        return {p.ink for p in plates(made, 20) if p.tint.any()}

    assert inks(page_whole(artwork, page)) == {"Cyan"}
    assert inks(layer_alone(artwork, page, 0)) == {"Magenta"}
    assert inks(layer_alone(artwork, page, None)) == {"Cyan"}


# -- the order that is suggested -----------------------------------------------------------------------


def suggested(path: Path, given: Order | None = None, last: Order | None = None):  # type: ignore[no-untyped-def]
    artwork = read(path)
    return suggest(artwork, artwork.pages[0], HOUSE, given or Order(), last)


def test_size_cuts_and_edge_come_from_the_file(pdf: Pdf) -> None:
    found = suggested(pdf(CLEAN))
    assert found.order.width_mm == pytest.approx(80, abs=0.02) and found.order.roles is None
    assert found.order.edge == "bleed" and not found.warnings and len(found.said) == 2
    bordered = suggested(pdf(f"1 0 0 0 k {circle(50, 50, 35)} f " + line_in(circle(50, 50, 40))))
    assert bordered.order.edge == "border"
    empty = suggested(pdf(line_in(circle(50, 50, 40))))
    assert empty.order.edge == "either"


@pytest.mark.parametrize(
    ("width", "height", "words"),
    [(800, 800, "1:10"), (8, 8, "10 times as large"), (80, 80, ""), (90, 80, "80.0 × 80.0 mm, the order 90 × 80")],
)
def test_what_does_not_fit_the_order_is_said(width: float, height: float, words: str, pdf: Pdf) -> None:
    found = suggested(pdf(CLEAN), Order(width_mm=width, height_mm=height))
    assert (words in " ".join(found.warnings)) if words else not found.warnings
    assert (found.order.width_mm, found.order.height_mm) == (width, height)


def test_a_straight_cut_across_a_page_is_no_size(pdf: Pdf) -> None:
    path = pdf(GROUND + line_in("50 10 m 50 90 l", "P"), inks={"P": "Perforation"})
    found = suggested(path)
    assert (found.order.width_mm, found.order.height_mm) == pytest.approx((80, 80), abs=0.02)


def test_a_turned_page_is_said(pdf: Pdf) -> None:
    path = pdf(GROUND + line_in("20 30 60 40 re"))
    assert "turned" in suggested(path, Order(width_mm=40, height_mm=60)).warnings[0]


def test_what_a_customer_ordered_last_is_taken_over_but_not_its_size(pdf: Pdf) -> None:
    last = Order(width_mm=300, height_mm=200, bleed_mm=2, tolerance_mm=0.3, viewing_distance_m=2, material="film-610")
    found = suggested(pdf(CLEAN), last=last)
    assert (found.order.bleed_mm, found.order.tolerance_mm, found.order.material) == (2, 0.3, "film-610")
    assert found.order.width_mm == pytest.approx(80, abs=0.02) and "another shape" in found.warnings[0]


# -- drawings and answers ------------------------------------------------------------------------------


def test_an_encoded_polyline_is_decoded_digit_by_digit() -> None:
    """The encoding by HP-GL/2's own rule: twice the amount, one more where negative, base 64, last digit high."""

    def number(value: int) -> str:
        left, out = abs(value) * 2 + (value < 0), ""
        while left >= 64:
            out += chr(63 + left % 64)
            left //= 64
        return out + chr(191 + left)

    moves = [(400, 0), (0, 300), (-4000, -25)]
    digits = "".join(number(v) for pair in ((1000, 2000), *moves) for v in pair)
    text = f"IN;SP3;PU100,200;PE<={digits};PU;"
    (drawn,) = read_plot(text.encode("latin-1")).strokes
    wanted = np.cumsum([(1000, 2000), *moves], axis=0) * 0.025
    assert drawn.tool == 3 and drawn.points == pytest.approx(wanted)


def test_the_strands_of_an_svg_are_layers_classes_names_and_strokes() -> None:
    text = """<svg xmlns="http://www.w3.org/2000/svg" width="2in" height="25.4mm" viewBox="0 0 2 1">
      <style>.rim, .cut { stroke: #ff00ff; fill: none } .off { display: none }</style>
      <defs><path id="unused" d="M0 0L1 1"/></defs>
      <g id="Perforation"><path class="cut" d="M0 0L1 1"/><g id="g12"><rect id="perf" width="1" height="1"/></g></g>
      <path class="off cut" d="M0 0L1 0"/><circle r="1" style="fill:none;stroke:Red"/></svg>"""
    tree = parse_svg(text.encode())
    assert tree.size_mm == pytest.approx((50.8, 25.4)) and not tree.in_pixels
    found = {key: len(members) for key, members in strands_of(tree.root).items()}
    assert found == {
        "layer:Perforation": 2, "class:cut": 1, "stroke:#ff00ff": 1, "id:perf": 1, "stroke:red": 1,
    }


@pytest.mark.parametrize(
    "said",
    [
        {"width_mm": -1}, {"unit": "cubit"}, {"binding": {"pen:1": "staple"}}, {"pages": [0]}, {"pages": "x"},
        {"height_mm": "tall"},
    ],
)
def test_answers_that_mean_nothing_are_refused(said: dict[str, object]) -> None:
    with pytest.raises(CannotRead):
        Answers.from_json(said)


def test_answers_are_kept_without_the_password() -> None:
    answers = Answers.from_json({"password": "marram", "unit": "cm", "pages": [2], "binding": {"pen:1": "crease"}})
    assert answers.to_json() == {"unit": "cm", "pages": [2], "binding": {"pen:1": "crease"}}
    assert Answers.from_json(json.loads(json.dumps(answers.to_json()))) == replace(answers, password="")


def test_the_command_line_asks_for_what_a_drawing_leaves_open(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    plot = tmp_path / "seal.plt"
    plot.write_bytes(b"IN;SP2;PU0,0;PD4000,0,4000,2000,0,2000,0,0;PU;")
    assert main(["inspect", str(plot)]) == 2
    assert "--bind pen:2=ROLE" in capsys.readouterr().err
    assert main(["inspect", str(plot), "--bind", "pen:2=kiss-cut", "--json"]) == 0
    (line,) = json.loads(capsys.readouterr().out)["pages"][0]["lines"]
    assert line["role"] == "kiss-cut" and line["length_mm"] == pytest.approx(300, abs=0.01)
