"""The print PDF beside ISO 15930-7 (PDF/X-4), ISO 32000-1 and tools by others.

The rules of PDF/X-4 are [memory]; ``pdfinfo``, LittleCMS (by Pillow), Ghostscript and PDFium are not ours.
"""

import io
import subprocess
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pikepdf
import pypdfium2
import pytest
from PIL import Image, ImageCms

from horismos.artwork import read_bytes
from horismos.artwork.mixing_hints import printing_order
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.release.printpdf import Printed, print_pdf
from horismos.sheet import Layout
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.plan import plan
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

CUT = line_in(circle(50, 50, 35))
CLEAN = f"1 0 0 0 k {circle(50, 50, 38)} f {CUT}"
WHITE = f"/W cs 1 scn {circle(50, 50, 38)} f 1 0 0 0 k {circle(50, 50, 38)} f {CUT}"
LOOSE = "/Font << /F1 << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>"
XMP = {"pdfxid": "http://www.npes.org/pdfx/ns/id/", "xmp": "http://ns.adobe.com/xap/1.0/",
       "pdf": "http://ns.adobe.com/pdf/1.3/"}


def printed(content: str, layout: Layout | None = None, material: str = "film-610", **drawing: object) -> Printed:
    artwork = read_bytes(write(Drawing(content, **drawing)))  # type: ignore[arg-type]
    case = Case(artwork=artwork, order=Order(
        quantity=3
    ), destination=HOUSE, material=MATERIALS[material], layout=layout or Layout(), facts=JobFacts("S"))
    return print_pdf(plan(case).sheet, HOUSE, "Seals")


def said(made: Printed, folder: Path) -> dict[str, str]:
    """What the XMP says, as Poppler's pdfinfo finds it."""
    (folder / "print.pdf").write_bytes(made.data)
    meta = subprocess.run(["pdfinfo", "-meta", folder / "print.pdf"], capture_output=True, check=True).stdout
    found = ET.fromstring(meta[meta.index(b"<x:xmpmeta"): meta.index(b"</x:xmpmeta>") + 12])
    names = {f"{{{uri}}}": prefix for prefix, uri in XMP.items()}
    return {
        names[uri] + ":" + element.tag.removeprefix(uri): element.text or ""
        for element in found.iter() for uri in names if element.tag.startswith(uri)
    }


def test_a_clean_sheet_follows_the_standard_and_says_so(tmp_path: Path) -> None:
    made = printed(CLEAN)
    assert made.hindered == () and made.data.startswith(b"%PDF-1.6")
    xmp = said(made, tmp_path)
    assert xmp["pdfxid:GTS_PDFXVersion"] == "PDF/X-4" and xmp["pdf:Trapped"] == "False"
    assert xmp["xmp:CreateDate"] == xmp["xmp:ModifyDate"] == xmp["xmp:MetadataDate"] >= "2026"
    with pikepdf.open(io.BytesIO(made.data)) as pdf:
        (intent,) = pdf.Root.OutputIntents
        assert intent.S == pikepdf.Name.GTS_PDFX and "FOGRA39" in str(intent.OutputConditionIdentifier)
        profile = ImageCms.ImageCmsProfile(io.BytesIO(intent.DestOutputProfile.read_bytes()))
        assert profile.profile.xcolor_space.strip() == "CMYK" and intent.DestOutputProfile.N == 4
        page = pdf.pages[0]
        assert list(page.TrimBox) == list(page.MediaBox) == list(page.BleedBox)
        assert str(pdf.docinfo["/Trapped"]) == "/False" and not pdf.is_encrypted
        default = pdf.Root.OCProperties.D
        assert "/AS" not in default and "/Name" in default
        assert len(default.Order) == len(pdf.Root.OCProperties.OCGs)
        off = {str(layer.Name) for config in pdf.Root.OCProperties.Configs for layer in config.OFF}
        assert off == {"Kiss Cut"}, "as it is printed the lines are off"



def test_nothing_that_acts_comes_through() -> None:
    with pikepdf.open(io.BytesIO(write(Drawing(CLEAN)))) as pdf:
        pdf.Root.OpenAction = pikepdf.Dictionary(S=pikepdf.Name.JavaScript, JS=pikepdf.String("app.beep()"))
        pdf.Root.Names = pikepdf.Dictionary(JavaScript=pikepdf.Dictionary(Names=pikepdf.Array([])))
        pdf.Root.AcroForm = pikepdf.Dictionary(Fields=pikepdf.Array([]))
        pdf.pages[0].AA = pikepdf.Dictionary(O=pikepdf.Dictionary(S=pikepdf.Name.JavaScript, JS=pikepdf.String("x")))
        out = io.BytesIO()
        pdf.save(out)
    case = Case(artwork=read_bytes(out.getvalue()), order=Order(
        quantity=2
    ), destination=HOUSE, material=MATERIALS["film-610"], facts=JobFacts("S"))
    made = print_pdf(plan(case).sheet, HOUSE, "Seals")
    with pikepdf.open(io.BytesIO(made.data)) as pdf:
        assert set(pdf.Root.keys()) <= {"/Type", "/Pages", "/OCProperties", "/Metadata", "/OutputIntents"}
        assert "/AA" not in pdf.pages[0] and "/Annots" not in pdf.pages[0]
    assert b"JavaScript" not in pikepdf.open(io.BytesIO(made.data)).Root.unparse()


@pytest.mark.parametrize(("content", "words"), [
    (f"1 0 0 rg {circle(50, 50, 38)} f {CUT}", "1 object is in RGB without a profile"),
    (f"BT /F1 12 Tf 30 50 Td (loose) Tj ET 1 0 0 0 k {circle(50, 50, 20)} f {CUT}", "1 font is not embedded"),
])
def test_what_keeps_it_from_the_standard_is_said_and_not_denied(tmp_path: Path, content: str, words: str) -> None:
    made = printed(content, extra_resources=LOOSE)
    assert any(words in why for why in made.hindered), made.hindered
    assert "pdfxid:GTS_PDFXVersion" not in said(made, tmp_path)


@pytest.mark.parametrize(("state", "words"), [
    ("/TR /Identity", "a transfer curve is set"), ("/TR2 /Identity", "a transfer curve is set"),
    ("/TR2 /Default", ""),
])
def test_a_transfer_curve_keeps_it_from_the_standard(tmp_path: Path, state: str, words: str) -> None:
    made = printed(f"/Curve gs {CLEAN}", extra_resources=f"/ExtGState << /Curve << /Type /ExtGState {state} >> >>")
    assert made.hindered == ((words,) if words else ())
    assert ("pdfxid:GTS_PDFXVersion" in said(made, tmp_path)) is (not words)


@pytest.mark.parametrize(("space", "words"), [("/DeviceRGB", "blended in RGB"), ("/DeviceCMYK", "")])
def test_transparency_that_is_blended_in_rgb_keeps_it_from_the_standard(space: str, words: str) -> None:
    group = f"/Group << /S /Transparency /CS {space} >>"
    made = printed(CLEAN, extra_page=group)
    assert [words in why for why in made.hindered] == ([True] if words else [])


@pytest.mark.parametrize(("layout", "first"), [(Layout(), "White"), (Layout(mirror=True), "Cyan")])
def test_the_order_of_inks_stands_in_the_file(layout: Layout, first: str) -> None:
    """ISO 32000-1, 8.6.6.5, table 73: PrintingOrder in the mixing hints; white first for front, last behind glass."""
    made = printed(WHITE, layout, "clear-1067", inks={"K": "Kiss Cut", "W": "White"})
    with pikepdf.open(io.BytesIO(made.data)) as pdf:
        order = printing_order(pdf)
        space = pdf.pages[0].Resources.ColorSpace["/Inks"]
    assert order[0] == first and set(order) == {"White", "Cyan", "Magenta", "Yellow", "Black"}
    assert [str(name) for name in space[1]] == ["/" + name for name in order]


def test_ghostscript_draws_the_space_of_all_inks_as_its_process_inks(tmp_path: Path) -> None:
    """The tint transform leaves out what is no process ink: a field of half magenta with full white is half magenta."""
    for mirror, tints in ((False, "1 0 0.5 0 0"), (True, "0 0.5 0 0 1")):
        made = printed(WHITE, Layout(mirror=mirror), "clear-1067", inks={"K": "Kiss Cut", "W": "White"})
        with pikepdf.open(io.BytesIO(made.data)) as pdf:
            page = pdf.pages[0]
            page.Contents = pdf.make_stream(f"/Inks cs {tints} scn 0 0 9000 9000 re f".encode())
            pdf.save(tmp_path / "field.pdf")
        command = ["gs", "-q", "-dSAFER", "-dNOPAUSE", "-dBATCH", "-sDEVICE=pamcmyk32", "-r2", "-o", "-"]
        raw = subprocess.run([*command, tmp_path / "field.pdf"], capture_output=True, check=True).stdout
        at = raw.index(b"ENDHDR\n") + 7
        assert np.frombuffer(raw[at:], np.uint8).reshape(-1, 4).mean(axis=0) == pytest.approx([0, 127.5, 0, 0], abs=1)


def test_a_mirrored_sheet_is_the_other_sheet_turned_over_in_pdfiums_eyes() -> None:
    """Only marks, bar and code keep their way round: between the marks the pictures are each other's mirror image."""
    pictures = []
    for mirror in (False, True):
        with pypdfium2.PdfDocument(printed(CLEAN, Layout(mirror=mirror, code=False)).data) as pdf:
            pictures.append(np.asarray(pdf[0].render(scale=0.5).to_pil().convert("L"), np.int16))
    front, behind = pictures
    art = np.zeros_like(front, dtype=bool)
    art[:, 60:-60] = True
    assert np.mean(np.abs(front[:, ::-1] - behind)[art] > 40) < 0.004
    assert Image.fromarray(front.astype(np.uint8)).getextrema()[0] < 200


def test_where_nothing_is_cut_the_file_holds_no_line() -> None:
    made = printed(CLEAN, Layout.from_json({"makes": "print"}))
    assert read_bytes(made.data).pages[0].ink_names == ("Cyan",)
