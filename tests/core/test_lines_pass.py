"""What is made by defaults is not blamed by the checks: soft parts, narrow waste, specks, stairs of pixels, pages."""

import io
import subprocess
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageDraw

from horismos.artwork import read_bytes
from horismos.checking import Report, check_whole
from horismos.errors import NothingToDo
from horismos.intake import Answers, take_in
from horismos.making import Made, Make, make
from horismos.mending import offers, step
from horismos.orders import Order
from horismos.paths import bounds, signed_area
from horismos.roles import LineRole
from horismos.workflow.case import Case
from horismos.workflow.mend import mend
from tests.breadth import breadth
from tests.outside.test_tracing import segments_of_potrace
from tests.shapes import Drawing, circle, write

ORDER = Order(roles=(LineRole.KISS_CUT,))
AROUND = {"lines": [{"role": "kiss-cut", "offset_mm": 2}]}
ON_IT = {"lines": [{"role": "kiss-cut"}]}
SIDE = 900
BLURRED = """<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">
<defs><radialGradient id="g"><stop offset="0.5" stop-opacity="0.45"/><stop offset="1" stop-opacity="0"/>
</radialGradient></defs><circle cx="58" cy="58" r="26" fill="url(#g)"/>
<circle cx="45" cy="45" r="20" fill="#b33"/></svg>"""


def case_of(data: bytes, name: str = "") -> Case:
    taken = take_in(data, name, Answers(width_mm=100) if name.endswith("svg") else None)
    return Case(artwork=read_bytes(taken.pdf), order=ORDER)


def drawn(content: str) -> Case:
    return Case(artwork=read_bytes(write(Drawing(content))), order=ORDER)


def made(case: Case, wanted: dict[str, object]) -> Made:
    return make(case.artwork, case.page, case.lines, Make.from_json(wanted))


def after(case: Case, wanted: dict[str, object]) -> Report:
    lined, _ = mend(case, step("make-lines", make=wanted))
    return check_whole(lined.artwork, lined.terms).report


def blamed(report: Report, *of: str) -> list[str]:
    """What the report says of lines and edges, or of these checks."""
    return [f"{f.id}: {f.message}" for f in report.findings if f.id.startswith(of or ("line.", "edge."))]


def picture(draw: str, mode: str, finer: int) -> bytes:
    """A star of nine points or a circle of 300 ppi, on clear or white ground; ``finer`` 1 has hard edges."""
    side = SIDE * finer
    clear = mode == "clear"
    image = Image.new("RGBA" if clear else "RGB", (side, side), (0, 0, 0, 0) if clear else "white")
    pen = ImageDraw.Draw(image)
    if draw == "star":
        turn = np.arange(18) * np.pi / 9 + 0.1
        reach = np.where(np.arange(18) % 2, 220, 400) * finer
        pen.polygon(list(zip((side / 2 + reach * np.cos(turn)).tolist(), (side / 2 + reach * np.sin(turn)).tolist(),
                             strict=True)), fill=(200, 30, 60))
    else:
        pen.ellipse((60 * finer, 60 * finer, side - 60 * finer, side - 60 * finer), fill=(200, 30, 60))
    out = io.BytesIO()
    image.resize((SIDE, SIDE), Image.Resampling.LANCZOS if finer > 1 else Image.Resampling.NEAREST).save(
        out, "PNG", dpi=(300, 300)
    )
    return out.getvalue()


@breadth(0.12, "long ones")
@pytest.mark.parametrize("finer", [1, 4], ids=["hard", "smooth"])
@pytest.mark.parametrize("mode", ["clear", "white"])
@pytest.mark.parametrize("draw", ["star", "circle"])
def test_the_outline_of_a_picture_has_no_turn_that_the_art_has_not(
    draw: str, mode: str, finer: int, tmp_path: Path
) -> None:
    data = picture(draw, mode, finer)
    case = case_of(data, "a.png")
    (line,) = made(case, ON_IT).lines
    with Image.open(io.BytesIO(data)) as image:
        dark = 255 - np.asarray(image.convert("RGBA"))[:, :, 1] if mode == "white" else np.asarray(image)[:, :, 3]
    assert line.contour.node_count <= segments_of_potrace(dark, tmp_path)
    report = after(case, ON_IT)
    assert not blamed(report, "line.nodes", "line.doubled", "line.crosses")
    assert not [one for one in blamed(report, "line.sharp") if "tighter" in one]
    points = sum(f.count for f in report.findings if f.id == "line.sharp")
    assert points == (9 if draw == "star" else 0), "the points of the art, and no others"


@breadth(0.12, "long ones")
def test_the_outline_goes_round_a_soft_shadow_or_through_it_and_says_so() -> None:
    case = case_of(BLURRED.encode(), "a.svg")
    whole = made(case, AROUND)
    assert "Soft parts" in whole.why and not [f for f in blamed(after(case, AROUND)) if "ends" in f]
    through = made(case, {**AROUND, "threshold": 0.5})
    assert "Soft parts" not in through.why
    assert abs(signed_area(through.lines[0].contour)) < abs(signed_area(whole.lines[0].contour)) - 200
    assert blamed(after(case, {**AROUND, "threshold": 0.5}), "edge.bleed")


def test_waste_that_nobody_could_weed_is_closed_and_said_and_one_that_was_kept_stays() -> None:
    """A ring with a hole that is 0.6 mm wide at 2 mm offset, and a gap between two bars that is 0.5 mm wide."""
    ring = f"0 0 0 1 k {circle(30, 50, 15)} {circle(30, 50, 2.3)} f*\n"
    bars = "0 0 0 1 k 60 30 10 40 re f 74.5 30 10 40 re f 60 26 24.5 4 re f\n"
    case = drawn(ring + bars)
    found = made(case, AROUND)
    assert not any(line.inner for line in found.lines)
    assert any(note.startswith("1 inner contour narrower than 1 mm") for note in found.notes)
    assert any(note.startswith("1 inlet narrower than 1 mm") for note in found.notes)
    assert not blamed(after(case, AROUND), "line.crowded", "line.ribbon", "line.doubled")
    x0, y0, _, _ = case.page.boxes.media
    kept = made(case, {**AROUND, "keep_at": [[30 + x0, 50 + y0]]})
    assert sum(line.inner for line in kept.lines) == 1
    assert [one.kept for one in found.inner] == [False] and [one.kept for one in kept.inner] == [True]


def test_pieces_that_lie_near_each_other_stay_apart_and_a_hole_that_was_pointed_at_stays() -> None:
    """Two squares 4.8 mm apart are contours 0.8 mm apart at 2 mm; a spot of 4.5 mm is a hole of half a millimetre."""
    squares = "0 0 0 1 k 20 30 25 25 re f 49.8 30 25 25 re f\n0 1 0 0 k 30 40 4.5 4.5 re f\n"
    case = drawn(squares)
    x0, y0, _, _ = case.page.boxes.media
    assert len(made(case, AROUND).lines) == 2
    cut_out = made(case, {**AROUND, "cut_out_at": [[32 + x0, 42 + y0]]})
    assert [line.inner for line in cut_out.lines].count(True) == 1 and len(cut_out.lines) == 3


def test_a_speck_of_vector_art_beside_a_piece_is_a_part_of_it() -> None:
    """A dot of half a square millimetre that the cut would go through."""
    case = drawn(f"0 0 0 1 k {circle(50, 50, 15)} f {circle(67, 50, 0.4)} f\n")
    (line,) = made(case, AROUND).lines
    assert bounds(line.contour)[2] - case.page.boxes.media[0] == pytest.approx(67 + 0.4 + 2, abs=0.05)
    assert not [one for one in blamed(after(case, AROUND)) if "edge.risk" in one]


def test_a_flat_shading_in_its_clip_is_a_shape_and_no_picture() -> None:
    shade = "/Shading << /S << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [30 0 70 0] /Extend [true true] " \
        "/Function << /FunctionType 2 /Domain [0 1] /C0 [0 1 0 0] /C1 [1 0 0 0] /N 1 >> >> >>"
    case = Case(artwork=read_bytes(write(Drawing(f"q {circle(50, 50, 20)} W n /S sh Q\n0 0 0 1 k 40 75 20 8 re f\n",
                                         extra_resources=shade))), order=ORDER)
    found = made(case, AROUND)
    assert found.source == "vector" and "Pictures" not in found.why
    assert abs(signed_area(found.lines[0].contour)) > np.pi * 22**2


def test_art_beyond_the_page_is_found_and_the_page_can_be_fitted_to_all_of_it(tmp_path: Path) -> None:
    """A word that its page cuts: what lies beyond comes in with an SVG, is said, and is there in one press."""
    svg = b"""<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="40mm" viewBox="0 0 100 40">
    <rect x="70" y="10" width="60" height="20" fill="#c22"/></svg>"""
    case = case_of(svg, "a.svg")
    report = check_whole(case.artwork, case.terms).report
    (found,) = [f for f in report.findings if f.id == "page.beyond"]
    assert found.measured == pytest.approx(30, abs=0.1) and "cut off" in found.message
    (fit,) = offers(found)
    assert fit.label == "Fit the page to all that is drawn"
    fitted, _ = mend(case, fit, report=report)
    assert fitted.page.size_mm == pytest.approx((60, 20), abs=0.05)
    path = tmp_path / "a.pdf"
    path.write_bytes(fitted.artwork.data)
    size = subprocess.run(["pdfinfo", path], check=True, capture_output=True, text=True).stdout
    assert "170.07" in size  # 60 mm in points


def test_art_that_lies_beyond_the_page_altogether_is_told_so() -> None:
    case = drawn("0 0 0 1 k 130 30 20 20 re f\n")
    with pytest.raises(NothingToDo, match="beyond the page"):
        made(case, AROUND)
