"""What is taken in is what was sent, judged by tools and libraries that are not ours."""

import io
import subprocess
from pathlib import Path

import ezdxf
import numpy as np
import pypdfium2 as pdfium
import pytest
import shapely
import tifffile
from ezdxf.addons.hpgl2 import api as hpgl
from PIL import Image, ImageDraw

from horismos.artwork import line_objects, read_bytes
from horismos.formats.hpgl import read_plot
from horismos.intake import Answers, take_in
from horismos.orders import Order
from horismos.paths import Contour, flatten
from horismos.rendering import plates
from horismos.roles import LineRole
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import MM

DATA = Path(__file__).parents[1] / "data"
RNG = np.random.default_rng(11)
RGB8 = RNG.integers(0, 255, (23, 37, 3), np.uint8)
RGB16 = RNG.integers(0, 65535, (23, 37, 3), np.uint16)
SIZE = Answers(width_mm=74)


def packed(kind: str, samples: np.ndarray, **options: object) -> bytes:
    out = io.BytesIO()
    if kind == "tiff":
        tifffile.imwrite(out, samples, **options)  # type: ignore[arg-type]
    else:
        mode = options.pop("mode", None)
        image = Image.fromarray(samples)
        (image.convert(mode) if mode else image).save(out, kind, **options)  # type: ignore[arg-type]
    return out.getvalue()


def extracted(pdf: bytes, folder: Path) -> list[Path]:
    """Source: Poppler's `pdfimages -all`, which writes out what is embedded."""
    (folder / "in.pdf").write_bytes(pdf)
    subprocess.run(["pdfimages", "-all", folder / "in.pdf", folder / "out"], check=True)
    return sorted(folder.glob("out*"))


@pytest.mark.parametrize(
    ("data", "expected", "sixteen"),
    [
        (packed("png", RGB8), RGB8, False),
        (packed("png", RGB8[..., 0]), RGB8[..., 0], False),
        (packed("tiff", RGB8, photometric="rgb", compression="zlib"), RGB8, False),
        (packed("tiff", RGB8.transpose(2, 0, 1), photometric="rgb", planarconfig="separate"), RGB8, False),
        (packed("tiff", RGB16, photometric="rgb"), (RGB16 >> 8).astype(np.uint8), True),
    ],
    ids=["png", "grey png", "tiff", "planar tiff", "16 bit tiff"],
)
def test_pixels_are_embedded_without_loss(data: bytes, expected: np.ndarray, sixteen: bool, tmp_path: Path) -> None:
    """Source: Poppler's `pdfimages`; it gives 8 bits of 16."""
    (out,) = extracted(take_in(data, answers=SIZE).pdf, tmp_path)
    found = np.asarray(Image.open(out))
    if found.ndim == 3 and expected.ndim == 2:
        found = found[..., 0]
    # Poppler rounds 16 bits to 8, and the highest ones round over to nothing.
    assert ((found.astype(int) - expected) % 256).max() <= (1 if sixteen else 0)


def test_a_jpeg_keeps_its_own_bytes(tmp_path: Path) -> None:
    """Source: Poppler's `pdfimages -all` gives the JPEG back as it is embedded."""
    for mode in ("RGB", "L", "CMYK"):
        folder = tmp_path / mode
        folder.mkdir()
        data = packed("jpeg", RGB8, mode=mode, quality=90)
        taken = take_in(data, answers=SIZE)
        assert data in taken.pdf
        (out,) = extracted(taken.pdf, folder)
        assert np.array_equal(np.asarray(Image.open(out)), np.asarray(Image.open(io.BytesIO(data))))


def test_cmyk_is_printed_as_it_was_sent() -> None:
    """Source: Ghostscript's plates of flat patches, from a TIFF and from a JPEG with an Adobe marker."""
    wanted = (51, 102, 153, 26)
    patch = np.full((32, 32, 4), wanted, np.uint8)
    tiff = packed("tiff", patch, photometric="separated")
    out = io.BytesIO()
    # Pillow writes the Adobe marker and inverted samples, as photo editors do.
    Image.fromarray(patch, "CMYK").save(out, "jpeg", quality=100, subsampling=0)
    for data in (tiff, out.getvalue()):
        made = plates(take_in(data, answers=Answers(width_mm=20)).pdf, 72)
        inks = [int(np.median(p.tint)) for p in made[:4]]
        assert inks == pytest.approx(wanted, abs=2)


def test_alpha_and_orientation_show_as_they_do_elsewhere() -> None:
    """Source: Pillow's own turning by the EXIF tag and its compositing on white, against PDFium's picture."""
    alpha = RNG.integers(0, 255, (23, 37, 1), np.uint8)
    sent = Image.fromarray(np.concatenate([np.full_like(RGB8, 90), alpha], axis=2), "RGBA")
    out = io.BytesIO()
    sent.save(out, "png")
    white = Image.new("RGBA", sent.size, "white")
    white.alpha_composite(sent)
    page = pdfium.PdfDocument(take_in(out.getvalue(), answers=Answers(width_mm=37 * 25.4 / 72)).pdf)[0]
    shown = page.render(scale=1).to_numpy()[:23, :37, ::-1].astype(int)
    assert np.abs(shown - np.asarray(white.convert("RGB"))).mean() < 1.5
    for orientation in range(1, 9):
        flat = np.zeros((24, 36, 3), np.uint8)
        flat[:12, :18] = (255, 0, 0)
        flat[12:, 18:] = (0, 0, 255)
        exif = Image.Exif()
        exif[0x0112] = orientation
        out = io.BytesIO()
        Image.fromarray(flat).save(out, "jpeg", quality=100, subsampling=0, exif=exif)
        from PIL import ImageOps

        wanted = np.asarray(ImageOps.exif_transpose(Image.open(out)).convert("RGB")).astype(int)
        page = pdfium.PdfDocument(take_in(out.getvalue(), answers=Answers(width_mm=50)).pdf)[0]
        shown = page.render(scale=wanted.shape[1] / page.get_width()).to_numpy()[..., ::-1].astype(int)
        assert shown.shape == wanted.shape and np.abs(shown - wanted).mean() < 6, orientation


def test_a_picture_is_as_large_as_it_says() -> None:
    """Source: the resolution as Pillow and tifffile wrote it; the page as PDFium measures it."""
    metric = {"resolution": (200 / 2.54, 200 / 2.54), "resolutionunit": "CENTIMETER"}
    for data in (packed("png", RGB8, dpi=(200, 200)), packed("jpeg", RGB8, dpi=(200, 200)),
                 packed("tiff", RGB8, photometric="rgb", **metric)):
        page = pdfium.PdfDocument(take_in(data).pdf)[0]
        assert page.get_width() / 72 == pytest.approx(37 / 200, abs=0.001)


EPS = """%!PS-Adobe-3.0 EPSF-3.0
%%BoundingBox: 10 10 210 160
[/Separation (Kiss Cut) /DeviceCMYK {0 exch 0 0}] setcolorspace 1 setcolor 0.25 setlinewidth
true setoverprint 110 85 60 0 360 arc closepath stroke false setoverprint
[/Separation (Reed Gold) /DeviceCMYK {dup 0.2 mul exch dup 0.4 mul exch 0}] setcolorspace 0.5 setcolor
60 60 50 50 rectfill 0.3 0 0 0 setcmykcolor 20 20 10 10 rectfill showpage
"""


@pytest.mark.parametrize("head", ["plain", "binary"])
def test_spot_inks_come_through_postscript(head: str) -> None:
    """Source: Ghostscript's plates of the PDF; the bounding box as the EPS states it."""
    data = EPS.encode()
    if head == "binary":
        places = (30).to_bytes(4, "little") + len(data).to_bytes(4, "little") + bytes(18)
        data = b"\xc5\xd0\xd3\xc6" + places + data + b"a preview"
    taken = take_in(data)
    assert {p.ink for p in plates(taken.pdf, 72)} >= {"Kiss Cut", "Reed Gold", "Cyan"}
    page = pdfium.PdfDocument(taken.pdf)[0]
    assert page.get_size() == pytest.approx((200, 150), abs=0.1)
    artwork = read_bytes(taken.pdf)
    (line,) = line_objects(artwork, artwork.pages[0], HOUSE)
    assert line.role is LineRole.KISS_CUT and line.overprints
    x0, _, x1, _ = shapely.MultiPoint(flatten(line.contours[0])).bounds
    assert (x1 - x0) * MM == pytest.approx(120, abs=0.05)


def covered(
    contours: list[Contour], size: tuple[int, int], page_mm: tuple[float, float], wide_mm: float
) -> np.ndarray:
    """The pixels that strokes cover, by shapely's buffer and Pillow's polygons, twelve times oversampled."""
    fine = 12
    per_mm = size[0] / page_mm[0]
    drawn = Image.new("L", (size[0] * fine, size[1] * fine))
    pen = ImageDraw.Draw(drawn)
    strokes = []
    for contour in contours:
        at = flatten(contour, 0.005)
        # PDFium stretches a page to whole pixels.
        at = np.column_stack([at[:, 0] * per_mm, (page_mm[1] - at[:, 1]) * size[1] / page_mm[1]]) * fine
        line = shapely.LinearRing(at) if contour.closed else shapely.LineString(at)
        strokes.append(line.buffer(wide_mm * per_mm * fine / 2, cap_style="round", join_style="round"))
    whole = shapely.union_all(strokes)
    for part in sorted(getattr(whole, "geoms", [whole]), key=lambda p: -shapely.Polygon(p.exterior).area):
        pen.polygon(list(part.exterior.coords), fill=255)
        for hole in part.interiors:
            pen.polygon(list(hole.coords), fill=0)
    return np.asarray(drawn.resize(size, Image.Resampling.BOX)) > 127


@breadth(0.12, "long ones")
@pytest.mark.parametrize("name", ["crayfish", "tulips"])
def test_lines_bound_in_an_svg_lie_where_pdfium_draws_them(name: str) -> None:
    """Source: PDFium's rendering of each line alone at 300 ppi, as strokes of 1 mm; shared over joint area."""
    data = (DATA / f"{name}.svg").read_bytes()
    first = take_in(data, order=Order(width_mm=100, height_mm=100), answers=Answers(width_mm=101.6))
    keys = [c.key for c in first.choices] or []
    if not keys:  # a drawing without a word in it: name its root
        data = data.replace(b"<path", b'<path class="outline"')
        keys = ["class:outline"]
    taken = take_in(data, answers=Answers(width_mm=101.6, binding={keys[0]: "kiss-cut"}))
    artwork = read_bytes(taken.pdf)
    page = artwork.pages[0]
    contours = [c for line in line_objects(artwork, page, HOUSE) for c in line.contours]
    assert len(contours) > 5
    import pikepdf

    with pikepdf.open(io.BytesIO(taken.pdf)) as pdf:
        form = pdf.pages[0].Resources.XObject["/kisscut"]
        form.write(form.read_bytes().replace(b"0.088194 w", b"1 w 1 j 1 J"))
        pdf.pages[0].obj.Contents = pdf.make_stream(f"q {MM:.8f} 0 0 {MM:.8f} 0 0 cm /kisscut Do Q".encode())
        out = io.BytesIO()
        pdf.save(out)
    scale = 300 / 72
    theirs = pdfium.PdfDocument(out.getvalue())[0].render(scale=scale).to_numpy().min(axis=2) < 128
    ours = covered(contours, (theirs.shape[1], theirs.shape[0]), page.size_mm, 1.0)
    assert (ours & theirs).sum() / (ours | theirs).sum() >= 0.98


@breadth(0.12, "long ones")
def test_what_two_renderers_draw_differently_comes_in_as_pixels() -> None:
    """Source: resvg against librsvg. A filter that is not there hides a shape for one and not for the other."""
    same = b'<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">%s</svg>'
    plain = take_in(same % b'<circle cx="30" cy="30" r="20" fill="#284"/>')
    assert not any("pixels at" in n.words for n in plain.notes)
    gone = take_in(same % b'<circle cx="30" cy="30" r="20" fill="#284" filter="url(#gone)"/>')
    unlike = [n for n in gone.notes if "differently" in n.words]
    assert unlike and unlike[0].severity == "look"
    page = read_bytes(gone.pdf).pages[0]
    (image,) = page.objects
    assert image.ppi[0] == pytest.approx(300, abs=1) and page.size_mm == pytest.approx((60, 60), abs=0.01)  # type: ignore[union-attr]


def test_hpgl_is_read_as_ezdxf_reads_it() -> None:
    """Source: ezdxf's HP-GL/2 reader on lines, arcs and relative moves."""
    text = b"IN;SP1;PA0,0;PD4000,0,4000,3000;PU;SP2;PU2000,2000;PD;AA2500,2000,270;PU;" \
           b"PU1000,4000;PD;PR500,0,0,500;PU;PA0,0;"
    ours = read_plot(text)
    assert {d.tool for d in ours.strokes} == {1, 2} and not ours.scaled
    drawing = hpgl.to_dxf(b"\x1b%1B" + text, rotation=0)
    theirs = []
    for entity in drawing.modelspace():
        points = np.array([tuple(v) for v in ezdxf.path.make_path(entity).flattening(0.5)])[:, :2] * 0.025
        theirs.append(points)

    def size(points: np.ndarray) -> tuple[float, float]:
        return tuple(np.ptp(points, axis=0).round(1))  # type: ignore[return-value]
    frames = sorted(size(points) for points in theirs)
    for stroke in ours.strokes:
        w, h = size(stroke.points)
        assert any(abs(w - a) <= 0.11 and abs(h - b) <= 0.11 for a, b in frames), (w, h, frames)


def test_dxf_keeps_lengths_layers_and_units() -> None:
    """Source: ezdxf's own measures of the entities that it wrote."""
    document = ezdxf.new(units=5)  # centimetres
    space = document.modelspace()
    space.add_circle((5, 5), 2, dxfattribs={"layer": "CUT"})
    spline = space.add_spline([(0, 0), (3, 4), (8, 1), (9, 6)], dxfattribs={"layer": "FOLD"})
    for a, b in (((0, 8), (4, 8)), ((4, 8), (4, 9)), ((4, 9), (0, 8))):
        space.add_line(a, b, dxfattribs={"layer": "TAB"})
    space.add_text("not a line")
    out = io.StringIO()
    document.write(out)
    binding = {"layer:CUT": "through-cut", "layer:FOLD": "crease", "layer:TAB": "kiss-cut"}
    taken = take_in(out.getvalue().encode(), answers=Answers(binding=binding))
    artwork = read_bytes(taken.pdf)
    from horismos.artwork.inspect import inspect

    lines = {line["role"]: line for line in inspect(artwork, HOUSE)["pages"][0]["lines"]}
    assert lines["through-cut"]["length_mm"] == pytest.approx(2 * np.pi * 20, rel=1e-3)
    path = ezdxf.path.make_path(spline)
    flat = np.array([tuple(v) for v in path.flattening(0.001)])
    assert lines["crease"]["length_mm"] == pytest.approx(10 * np.hypot(*np.diff(flat[:, :2], axis=0).T).sum(), rel=1e-3)
    assert lines["kiss-cut"]["contours"] == lines["kiss-cut"]["closed_contours"] == 1
    assert any("TEXT" in n.words for n in taken.notes)
