"""The reader says of painted objects what the standard says of the operators that painted them."""

import io
from collections.abc import Callable
from pathlib import Path

import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name

from horismos.artwork import ImageObject, PathObject, ShadingObject, TextObject, line_objects, read, read_bytes
from horismos.artwork.extent import bounds_of
from horismos.artwork.model import Artwork, PaintedObject
from horismos.artwork.paints import paints_of
from tests.known import HOUSE
from tests.shapes import MM, circle, line_in

Pdf = Callable[..., Path]
FONT = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>"


def objects(path: Path) -> tuple[PaintedObject, ...]:
    return read(path).pages[0].objects


def bounds_on_page(path: Path) -> list[tuple[float, ...] | None]:
    """Bounds in mm from the page's lower left; the fixture's trim box begins 10 mm inside."""
    page = read(path).pages[0]
    return [tuple(round(v + 10, 3) for v in b) if (b := bounds_of(page, o)) else None for o in page.objects]


@pytest.mark.parametrize(
    ("content", "expected"),
    [
        ("20 20 30 10 re f", (20, 20, 50, 30)),
        ("4 w 20 20 m 50 20 l S", (20, 18, 50, 22)),
        ("4 w 1 J 20 20 m 50 20 l S", (18, 18, 52, 22)),
        ("4 w 2 J 20 20 m 50 20 l S", (18, 18, 52, 22)),
        ("4 w 20 20 30 10 re S", (18, 18, 52, 32)),
        ("q 2 0 0 1 0 0 cm 4 w 10 20 m 10 40 l S Q", (16, 20, 24, 40)),
        ("q 30 30 10 10 re W n 20 20 40 40 re f Q", (30, 30, 40, 40)),
        (f"q {circle(50, 50, 10)} W n 0 0 100 45 re f Q", (41.34, 40, 58.66, 45)),
        ("q 30 30 10 10 re W n 60 60 5 5 re f Q", None),
    ],
)
def test_bounds_follow_stroke_caps_matrix_and_clip(content: str, expected: tuple[float, ...] | None, pdf: Pdf) -> None:
    (found,) = bounds_on_page(pdf(content))
    assert found == (None if expected is None else pytest.approx(expected, abs=0.02))


def test_a_mitre_reaches_out_as_far_as_its_limit_lets_it(pdf: Pdf) -> None:
    corner = "2 w 0 j {limit} M 30 30 m 50 30 l 30 40 l S"
    sharp, blunt = (bounds_on_page(pdf(corner.format(limit=n)))[0] for n in (10, 1))
    # The angle is atan(10/20); the tip lies 1 / sin(half of it) beyond the corner, along its bisector.
    assert sharp and blunt and sharp[2] == pytest.approx(50 + 4.236, abs=0.05) and blunt[2] < 51.5


def layered(group: str, default: str, content: str = "/OC /L BDC 10 10 9 9 re f EMC") -> Artwork:
    """A page whose content stands on one layer or membership, written by hand."""
    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(300, 300))
        a, b = (pdf.make_indirect(Dictionary(Type=Name.OCG, Name=pikepdf.String(n))) for n in "AB")
        a.Usage = Dictionary(Print=Dictionary(PrintState=Name.OFF))
        page = pdf.pages[0].obj
        member = {
            "A": a, "AllOn": Dictionary(Type=Name.OCMD, OCGs=Array([a, b]), P=Name.AllOn),
            "AnyOn": Dictionary(Type=Name.OCMD, OCGs=Array([a, b])),
            "AllOff": Dictionary(Type=Name.OCMD, OCGs=Array([a, b]), P=Name.AllOff),
            "AnyOff": Dictionary(Type=Name.OCMD, OCGs=Array([a, b]), P=Name.AnyOff),
            "not A": Dictionary(Type=Name.OCMD, VE=Array([Name.Not, a])),
            "A and not B": Dictionary(Type=Name.OCMD, VE=Array([Name.And, a, Array([Name.Not, b])])),
        }[group]
        page.Resources = Dictionary(Properties=Dictionary(L=member))
        page.Contents = pdf.make_stream(content.encode())
        event = Dictionary(Event=Name.Print, Category=Array([Name.Print]), OCGs=Array([a]))
        config = {"on": Dictionary(), "A off": Dictionary(OFF=Array([a])), "B off": Dictionary(OFF=Array([b])),
                  "none": Dictionary(BaseState=Name.OFF), "locked": Dictionary(Locked=Array([a])),
                  "print": Dictionary(AS=Array([event])),
                  "no print": Dictionary(AS=Array())}[default]
        pdf.Root.OCProperties = Dictionary(OCGs=Array([a, b]), D=config)
        out = io.BytesIO()
        pdf.save(out)
    return read_bytes(out.getvalue())


@pytest.mark.parametrize(
    ("group", "default", "visible"),
    [
        ("A", "on", True), ("A", "A off", False), ("A", "none", False),
        ("AllOn", "on", True), ("AllOn", "A off", False),
        ("AnyOn", "A off", True), ("AnyOn", "none", False), ("AllOff", "none", True), ("AllOff", "A off", False),
        ("AnyOff", "A off", True), ("AnyOff", "on", False), ("not A", "A off", True), ("not A", "on", False),
        ("A and not B", "B off", True), ("A and not B", "on", False),
    ],
)
def test_optional_content_shows_as_its_membership_says(group: str, default: str, visible: bool) -> None:
    """Source: ISO 32000-1, table 99, and 8.11.2.2 for visibility expressions."""
    (square,) = layered(group, default).pages[0].objects
    assert square.state.visible is visible


def test_print_state_counts_where_the_configuration_says_so() -> None:
    """Source: ISO 32000-1, 8.11.4.4; without AS a usage is taken at its word."""
    assert layered("A", "print").layers[0].prints is False
    assert layered("A", "no print").layers[0].prints is True
    assert layered("A", "on").layers[0].prints is False
    assert layered("A", "locked").layers[0].locked and not layered("A", "on").layers[0].locked


def test_layers_hold_through_forms_and_end_with_them(pdf: Pdf) -> None:
    artwork = layered("A", "A off", "/OC /L BDC q 5 5 5 5 re f Q EMC 40 40 5 5 re f EMC")
    inside, outside = artwork.pages[0].objects
    assert not inside.state.visible and outside.state.visible
    assert any("never began" in repair.words for repair in artwork.repairs)


SPACES = (
    "/ColorSpace << /Lab [/Lab << /WhitePoint [0.9642 1 0.8249] >>] /Cal [/CalRGB << /WhitePoint [0.95 1 1.09] >>] "
    "/All [/Separation /All /DeviceGray << /FunctionType 2 /Domain [0 1] /C0 [1] /C1 [0] /N 1 >>] "
    "/None [/Separation /None /DeviceGray << /FunctionType 2 /Domain [0 1] /C0 [1] /C1 [0] /N 1 >>] "
    "/Two [/DeviceN [/Reed /None] /DeviceCMYK << /FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1 0 1] >>] "
    "/NC [/DeviceN [/C1 /Sand] /DeviceCMYK << /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [1 0 0 0] /N 1 >> "
    "<< /Subtype /NChannel /Process << /ColorSpace /DeviceCMYK /Components [/C1 /M1 /Y1 /K1] >> >>] "
    "/Ix [/Indexed /DeviceCMYK 1 <00000000FF000080>] >>"
)


@pytest.mark.parametrize(
    ("colour", "inks", "additive"),
    [
        ("0.2 0.1 0 0.5 k", {"Cyan": 0.2, "Magenta": 0.1, "Yellow": 0, "Black": 0.5}, False),
        ("0.25 g", {"Black": 0.75}, False), ("1 0 0 rg", {}, True), ("/Lab cs 50 1 2 scn", {}, True),
        ("/Cal cs 1 0 0 scn", {}, True), ("/All cs 0.5 scn", {"All": 0.5}, False), ("/None cs 1 scn", {}, False),
        ("/Two cs 0.3 0.9 scn", {"Reed": 0.3}, False), ("/NC cs 0.4 0.6 scn", {"Cyan": 0.4, "Sand": 0.6}, False),
        ("/Ix cs 1 scn", {"Cyan": 1, "Magenta": 0, "Yellow": 0, "Black": 128 / 255}, False),
    ],
)
def test_every_colour_space_names_its_inks_with_their_tints(
    colour: str, inks: dict[str, float], additive: bool, pdf: Pdf
) -> None:
    """Source: ISO 32000-1, 8.6."""
    path = pdf(f"{colour} 20 20 9 9 re f")
    with pikepdf.open(path, allow_overwriting_input=True) as opened:
        parsed = pikepdf.Object.parse(f"<< {SPACES.removeprefix('/ColorSpace <<').removesuffix('>>')} >>".encode())
        opened.pages[0].Resources.ColorSpace = parsed
        opened.save(path)
    ((paint, _),) = paints_of(objects(path)[0])
    assert dict(paint.inks) == pytest.approx(inks) and paint.additive is additive


def test_a_tiling_names_the_inks_of_its_own_content_and_no_others(pdf: Pdf) -> None:
    path = pdf("/Pattern cs /P scn 20 20 40 40 re f", inks={"K": "Kiss Cut", "R": "Reed"})
    with pikepdf.open(path, allow_overwriting_input=True) as opened:
        tile = opened.make_stream(b"/R cs 0.5 scn 0 0 2 2 re f 0 0 1 0 k 2 2 1 1 re f")
        for key, value in {"/PatternType": 1, "/PaintType": 1, "/TilingType": 1, "/XStep": 4, "/YStep": 4}.items():
            tile[key] = value
        tile.BBox, tile.Resources = Array([0, 0, 4, 4]), opened.pages[0].Resources
        opened.pages[0].Resources.Pattern = Dictionary(P=opened.make_indirect(tile))
        opened.save(path)
    ((paint, _),) = paints_of(objects(path)[0])
    assert {ink for ink, tint in paint.inks if tint} == {"Reed", "Yellow"}


def test_a_type_3_font_is_run_for_its_inks_and_its_extent(pdf: Pdf) -> None:
    path = pdf("BT /T 10 Tf 30 50 Td (AB) Tj ET", inks={"K": "Kiss Cut", "R": "Reed"})
    with pikepdf.open(path, allow_overwriting_input=True) as opened:
        a = opened.make_stream(b"1000 0 d0 /R cs 1 scn 0 0 500 700 re f")
        b = opened.make_stream(b"1000 0 0 0 800 800 d1 0 0 800 800 re f")
        font = Dictionary(
            Type=Name.Font, Subtype=Name.Type3, FontBBox=Array([0, 0, 0, 0]),
            FontMatrix=Array([0.001, 0, 0, 0.001, 0, 0]),
            CharProcs=Dictionary(a=a, b=b), Encoding=Dictionary(Differences=Array([65, Name.a, Name.b])),
            FirstChar=65, LastChar=66, Widths=Array([1000, 1000]), Resources=opened.pages[0].Resources,
        )
        opened.pages[0].Resources.Font = Dictionary(T=opened.make_indirect(font))
        opened.save(path)
    (text,) = objects(path)
    assert isinstance(text, TextObject) and text.embedded
    assert "Reed" in {ink for paint, _ in paints_of(text) for ink, _ in paint.inks}
    # At size 10 a glyph is 10 mm wide: A from 30 to 35, B from 40 to 48; 8 mm high.
    assert bounds_on_page(path)[0] == pytest.approx((30, 50, 48, 58), abs=0.02)


def test_text_moves_on_by_widths_spacing_and_scale(pdf: Pdf) -> None:
    path = pdf("BT /F 10 Tf 2 Tc 5 Tw 50 Tz 20 50 Td (a b) Tj (c) Tj ET", extra_resources=FONT)
    first, second = objects(path)
    assert isinstance(first, TextObject) and isinstance(second, TextObject)
    # Helvetica: a 556, space 278, b 556 thousandths; 3 × 2 between letters, 5 for the space; half as wide.
    moved = ((0.556 + 0.278 + 0.556) * 10 + 6 + 5) / 2
    assert second.text_matrix[4] - first.text_matrix[4] == pytest.approx(moved)


def test_annotations_that_print_are_part_of_the_page_and_others_are_not(pdf: Pdf, tmp_path: Path) -> None:
    path = tmp_path / "annotated.pdf"
    with pikepdf.open(pdf(line_in(circle(50, 50, 20)))) as opened:
        looks = []
        for flags, x in ((4, 20), (0, 60)):
            look = opened.make_stream(b"0 1 0 0 k 0 0 20 20 re f")
            look.Type, look.Subtype, look.BBox = Name.XObject, Name.Form, Array([0, 0, 20, 20])
            looks.append(opened.make_indirect(Dictionary(
                Type=Name.Annot, Subtype=Name.Stamp, F=flags, Rect=Array([x * MM, 20 * MM, (x + 10) * MM, 30 * MM]),
                AP=Dictionary(N=look),
            )))
        opened.pages[0].obj.Annots = Array(looks)
        opened.save(path)
    page = read(path).pages[0]
    assert page.annotations == 1
    printed = [o for o in page.objects if isinstance(o, PathObject) and o.state.fill.inks[0][1] == 0 and o.fills]
    assert len(printed) == 1
    assert bounds_of(page, printed[0]) == pytest.approx((10, 10, 20, 20), abs=0.02)


def test_groups_clips_and_shadings_are_said(pdf: Pdf) -> None:
    shading = (
        "/Shading << /S << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [0 0 9 9] /BBox [30 30 50 40] "
        "/Function << /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [1 0 0 0] /N 1 >> >> >>"
    )
    path = pdf("/S sh", extra_resources=shading)
    (shaded,) = objects(path)
    assert isinstance(shaded, ShadingObject)
    assert bounds_on_page(path)[0] == pytest.approx((30, 30, 50, 40), abs=0.02)


def test_an_inline_image_ends_where_its_data_end(pdf: Pdf) -> None:
    import zlib

    raw = bytes(range(256)) + b" EI 1 0 0 rg " * 3 + bytes(86)  # 19 × 20 grey pixels, and a trap
    packed = zlib.compress(raw[:380]).hex()
    path = pdf(f"q 9 0 0 9 20 20 cm BI /W 19 /H 20 /CS /G /BPC 8 /F [/AHx /Fl] ID {packed}> EI Q 5 5 2 2 re f")
    image, square = objects(path)
    assert isinstance(image, ImageObject) and isinstance(square, PathObject) and image.pixels == (19, 20)


def test_private_data_and_later_updates_do_not_disturb(pdf: Pdf, tmp_path: Path) -> None:
    path = tmp_path / "private.pdf"
    with pikepdf.open(pdf(line_in(circle(50, 50, 20)))) as opened:
        private = opened.make_stream(b"\x00\xffnot content")
        opened.pages[0].obj.PieceInfo = Dictionary(Drawing=Dictionary(Private=private))
        opened.save(path, object_stream_mode=pikepdf.ObjectStreamMode.generate)
    artwork = read(path)
    assert len(line_objects(artwork, artwork.pages[0], HOUSE)) == 1 and not artwork.repairs
