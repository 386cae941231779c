"""The product's reading and writing against tools and libraries that are not ours."""

import json
import re
import subprocess
from collections.abc import Callable
from pathlib import Path

import ezdxf
import numpy as np
import pypdfium2 as pdfium
import pytest
import shapely
from ezdxf.addons.hpgl2 import api as hpgl
from PIL import Image, ImageDraw

from horismos.artwork import art_alone, line_objects, read
from horismos.checking import check
from horismos.formats.hpgl import write_hpgl
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.paths import flatten, greatest_distance
from horismos.rendering import plates
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.plan import plan
from horismos.workflow.release import release
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import MM, circle, line_in

Pdf = Callable[..., Path]
LINED = (
    f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))
    + line_in("20 50 m 35 90 65 10 80 50 c 60 40 40 60 20 50 c h", "T")
)
CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
INKS = {"K": "Kiss Cut", "T": "Through Cut"}


def boxes_by_poppler(path: Path) -> dict[str, list[float]]:
    """Source: Poppler's `pdfinfo -box`, in points."""
    said = subprocess.run(["pdfinfo", "-box", path], check=True, capture_output=True, text=True).stdout
    found = re.findall(r"^(\w+)Box:\s+([-\d. ]+)$", said, re.MULTILINE)
    return {name: [float(v) for v in values.split()] for name, values in found}


@pytest.mark.parametrize(
    "extra", ["", "/CropBox [10 10 250 250]", "/CropBox [-50 -50 150 400]"], ids=["plain", "crop", "crop outside"]
)
def test_boxes_are_those_of_pdfinfo(extra: str, pdf: Pdf) -> None:
    path = pdf(LINED, inks=INKS, extra_page=extra)
    theirs = boxes_by_poppler(path)
    ours = read(path).pages[0].boxes.raw
    for name in ("media", "crop", "bleed", "trim"):
        assert ours[name] == pytest.approx(theirs[name.capitalize()], abs=0.01)


def test_boxes_of_real_drawings_are_those_of_pdfinfo(drawings: dict[str, Path]) -> None:
    for path in drawings.values():
        theirs = boxes_by_poppler(path)
        ours = read(path).pages[0].boxes.raw
        for name in ("media", "trim"):
            assert ours[name] == pytest.approx(theirs[name.capitalize()], abs=0.01)


@pytest.mark.parametrize(("rotate", "unit"), [(0, 1.0), (90, 1.0), (180, 2.0), (270, 10.0)])
def test_a_turned_and_scaled_page_keeps_its_lines_where_pdfium_draws_them(
    rotate: int, unit: float, pdf: Pdf
) -> None:
    """Source: PDFium's picture of the page as it is viewed."""
    path = pdf(
        line_in("20 20 30 10 re", width=1), extra_page=f"/Rotate {rotate} /UserUnit {unit}", trim=None, bleed=None
    )
    artwork = read(path)
    page = artwork.pages[0]
    document = pdfium.PdfDocument(path)
    ink = 255 - document[0].render(scale=4).to_numpy().min(axis=2)
    rows, columns = np.nonzero(ink > 60)
    per_mm = 4 * MM / unit
    (line,) = line_objects(artwork, page, HOUSE)
    points = np.concatenate([flatten(c) for c in line.contours])
    assert points[:, 0].min() * per_mm == pytest.approx(columns.min(), abs=0.7 * 4 * MM)
    assert points[:, 0].max() * per_mm == pytest.approx(columns.max(), abs=0.7 * 4 * MM)
    height = ink.shape[0]
    assert points[:, 1].max() * per_mm == pytest.approx(height - rows.min(), abs=0.7 * 4 * MM)


def test_lines_lie_where_pdfium_draws_them(pdf: Pdf) -> None:
    """Source: PDFium's rendering of the same line alone at 300 ppi; shared area over joint area."""
    for path_data, ink in ((circle(50, 50, 40), "K"), ("20 50 m 35 90 65 10 80 50 c 60 40 40 60 20 50 c h", "T")):
        # 4 inches square, so that the picture is a whole number of pixels wide.
        path = pdf(
            line_in(path_data, ink, width=1.0), inks=INKS, size=(101.6, 101.6), trim=None, bleed=None
        )
        artwork = read(path)
        (line,) = line_objects(artwork, artwork.pages[0], HOUSE)
        scale = 300 / 72
        document = pdfium.PdfDocument(path)
        theirs = document[0].render(scale=scale).to_numpy().min(axis=2) < 128
        fine = 8
        drawn = Image.new("L", (theirs.shape[1] * fine, theirs.shape[0] * fine))
        pen = ImageDraw.Draw(drawn)
        per_mm = scale * MM * fine
        for contour in line.contours:
            at = flatten(contour, 0.005) * per_mm
            at[:, 1] = 101.6 * per_mm - at[:, 1]
            band = shapely.LineString(at).buffer(per_mm / 2)
            pen.polygon(list(band.exterior.coords), fill=255)
            for hole in band.interiors:
                pen.polygon(list(hole.coords), fill=0)
        ours = np.asarray(drawn.resize((theirs.shape[1], theirs.shape[0]), Image.Resampling.BOX)) > 127
        assert (ours & theirs).sum() / (ours | theirs).sum() >= 0.98


def test_plates_are_named_as_the_inks_that_were_read(pdf: Pdf) -> None:
    """Source: Ghostscript's separation device."""
    path = pdf("/Reed cs 0.5 scn 20 20 9 9 re f " + LINED, inks={**INKS, "Reed": "Reed/Gold é (2)"})
    page = read(path).pages[0]
    spots = {p.ink for p in plates(path.read_bytes(), 50)} - {"Cyan", "Magenta", "Yellow", "Black"}
    assert spots == set(page.ink_names) - {"Cyan"}


def test_art_without_lines_is_the_page_that_ghostscript_prints_without_their_plates(pdf: Pdf) -> None:
    """Source: Ghostscript's plates of the whole page and of the art alone."""
    path = pdf(LINED, inks=INKS)
    artwork = read(path)
    page = artwork.pages[0]
    art = art_alone(artwork, page, line_objects(artwork, page, HOUSE))
    whole = {p.ink: p for p in plates(path.read_bytes(), 100)}
    parted = {p.ink: p for p in plates(art, 100)}
    assert np.array_equal(whole["Cyan"].tint, parted["Cyan"].tint)
    for name in INKS.values():
        assert whole[name].coverage > 0
        assert name not in parted or parted[name].coverage == 0


def test_real_drawings_part_without_loss(drawings: dict[str, Path]) -> None:
    """Source: PDFium's pictures of the customer's page and of the art alone: no line, no difference."""
    for name, path in drawings.items():
        artwork = read(path)
        page = artwork.pages[0]
        art = art_alone(artwork, page, line_objects(artwork, page, HOUSE))
        theirs = pdfium.PdfDocument(path)[0].render(scale=1).to_numpy()
        ours = pdfium.PdfDocument(art)[0].render(scale=1).to_numpy()
        assert np.array_equal(theirs, ours), name


def test_fonts_are_those_of_pdffonts(pdf: Pdf) -> None:
    """Source: Poppler's `pdffonts`: name and embedding."""
    font = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>"
    path = pdf("0 g BT /F 9 Tf 30 50 Td (A) Tj ET", extra_resources=font)
    said = subprocess.run(["pdffonts", path], check=True, capture_output=True, text=True).stdout
    row = said.splitlines()[2]
    (ours,) = read(path).pages[0].fonts
    assert row.startswith(ours.name) and (" yes " in row.split("Custom")[-1][:6]) == ours.embedded


@pytest.fixture()
def package(swan_with_lines: Path, tmp_path: Path):  # type: ignore[no-untyped-def]
    fixed = tmp_path / "fixed.pdf"
    from horismos.cli import main

    assert main([
        "mend", str(swan_with_lines), "--out", str(fixed),
        "--rename", "Kis Cut=Kiss Cut", "--rename", "Trough-cut=Through Cut",
    ]) == 0
    artwork = read(fixed)
    order = Order(quantity=5)
    case = Case(artwork=artwork, order=order, destination=HOUSE, material=MATERIALS["film-610"], facts=JobFacts("Swan"))
    return plan(case), release(case, check(artwork, order))[0]


@breadth(0.12, "long ones")
def test_ezdxf_reads_the_cut_file_as_it_was_meant(package) -> None:  # type: ignore[no-untyped-def]
    """Source: ezdxf's HP-GL/2 reader."""
    ready, made = package
    drawing = hpgl.to_dxf(b"\x1b%1B" + made.files["swan-cut.plt"], rotation=0)
    theirs = []
    for entity in drawing.modelspace():
        points = [tuple(v) for v in ezdxf.path.make_path(entity).flattening(0.5)]
        theirs.append(np.array(points)[:, :2] * 0.025)
    strokes = [stroke.holder for op in ready.cut.operations for stroke in op.strokes]
    # The reader puts the drawing's lower left corner at its origin, and draws a frame of 5 points.
    theirs = [points for points in theirs if len(points) > 5]
    corner = np.concatenate(strokes).min(axis=0)
    assert len(theirs) == len(strokes)
    assert greatest_distance([s - corner for s in strokes], theirs) <= 0.05


@breadth(0.12, "long ones")
def test_hp2xx_draws_the_cut_file_where_the_lines_are(package, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Source: hp2xx's own drawing of the cut file, as EPS in true size."""
    ready, made = package
    plt = tmp_path / "cut.plt"
    plt.write_bytes(made.files["swan-cut.plt"])
    subprocess.run(["hp2xx", "-q", "-t", "-m", "eps", "-f", tmp_path / "cut.eps", plt], check=True, capture_output=True)
    box = re.search(rb"%%BoundingBox: (\d+) (\d+) (\d+) (\d+)", (tmp_path / "cut.eps").read_bytes())
    assert box
    x0, y0, x1, y1 = (int(v) for v in box.groups())
    every = np.concatenate([s.holder for op in ready.cut.operations for s in op.strokes])
    wide, high = np.ptp(every, axis=0) * 72 / 25.4
    # hp2xx states whole points and adds the width of its pen.
    assert x1 - x0 == pytest.approx(wide, abs=4) and y1 - y0 == pytest.approx(high, abs=4)


@breadth(0.12, "long ones")
def test_pdfinfo_reads_the_print_pdf_at_the_size_of_the_sheet(package, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Source: Poppler's `pdfinfo -box`; the ticket states the size in mm."""
    _, made = package
    path = tmp_path / "print.pdf"
    path.write_bytes(made.files["swan-print.pdf"])
    sheet = json.loads(made.files["swan-ticket.json"])["sheet"]
    assert boxes_by_poppler(path)["Media"] == pytest.approx([0, 0, 610 * MM, sheet["length_mm"] * MM], abs=0.01)


@breadth(0.12, "long ones")
def test_ghostscript_makes_the_plates_of_the_print_pdf(package) -> None:  # type: ignore[no-untyped-def]
    """Source: Ghostscript's separation device on what would go to the RIP."""
    ready, made = package
    inks = {p.ink for p in plates(made.files["swan-print.pdf"], 72)}
    assert inks == {"Cyan", "Magenta", "Yellow", "Black", "Kiss Cut", "Through Cut"}
    assert len(write_hpgl([o.run for o in ready.cut.operations], ready.cut.origin_mm)) > 100
