"""Lines that were made, read and drawn by others: PDFium, shapely, ezdxf, an HP-GL/2 reader, pikepdf."""

import json
from pathlib import Path

import ezdxf
import numpy as np
import pikepdf
import pytest
import shapely
from ezdxf.addons.hpgl2 import api as hpgl
from ezdxf.path import make_path

from horismos.artwork import read_bytes
from horismos.cli.main import main
from horismos.making.tracing import Field, traced
from horismos.making.vectors import vector_contours
from horismos.paths import flatten
from horismos.paths.areas import area_of
from horismos.rendering.composite import PageView
from tests.breadth import breadth
from tests.drawn import SHAPES, coverage, png
from tests.shapes import Drawing, circle, write

pytestmark = breadth(0.2)

MAKE = {"lines": [
    {"role": "kiss-cut", "offset_mm": 2}, {"role": "perforation", "offset_mm": 4, "cut_mm": 4, "tie_mm": 0.5},
]}


def lines(folder: Path, form: str, capsys: pytest.CaptureFixture[str]) -> dict:
    """The command line's answer; the file lies in the folder as out with the form's ending."""
    (folder / "badge.png").write_bytes(png(coverage(SHAPES["star"])))
    (folder / "make.json").write_text(json.dumps(MAKE))
    given = ["--make", str(folder / "make.json"), "--out", str(folder / f"out{form}"), "--json"]
    assert main(["lines", str(folder / "badge.png"), *given]) == 0
    told: dict = json.loads(capsys.readouterr().out)
    return told


def of_svg(path: str) -> np.ndarray:
    """The points of path data, by a parser that is not ours."""
    from fontTools.pens.recordingPen import RecordingPen
    from fontTools.svgLib.path import parse_path

    pen = RecordingPen()
    parse_path(path, pen)
    out: list = []
    for name, at in pen.value:
        if name == "curveTo":
            a, b, c, d = (np.array(p) for p in (out[-1], *at))
            t = np.linspace(0, 1, 60)[1:, None]
            out += list((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d)
        elif at:
            out.append(np.array(at[0]))
    return np.array(out)


def test_the_command_says_what_it_made_and_shapely_agrees(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    told = lines(tmp_path, ".pdf", capsys)
    assert told["source"] == "alpha" and [line["role"] for line in told["lines"]] == ["kiss-cut", "perforation"]
    for line, by in zip(told["lines"], (2, 4), strict=True):
        points = of_svg(line["svg"])
        exact = shapely.boundary(SHAPES["star"].buffer(by, quad_segs=200))
        assert shapely.distance(shapely.points(points), exact).max() < 0.06
        assert line["closed"] and line["length_mm"] == pytest.approx(exact.length, rel=2e-3)
        assert line["area_mm2"] == pytest.approx(shapely.Polygon(points).area, rel=1e-3)
    assert told["lines"][1]["ties"] == told["lines"][1]["cuts"] == round(told["lines"][1]["length_mm"] / 4.5)


def test_the_file_has_a_layer_and_an_exact_ink_for_each_line(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    lines(tmp_path, ".pdf", capsys)
    with pikepdf.open(tmp_path / "out.pdf") as pdf:
        groups = {str(g.Name): g for g in pdf.Root.OCProperties.OCGs}
        assert set(groups) == {"Kiss Cut", "Perforation"}
        # ISO 19593-1
        assert groups["Perforation"].GTS_Metadata.GTS_ProcStepsType == pikepdf.Name.Perforating
        note = json.loads(str(pdf.pages[0].PieceInfo.Horismos.Private.Made))
    assert note["patterns"]["perforation"]["tie_mm"] == 0.5


def test_a_drawing_and_a_cut_file_hold_the_same_lines(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    told = lines(tmp_path, ".dxf", capsys)
    wanted = {line["role"]: shapely.LineString(of_svg(line["svg"])) for line in told["lines"]}
    document = ezdxf.readfile(tmp_path / "out.dxf")
    assert document.header["$INSUNITS"] == 4
    for entity in document.modelspace():
        points = np.array([(v.x, v.y) for v in make_path(entity).flattening(0.005)])
        assert shapely.distance(shapely.points(points), wanted[entity.dxf.layer]).max() < 0.01
    lines(tmp_path, ".plt", capsys)
    plotted = hpgl.to_dxf(b"\x1b%1B" + (tmp_path / "out.plt").read_bytes(), rotation=0)
    drawn = [entity for entity in plotted.modelspace() if entity.dxftype() in ("LINE", "LWPOLYLINE", "POLYLINE")]
    # one stroke for the kiss cut and one for each cut of the perforation
    assert len(drawn) == 1 + told["lines"][1]["cuts"]


def test_letters_that_overlap_and_turn_the_wrong_way_weld_to_what_pdfium_draws() -> None:
    """As exports of lettering have them: parts of letters laid over each other, some run the other way."""
    def box(x0: float, y0: float, x1: float, y1: float, back: bool = False) -> str:
        corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
        run = corners[::-1] if back else corners
        return " ".join(f"{x} {y} {'l' if i else 'm'}" for i, (x, y) in enumerate(run)) + " h "

    letters = (
        f"0 0 0 1 k {box(15, 20, 22, 80)} f {box(15, 70, 40, 78, back=True)} f {box(15, 47, 36, 55)} f "
        f"{box(50, 20, 57, 80)} {box(50, 45, 85, 55)} f {box(78, 20, 85, 80, back=True)} f {circle(50, 50, 9)} f "
    )
    artwork = read_bytes(write(Drawing(letters, trim=None, bleed=None)))
    page = artwork.pages[0]
    welded = vector_contours(page, list(range(len(page.objects))))
    assert welded is not None
    ppi, area = 2000.0, (12.0, 17.0, 88.0, 83.0)
    with PageView(artwork.data, page.boxes) as view:
        covered = view.covered(area, ppi)
    step = 25.4 / ppi
    seen = traced(Field(covered, 255.0, (step, 0, 0, -step, area[0], area[3])), 0.5, 0.005, 0.1)
    ours, theirs = (shapely.boundary(area_of(c, 0.001)) for c in (welded, seen))
    assert shapely.hausdorff_distance(ours, theirs, densify=0.01) < 0.02
    assert len(welded) == len(seen) and all(shapely.LinearRing(flatten(c, 0.005)).is_simple for c in welded)
