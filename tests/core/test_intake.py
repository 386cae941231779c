"""Taking in: what is asked, what is refused in words, and what no file may do."""

import gzip
import io
import random
import struct
import time
import zlib
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from horismos.artwork import line_objects, read_bytes
from horismos.artwork.kinds import FileKind
from horismos.errors import Asks, CannotRead, HorismosError, LimitExceeded
from horismos.formats.hpgl import read_plot
from horismos.intake import Answers, kind_of, take_in
from horismos.orders import Order
from horismos.roles import LineRole
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

DATA = Path(__file__).parents[1] / "data"
SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:i="http://www.inkscape.org/namespaces/inkscape" {size} '
    'viewBox="0 0 100 80"><style>.die{{stroke:#f0f;fill:none}}</style><circle cx="50" cy="40" r="36" fill="#28a"/>'
    '<g i:label="Kiss Cut" transform="translate(10 0) scale(.5)">'
    '<circle cx="40" cy="40" r="30" fill="none" stroke="red"/></g>'
    '<rect class="die" x="5" y="5" width="90" height="70"/></svg>'
)


def png(width: int = 6, height: int = 4, **options: object) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.full((height, width, 3), 90, np.uint8)).save(out, "png", **options)  # type: ignore[arg-type]
    return out.getvalue()


def lines_of(pdf: bytes) -> dict[LineRole, float]:
    """The width in mm of each role's lines."""
    artwork = read_bytes(pdf)
    out = {}
    for line in line_objects(artwork, artwork.pages[0], HOUSE):
        points = np.concatenate([c.segments.reshape(-1, 2) for c in line.contours])
        assert line.role
        out[line.role] = float(np.ptp(points[:, 0]))
    return out


def asked(data: bytes, **options: object) -> list[str]:
    with pytest.raises(Asks) as asks:
        take_in(data, **options)  # type: ignore[arg-type]
    return [question.id for question in asks.value.questions]


def test_a_file_is_known_by_its_content_and_not_by_its_name() -> None:
    assert kind_of(png(), "photo.pdf") is FileKind.PNG
    assert kind_of(write(Drawing("")), "x") is FileKind.PDF
    assert kind_of(b"\xef\xbb\xbf<?xml version='1.0'?><svg xmlns='http://www.w3.org/2000/svg'/>") is FileKind.SVG
    assert kind_of(b"IN;SP1;PU0,0;PD100,0;") is FileKind.HPGL
    assert kind_of(b"  0\r\nSECTION\r\n  2\r\nHEADER\r\n") is FileKind.DXF
    assert kind_of(b"%!PS-Adobe-3.0\n") is FileKind.POSTSCRIPT


@pytest.mark.parametrize(
    "data",
    [b"", b"PK\x03\x04", b"GIF89a", gzip.compress(b"<svg/>", mtime=0), b"<html>", b"just words", b"MZ\x90", b"{\\rtf1"],
)
def test_anything_else_is_refused_with_a_next_step(data: bytes) -> None:
    with pytest.raises(CannotRead) as refused:
        take_in(data, "artwork.pdf")
    assert refused.value.next_step


@breadth(0.12, "long ones")
def test_named_layers_become_cuts_and_bound_classes_too() -> None:
    data = SVG.format(size="").encode()
    assert asked(data) == ["size"]
    taken = take_in(data, answers=Answers(width_mm=200, binding={"class:die": "through-cut"}))
    # 200 mm for 100 units; the circle of 30 units is halved by its group.
    assert lines_of(taken.pdf) == pytest.approx({LineRole.KISS_CUT: 60, LineRole.THROUGH_CUT: 180}, abs=0.05)
    assert read_bytes(taken.pdf).pages[0].size_mm == pytest.approx((200, 160), abs=0.02)
    by_name = take_in(data, answers=Answers(width_mm=200))  # “die” says a through cut by itself
    assert set(lines_of(by_name.pdf)) == {LineRole.KISS_CUT, LineRole.THROUGH_CUT}
    art = take_in(data, answers=Answers(width_mm=200, binding={"layer:Kiss Cut": "art", "class:die": "leave-out"}))
    assert lines_of(art.pdf) == {} and len(read_bytes(art.pdf).pages[0].objects) == 2


@breadth(0.12, "long ones")
def test_sizes_come_from_the_file_the_order_or_a_person() -> None:
    stated = take_in(SVG.format(size='width="50mm" height="40mm"').encode())
    assert read_bytes(stated.pdf).pages[0].size_mm == pytest.approx((50, 40), abs=0.02)
    ordered = take_in(SVG.format(size="").encode(), order=Order(width_mm=300, height_mm=300))
    assert read_bytes(ordered.pdf).pages[0].size_mm == pytest.approx((300, 240), abs=0.05)
    pixels = take_in(SVG.format(size='width="100" height="80"').encode())
    assert any("pixels" in n.words and n.severity == "look" for n in pixels.notes)
    assert asked(png()) == ["size"]
    turned = take_in(png(), order=Order(width_mm=40, height_mm=60))
    assert any("proportions" in n.words.lower() and n.severity == "look" for n in turned.notes)
    assert read_bytes(take_in(png(dpi=(254, 254))).pdf).pages[0].size_mm == pytest.approx((0.6, 0.4), abs=0.001)


def test_pens_and_units_are_asked_for_where_the_file_does_not_say() -> None:
    plot = b"IN;SP1;PU0,0;PD4000,0,4000,2000,0,2000,0,0;SP2;PU500,1000;PD3500,1000;PU;"
    assert asked(plot) == ["binding"]
    taken = take_in(plot, answers=Answers(binding={"pen:1": "through-cut", "pen:2": "crease"}))
    assert lines_of(taken.pdf) == pytest.approx({LineRole.THROUGH_CUT: 100, LineRole.CREASE: 75}, abs=0.01)
    document = ezdxf.new(units=0)
    document.modelspace().add_circle((0, 0), 2, dxfattribs={"layer": "Kiss Cut"})
    out = io.StringIO()
    document.write(out)
    assert asked(out.getvalue().encode()) == ["unit"]
    taken = take_in(out.getvalue().encode(), answers=Answers(unit="inch"))
    assert lines_of(taken.pdf) == pytest.approx({LineRole.KISS_CUT: 101.6}, abs=0.05)


@pytest.mark.parametrize(
    ("text", "boxes"),
    [
        ("PU100,100;PD;CI40;", [(60, 60, 140, 140)]), ("PU0,0;EA200,100;", [(0, 0, 200, 100)]),
        ("PU10,10;ER200,100;", [(10, 10, 210, 110)]), ("PU0,0;PD;BZ100,0,100,100,0,100;PU;", [(0, 0, 75, 100)]),
        ("PU0,0;PD;AT50,50,100,0;PU;", [(0, 0, 100, 50)]),
        ("IP0,0,1000,1000;SC0,10,0,10;PU0,0;PD5,2;PU;", [(0, 0, 500, 200)]),
        ("PU0,0;PD10,0LBwords PD99,99;\x03PU;", [(0, 0, 10, 0)]), ("SC0,2,0,2,2;PU0,0;PD5,5;PU;", [(0, 0, 10, 10)]),
    ],
)
def test_plots_are_followed_as_a_plotter_would(text: str, boxes: list[tuple[float, ...]]) -> None:
    """Values by arithmetic, in plotter units of 0.025 mm."""
    drawn = read_plot(f"IN;SP1;{text}SP0;".encode()).strokes
    found = [(*d.points.min(axis=0), *d.points.max(axis=0)) for d in drawn]
    assert len(found) == len(boxes)
    for a, b in zip(found, boxes, strict=True):
        assert [v / 0.025 for v in a] == pytest.approx(b, abs=0.5)


def test_pages_become_pieces_of_one_page_with_their_lines_where_they_were() -> None:
    data = write(Drawing(line_in(circle(50, 50, 30)), pages=3))
    taken = take_in(data, answers=Answers(pages=(1, 3)))
    artwork = read_bytes(taken.pdf)
    (page,) = artwork.pages
    contours = [c for line in line_objects(artwork, page, HOUSE) for c in line.contours]
    middles = sorted(float(c.segments.reshape(-1, 2)[:, 1].mean()) for c in contours)
    assert len(middles) == 2 and middles[1] - middles[0] == pytest.approx(120, abs=0.1)
    with pytest.raises(CannotRead, match="no page 9"):
        take_in(data, answers=Answers(pages=(9,)))


def test_no_layer_and_no_page_is_passed_over_for_being_one_of_many() -> None:
    document = ezdxf.new(units=4)
    for i in range(90):
        document.modelspace().add_circle((3 * i, 0), 1, dxfattribs={"layer": f"L{i}"})
    out = io.StringIO()
    document.write(out)
    binding = {f"layer:L{i}": "kiss-cut" for i in range(90)}
    taken = take_in(out.getvalue().encode(), answers=Answers(binding=binding))
    assert lines_of(taken.pdf) == pytest.approx({LineRole.KISS_CUT: 3 * 89 + 2}, abs=0.01)
    with pytest.raises(Asks) as asks:
        take_in(write(Drawing(line_in(circle(50, 50, 30)), pages=120)))
    assert len(asks.value.questions[0].choices) == 120


# -- hostile files ---------------------------------------------------------------------------------


def chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def claimed(width: int, height: int, packed: bytes) -> bytes:
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", packed) + chunk(b"IEND", b"")


def test_claims_and_bombs_are_refused_without_being_unpacked() -> None:
    began = time.perf_counter()
    with pytest.raises(LimitExceeded, match="100,000 × 100,000"):
        take_in(claimed(100_000, 100_000, zlib.compress(b"0")), answers=Answers(width_mm=10))
    with pytest.raises(LimitExceeded, match="more than it claims"):
        take_in(claimed(10, 10, zlib.compress(bytes(50_000_000))), answers=Answers(width_mm=10))
    with pytest.raises(CannotRead, match="fewer rows"):
        take_in(claimed(1000, 1000, zlib.compress(b"0" * 50)), answers=Answers(width_mm=10))
    assert time.perf_counter() - began < 30


@pytest.mark.parametrize(
    "inside",
    ['<!ENTITY a SYSTEM "file:///etc/passwd">', '<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">', '<!ENTITY % p SYSTEM "x">'],
)
def test_entities_that_reach_out_or_multiply_are_refused(inside: str) -> None:
    svg = '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><text>&a;</text></svg>'
    text = f"<!DOCTYPE svg [{inside}]>{svg}"
    with pytest.raises(CannotRead, match="entities"):
        take_in(text.encode())


def test_an_svg_reads_nothing_beside_itself(tmp_path: Path) -> None:
    secret = tmp_path / "secret.png"
    secret.write_bytes(png(40, 40))
    text = (
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="9mm" height="9mm">'
        f'<image xlink:href="{secret.as_uri()}" width="9" height="9"/><image href="{secret}" width="9" height="9"/>'
        f"<style>@import url({secret.as_uri()});</style></svg>"
    )
    taken = take_in(text.encode())
    assert read_bytes(taken.pdf).pages[0].objects == () and any("links to" in n.words for n in taken.notes)


@breadth(0.12, "long ones")
def test_postscript_that_loops_or_writes_comes_to_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from horismos.intake import postscript

    with monkeypatch.context() as short, pytest.raises(LimitExceeded):
        short.setattr(postscript, "seconds_for", lambda size: 1.5)
        take_in(b"%!PS\n{} loop")
    for path in (tmp_path / "evil.txt", Path("/tmp/horismos-evil.txt")):
        with pytest.raises(CannotRead, match="invalidfileaccess"):
            take_in(f"%!PS\n({path}) (w) file (x) writestring".encode())
        assert not path.exists()


def taken_or_refused(data: bytes) -> None:
    """Take a file in, or be asked or refused in words; nothing else may happen."""
    binding = {f"pen:{n}": "kiss-cut" for n in range(9)}
    try:
        take_in(data, answers=Answers(width_mm=20, unit="mm", binding=binding, pages=(1,)))
    except HorismosError as error:
        assert str(error)


def test_truncated_and_flipped_files_of_every_kind_are_taken_or_refused() -> None:
    rng = random.Random(5)
    tiff, jpeg = io.BytesIO(), io.BytesIO()
    noise = Image.fromarray(np.random.default_rng(2).integers(0, 255, (30, 40, 3), np.uint8))
    noise.save(tiff, "tiff", compression="tiff_lzw")
    noise.save(jpeg, "jpeg")
    document = ezdxf.new()
    document.modelspace().add_spline([(0, 0), (3, 4), (8, 1)])
    dxf = io.StringIO()
    document.write(dxf)
    kinds = {
        "pdf": write(Drawing(line_in(circle(50, 50, 30)))), "png": png(30, 20), "tiff": tiff.getvalue(),
        "jpeg": jpeg.getvalue(),
        "plot": b"IN;SP1;PU0,0;PD4000,0;AA10,10,90;CI50;PE<=abc;PU;", "dxf": dxf.getvalue().encode(),
    }
    for name, data in kinds.items():
        for _ in range(8 if name == "dxf" else 25):
            taken_or_refused(data[: rng.randrange(len(data))])
            flipped = bytearray(data)
            for _ in range(6):
                flipped[rng.randrange(len(data))] ^= 1 << rng.randrange(8)
            taken_or_refused(bytes(flipped))


@settings(max_examples=120, deadline=None)
@given(st.text(alphabet="INSPUDARCEBZKL0123456789,.;- \x1b\x03%<=:?", max_size=80))
def test_no_plot_breaks_its_reader(text: str) -> None:
    taken_or_refused(b"IN;SP1;PU0,0;PD10,10;" + text.encode())
