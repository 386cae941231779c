"""Lettering that is cut on its own edge: its colour is spread under the cut, in seconds, and nothing else changes."""

import io

import pikepdf
import pypdfium2
import pytest

from horismos.artwork import read_bytes
from horismos.checking import Report, check_whole
from horismos.errors import NothingToDo
from horismos.mending import offers, step
from horismos.orders import Edge, Order
from horismos.roles import LineRole
from horismos.workflow.case import Case
from horismos.workflow.mend import mend
from tests.breadth import breadth
from tests.shapes import Drawing, circle, line_in, write

ORDER = Order(roles=(LineRole.KISS_CUT,), edge=Edge.BLEED)
ROUND = circle(35, 50, 15) + circle(35, 50, 6)
BAR = "70 30 15 40 re "
ART = f"0 0.8 0.9 0 k {ROUND} f*\n0.9 0.4 0 0 k {BAR} f\n"
LETTERS = ART + line_in(ROUND + BAR)


def case_of(content: str, **options: object) -> Case:
    return Case(artwork=read_bytes(write(Drawing(content, **options))), order=ORDER)  # type: ignore[arg-type]


def report_of(case: Case) -> Report:
    return check_whole(case.artwork, case.terms).report


def stops(case: Case) -> set[str]:
    return {f.id for f in report_of(case).findings if f.severity == "stop"}


def at(data: bytes, x: float, y: float) -> tuple[int, ...]:
    """The colour at a place in mm from the lower left, by PDFium, the line left out."""
    with pikepdf.open(io.BytesIO(data)) as pdf:
        page = pdf.pages[0].obj
        assert [round(float(v), 3) for v in page.MediaBox[:2]] == [0, 0]
        height = float(page.MediaBox[3])
    picture = pypdfium2.PdfDocument(data)[0].render(scale=10).to_pil().convert("RGB")
    scale = picture.height / height * 72 / 25.4
    found = picture.getpixel((round(x * scale), picture.height - round(y * scale)))
    assert isinstance(found, tuple)
    return found


@breadth(0.12, "long ones")
def test_letters_on_their_own_cut_are_offered_the_spread_first_and_pass_with_it() -> None:
    case = case_of(LETTERS)
    report = report_of(case)
    short = next(f for f in report.findings if f.id == "edge.bleed")
    first = offers(short)[0]
    assert first.label == "Spread the art 0.5 mm under the cut"
    after, done = mend(case, first, report=report)
    assert not stops(after)
    assert "counters shrink alike" in done.said
    red, blue, white = at(case.artwork.data, 25, 50), at(case.artwork.data, 77, 50), (255, 255, 255)
    data = after.artwork.data
    assert at(data, 35 - 15 - 0.3, 50) == red and at(data, 35 - 15 - 0.8, 50) == white
    assert at(data, 35 - 6 + 0.3, 50) == red and at(data, 35 - 6 + 0.8, 50) == white
    assert at(data, 85.3, 50) == blue and at(data, 85.8, 50) == white


@breadth(0.12, "long ones")
def test_nothing_of_it_is_blamed_as_a_stroke_and_it_grows_with_the_page() -> None:
    case, _ = mend(case_of(LETTERS), step("spread", distance_mm=0.6))
    assert "stroke.live" not in {f.id for f in report_of(case).findings}
    twice, _ = mend(case, step("scale", ratio=2))
    assert not stops(twice)
    assert twice.artwork.pages[0].spread_mm == pytest.approx(1.2, abs=1e-3)


@breadth(0.12, "long ones")
def test_a_neighbour_with_too_little_bleed_is_not_excused() -> None:
    """A flat circle that runs 1 mm over its cut beside letters on their own edge: only the letters are spread."""
    case = case_of(ART + f"0 0 1 0 k {circle(35, 82, 9)} f\n" + line_in(ROUND + BAR + circle(35, 82, 8)))
    after, _ = mend(case, step("spread", distance_mm=0.5))
    (left,) = [f for f in report_of(after).findings if f.id == "edge.bleed"]
    assert left.measured == pytest.approx(1, abs=0.1)
    assert not [one for one in offers(left) if one.mend == "spread"]


def test_what_is_no_flat_colour_is_not_spread() -> None:
    clear = case_of(f"/Half gs {ART}" + line_in(ROUND + BAR))
    with pytest.raises(NothingToDo, match="flat colour"):
        mend(clear, step("spread"))


def test_a_shape_that_touches_the_edge_of_its_page_gets_a_larger_one() -> None:
    content = "0 0.8 0.9 0 k 0 0 60 60 re f\n" + line_in("0 0 60 60 re ")
    case = case_of(content, size=(60.0, 60.0), trim=(0, 0, 60, 60), bleed=None)
    after, _ = mend(case, step("spread", distance_mm=0.5))
    x0, y0, x1, y1 = after.artwork.pages[0].boxes.media
    assert (x0, y0) < (-0.49, -0.49) and (x1, y1) > (60.49, 60.49)


@breadth(0.12, "long ones")
def test_a_shape_in_a_form_on_a_turned_page_is_spread_as_well() -> None:
    body = ART.encode()
    form = b"<< /Type /XObject /Subtype /Form /BBox [0 0 200 200] /Length %d >>\nstream\n" % len(body)
    case = case_of(
        "/F Do\n" + line_in(ROUND + BAR), objects=(form + body + b"\nendstream",), extra_page="/Rotate 90",
        extra_resources="/XObject << /F 20 0 R >>",
    )
    after, _ = mend(case, step("spread", distance_mm=0.5))
    assert not stops(after)
