"""What mends come to, against LittleCMS called directly, Ghostscript's plates, qpdf, Poppler and shapely."""

import io
import subprocess
from pathlib import Path

import numpy as np
import pikepdf
import pytest
import shapely
from fontTools import t1Lib
from PIL import Image, ImageCms

from horismos.artwork import read_bytes
from horismos.artwork.glyphs import text_bounds
from horismos.artwork.model import PathObject, TextObject
from horismos.colour.convert import cmyk_of
from horismos.colour.press import PRESS
from horismos.mending import Mended, mend, step
from horismos.paths import flatten
from horismos.rendering import PageView, plates
from tests.breadth import breadth
from tests.faults import FAULTS, GROUND, KISS, LETTERS
from tests.known import HOUSE
from tests.pairs import SPOTS
from tests.shapes import Drawing, circle, write

pytestmark = breadth(0.5, "mending")

PPI = 150


def mended(data: bytes, name: str, **settings: object) -> Mended:
    return mend(read_bytes(data), step(name, **settings), HOUSE)


def by_ink(data: bytes) -> dict[str, np.ndarray]:
    return {p.ink: p.tint for p in plates(data, PPI, None)}


def lcms(values: np.ndarray, intent: ImageCms.Intent, compensate: bool) -> np.ndarray:
    """CMYK of 8-bit sRGB values, from LittleCMS by way of Pillow."""
    flags = ImageCms.Flags.BLACKPOINTCOMPENSATION if compensate else ImageCms.Flags.NONE
    made = ImageCms.buildTransform(ImageCms.createProfile("sRGB"), str(PRESS), "RGB", "CMYK", intent, flags)
    return np.asarray(ImageCms.applyTransform(Image.fromarray(values[None].astype(np.uint8)), made))[0]


@pytest.mark.parametrize(("intent", "kind", "compensate"), [
    ("relative", ImageCms.Intent.RELATIVE_COLORIMETRIC, True), ("perceptual", ImageCms.Intent.PERCEPTUAL, False),
])
def test_two_thousand_colours_are_converted_as_littlecms_does(
    intent: str, kind: ImageCms.Intent, compensate: bool
) -> None:
    """Source: LittleCMS 2 through FOGRA39L. Wanted: within 1 of 255 on each plate."""
    values = np.random.default_rng(7).integers(0, 256, (2000, 3))
    ours = np.round(cmyk_of(values / 255, "DeviceRGB", b"", intent) * 255)
    assert np.abs(ours - lcms(values, kind, compensate)).max() <= 1


def test_flat_colours_come_out_on_the_plates_as_littlecms_has_them() -> None:
    """Source: LittleCMS for the colours, Ghostscript for the plates."""
    values = np.random.default_rng(9).integers(0, 256, (60, 3))
    patches = "".join(
        f"{r / 255:.5f} {g / 255:.5f} {b / 255:.5f} rg {i % 10 * 8 + 10} {i // 10 * 8 + 10} 8 8 re f "
        for i, (r, g, b) in enumerate(values.tolist())
    )
    done = mended(write(Drawing(patches, inks=SPOTS)), "to-cmyk")
    found = by_ink(done.artwork.data)
    wanted = lcms(values, ImageCms.Intent.RELATIVE_COLORIMETRIC, True)
    height = next(iter(found.values())).shape[0]
    per_mm = PPI / 25.4
    for i, expected in enumerate(wanted.tolist()):
        row, column = height - int((i // 10 * 8 + 14) * per_mm), int((i % 10 * 8 + 14) * per_mm)
        got = [int(found[ink][row, column]) if ink in found else 0 for ink in ("Cyan", "Magenta", "Yellow", "Black")]
        assert max(abs(a - b) for a, b in zip(got, expected, strict=True)) <= 1, (i, got, expected)


def picture_page(mode: str, pixels: np.ndarray, alpha: np.ndarray | None = None) -> bytes:
    """A page with a picture over all of its trim box, with a soft mask where alpha is given."""
    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(200, 200))
        image = pdf.make_stream(pixels.tobytes())
        image.Type, image.Subtype = pikepdf.Name.XObject, pikepdf.Name.Image
        image.Width, image.Height, image.BitsPerComponent = pixels.shape[1], pixels.shape[0], 8
        image.ColorSpace = pikepdf.Name.DeviceRGB if mode == "RGB" else pikepdf.Name.DeviceGray
        if alpha is not None:
            mask = pdf.make_stream(alpha.tobytes())
            mask.Type, mask.Subtype, mask.ColorSpace = image.Type, image.Subtype, pikepdf.Name.DeviceGray
            mask.Width, mask.Height, mask.BitsPerComponent = alpha.shape[1], alpha.shape[0], 8
            image.SMask = mask
        page = pdf.pages[0].obj
        page.Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(P=image))
        page.Contents = pdf.make_stream(b"q 200 0 0 200 0 0 cm /P Do Q")
        page.TrimBox = [0, 0, 200, 200]
        out = io.BytesIO()
        pdf.save(out)
    return out.getvalue()


def test_a_picture_is_converted_pixel_by_pixel_and_keeps_its_alpha() -> None:
    """Source: LittleCMS. Wanted: within 1 of 255 on each plate, alpha kept."""
    rng = np.random.default_rng(4)
    pixels = rng.integers(0, 256, (30, 40, 3), np.uint8)
    alpha = rng.integers(0, 256, (30, 40), np.uint8)
    done = mended(picture_page("RGB", pixels, alpha), "to-cmyk")
    with pikepdf.open(io.BytesIO(done.artwork.data)) as pdf:
        image = pdf.pages[0].Resources.XObject.P
        assert image.ColorSpace == "/DeviceCMYK" and bytes(image.SMask.read_bytes()) == alpha.tobytes()
        ours = np.frombuffer(image.read_bytes(), np.uint8).reshape(-1, 4).astype(int)
    theirs = lcms(pixels.reshape(-1, 3), ImageCms.Intent.RELATIVE_COLORIMETRIC, True)
    assert np.abs(ours - theirs).max() <= 1


def test_a_shading_in_rgb_runs_through_the_colours_that_littlecms_gives() -> None:
    """Source: LittleCMS at both ends and in the middle, Ghostscript for the plates."""
    shading = (
        b"<< /ShadingType 2 /ColorSpace /DeviceRGB /Coords [10 0 90 0] /Extend [true true] "
        b"/Function << /FunctionType 2 /Domain [0 1] /C0 [1 0 0] /C1 [0 0 1] /N 1 >> >>"
    )
    page = Drawing("q 10 10 80 80 re W n /S sh Q " + KISS, inks=SPOTS, objects=(shading,),
                   extra_resources="/Shading << /S 20 0 R >>")
    done = mended(write(page), "to-cmyk")
    found = by_ink(done.artwork.data)
    row = next(iter(found.values())).shape[0] // 2
    for share in (0.05, 0.5, 0.95):
        column = int((10 + 80 * share) * PPI / 25.4)
        rgb = np.array([[round(255 * (1 - share)), 0, round(255 * share)]])
        expected = lcms(rgb, ImageCms.Intent.RELATIVE_COLORIMETRIC, True)[0]
        got = [int(found[ink][row, column]) for ink in ("Cyan", "Magenta", "Yellow", "Black")]
        assert max(abs(a - b) for a, b in zip(got, expected.tolist(), strict=True)) <= 6, (share, got, expected)


@pytest.mark.parametrize("name", [name for name, fault in FAULTS.items() if fault.art_stays])
def test_a_mend_of_lines_leaves_the_plates_of_the_art_bit_for_bit(name: str) -> None:
    """Source: Ghostscript's plates at 150 ppi of art and lines, without the plates of the lines."""
    fault = FAULTS[name]
    data = write(fault.page)
    done = mended(data, name, **fault.settings)
    before, after = by_ink(data), by_ink(done.artwork.data)
    lines = set(fault.inks.values()) | {"Kiss Cut"}
    if name == "overprint":
        pytest.skip("a line that knocks out leaves its hair on the plates of the page; the art alone has none")
    for ink in (before.keys() | after.keys()) - lines:
        assert np.array_equal(before[ink], after[ink]), ink


@pytest.mark.parametrize("name", FAULTS)
def test_what_went_through_a_mend_is_read_by_others_without_a_complaint(name: str, tmp_path: Path) -> None:
    """Source: qpdf --check, Ghostscript and Poppler's pdfinfo."""
    done = mended(write(FAULTS[name].page), name, **FAULTS[name].settings)
    path = tmp_path / "mended.pdf"
    path.write_bytes(done.artwork.data)
    with pikepdf.open(path) as pdf:
        assert pdf.check_pdf_syntax() == []
    info = subprocess.run(["pdfinfo", "-box", path], capture_output=True, text=True, check=True)
    assert not info.stderr and "Pages:           1" in info.stdout
    said = subprocess.run(
        ["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-dPDFSTOPONERROR", "-sDEVICE=nullpage", str(path)],
        capture_output=True, text=True, check=False, stdin=subprocess.DEVNULL,
    )
    assert said.returncode == 0 and not said.stderr and not said.stdout.strip()


def _unlike(before: bytes, after: bytes, boxes: list[tuple[float, float, float, float]]) -> tuple[float, float]:
    """The mean difference of PDFium's pictures at 300 ppi over boxes, and the greatest over a square mm, of 255."""
    views = [PageView(data, read_bytes(data).pages[0].boxes) for data in (before, after)]
    means, squares = [], []
    for box in boxes:
        a, b = (view.render(box, 300).astype(int) for view in views)
        apart = np.abs(a - b).max(axis=2)
        k = 12
        h, w = max(apart.shape[0] // k * k, 1), max(apart.shape[1] // k * k, 1)
        means.append(apart.mean())
        if h >= k and w >= k:
            squares.append(apart[:h, :w].reshape(h // k, k, w // k, k).mean(axis=(1, 3)).max())
    for view in views:
        view.close()
    return float(np.mean(means)), float(max(squares, default=0.0))


MODES = "0 Tr 30 60 Td (Agnes) Tj 1 Tr 0.3 w 0 0 0 1 K 0 -14 Td (Quay) Tj 2 Tr 0 -14 Td [(Wa) -120 (ter)] TJ "
SPACED = "1.2 Tc 3 Tw 80 Tz 2 Ts 0 Tr 12 TL T* (two words) ' 1 0.2 0.1 1 30 20 Tm (turned) Tj "


TYPE1 = Path("/usr/share/fonts/type1/urw-base35/NimbusRoman-Regular.t1")
"""A Type 1 program that Ghostscript's own package brings with it."""


def _type1() -> dict[str, object]:
    """The same font as a Type 1 program in the file (ISO 32000-1, 9.9)."""
    program = t1Lib.read(str(TYPE1))[0]
    clear = program.index(b"eexec") + 6
    rows = [line.split(";") for line in TYPE1.with_suffix(".afm").read_text().splitlines() if line.startswith("C ")]
    known = {int(row[0].split()[1]): row[1].split()[1] for row in rows}
    widths = " ".join(known.get(code, "0") for code in range(32, 127))
    return {"extra_resources": "/Font << /F 20 0 R >>", "objects": (
        f"<< /Type /Font /Subtype /Type1 /BaseFont /Nimbus /FirstChar 32 /LastChar 126 /Widths [{widths}] "
        "/FontDescriptor 21 0 R >>".encode(),
        b"<< /Type /FontDescriptor /FontName /Nimbus /Flags 32 /FontBBox [-168 -281 1000 924] /ItalicAngle 0 "
        b"/Ascent 800 /Descent -250 /CapHeight 700 /StemV 80 /FontFile 22 0 R >>",
        b"<< /Length %d /Length1 %d /Length2 %d /Length3 0 >>\nstream\n%s\nendstream"
        % (len(program), clear, len(program) - clear, program),
    )}


def letters(kind: str, tmp_path: Path) -> bytes:
    """A page of text in a font of a kind, made by others where it is no plain TrueType."""
    if kind == "truetype":
        text = f"0.1 0.6 0.2 0 k BT /F 10 Tf {MODES}{SPACED}ET "
        return write(Drawing(text, inks=SPOTS, **{k: v for k, v in LETTERS.items()}))
    if kind == "type1c":
        helvetica = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>"
        (tmp_path / "in.pdf").write_bytes(
            write(Drawing(f"0.1 0.6 0.2 0 k BT /F 10 Tf {MODES}{SPACED}ET ", extra_resources=helvetica))
        )
        subprocess.run(
            ["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=pdfwrite", "-sOutputFile=out.pdf", "-c",
             "<< /NeverEmbed [] >> setdistillerparams", "-f", "in.pdf"],
            cwd=tmp_path, check=True, stdin=subprocess.DEVNULL,
        )
        return (tmp_path / "out.pdf").read_bytes()
    if kind == "type1":
        return write(Drawing(f"0.1 0.6 0.2 0 k BT /F 10 Tf {MODES}{SPACED}ET ", inks=SPOTS, **_type1()))
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60"><text x="5" y="25" '
        'font-family="DejaVu Serif" font-size="12" fill="#264">Curlew Ωß</text></svg>'
    )
    (tmp_path / "in.svg").write_text(svg)
    subprocess.run(["rsvg-convert", "-f", "pdf", "-o", "out.pdf", "in.svg"], cwd=tmp_path, check=True)
    return (tmp_path / "out.pdf").read_bytes()


@pytest.mark.parametrize(("kind", "said"), [
    ("truetype", "TrueType"), ("type1", "Type 1 "), ("type1c", "Type 1C"), ("composite", "CID"),
])
def test_outlined_text_looks_as_pdfium_draws_the_live_text(kind: str, said: str, tmp_path: Path) -> None:
    """Source: PDFium; pdffonts for the kind. Wanted: a mean of 1 of 255, and 50 in any square mm."""
    data = letters(kind, tmp_path)
    (tmp_path / "live.pdf").write_bytes(data)
    fonts = subprocess.run(["pdffonts", tmp_path / "live.pdf"], capture_output=True, text=True, check=True).stdout
    assert said in fonts
    page = read_bytes(data).pages[0]
    boxes = [box for o in page.objects if isinstance(o, TextObject) and (box := text_bounds(o))]
    assert len(boxes) >= 1
    done = mended(data, "text-to-outlines")
    assert done.changed == {"texts": len(boxes), "left": 0}
    mean, square = _unlike(data, done.artwork.data, boxes)
    assert mean <= 1 and square <= 50, (mean, square)
    (tmp_path / "outlined.pdf").write_bytes(done.artwork.data)
    none = subprocess.run(["pdftotext", tmp_path / "outlined.pdf", "-"], capture_output=True, text=True, check=True)
    assert not none.stdout.strip()


@pytest.mark.parametrize("state", [
    "0 J 0 j [] 0 d", "1 J 1 j [] 0 d", "2 J 2 j [] 0 d", "0 J 1 j [4 2] 1 d",
    "2 J 0 j [6 3 1 3] 2 d", "2 0 0.4 1 0 0 cm 0 J 0 j [] 0 d",
])
def test_outlined_strokes_look_as_pdfium_draws_the_live_ones(state: str) -> None:
    """Source: PDFium. Wanted: a mean of 1 of 255, and 50 in any square mm."""
    path = "20 20 m 60 30 l 30 45 l 50 60 45 80 25 70 c S 14 80 10 8 re S "
    data = write(Drawing(f"q 0.1 0.7 0.2 0 K 1.7 w {state} {path} Q", inks=SPOTS))
    done = mended(data, "strokes-to-outlines")
    mean, square = _unlike(data, done.artwork.data, [(-10, -10, 90, 90)])
    assert mean <= 1 and square <= 50, (mean, square)


@pytest.mark.parametrize("how", ["", "run-on", "mirror", "stretch"])
@pytest.mark.parametrize(("colour", "inks"), [
    ("0.8 0 0.3 0.1 k", SPOTS), ("/Z cs 0.6 scn", {"K": "Kiss Cut", "Z": "Gold"}),
])
def test_a_flat_colour_runs_on_with_exactly_its_tints_and_nothing_changes_inside(
    how: str, colour: str, inks: dict[str, str]
) -> None:
    """Source: Ghostscript's plates before and after, and shapely for what lies inside the cut."""
    data = write(Drawing(f"{colour} {circle(50, 50, 40.6)} f 0 g 45 45 9 9 re f " + KISS, inks=inks))
    done = mended(data, "extend-bleed", distance_mm=3, how=how)
    before, after = by_ink(data), by_ink(done.artwork.data)
    rows, columns = np.indices(next(iter(before.values())).shape)
    height = rows.shape[0]
    away = np.hypot((columns + 0.5) * 25.4 / PPI - 50, (height - rows - 0.5) * 25.4 / PPI - 50)
    for ink in before.keys() - {"Kiss Cut"}:
        assert np.array_equal(before[ink][away < 39.7], after[ink][away < 39.7]), ink
        ring = after[ink][(away > 40.9) & (away < 42.7)]
        edge = np.unique(before[ink][(away > 38.5) & (away < 39.5)])
        assert len(edge) == 1 and np.unique(ring).tolist() == edge.tolist(), (ink, np.unique(ring), edge)
        assert not after[ink][away > 43.6].any()


@pytest.mark.parametrize("shift", [0.0, 0.17, 0.3, 0.41, 1.0])
def test_white_is_pulled_in_under_the_colour_and_stays_where_it_was_in_already(shift: float) -> None:
    """Source: shapely's buffer of the colour's own shape."""
    data = write(Drawing(f"/Over gs /W cs 1 scn {circle(50, 50 + shift, 43.9)} f {GROUND}" + KISS,
                         inks={"K": "Kiss Cut", "W": "White"}))
    done = mended(data, "choke-white", choke_mm=0.3)
    page = done.artwork.pages[0]
    (white,) = [o for o in page.objects if isinstance(o, PathObject) and dict(o.state.fill.inks).get("White")]
    (now,) = [shapely.Polygon(flatten(c, 0.002)) for c in page.contours(white)]
    colour = shapely.Point(40, 40).buffer(44, quad_segs=256)
    was = shapely.Point(40, 40 + shift).buffer(43.9, quad_segs=256)
    assert colour.buffer(-0.3 + 0.02, quad_segs=256).contains(now)
    assert now.area >= was.intersection(colour.buffer(-0.5, quad_segs=256)).area * 0.999
    low = shapely.box(20, -20, 60, 10)
    if shift == 1.0:  # there the white lay further in than that, and is as it was
        assert now.intersection(low).symmetric_difference(was.intersection(low)).area < 0.5


def test_a_picture_goes_on_without_a_step_at_the_edge() -> None:
    """Source: Ghostscript's plates. The step where it joins is at most that between neighbouring pixels inside."""
    data = write(Drawing(f"q {circle(50, 50, 40.5)} W n /S sh Q " + KISS, inks=SPOTS, objects=(
        b"<< /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [0 0 100 100] /Extend [true true] "
        b"/Function << /FunctionType 2 /Domain [0 1] /C0 [0 0.2 0.9 0] /C1 [1 0.8 0 0] /N 1 >> >>",
    ), extra_resources="/Shading << /S 20 0 R >>"))
    done = mended(data, "extend-bleed", distance_mm=3)
    cyan = by_ink(done.artwork.data)["Cyan"].astype(int)
    middle = cyan.shape[0] // 2
    row = cyan[middle, int(50 * PPI / 25.4) : int(92.5 * PPI / 25.4)]
    inside = np.abs(np.diff(row[: int(38 * PPI / 25.4)])).max()
    assert np.abs(np.diff(row)).max() <= inside + 1 and row.min() > 0


def test_texture_goes_on_as_texture_and_does_not_smear() -> None:
    """Source: Ghostscript's plates. What is added varies as much as what lies beside it."""
    noise = np.random.default_rng(8).integers(0, 256, (300, 300, 4)).astype(np.uint8)
    image = b"<< /Type /XObject /Subtype /Image /Width 300 /Height 300 /BitsPerComponent 8 /ColorSpace /DeviceCMYK " \
        b"/Length %d >>\nstream\n%s\nendstream" % (noise.nbytes, noise.tobytes())
    data = write(Drawing(f"q {circle(50, 50, 40.5)} W n 100 0 0 100 0 0 cm /P Do Q " + KISS, inks=SPOTS,
                         objects=(image,), extra_resources="/XObject << /P 20 0 R >>"))
    cyan = by_ink(mended(data, "extend-bleed", distance_mm=3).artwork.data)["Cyan"].astype(float)
    rows, columns = np.indices(cyan.shape)
    away = np.hypot((columns + 0.5) * 25.4 / PPI - 50, (cyan.shape[0] - rows - 0.5) * 25.4 / PPI - 50)
    added, beside = cyan[(away > 41) & (away < 42.8)], cyan[(away > 36) & (away < 39)]
    assert added.std() > 0.9 * beside.std() and abs(added.mean() - beside.mean()) < 12


def test_dots_of_no_length_are_drawn_by_their_caps() -> None:
    """Source: ISO 32000-1, 8.4.3.6, and Ghostscript's plates; PDFium leaves them out."""
    data = write(Drawing("0 1 0 0 K 1.7 w 1 J [0 3] 0 d 20 20 m 60 30 l 30 45 l S " + KISS, inks=SPOTS))
    done = mended(data, "strokes-to-outlines")
    before, after = by_ink(data)["Magenta"].astype(int), by_ink(done.artwork.data)["Magenta"].astype(int)
    assert before.any() and np.abs(before - after).mean() <= 1


def test_a_spot_ink_keeps_its_tints_on_the_plate_of_the_other() -> None:
    """Source: Ghostscript's plates."""
    content = GROUND + "/Z cs 0.4 scn 30 30 9 9 re f 0.8 scn 50 50 9 9 re f " + KISS
    data = write(Drawing(content, inks={"K": "Kiss Cut", "Z": "Gold"}))
    done = mended(data, "recolour", ink="Gold", to="White")
    before, after = by_ink(data), by_ink(done.artwork.data)
    assert "Gold" not in after and np.array_equal(after["White"], before["Gold"])
    assert np.array_equal(after["Cyan"], before["Cyan"])
