"""An object of the art goes where somebody pointed at it, and nothing else changes."""

import subprocess
from pathlib import Path

import pypdfium2
import pytest

from horismos.artwork import read_bytes
from horismos.errors import NothingToDo
from horismos.mending import Mended, mend, step
from horismos.orders import Order
from horismos.workflow.case import Case
from horismos.workflow.showing.pointed import ThingShown, pointed_at
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import Drawing, line_in, write

KISS = line_in("20 20 60 60 re ")
GROUND = "0 0 0 0.3 k 30 30 20 20 re f\n"
FONT = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>"


def case_of(content: str, **options: object) -> Case:
    return Case(artwork=read_bytes(write(Drawing(content, **options))), order=Order())  # type: ignore[arg-type]


def things_at(case: Case, x: float, y: float) -> list[ThingShown]:
    """What can be taken out at a place in mm from the page's lower left, the topmost first."""
    x0, y0, _, _ = case.page.boxes.media
    found = pointed_at(case, (x + x0, y + y0), 0.5)
    return [one for one in found if any(m.kind == "take-out" for m in one.mends)]


def out(case: Case, thing: ThingShown) -> Mended:
    """The thing taken out, by the very settings that the screen is given."""
    (one,) = [m.settings for m in thing.mends if m.kind == "take-out"]
    return mend(case.artwork, step("take-out", **one), HOUSE)


def at(data: bytes, x: float, y: float) -> tuple[int, int, int]:
    """The colour at a place of a page of 100 mm, by PDFium."""
    seen = pypdfium2.PdfDocument(data)[0].render(scale=4).to_pil().convert("RGB")
    found = seen.getpixel((round(x / 100 * seen.width), seen.height - round(y / 100 * seen.height)))
    assert isinstance(found, tuple)
    return found[0], found[1], found[2]


def test_of_two_shapes_with_one_box_the_one_pointed_at_goes() -> None:
    case = case_of(GROUND + "0 1 1 0 k 30 30 20 20 re f\n" + KISS)
    top, below = things_at(case, 40, 40)
    grey = at(out(case, top).artwork.data, 40, 40)
    assert max(grey) - min(grey) < 8 and max(grey) < 255
    red = at(out(case, below).artwork.data, 40, 40)
    assert red[0] > red[1] + 100 and red == at(case.artwork.data, 40, 40)


def test_it_says_what_goes_and_proves_that_the_lines_and_the_rest_stay() -> None:
    case = case_of(GROUND + "0 1 1 0 k 60 60 10 12 re f\n" + KISS)
    (thing,) = things_at(case, 65, 65)
    done = out(case, thing)
    assert "this shape of 10.0 × 12.0 mm" in done.said
    assert done.difference.lines_moved_mm < 1e-6 and done.difference.outside_delta_e == 0
    assert len(done.artwork.pages[0].objects) == len(case.page.objects) - 1


def test_text_behind_it_stays_where_it_was() -> None:
    content = "BT /F 12 Tf 30 60 Td 0 0 0 1 k (first ) Tj 0 1 1 0 k (second) Tj ET\n" + KISS
    case = case_of(content, extra_resources=FONT)
    first, second = (o for o in case.page.objects if hasattr(o, "text_matrix"))
    (thing,) = things_at(case, 33, 62)
    (left,) = (o for o in out(case, thing).artwork.pages[0].objects if hasattr(o, "text_matrix"))
    assert left.operand == second.operand != first.operand
    assert left.matrix == pytest.approx(second.matrix, abs=1e-4)


def test_a_path_that_clips_goes_on_clipping() -> None:
    case = case_of("q 0 0 0 0.3 k 30 30 20 20 re W f 0 1 1 0 k 25 25 40 10 re f Q\n" + KISS)
    (thing,) = things_at(case, 45, 45)
    data = out(case, thing).artwork.data
    assert at(data, 45, 45) == (255, 255, 255) == at(data, 58, 32) and at(data, 45, 32) != (255, 255, 255)


@breadth(0.12, "long ones")
def test_of_a_form_that_is_drawn_twice_one_goes() -> None:
    form = b"<< /Type /XObject /Subtype /Form /BBox [0 0 99 99] /Length 15 >>\nstream\n0 0 10 10 re f\n\nendstream"
    content = "q 1 0 0 1 30 30 cm /F Do Q q 1 0 0 1 60 60 cm /F Do Q\n" + KISS
    case = case_of(content, objects=(form,), extra_resources="/XObject << /F 20 0 R >>")
    (thing,) = things_at(case, 65, 65)
    data = out(case, thing).artwork.data
    assert at(data, 65, 65) == (255, 255, 255) and at(data, 35, 35) == (0, 0, 0)


def test_of_a_picture_no_trace_stays(tmp_path: Path) -> None:
    """Poppler lists every picture that a page's resources name, drawn or not."""
    image = (
        b"<< /Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 /ColorSpace /DeviceGray "
        b"/Length 1 >>\nstream\n0\nendstream"
    )
    content = "q 20 0 0 20 40 40 cm /I Do Q\n" + KISS
    case = case_of(content, objects=(image,), extra_resources="/XObject << /I 20 0 R >>")
    (thing,) = things_at(case, 45, 45)
    assert [pictures(data, tmp_path) for data in (case.artwork.data, out(case, thing).artwork.data)] == [1, 0]


def pictures(data: bytes, folder: Path) -> int:
    path = folder / "looked-at.pdf"
    path.write_bytes(data)
    listed = subprocess.run(["pdfimages", "-list", path], check=True, capture_output=True, text=True).stdout
    return len(listed.splitlines()) - 2


def test_lines_cannot_be_taken_out_so_and_what_has_gone_is_not_there() -> None:
    case = case_of(GROUND + KISS)
    assert not things_at(case, 20, 50)
    (thing,) = things_at(case, 40, 40)
    (one,) = [m.settings for m in thing.mends if m.kind == "take-out"]
    done = mend(case.artwork, step("take-out", **one), HOUSE)
    with pytest.raises(NothingToDo, match="such a box"):
        mend(done.artwork, step("take-out", **one), HOUSE)
