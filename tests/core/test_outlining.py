"""What is left of text and filled lines once they are outlines and strokes: no font, no fill, no stop of our making."""

import subprocess
from pathlib import Path

import pikepdf
import pytest
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from horismos import reporting
from horismos.artwork import line_objects, read, read_bytes
from horismos.artwork.model import PathObject, TextObject
from horismos.artwork.strokes import stroke_area, stroke_outline
from horismos.checking import check
from horismos.errors import CannotWrite
from horismos.mending import mend, step
from horismos.mending.art import outlines
from horismos.paths import bounds
from horismos.paths.areas import area_of
from tests.breadth import breadth
from tests.faults import FAULTS
from tests.known import HOUSE
from tests.shapes import Drawing, line_in, write

FONT = Path(reporting.__file__).parent / "fonts" / "Next-Bold.ttf"


@pytest.fixture()
def lettered(tmp_path: Path) -> Path:
    """A page and a form in it with text, each in a font of the file."""
    pdfmetrics.registerFont(TTFont("Lettering", str(FONT)))
    canvas = Canvas(str(tmp_path / "text.pdf"), pagesize=(200, 200))
    canvas.beginForm("inner")
    canvas.setFont("Lettering", 12)
    canvas.drawString(10, 50, "in a form")
    canvas.endForm()
    canvas.setFont("Lettering", 20)
    canvas.drawString(20, 100, "Saltmarsh")
    canvas.doForm("inner")
    canvas.showPage()
    canvas.save()
    return tmp_path / "text.pdf"


def test_outlined_text_leaves_no_text_object_and_no_font_that_others_report(lettered: Path) -> None:
    """Source: Poppler's pdffonts."""
    done = mend(read(lettered), step("text-to-outlines"), HOUSE).artwork
    lettered.write_bytes(done.data)
    assert not any(isinstance(o, TextObject) for o in done.pages[0].objects)
    said = subprocess.run(["pdffonts", str(lettered)], capture_output=True, text=True, check=True).stdout
    assert len(said.splitlines()) == 2, said
    with pikepdf.open(lettered) as pdf:
        assert not any(isinstance(obj, pikepdf.Dictionary) and obj.get("/Type") == "/Font" for obj in pdf.objects)


def test_a_page_that_still_shows_text_keeps_its_fonts(lettered: Path) -> None:
    with pikepdf.open(lettered, allow_overwriting_input=True) as pdf:
        pdf.pages.append(pdf.pages[0])
        pdf.pages[1].contents_add(b"BT /F1 8 Tf 3 Tr 10 10 Td (unseen) Tj ET", prepend=False)
        pdf.save(lettered)
    done = mend(read(lettered), step("text-to-outlines"), HOUSE).artwork
    lettered.write_bytes(done.data)
    said = subprocess.run(["pdffonts", str(lettered)], capture_output=True, text=True, check=True).stdout
    assert len(said.splitlines()) > 2, said


def test_text_in_a_lines_ink_becomes_strokes() -> None:
    fault = FAULTS["line-text-to-outlines"]
    done = mend(read_bytes(write(fault.page)), step("line-text-to-outlines", **fault.settings), HOUSE).artwork
    lines = line_objects(done, done.pages[0], HOUSE)
    assert lines and all(isinstance(line.object, PathObject) and line.strokes and not line.fills for line in lines)
    assert not {f.id for f in check(done).findings} & {"line.filled", "line.text", "line.wide", "line.knocks-out"}


def test_the_centre_line_of_a_filled_ribbon_is_a_hairline_and_no_fill() -> None:
    ring = "20 20 60 60 re 20.3 20.3 59.4 59.4 re"
    artwork = read_bytes(write(Drawing("1 0 0 0 k 10 10 80 80 re f\n" + line_in(ring, paint="f*"))))
    done = mend(artwork, step("to-centreline", role="kiss-cut"), HOUSE).artwork
    (line,) = line_objects(done, done.pages[0], HOUSE)
    assert line.strokes and not line.fills and line.width_mm < 0.1
    assert bounds(line.contours[0]) == pytest.approx((10.15, 10.15, 69.85, 69.85), abs=0.02)
    assert "line.filled" not in {f.id for f in check(done).findings}


@breadth(0.12, "long ones")
def test_bleed_is_extended_on_the_layer_that_the_art_is_on() -> None:
    content = "/OC /L0 BDC 1 0 0 0 k 29 29 42 42 re f EMC /OC /L1 BDC " + line_in("30 30 40 40 re") + " EMC"
    artwork = read_bytes(write(Drawing(content, layers=("Art", "Kiss Cut"))))
    done = mend(artwork, step("extend-bleed", distance_mm=3), HOUSE).artwork
    assert [layer.name for layer in done.layers] == ["Art", "Kiss Cut"]
    assert {obj.state.layers for obj in done.pages[0].objects} == {(0,), (1,)}
    assert "edge.bleed" not in {f.id for f in check(done).findings}


def test_lines_that_only_went_have_not_moved() -> None:
    """Dropping inner contours once said that lines had moved by 12.6 mm, though none that stayed had."""
    holes = "".join(f"{x} 40 6 6 re " for x in (30, 45, 60))
    artwork = read_bytes(write(Drawing("1 0 0 0 k 10 10 80 80 re f\n" + line_in(f"20 20 60 60 re {holes}"))))
    done = mend(artwork, step("drop-inner", role="kiss-cut"), HOUSE)
    assert done.difference.lines_moved_mm < 1e-9 and done.difference.after == {"kiss-cut": 1}


@breadth(0.12, "long ones")
def test_thin_strokes_are_outlined_though_a_picture_of_them_would_differ() -> None:
    """Two hundred strokes of a twentieth of a millimetre: a renderer draws each a pixel wide, and no outline."""
    content = "0.05 w 0 0 0 1 K " + " ".join(f"{10 + i * 0.4} 10 m {10 + i * 0.4} 90 l S" for i in range(200))
    before = read_bytes(write(Drawing(content)))
    done = mend(before, step("strokes-to-outlines"), HOUSE)
    assert not any(isinstance(o, PathObject) and o.strokes for o in done.artwork.pages[0].objects)


def test_an_outline_that_lost_a_part_of_its_stroke_is_made_anew() -> None:
    """A loop of one curve that ends where it begins, at a sharp corner: one of two libraries loses its inside."""
    content = "0.6 w 0 0 0 1 K 50 50 m 52 51 49 54 50 50 c h S"
    page = read_bytes(write(Drawing(content))).pages[0]
    obj = page.objects[0]
    assert isinstance(obj, PathObject)
    meant = stroke_area(page, obj)
    assert meant is not None
    assert area_of(stroke_outline(page, obj)).area == pytest.approx(meant.area, rel=0.03)


def test_an_outline_that_covers_less_than_its_stroke_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    """The proof looks at what was written: here the outlining leaves half of each stroke out."""
    before = read_bytes(write(Drawing("0.4 w 0 0 0 1 K 20 20 m 80 20 l S 20 40 m 80 40 l S")))
    whole = outlines.stroke_outline
    monkeypatch.setattr(outlines, "stroke_outline", lambda page, obj: [
        c.transformed((0.5, 0, 0, 1, 5, 0)) for c in whole(page, obj)
    ])
    with pytest.raises(CannotWrite, match=r"covers 24\.00 mm², and its outline would 12\.00"):
        mend(before, step("strokes-to-outlines"), HOUSE)
